"""What a source will really send: its order of preference, what it is allowed, where it has HDR.

Order and allowances are the profile's; a source takes the first mode of its order that it may send, that it
reads at the far end of its lead, and that this lead's link carries in some encoding.
"""

from __future__ import annotations

from collections.abc import Sequence

from wavilex.core.chain.offer import PREFERRED, common_signals, sends, timing_for
from wavilex.core.chain.paths import Layer, Station
from wavilex.core.gear.state import PortState
from wavilex.core.link.check import Capacity, check_link
from wavilex.core.rig.model import Run, Want
from wavilex.core.video.mode import Mode
from wavilex.core.video.signal import HDR_BITS, DigitalVideo, demand


def title_signals(
    layer: Layer, run: Run, stations: Sequence[Station], seen: PortState, capacity: Capacity, want: Want
) -> list[DigitalVideo]:
    """The signals of the mode the source picks when a title starts, preferred first; none where nobody knows."""
    order = layer.rig.devices[run.source].profile.prefers
    for mode in order or ():
        found = signals_of(mode, stations, seen, capacity, want.audio)
        if found:
            return _deep_first(found) if _goes_hdr(layer, run, stations, mode, want) else found
    return []


def _goes_hdr(layer: Layer, run: Run, stations: Sequence[Station], mode: Mode, want: Want) -> bool:
    """Does a title that renders HDR start in it: wanted, known all along, sent at this mode?"""
    known = all(s.state.hdr is None or "static" in s.state.hdr for s in stations)
    return want.hdr != "off" and known and has_hdr_at(layer, run, mode)


def _deep_first(signals: Sequence[DigitalVideo]) -> list[DigitalVideo]:
    """Those deep enough for HDR before the others, else in the order of preference."""
    return sorted(signals, key=lambda s: s.bits < HDR_BITS)


def signals_of(
    mode: Mode, stations: Sequence[Station], seen: PortState, capacity: Capacity, audio: str
) -> list[DigitalVideo]:
    """What the source may send of a mode, as far as it reads its far end and its own lead carries; preferred first."""
    timing = timing_for(seen.modes, mode) if sends(stations[0].state, mode) else None
    if timing is None:
        return []
    offered = common_signals(stations, timing, PREFERRED, 8, audio)
    return [s for s in offered if check_link(demand(s), capacity).fits]


def delivers(mode: Mode, wanted: Mode) -> bool:
    """Is a mode at least as large and as fast as what is wanted?"""
    return all(has >= asks for has, asks in zip(mode.figures, wanted.figures, strict=True))


def has_hdr_at(layer: Layer, run: Run, mode: Mode) -> bool:
    """Does the source send HDR in games at this mode? Modes left out of a profile: all."""
    modes = layer.rig.devices[run.source].profile.hdr_modes
    return modes is None or mode in modes


def choose(signals: Sequence[DigitalVideo], capacities: Sequence[Capacity]) -> DigitalVideo:
    """The source's choice: of the signals fewest links stop and most surely carry, the first it prefers."""

    def carried_by(signal: DigitalVideo) -> tuple[int, int]:
        verdicts = [check_link(demand(signal), cap) for cap in capacities]
        return -sum(v.verdict == "blocked" for v in verdicts), sum(v.fits for v in verdicts)

    return max(signals, key=carried_by)  # max keeps the first of equals
