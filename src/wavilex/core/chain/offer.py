"""What the boxes of a path offer together: capabilities upstream, encodings, compression, link capacities."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from functools import lru_cache, reduce

from wavilex.core.chain.paths import Layer, Path, Station
from wavilex.core.gear.socket_kinds import family
from wavilex.core.gear.state import ANY, PortState, through
from wavilex.core.link.check import Capacity, cable_capacity
from wavilex.core.link.dp_rates import NO_DP
from wavilex.core.link.dsc import UNCERTAIN, DscSink, common_dsc
from wavilex.core.link.rates import NO_FRL
from wavilex.core.rig.model import Want
from wavilex.core.video.codes import listed_timing, names_mode, usual_timing
from wavilex.core.video.mode import Mode
from wavilex.core.video.signal import HDR_BITS, DigitalVideo
from wavilex.core.video.timing import Timing

PREFERRED = ("rgb", "444", "422", "420")  # a source sends the fullest chroma it may
CHROMA_ALLOWS = {"444": ("rgb", "444"), "422": ("rgb", "444", "422"), "any": PREFERRED}


def path_capacities(layer: Layer, stations: Sequence[Station], path: Path) -> list[Capacity]:
    """What each hop's three parts carry together, compressed only where every box of its stretch can."""
    squeezed = [dsc for part in _stretches(stations) for dsc in [path_compression(part)] * (len(part) // 2)]
    return [
        cable_capacity(out.state.end, layer.rig.leads[hop.lead].cable, inp.state.end, dsc)
        for hop, out, inp, dsc in zip(path, stations[::2], stations[1::2], squeezed, strict=True)
    ]


def _stretches(stations: Sequence[Station]) -> Iterator[list[Station]]:
    """The sockets of a path, parted where a converter ends compression: what goes on from it is plain again."""
    part: list[Station] = []
    for station in stations:
        part.append(station)
        if station.state.port.decodes:
            yield part
            part = []
    if part:
        yield part


def is_plain(state: PortState) -> bool:
    """Does a socket know no link that carries compressed pictures?"""
    return state.frl == NO_FRL and state.dp == NO_DP


def path_compression(stations: Sequence[Station]) -> DscSink | None:
    """What the boxes of a path compress together; None: nothing. Not known: the widest there is, uncertain."""
    together = reduce(common_dsc, (False if is_plain(s.state) else s.state.dsc for s in stations))
    if isinstance(together, DscSink):
        return together
    return None if together is False else UNCERTAIN


def advertise(layer: Layer, stations: Sequence[Station], beside: Sequence[Station] = ()) -> PortState:
    """First pass: what the source reads at the far end of its own lead.

    A repeater of fixed EDID answers for itself, whatever lies beyond; others narrow what lies beyond by
    what they take, and by the screens beside the path that share their offer.
    """
    seen = stations[-1].state
    for station in reversed(stations[1:-1]):
        if station.state.port.direction == "in" and layer.edid_way(station.socket.device) == "fixed":
            seen = station.state
        else:
            seen = through(station.state, seen)
    for station in beside:
        seen = through(seen, station.state)
    return seen


@lru_cache(maxsize=8192)
def timing_for(modes: tuple[str, ...] | str | None, mode: Mode) -> Timing | None:
    """The timing a sink's list gives a mode; the usual one where the list is `any` or unknown; None if absent."""
    if modes is None or modes == ANY:
        return usual_timing(mode)
    return next((t for t in map(listed_timing, modes) if t.mode == mode), None)


def sends(state: PortState, mode: Mode) -> bool:
    """Does a source's port send this mode? Unknown counts as yes until it is known."""
    if state.modes is None or state.modes == ANY or mode in state.modes:
        return True
    return any(names_mode(code, mode) for code in state.modes)


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
    return state.modes_420 == ANY or any(listed_timing(m).mode == timing.mode for m in state.modes_420)


def common_signals(
    stations: Sequence[Station], timing: Timing, allowed: Sequence[str], bits: int, audio: str
) -> list[DigitalVideo]:
    """Second pass: what the source may send of a timing, the one it prefers first.

    Fullest chroma first, then the least depth that is enough; over HDMI 4:2:2 travels in one fixed container, so it
    goes at the most depth there is. DVI among them: without sound.
    """
    audio = "none" if any(s.state.port.kind == "dvi" for s in stations) else audio
    pairs = set.intersection(*(station_encodings(s, timing, allowed, bits) for s in stations))
    in_container = all(family(s.state.port) == "hdmi" for s in stations)
    if in_container:
        deepest = max((b for e, b in pairs if e == "422"), default=0)
        pairs -= {("422", b) for b in (8, 10, 12) if b < deepest}

    def rank(pair: tuple[str, int]) -> tuple[int, int]:
        return PREFERRED.index(pair[0]), -pair[1] if pair[0] == "422" and in_container else pair[1]

    return [DigitalVideo(timing, e, b, audio) for e, b in sorted(pairs, key=rank)]
