"""Code values of a signal: limited and full range, and what a mismatch of the two ends looks like.

Limited: 16 to 235 of 8 bits, scaled by bits (CTA-861, BT.2100 Table 9, narrow). Full: 0 to the highest code.
"""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction
from typing import Literal

Levels = Literal["limited", "full"]


def ends(bits: int, levels: Levels) -> tuple[int, int]:
    """Codes of black and of full white."""
    return (16 << bits - 8, 235 << bits - 8) if levels == "limited" else (0, (1 << bits) - 1)


def fraction_of(code: int, bits: int, levels: Levels) -> Fraction:
    """A code as a fraction of full signal; below black is negative, above white over 1."""
    low, high = ends(bits, levels)
    return Fraction(code - low, high - low)


def code_of(fraction: float, bits: int, levels: Levels) -> int:
    """The nearest code."""
    low, high = ends(bits, levels)
    return round(low + fraction * (high - low))


@dataclass(frozen=True, slots=True)
class Mismatch:
    """What is seen where source and screen mean different levels. black, white: fraction of full signal that the
    screen makes of the source's black and white; lost_low, lost_high: 8-bit codes of the source no longer told apart.
    """

    source: Levels
    screen: Levels
    black: Fraction
    white: Fraction
    lost_low: int
    lost_high: int
    looks: str
    cure: str


def mismatch(source: Levels, screen: Levels) -> Mismatch | None:
    """What the two ends make of each other; None where they agree."""
    if source == screen:
        return None
    low, high = ends(8, source)
    black, white = fraction_of(low, 8, screen), fraction_of(high, 8, screen)
    at_low, at_high = ends(8, screen)
    if source == "full":
        looks = "crushed: shadows drown in black, and highlights run into one white"
    else:
        looks = "grey: black is a dark grey, and white is dull"
    cure = f"Set both ends alike: the screen’s levels to {source}, or the source’s to {screen}; limited suits films"
    return Mismatch(source, screen, black, white, max(0, at_low - low), max(0, high - at_high), looks, cure)
