"""What a run carries: the want held against every socket and link of its path, item by item.

Three passes: capabilities upstream (what the source reads), the source's choice, the signal downstream.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from fractions import Fraction
from functools import reduce
from typing import Any

from wavilex.core.chain.paths import Hop, Layer, Path, Station
from wavilex.core.chain.reasons import Reason
from wavilex.core.chain.rig import Rig, Run, Want
from wavilex.core.chain.why import guess_reasons, link_reasons
from wavilex.core.gear.state import ANY, PortState, through
from wavilex.core.link.check import Capacity, End, LinkVerdict, cable_capacity, check_link, worst
from wavilex.core.link.dsc import UNCERTAIN, DscSink, common_dsc
from wavilex.core.link.rates import NO_FRL
from wavilex.core.video.codes import parse_mode, parse_timing, usual_timing
from wavilex.core.video.signal import DigitalVideo, demand, mode_name
from wavilex.core.video.timing import Timing

PREFERRED = ("rgb", "444", "422", "420")  # a source sends the fullest chroma it may
HDR_BITS = 10
_CHROMA_ALLOWS = {"444": ("rgb", "444"), "422": ("rgb", "444", "422"), "any": PREFERRED}
_CHROMA_NAMES = {"444": "RGB or 4:4:4", "422": "4:2:2 or better", "any": "picture"}
ITEMS = ("joined", "source", "picture", "hdr", "chroma", "link", "vrr", "low_lag")


@dataclass(frozen=True, slots=True)
class LinkResult:
    """One link of the run: its hop, what it can carry, and the verdict on the wanted signal."""

    hop: Hop
    capacity: Capacity
    wanted: LinkVerdict
    carried: LinkVerdict | None = None


@dataclass(frozen=True, slots=True)
class Item:
    """One part of the want and its answer. Items that do not block are answered `blocked` all the same."""

    key: str
    verdict: str
    blocking: bool
    reasons: tuple[Reason, ...] = ()


@dataclass(frozen=True)
class RunResult:
    """The answer for one run. `carried` is what the source will send: the want, or what is nearest."""

    run: Run
    verdict: str
    path: Path
    asked: DigitalVideo | None
    carried: DigitalVideo | None
    links: tuple[LinkResult, ...] = ()
    items: tuple[Item, ...] = ()
    alternatives: tuple[DigitalVideo, ...] = ()
    stations: tuple[Station, ...] = field(default=(), repr=False)

    @property
    def reasons(self) -> list[Reason]:
        """Every reason, what blocks first."""
        found = [(i.blocking, r) for i in self.items for r in i.reasons]
        order = ("blocked", "unknown", "compressed", "tight", "fits")
        return [r for _, r in sorted(found, key=lambda x: (not x[0], order.index(x[1].verdict)))]

    @property
    def limiting(self) -> Reason | None:
        """The reason that decides, None when all is well."""
        first = next((r for i in self.items if i.blocking for r in i.reasons if r.verdict == self.verdict), None)
        return None if self.verdict == "fits" else first

    @property
    def good(self) -> bool:
        return self.verdict in ("fits", "tight", "compressed")


def run_result(layer: Layer, run: Run, want: Want | None = None) -> RunResult:
    """Judge a run (or another want on the same path) in a compiled layer."""
    want = want or run.want
    paths = layer.paths(run)
    if not paths:
        return _unjoined(layer.rig, run)
    path = paths[0]
    stations = layer.stations(path)
    advertised = advertise(stations)
    timing, mode_item, source_item = _judge_mode(stations, advertised, want)
    signals, chroma_item = _judge_chroma(stations, timing, want)
    capacities = path_capacities(layer, stations, path)
    asked = choose(signals, capacities)
    links = tuple(
        LinkResult(hop, cap, check_link(demand(asked), cap)) for hop, cap in zip(path, capacities, strict=True)
    )
    leanest = min(signals, key=lambda s: demand(s).tb_active)
    reasons = link_reasons(layer, links, asked, leanest)
    link_item = Item("link", worst([r.verdict for r in reasons]), True, tuple(reasons))
    guesses = guess_reasons(stations)
    features = _judge_features(stations, want)
    items = [
        Item("joined", "fits", True),
        source_item,
        Item("picture", worst([mode_item.verdict, *(r.verdict for r in guesses)]), True,
             (*mode_item.reasons, *guesses)),
        *(i for i in features if i.key == "hdr"),  # said before depth: no HDR is why ten bits are missing
        chroma_item,
        link_item,
        *(i for i in features if i.key != "hdr"),
    ]  # fmt: skip
    verdict = worst([i.verdict for i in items if i.blocking])
    alternatives = tuple(s for s in signals if s != asked and _all_fit(s, capacities))
    return RunResult(run, verdict, path, asked, asked, links, tuple(items), alternatives, tuple(stations))


def _unjoined(rig: Rig, run: Run) -> RunResult:
    words = {"source": rig.devices[run.source].label, "sink": rig.devices[run.sink].label}
    reason = Reason("not_connected", "joined", "blocked", data=words)
    return RunResult(run, "blocked", (), None, None, (), (Item("joined", "blocked", True, (reason,)),))


def path_capacities(layer: Layer, stations: Sequence[Station], path: Path) -> list[Capacity]:
    """What each hop's three parts carry together, compressed only where every box of the path can."""
    dsc = path_compression(stations)
    return [
        cable_capacity(
            End(out.state.tmds_hz, out.state.frl), layer.rig.leads[hop.lead].cable,
            End(inp.state.tmds_hz, inp.state.frl), dsc,
        )
        for hop, out, inp in zip(path, stations[::2], stations[1::2], strict=True)
    ]  # fmt: skip


def path_compression(stations: Sequence[Station]) -> DscSink | None:
    """What the boxes of a path compress together; None: nothing. Not known: the widest there is, uncertain."""
    together = reduce(common_dsc, (False if s.state.frl == NO_FRL else s.state.dsc for s in stations))
    if isinstance(together, DscSink):
        return together
    return None if together is False else UNCERTAIN


def advertise(stations: Sequence[Station]) -> PortState:
    """First pass: what the source reads at the far end of its own lead."""
    seen = stations[-1].state
    for station in reversed(stations[1:-1]):
        seen = through(station.state, seen)
    return seen


def timing_for(modes: tuple[str, ...] | str | None, mode: str) -> Timing | None:
    """The timing a sink's list gives a mode; the usual one where the list is `any` or unknown; None if absent."""
    if modes is None or modes == ANY:
        return usual_timing(mode)
    return next((t for t in map(parse_timing, modes) if t.mode == mode), None)


def sends(state: PortState, mode: str) -> bool:
    """Does a source's port send this mode? Unknown counts as yes until it is known."""
    return state.modes is None or state.modes == ANY or mode in state.modes


def _judge_mode(stations: Sequence[Station], seen: PortState, want: Want) -> tuple[Timing, Item, Item]:
    words: dict[str, Any] = {"mode": mode_name(want.mode), "hz": parse_mode(want.mode)[2]}
    source = stations[0]
    if sends(source.state, want.mode):
        source_item = Item("source", "fits", True)
    else:
        reason = Reason("source_mode", "source", "blocked", source.socket, origin=source.origin("modes"), data=words)
        source_item = Item("source", "blocked", True, (reason,))
    reasons = []
    for station in stations[1:]:
        if timing_for(station.state.modes, want.mode) is None:
            timings = [parse_timing(m) for m in station.state.modes or ()]
            fastest = max(timings, key=lambda t: (t.nominal_hz, t.h_active), default=None)
            too_fast = fastest is None or fastest.nominal_hz < words["hz"]
            reasons.append(
                Reason(
                    "panel_rate" if too_fast else "mode_not_taken",
                    "picture",
                    "blocked",
                    station.socket,
                    origin=station.origin("modes"),
                    data={**words, "fastest": mode_name(fastest.mode) if fastest else "not known"},
                )
            )
    timing = timing_for(seen.modes, want.mode) or usual_timing(want.mode)
    item = Item("picture", "blocked" if reasons else "fits", True, tuple(reasons))
    return timing, item, source_item


def least_bits(want: Want) -> int:
    """Bits a component the want needs: HDR needs ten (HDMI 2.0a with static metadata; common practice)."""
    return max(want.bits, HDR_BITS) if want.hdr != "off" else want.bits


def station_encodings(station: Station, timing: Timing, allowed: Sequence[str], bits: int) -> set[tuple[str, int]]:
    """The encoding and depth pairs a socket handles for a timing, among those allowed."""
    state = station.state
    pairs = set()
    for encoding in allowed:
        if encoding == "420" and not lists_420(state, timing):
            continue
        depths = (8, 10, 12, 16) if state.encodings is None else state.encodings[encoding]
        pairs |= {(encoding, b) for b in depths if b >= bits and not (encoding == "422" and b > 12)}
    return pairs


def lists_420(state: PortState, timing: Timing) -> bool:
    """4:2:0 is allowed only for timings the sink lists for it; senders and passers list none and pass."""
    if state.modes_420 is None:
        return state.port.direction == "out" or state.modes is None or state.modes == ANY
    return state.modes_420 == ANY or any(parse_timing(m).mode == timing.mode for m in state.modes_420)


def common_signals(
    stations: Sequence[Station], timing: Timing, allowed: Sequence[str], bits: int, audio: str
) -> list[DigitalVideo]:
    """Second pass: what the source may send of a timing, the one it prefers first.

    Fullest chroma first, then the least depth that is enough; 4:2:2 travels in one fixed container, so it
    goes at the most depth there is.
    """
    pairs = set.intersection(*(station_encodings(s, timing, allowed, bits) for s in stations))
    deepest = max((b for e, b in pairs if e == "422"), default=0)
    pairs -= {("422", b) for b in (8, 10, 12) if b < deepest}

    def rank(pair: tuple[str, int]) -> tuple[int, int]:
        return PREFERRED.index(pair[0]), -pair[1] if pair[0] == "422" else pair[1]

    return [DigitalVideo(timing, e, b, audio) for e, b in sorted(pairs, key=rank)]


def _judge_chroma(stations: Sequence[Station], timing: Timing, want: Want) -> tuple[list[DigitalVideo], Item]:
    allowed, bits = _CHROMA_ALLOWS[want.chroma], least_bits(want)
    signals = common_signals(stations, timing, allowed, bits, want.audio)
    if signals:
        return signals, Item("chroma", "fits", True)
    asked = f"{_CHROMA_NAMES[want.chroma]} at {bits} bits"
    left = set.union(*(station_encodings(s, timing, allowed, bits) for s in stations))
    reasons = []
    for station in stations:
        still = left & station_encodings(station, timing, allowed, bits)
        if still != left:
            origin = station.origin("encodings")
            reasons.append(
                Reason("no_encoding", "chroma", "blocked", station.socket, origin=origin, data={"asked": asked})
            )
        if not still:
            break
        left = still
    first = "444" if want.chroma == "444" else "rgb"
    wished = [DigitalVideo(timing, first, bits, want.audio)]
    return wished, Item("chroma", "blocked", True, tuple(reasons))


def choose(signals: Sequence[DigitalVideo], capacities: Sequence[Capacity]) -> DigitalVideo:
    """The source's choice: of the signals most links carry the first it prefers (all links, if any signal fits)."""

    def carried_by(signal: DigitalVideo) -> int:
        need = demand(signal)
        return sum(check_link(need, cap).fits for cap in capacities)

    return max(signals, key=carried_by)  # max keeps the first of equals


def _all_fit(signal: DigitalVideo, capacities: Sequence[Capacity]) -> bool:
    return all(check_link(demand(signal), cap).fits for cap in capacities)


def _judge_features(stations: Sequence[Station], want: Want) -> list[Item]:
    hdr = {"static": ("no_hdr", "HDR"), "dynamic": ("no_dynamic_hdr", "dynamic-metadata HDR")}
    items = []
    if want.hdr != "off":
        code, words = hdr[want.hdr]
        items.append(_feature_item("hdr", code, words, "hdr", stations, want.hdr, blocking=True))
    if want.vrr:
        items.append(_feature_item("vrr", "no_vrr", "variable refresh", "vrr", stations, None, blocking=True))
    if want.low_lag:
        item = _feature_item(
            "low_lag", "no_low_latency", "automatic low latency", "low_latency", stations, None, blocking=False
        )
        items.append(item)
    return items


def _feature_item(
    key: str, code: str, words: str, field_name: str, stations: Sequence[Station],
    member: str | None, *, blocking: bool,
) -> Item:  # fmt: skip
    reasons = []
    for station in stations:
        value = getattr(station.state, field_name)
        if value is None:
            reasons.append(
                Reason("unknown_feature", key, "unknown", station.socket,
                       origin=station.origin(field_name), data={"what": words, "field": field_name})
            )  # fmt: skip
        elif (member not in value) if member is not None else value is False:
            reasons.append(Reason(code, key, "blocked", station.socket, origin=station.origin(field_name)))
    return Item(key, worst([r.verdict for r in reasons]), blocking, tuple(reasons))


def used_of(result: RunResult) -> Fraction | None:
    """The largest share used on any link of the run, for the wanted signal."""
    shares = [x.wanted.used for x in result.links if x.wanted.used is not None]
    return max(shares, default=None)
