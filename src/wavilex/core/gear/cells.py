"""The cell a setting's value is kept in: input, dynamic range, picture preset, resolution, rate, in any combination.

A cell is written as one text, its `scope`: "" for the whole box, a socket's id for a plain socket, and what else it is
kept by after it: `hdmi1;range=hdr;mode=film`.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Literal, get_args

from wavilex.core.gear.conditions import SignalFacts

StoredBy = Literal["input", "resolution", "rate", "range", "mode"]
RangeName = Literal["sdr", "hdr", "dynamic"]
DIMENSIONS: tuple[StoredBy, ...] = get_args(StoredBy)
RANGES: Mapping[str, str] = {"sdr": "standard range", "hdr": "HDR", "dynamic": "dynamic HDR"}
_OF_HDR: Mapping[str, RangeName] = {"off": "sdr", "static": "hdr", "hlg": "hdr", "dynamic": "dynamic"}
_NAMED = tuple(d for d in DIMENSIONS if d != "input")
_SCOPES = 8192  # texts remembered as read: a job has at most so many cells
REST: RangeName = "sdr"  # without a signal in question a box is met as its own menus show it


@dataclass(frozen=True, slots=True, order=True)
class Spot:
    """Where a picture meets a box, "" for what is not said. mode: the picture preset's id; resolution `3840x2160`."""

    input: str = ""
    resolution: str = ""
    rate: str = ""
    range: str = ""
    mode: str = ""

    def value(self, dimension: StoredBy) -> str:
        text: str = getattr(self, dimension)
        return text

    def kept(self, by: Iterable[StoredBy]) -> str:
        """The scope a value kept by these is found at."""
        dimensions = set(by)
        parts = [f"{d}={self.value(d)}" for d in _NAMED if d in dimensions and self.value(d)]
        return ";".join([self.input if "input" in dimensions else "", *parts])


def spot_of(signal: SignalFacts | None, input_: str = "", mode: str = "") -> Spot:
    """Where a signal meets an input."""
    if signal is None:
        return Spot(input_, range=REST, mode=mode)
    width, height, hz = signal.mode.figures
    return Spot(input_, f"{width}x{height}", str(hz), _OF_HDR.get(signal.hdr, "hdr"), mode)


@lru_cache(maxsize=_SCOPES)
def read_scope(scope: str) -> Spot:
    """The cell a scope names. Raises ValueError for a strange word."""
    first, *rest = scope.split(";")
    spot = Spot(first)
    for part in rest:
        name, _, value = part.partition("=")
        if name not in _NAMED or not value or spot.value(name):
            raise ValueError(f"{part!r} is not one of {', '.join(_NAMED)}, each once, as range=hdr")
        spot = replace(spot, **{name: value})
    return spot


@lru_cache(maxsize=_SCOPES)
def said_by(scope: str) -> tuple[StoredBy, ...]:
    """What a scope tells apart, in the order of DIMENSIONS."""
    spot = read_scope(scope)
    return tuple(d for d in DIMENSIONS if spot.value(d))
