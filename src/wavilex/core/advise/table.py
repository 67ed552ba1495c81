"""What a run can carry besides what is wanted: the table of modes by encoding, and the nearest two signals."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from wavilex.core.chain.choice import has_hdr_at
from wavilex.core.chain.offer import (
    PREFERRED,
    common_signals,
    least_bits,
    sends,
    station_encodings,
    timing_for,
)
from wavilex.core.chain.paths import Layer, Station
from wavilex.core.chain.read import read_for, read_run
from wavilex.core.chain.results import RunResult
from wavilex.core.gear.state import ANY
from wavilex.core.link.check import Capacity, LinkVerdict, Verdict, check_link, fullest, worst
from wavilex.core.link.frl import FrlUse
from wavilex.core.link.scratch import COLUMNS
from wavilex.core.link.sums import link_sums
from wavilex.core.link.table import room_of
from wavilex.core.link.words import verdict_sentence
from wavilex.core.quantity import Quantity
from wavilex.core.rig.model import Run, Want
from wavilex.core.video.codes import listed_timing
from wavilex.core.video.mode import Mode, parse_mode
from wavilex.core.video.signal import DigitalVideo, demand
from wavilex.core.video.timing import Timing

_MORE_COLUMNS = (("420", 8), ("420", 12))  # shown where a run offers them
_ORDER = ("rgb", "422", "420")
USUAL_MODES = tuple(map(parse_mode, (
    "3840x2160@120", "3840x2160@60", "2560x1440@120", "2560x1440@60",
    "1920x1080@120", "1920x1080@60", "1280x720@60",
)))  # fmt: skip


@dataclass(frozen=True, slots=True)
class Cell:
    """One signal of the table: verdict, the fullest link's use in percent, and what stops it (or None).

    stopped_by is `not_offered` when some box does not take the encoding at that depth. room: bits a pixel
    that DisplayPort has room for where it is compressed.
    """

    encoding: str
    bits: int
    verdict: Verdict
    used_percent: float | None
    stopped_by: str | None
    room: float | None = None


@dataclass(frozen=True, slots=True)
class Row:
    mode: Mode
    timing: Timing
    wanted: bool
    cells: tuple[Cell, ...]


@dataclass(frozen=True, slots=True)
class Best:
    """A signal that fits, with the share of the fullest link it uses and that link's sums."""

    signal: DigitalVideo
    verdict: Verdict
    used_percent: float | None
    hdr: bool


def shared_timings(stations: Sequence[Station]) -> list[Timing]:
    """Timings the source sends and every box takes, the largest and fastest first."""
    listed = [m for s in stations[1:] if s.state.modes not in (None, ANY) for m in s.state.modes or ()]
    modes = dict.fromkeys([m for m in (listed_timing(x).mode for x in listed) if not m.interlaced] or USUAL_MODES)
    found = []
    for mode in modes:
        timings = [timing_for(s.state.modes, mode) for s in stations[1:]]
        if "i@" not in mode and sends(stations[0].state, mode) and all(timings):
            found.append(next(t for t in reversed(timings) if t is not None))
    return sorted(found, key=lambda t: (-t.h_active * t.v_active, -t.nominal_hz))


def _judge(
    signal: DigitalVideo, capacities: Sequence[Capacity]
) -> tuple[Verdict, float | None, str | None, float | None]:
    """Verdict, the fullest link's use, what stops it, and the bits a pixel DisplayPort has room for compressed."""
    results = [check_link(demand(signal), c) for c in capacities]
    used = [r.used_percent for r in results if r.used_percent is not None]
    stopped = next((r.blocked_by for r in results if r.blocked_by), None)
    room = min((x for r in results if (x := room_of(r)) is not None), default=None)
    return worst([r.verdict for r in results]), max(used, default=None), stopped, room


def carry_table(layer: Layer, run: Run) -> list[Row]:
    """Every mode the run's boxes share, by encoding and depth."""
    read = read_run(layer, run)
    if read is None:
        return []
    found = []
    for timing in shared_timings(read[0]):
        stations, capacities = read_for(layer, run, timing, read)
        taken = all(timing_for(s.state.modes, timing.mode) for s in stations[1:])
        found.append((timing, stations if taken else [], capacities))
    more = [c for c in _MORE_COLUMNS if any(_offered(stations, t, c) for t, stations, _ in found)]
    columns = sorted((*COLUMNS, *more), key=lambda c: (_ORDER.index(c[0]), c[1]))
    rows = []
    for timing, stations, capacities in found:
        cells = []
        for column in columns:
            pair = _offered(stations, timing, column)
            if pair is None:
                cells.append(Cell(*column, "blocked", None, "not_offered"))
                continue
            verdict, used, stopped, room = _judge(DigitalVideo(timing, *pair, run.want.audio), capacities)
            cells.append(Cell(*column, verdict, used, stopped, room))
        rows.append(Row(timing.mode, timing, timing.mode == run.want.mode, tuple(cells)))
    return rows


def _offered(stations: Sequence[Station], timing: Timing, column: tuple[str, int]) -> tuple[str, int] | None:
    """The signal of a column that every box handles; RGB, or 4:4:4 which weighs the same; None where none is.

    4:2:2 weighs the same at any depth to 12 bits (HDMI): its column stands for the deepest that all handle.
    """
    encoding, bits = column
    depths = (12, 10, 8) if encoding == "422" else (bits,)
    pairs = [(e, b) for e in (("rgb", "444") if encoding == "rgb" else (encoding,)) for b in depths]
    return next(
        (
            (e, b)
            for e, b in pairs
            if stations and all((e, b) in station_encodings(s, timing, (e,), b) for s in stations)
        ),
        None,
    )


def nearest(layer: Layer, run: Run, want: Want | None = None) -> tuple[Best | None, Best | None]:
    """The best signals that do fit, within the want: one for rate, one for detail and HDR."""
    want = want or run.want
    read = read_run(layer, run)
    if read is None:
        return None, None
    width, _height, hz = want.mode.figures
    found: list[Best] = []
    for timing in shared_timings(read[0]):
        if timing.h_active > width or timing.nominal_hz > hz:
            continue
        stations, capacities = read_for(layer, run, timing, read)
        if not all(timing_for(s.state.modes, timing.mode) for s in stations[1:]):
            continue
        hdr_path = all("static" in (s.state.hdr or ()) for s in stations)
        for signal in common_signals(stations, timing, PREFERRED, 8, want.audio):
            verdict, used, _, _ = _judge(signal, capacities)
            if verdict in ("fits", "tight", "compressed"):
                hdr = hdr_path and want.hdr != "off" and signal.bits >= 10 and has_hdr_at(layer, run, timing.mode)
                found.append(Best(signal, verdict, used, hdr))
    if not found:
        return None, None
    enough = min(least_bits(want), 12)

    def depth(b: Best) -> int:
        """More depth is better up to what is wanted; beyond, only 4:2:2's fixed container gives it free."""
        return b.signal.bits if b.signal.encoding == "422" else min(b.signal.bits, enough) * 16 - b.signal.bits

    def chroma(b: Best) -> int:
        return -PREFERRED.index(b.signal.encoding)

    def area(b: Best) -> int:
        return b.signal.timing.h_active * b.signal.timing.v_active

    def rate(b: Best) -> int:
        return b.signal.timing.nominal_hz

    for_rate = max(found, key=lambda b: (rate(b), area(b), chroma(b), depth(b)))
    for_detail = max(found, key=lambda b: (area(b), b.hdr, rate(b), chroma(b), depth(b)))
    return for_rate, for_detail


NEAREST_BYTES = 500  # measured on the demo job


def nearest_of(layer: Layer, result: RunResult) -> tuple[Best | None, Best | None]:
    """`nearest` for a run already judged, remembered beside its result."""
    return layer.states.memory.beside(result, "nearest", lambda: nearest(layer, result.run), NEAREST_BYTES)


@dataclass(frozen=True, slots=True)
class Explained:
    """One cell of the table explained: what stops or carries it, link by link."""

    signal: DigitalVideo
    verdict: Verdict
    sentence: str
    fullest: LinkVerdict | None
    sums: tuple[Quantity, ...]

    @property
    def frl(self) -> FrlUse | None:
        return self.fullest.frl if self.fullest and self.fullest.transport == "frl" else None


def explain(layer: Layer, run: Run, mode: str, encoding: str, bits: int) -> Explained | None:
    """The sums of one signal over the run's fullest link; None when the run is not joined or lacks the mode."""
    read = read_run(layer, run)
    if read is None:
        return None
    timing = next((t for t in shared_timings(read[0]) if t.mode == mode), None)
    if timing is None:
        return None
    stations, capacities = read_for(layer, run, timing, read)
    signal = DigitalVideo(timing, encoding, bits, run.want.audio)
    results = [check_link(demand(signal), c) for c in capacities]
    most = fullest(results)
    assert most is not None  # a joined run has a link
    verdict = worst([r.verdict for r in results])
    missing = [s for s in stations if (encoding, bits) not in station_encodings(s, timing, (encoding,), bits)]
    if missing:
        box = layer.rig.socket_name(missing[0].socket)
        return Explained(signal, "blocked", f"{signal.name} is not offered: {box} does not take it.", most, ())
    return Explained(signal, verdict, verdict_sentence(most), most, link_sums(most))


def mode_choices(layer: Layer, run: Run) -> list[tuple[str, str]]:
    """Modes worth offering for a want: what the source sends, else the usual ones. (mode, name)."""
    device = layer.rig.devices[run.source]
    modes = device.profile.video.modes
    own = [listed_timing(m).mode for m in modes] if isinstance(modes, tuple) else list(USUAL_MODES)
    listed = [m for m in own if not m.interlaced]
    sink = layer.rig.devices[run.sink].profile.video.modes
    for code in sink if isinstance(sink, tuple) else ():
        timing = listed_timing(code)
        if not timing.interlaced and timing.mode not in listed and not isinstance(modes, tuple):
            listed.append(timing.mode)
    if run.want.mode not in listed:
        listed.append(run.want.mode)
    listed.sort(key=lambda m: tuple(-n for n in m.figures))
    return [(m, m.name) for m in listed]
