"""Names and figures of DisplayPort link rates, and of DVI links.

Source: VESA DisplayPort 1.4a and 2.1, DVI 1.0; value from memory.
"""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction
from typing import Literal, get_args

from wavilex.core.errors import SignalError

LaneRate = Literal["rbr", "hbr", "hbr2", "hbr3", "uhbr10", "uhbr13.5", "uhbr20"]
LANES = (1, 2, 4)
LANE_MBPS: dict[LaneRate, int] = {
    "rbr": 1620, "hbr": 2700, "hbr2": 5400, "hbr3": 8100, "uhbr10": 10_000, "uhbr13.5": 13_500, "uhbr20": 20_000,
}  # fmt: skip
_BIT_8B10B = Fraction(8, 10)
_BIT_128B132B = Fraction(128, 132) * Fraction(383, 384)  # one link symbol of 384 is the link's own
CORRECTION = Fraction(976, 1000)  # what error correction leaves of an 8b/10b link
SLOTS, SLOTS_OF_STREAMS = 64, 63  # time slots a link is shared in, and how many of them streams may have
STREAM_MARGIN = Fraction(1006, 1000)  # [medium certainty]
DVI_LINK_HZ = 165_000_000


@dataclass(frozen=True, slots=True)
class DpRate:
    """Lanes, each at one of the standard's rates. `NO_DP` (no lanes) is a known absence, not an unknown."""

    lanes: int
    lane: LaneRate

    @property
    def code(self) -> str:
        return f"{self.lanes}x{self.lane}" if self.lanes else "none"

    @property
    def lane_gbps(self) -> Fraction:
        return Fraction(LANE_MBPS[self.lane], 1000)

    @property
    def own_correction(self) -> bool:
        """128b/132b: its coding corrects errors always."""
        return self.lane.startswith("uhbr")

    @property
    def data_bps(self) -> Fraction:
        """Bits a second left for pictures, sound and blanking."""
        coding = _BIT_128B132B if self.own_correction else _BIT_8B10B
        return self.lanes * LANE_MBPS[self.lane] * 1_000_000 * coding

    @property
    def corrected_bps(self) -> Fraction:
        """The same with error correction on, as compressed pictures need it."""
        return self.data_bps if self.own_correction else self.data_bps * CORRECTION

    @property
    def symbols_hz(self) -> Fraction:
        """Bytes of data a second on all lanes."""
        return self.data_bps / 8

    @property
    def name(self) -> str:
        """`4 × HBR3`."""
        return f"{self.lanes} × {self.lane.upper()}" if self.lanes else "no DisplayPort"

    @property
    def words(self) -> str:
        """`25.92 Gb/s (4 lanes, HBR3)`."""
        lanes = "1 lane" if self.lanes == 1 else f"{self.lanes} lanes"
        return f"{float(self.data_bps / 10**9):.4g} Gb/s ({lanes}, {self.lane.upper()})"


NO_DP = DpRate(0, "rbr")
LANE_RATES: tuple[LaneRate, ...] = get_args(LaneRate)
DP_RATES = tuple(sorted((DpRate(n, r) for n in LANES for r in LANE_RATES), key=lambda x: (x.data_bps, x.lanes)))
BEST_DP = DpRate(4, "uhbr20")
_BY_CODE = {r.code: r for r in (NO_DP, *DP_RATES)}
DP_CODES = tuple(_BY_CODE)


def dp_rate(code: str) -> DpRate:
    """`4xhbr3` → its rate; `none` → NO_DP. Raises SignalError."""
    try:
        return _BY_CODE[code]
    except KeyError:
        known = ", ".join(LANE_RATES)
        raise SignalError(f"{code!r} is no DisplayPort rate; 1x, 2x or 4x and one of {known}, as in 4xhbr3") from None


def lesser(a: DpRate, b: DpRate) -> DpRate:
    """What two parts of a link train to together: the fewer lanes, each at the slower rate."""
    lanes = min(a.lanes, b.lanes)
    return DpRate(lanes, min(a.lane, b.lane, key=LANE_RATES.index)) if lanes else NO_DP


def below(rate: DpRate) -> DpRate:
    """The same lanes at the next slower rate; NO_DP below the slowest."""
    at = LANE_RATES.index(rate.lane)
    return DpRate(rate.lanes, LANE_RATES[at - 1]) if at and rate.lanes else NO_DP


def dvi_words(links: int) -> str:
    """`DVI, single link (165 MHz)`."""
    return "DVI, dual link (2 × 165 MHz)" if links == 2 else "DVI, single link (165 MHz)"
