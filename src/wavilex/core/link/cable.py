"""What a lead carries: by its certification, by how it is made, and by what was proved of it on site."""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction
from functools import lru_cache

from wavilex.core.errors import SignalError
from wavilex.core.link.dp_rates import BEST_DP, DP_RATES, LANE_MBPS, NO_DP, DpRate, below, dp_rate, lesser
from wavilex.core.link.rates import (
    FRL_RATES,
    NO_FRL,
    NO_SCRAMBLING_HZ,
    DeadLead,
    FrlRate,
    ceiling_text,
    frl_rate,
    parse_over,
)


@dataclass(frozen=True, slots=True)
class Grade:
    """A certification. Ceilings are None when the lead's certification is not known.

    Source: HDMI cable categories 1 to 4; value from memory. Leads below category 3 are counted as
    carrying no FRL: nobody certifies them for it.
    """

    code: str
    name: str
    tmds_hz: int | None
    frl: FrlRate | None
    dp: DpRate | None = NO_DP
    dvi: int = 0


_LANES_TMDS_HZ = 300_000_000  # what a DisplayPort or USB-C lead carries where a socket of two modes sends TMDS
GRADES: dict[str, Grade] = {
    g.code: g
    for g in (
        Grade("standard", "Standard", 74_250_000, NO_FRL),
        Grade("high_speed", "High Speed", 340_000_000, NO_FRL),
        Grade("premium", "Premium High Speed", 600_000_000, NO_FRL),
        Grade("ultra", "Ultra High Speed", 600_000_000, frl_rate("4x12")),
        Grade("ultra96", "Ultra96", 600_000_000, FRL_RATES[-1]),
        Grade("dp54g", "DisplayPort to 5.4 Gb/s a lane", _LANES_TMDS_HZ, NO_FRL, dp_rate("4xhbr2")),
        Grade("dp8k", "DP8K", _LANES_TMDS_HZ, NO_FRL, dp_rate("4xhbr3")),
        Grade("dp40", "DP40", _LANES_TMDS_HZ, NO_FRL, dp_rate("4xuhbr10")),
        Grade("dp54", "DP54", _LANES_TMDS_HZ, NO_FRL, dp_rate("4xuhbr13.5")),
        Grade("dp80", "DP80", _LANES_TMDS_HZ, NO_FRL, dp_rate("4xuhbr20")),
        Grade("c_usb2", "USB-C for USB 2 and charging", 0, NO_FRL, NO_DP),
        Grade("c_5", "USB-C to 5 Gb/s", _LANES_TMDS_HZ, NO_FRL, dp_rate("4xhbr2")),
        Grade("c_20", "USB-C to 20 Gb/s", _LANES_TMDS_HZ, NO_FRL, dp_rate("4xhbr3")),
        Grade("c_40", "USB-C to 40 Gb/s", _LANES_TMDS_HZ, NO_FRL, dp_rate("4xuhbr10")),
        Grade("c_80", "USB-C to 80 Gb/s", _LANES_TMDS_HZ, NO_FRL, dp_rate("4xuhbr20")),
        Grade("dvi_single", "DVI single link", 165_000_000, NO_FRL, NO_DP, 1),
        Grade("dvi_dual", "DVI dual link", 165_000_000, NO_FRL, NO_DP, 2),
        Grade("unknown", "not certified", None, None, None, 2),
        # taken for Ultra, or for DP8K, until somebody reads it
        Grade("unread", "print not read", 600_000_000, frl_rate("4x12"), dp_rate("4xhbr3"), 2),
    )
}
NOT_READ, UNKNOWN = "unread", "unknown"
GRADES_OF: dict[str, tuple[str, ...]] = {  # certifications by the kind of a lead, the least first; none at all last
    "hdmi": ("standard", "high_speed", "premium", "ultra", "ultra96", UNKNOWN),
    "dp": ("dp54g", "dp8k", "dp40", "dp54", "dp80", UNKNOWN),
    "usbc": ("c_usb2", "c_5", "c_20", "c_40", "c_80", UNKNOWN),
    "dvi": ("dvi_single", "dvi_dual", UNKNOWN),
}
DIGITAL = tuple(GRADES_OF)
GRADE_ORDER = GRADES_OF["hdmi"]
GRADE_RISE = {grade: place for order in GRADES_OF.values() for place, grade in enumerate(order)}  # within its kind
TAKEN_FOR = {"hdmi": "ultra", "dp": "dp8k", "usbc": "c_20", "dvi": "dvi_dual"}  # what a lead is taken for unread
BEST_OF = {"hdmi": "ultra", "dp": "dp80", "usbc": "c_80", "dvi": "dvi_dual"}
BEST = Grade("best", "any lead", 600_000_000, FRL_RATES[-1], BEST_DP, 2)

BUILDS = {"unknown": "make not known", "passive": "passive copper", "active": "active copper", "optical": "optical"}
DIRECTED = ("active", "optical")  # these have a sending end, and electronics that want power
POWERS = {"port": "fed by the socket", "fed": "own supply, on", "unfed": "own supply, off"}
_TMDS_CLASSES_HZ = (74_250_000, 165_000_000, 340_000_000, 600_000_000)
_LANE_GBPS_OF_600_MHZ = 6  # a TMDS lane at 600 MHz and an FRL lane of 6 Gb/s run at the same speed


@dataclass(frozen=True, slots=True)
class Cable:
    """What is known of a lead. length_mm None: not measured.

    `proved` and `failed` are link rates (`frl:4x10`, `tmds:600`, `dp:4xhbr3`): the highest seen working here, the
    lowest seen failing. They override what is printed. `turned`: a directed lead plugged the wrong way round.
    """

    grade: str = "unknown"
    length_mm: int | None = None
    build: str = "unknown"
    power: str = "port"
    turned: bool = False
    proved: str | None = None
    failed: str | None = None

    @property
    def known(self) -> bool:
        """Is anything known of what it carries, by print or by proof?"""
        return self.grade not in ("unknown", NOT_READ) or self.proved is not None


@dataclass(frozen=True, slots=True)
class Bounds:
    """A lead's ceilings: `sure` is carried, above `most` nothing is; between them nobody knows.

    `sure` has None figures when nothing is known. `dead` is why the lead carries nothing at all, or None.
    `trusted` is what was proved: no length makes it doubtful.
    """

    sure: Grade
    most: Grade
    trusted: Grade
    limited_mm: int | None
    dead: DeadLead | None


@lru_cache(maxsize=1024)
def cable_bounds(cable: Cable) -> Bounds:
    """Print, proof and make of a lead as bounds. Raises SignalError for a malformed rate."""
    printed = GRADES[cable.grade]
    sure, most = printed, printed if printed.tmds_hz is not None else BEST
    trusted = Grade("proved", "proved here", 0, NO_FRL, NO_DP)
    if cable.failed:
        limit = _under(cable.failed)
        most = _lowest(most, limit)
        if printed.tmds_hz is not None:
            sure = _lowest(sure, limit)
    if cable.proved:
        trusted = _proved(cable.proved)
        sure, most = _highest(sure, trusted), _highest(most, trusted)
    dead: DeadLead | None = None
    if cable.build in DIRECTED:
        dead = "lead_turned" if cable.turned else "lead_unfed" if cable.power == "unfed" else None
    return Bounds(sure, most, trusted, None if cable.build in DIRECTED else cable.length_mm, dead)


def check_proofs(proved: str | None, failed: str | None) -> None:
    """Raises SignalError when the two contradict each other or are no rates."""
    if proved:
        _proved(proved)
    if failed:
        _under(failed)
    if proved and failed and speed(proved) >= speed(failed):
        at, to = (ceiling_text(*parse_over(x)) for x in (failed, proved))
        raise SignalError(f"a lead that failed at {at} cannot be proved to {to}: keep one of the two")


def speed(over: str) -> tuple[int, int]:
    """An order of rates: FRL by its step, TMDS below the lane speed it shares."""
    tmds_hz, frl, dp, _ = parse_over(over)
    if dp.lanes:
        return DP_RATES.index(dp), 0
    return (0, tmds_hz) if tmds_hz is not None else (frl.total_gbps, 0)


def _proved(over: str) -> Grade:
    tmds_hz, frl, dp, dvi = parse_over(over)
    if tmds_hz is None:
        tmds_hz = 600_000_000 if frl.lane_gbps >= _LANE_GBPS_OF_600_MHZ else 300_000_000
    return Grade("proved", "proved here", tmds_hz // (dvi or 1), frl, dp, dvi)


def _under(over: str) -> Grade:
    """The most a lead can carry that failed at a rate."""
    tmds_hz, frl, dp, _ = parse_over(over)
    if dp.lanes:
        return Grade("failed", "as it failed here", _LANES_TMDS_HZ, NO_FRL, below(dp), 2)
    if tmds_hz is None:
        slower_step = max((r for r in FRL_RATES if r < frl), default=NO_FRL)
        return Grade("failed", "as it failed here", BEST.tmds_hz, slower_step)
    slower = max((hz for hz in _TMDS_CLASSES_HZ if hz < tmds_hz), default=0)
    return Grade("failed", "as it failed here", slower, frl_rate("3x3") if tmds_hz > 300_000_000 else NO_FRL)


def _highest(a: Grade, b: Grade) -> Grade:
    dp = max(a.dp or NO_DP, b.dp or NO_DP, key=lambda r: r.data_bps)
    tmds_hz, frl = max(a.tmds_hz or 0, b.tmds_hz or 0), max(a.frl or NO_FRL, b.frl or NO_FRL)
    return Grade(b.code, b.name, tmds_hz, frl, dp, max(a.dvi, b.dvi))


def _lowest(a: Grade, b: Grade) -> Grade:
    tmds_hz, frl = min(a.tmds_hz or 0, b.tmds_hz or 0), min(a.frl or NO_FRL, b.frl or NO_FRL)
    return Grade(b.code, b.name, tmds_hz, frl, lesser(a.dp or NO_DP, b.dp or NO_DP), min(a.dvi, b.dvi))


@dataclass(frozen=True, slots=True)
class Reach:
    """How far passive copper carries a rate, in mm: trusted, and at best. Common practice.

    Beyond it a lead is active or optical; those are bought for their length and not judged by it.
    """

    trusted_mm: int
    at_best_mm: int


_SLOW, _MIDDLE, _FAST = Reach(10_000, 15_000), Reach(5_000, 7_000), Reach(3_000, 5_000)
_MIDDLE_GBPS = 18


def tmds_reach(character_rate_hz: Fraction | int) -> Reach:
    """For TMDS, by the character rate."""
    return _SLOW if character_rate_hz <= NO_SCRAMBLING_HZ else _MIDDLE


def frl_reach(rate: FrlRate) -> Reach:
    """For FRL, by the step."""
    return _MIDDLE if rate.total_gbps <= _MIDDLE_GBPS else _FAST


_LANE_REACH = ((2700, Reach(5_000, 15_000)), (5400, Reach(3_000, 5_000)), (8100, Reach(2_000, 3_000)))


def dp_reach(rate: DpRate) -> Reach:
    """For DisplayPort and USB-C, by the lane's rate [medium certainty]."""
    mbps = LANE_MBPS[rate.lane]
    return next((reach for most, reach in _LANE_REACH if mbps <= most), Reach(1_000, 2_000))
