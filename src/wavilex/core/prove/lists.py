"""A source's own list of what it may send: line by line, for games and for films.

A list is made of what the source read at the far end of its lead (EDID) and of its own permissions; how well the lead
carries it does not show there (common practice).
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace

from wavilex.core.chain.analogue import segments
from wavilex.core.chain.choice import has_hdr_at, signals_of
from wavilex.core.chain.offer import advertise, sends, timing_for
from wavilex.core.chain.paths import Layer, Station
from wavilex.core.chain.results import RunResult
from wavilex.core.gear.socket_kinds import family
from wavilex.core.gear.state import PortState
from wavilex.core.link.cable import BEST
from wavilex.core.link.check import Capacity, End, capacity, check_link
from wavilex.core.link.dp_rates import NO_DP
from wavilex.core.prove.line import NO, YES, Line
from wavilex.core.rig.model import Device, Socket
from wavilex.core.video.codes import listed_timing
from wavilex.core.video.mode import Mode
from wavilex.core.video.signal import HDR_BITS, DigitalVideo, demand

_LEAST_LINES = 1080  # what a list names: smaller modes stand under "others"
_FILMS = Mode(3840, 2160, 24)
_FILM_HZ = 60


@dataclass(frozen=True, slots=True)
class Reading:
    """What a source reads: its own socket, what lies behind its lead, and that link as both ends declare it."""

    layer: Layer
    result: RunResult
    stations: Sequence[Station]
    seen: PortState
    link: Capacity

    @property
    def own(self) -> Station:
        return self.stations[0]


def reading(layer: Layer, result: RunResult) -> Reading | None:
    """None where the run has no digital link at its source."""
    if len(result.stations) < 2 or not result.path or result.path[0].out != result.stations[0].socket:
        return None
    own = result.stations[: 2 * len(segments(layer, layer.digital(result.path))[0])]
    stations = [*own, *result.beside]
    out, inp = result.stations[0].state, result.stations[1].state
    dsc = result.links[0].capacity.dsc if result.links else None
    link = replace(capacity(out.end, BEST, inp.end), dsc=dsc)
    return Reading(layer, result, stations, advertise(layer, own, result.beside), link)


def source_list(layer: Layer, result: RunResult, read: Reading) -> tuple[Line, ...]:
    """The lines of a source's list; only those that the source itself could ever have."""
    device = layer.rig.devices[result.run.source]
    return (*_games(read, device), *_films(read, device))


def hardware_modes(device: Device, port: str) -> list[Mode]:
    """Modes a source has in itself, whatever it is allowed: largest and fastest first. None where not listed."""
    socket = device.profile.port(port)
    own = socket.video.modes if socket is not None and socket.video.modes is not None else device.profile.video.modes
    modes = {listed_timing(m).mode for m in own} if isinstance(own, tuple) else set()
    kept = [m for m in modes if not m.interlaced and m.height >= _LEAST_LINES and m.hz >= 50]
    return sorted(kept, key=lambda m: (-m.width * m.height, -m.hz))


def _hardware_hdr(device: Device, port: str) -> Sequence[str]:
    socket = device.profile.port(port)
    own = socket.video.hdr if socket is not None and socket.video.hdr is not None else device.profile.video.hdr
    return own or ()


def _games(read: Reading, device: Device) -> Iterator[Line]:
    part = "Games"
    port = read.own.socket.port
    hdr = _hardware_hdr(device, port)
    for mode in hardware_modes(device, port):
        listed, at, why = mode_listed(read, mode)
        yield _line(read, f"mode.{mode}", mode.name, part, listed, at, why)
        if "static" in hdr and has_hdr_at(read.layer, read.result.run, mode):
            yield hdr_line(read, mode, part)
    if "dynamic" in hdr:
        yield _feature(read, "dynamic", "dynamic-metadata HDR", part, "hdr", "dynamic")
    for key, label, field in (
        ("vrr", "variable refresh", "vrr"), ("low_latency", "automatic low latency", "low_latency"),
    ):  # fmt: skip
        socket = device.profile.port(port)
        own = getattr(socket.video, field) if socket else None
        if own if own is not None else getattr(device.profile.video, field):
            yield _feature(read, key, label, part, field, None)


def _films(read: Reading, device: Device) -> Iterator[Line]:
    part, port = "Films", read.own.socket.port
    modes = device.profile.video_hdr_modes
    if modes is None:  # wherever it sends HDR at all: the largest stands for them
        modes = tuple(m for m in hardware_modes(device, port) if m.hz <= _FILM_HZ)[:1]
    if "static" in _hardware_hdr(device, port):
        for mode in modes:
            yield hdr_line(read, mode, part)
    own = device.profile.video.modes
    if isinstance(own, tuple) and any(listed_timing(m).mode == _FILMS for m in own):
        listed, at, why = mode_listed(read, _FILMS)
        yield _line(read, f"films.{_FILMS}", "24 frames a second in 4K", part, listed, at, why)


def hdr_line(read: Reading, mode: Mode, part: str = "") -> Line:
    """HDR at a mode: the mode, HDR known all along, and an encoding deep enough."""
    listed, at, why = mode_listed(read, mode, HDR_BITS)
    known, where, reason = known_of(read, "hdr", "static")
    if known is not True and listed is not False:
        listed, at, why = (known if listed is True or known is False else None), where, reason
    key = f"hdr.{mode}" if part != "Films" else f"films.hdr.{mode}"
    return _line(read, key, f"{mode.name} in HDR", part, listed, at, why)


def mode_listed(read: Reading, mode: Mode, bits: int = 8) -> tuple[bool | None, Socket | None, str]:
    """Is a mode listed at such a depth; None: not known. With the first socket that takes it away, and why."""
    state = read.own.state
    if not sends(state, mode):
        return False, read.own.socket, _because(read, read.own, "modes", "it is not allowed there")
    for station in read.stations[1:]:
        if station.state.modes is not None and timing_for(station.state.modes, mode) is None:
            return False, station.socket, _because(read, station, "modes", "it does not list that mode")
    if state.modes is None or read.seen.modes is None:  # a box between that says nothing hands all on
        silent = read.own if state.modes is None else read.stations[-1]
        return None, silent.socket, "nobody knows what it lists"
    able = [s for s in signals_of_any(read, mode) if s.bits >= bits]
    if not able:
        short = _lacks_encoding(read, mode, bits)
        return False, short.socket, _because(read, short, "encodings", f"no format of {bits} bits there")
    verdicts = {check_link(demand(s), read.link).verdict for s in able}
    if verdicts & {"fits", "tight", "compressed"}:
        return True, None, ""
    if "unknown" in verdicts:
        return None, read.stations[1].socket, "nobody knows what that socket carries"
    low = read.stations[1] if _lower(read) else read.own
    return False, low.socket, _because(read, low, "frl", "the rate of its socket does not carry it")


def signals_of_any(read: Reading, mode: Mode) -> list[DigitalVideo]:
    """Every signal of a mode that all boxes handle, whatever carries it."""
    by_dp = family(read.own.state.port) == "dp"
    end = End(BEST.tmds_hz, BEST.frl, BEST.dp if by_dp else NO_DP)
    whole = capacity(end, BEST, end)
    return signals_of(mode, read.stations, read.seen, whole, read.result.run.want.audio)


def _lacks_encoding(read: Reading, mode: Mode, bits: int) -> Station:
    """The first station by which no signal of the mode is deep enough any more."""
    for n in range(1, len(read.stations) + 1):
        head = read.stations[:n]
        whole = replace(read, stations=head)
        if not any(s.bits >= bits for s in signals_of_any(whole, mode)):
            return head[-1]
    return read.own


def _lower(read: Reading) -> bool:
    """Is it the far end of the source's lead that limits it?"""
    if read.link.dp is not None and read.link.dp.lanes:
        return read.link.dp_by == "in"
    return "in" in (read.link.frl_by, read.link.tmds_by)


def known_of(read: Reading, field: str, member: str | None) -> tuple[bool | None, Socket | None, str]:
    """Is a feature there all along the way; with the first socket that lacks it, or of which nobody knows."""
    unknown: Station | None = None
    for station in read.stations:
        value = getattr(station.state, field)
        if value is None:
            unknown = unknown or station
        elif (member not in value) if member is not None else value is False:
            return False, station.socket, _because(read, station, field, "it lacks it")
    if unknown is not None:
        return None, unknown.socket, "nobody knows of that socket"
    return True, None, ""


def _feature(read: Reading, key: str, label: str, part: str, field: str, member: str | None) -> Line:
    return _line(read, key, label, part, *known_of(read, field, member))


def _because(read: Reading, station: Station, field: str, plain: str) -> str:
    origin = station.state.origins.get(field)
    if origin is not None and origin.kind == "quirk" and origin.because:
        device = read.layer.rig.devices[station.socket.device]
        names = [
            f"{s.label}: {s.option_label(v) if v else 'not known'}"
            for _scope, sid, v in origin.settings
            if (s := device.profile.setting(sid)) is not None
        ]
        return f"{', '.join(names)} ({origin.because})" if names else origin.because
    return plain


def _line(read: Reading, key: str, label: str, part: str, listed: bool | None, at: Socket | None, why: str) -> Line:
    says = None if listed is None else YES if listed else NO
    words = f"{read.layer.rig.socket_name(at)}: {why}" if at is not None and why else why
    return Line(key, label, says, words, part, listed is not None, at)
