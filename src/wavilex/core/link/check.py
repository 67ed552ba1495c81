"""Capacity of a link and the verdict on a demand over it."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field, replace
from fractions import Fraction
from functools import lru_cache
from typing import Literal, get_args

from wavilex.core.link.cable import Cable, Grade, Reach, cable_bounds, frl_reach, tmds_reach
from wavilex.core.link.dsc import DscSink, DscStop, DscUse, dsc_use
from wavilex.core.link.frl import FrlUse, frl_fits, frl_use
from wavilex.core.link.rates import FRL_RATES, NO_FRL, DeadLead, FrlRate, Stop
from wavilex.core.link.tmds import TmdsUse, tmds_use
from wavilex.core.video.signal import Demand

TIGHT_FROM = Fraction(98, 100)  # share of an FRL line; TMDS at 99 % fits
Verdict = Literal["fits", "tight", "compressed", "unknown", "blocked"]
VERDICTS: tuple[Verdict, ...] = get_args(Verdict)  # mildest first


def worst(verdicts: Sequence[Verdict]) -> Verdict:
    """The gravest of several verdicts; `fits` of none."""
    return max(verdicts, key=VERDICTS.index, default="fits")


@dataclass(frozen=True, slots=True)
class End:
    """Ceilings of one end of a link, or of the lead. None is unknown; NO_FRL is a known absence."""

    tmds_hz: int | None
    frl: FrlRate | None


@dataclass(frozen=True, slots=True)
class Capacity:
    """What a link carries. `tmds_by` and `frl_by` name what limits it: `out`, `lead` or `in`.

    `unknown` lists the parts whose figures are missing; `beyond` is what the link might carry if a part proved
    only so far goes further; `trusted_*` is what a lead was proved to carry; `dead` is why the lead carries
    nothing; `dsc` what compression the whole path does (None: none).
    """

    tmds_hz: int | None
    frl: FrlRate | None
    tmds_by: str
    frl_by: str
    length_mm: int | None = None
    passive: bool = False  # known to be passive copper
    unknown: tuple[str, ...] = ()
    dsc: DscSink | None = None
    trusted_tmds_hz: int = 0
    trusted_frl: FrlRate = NO_FRL
    dead: DeadLead | None = None
    beyond: Capacity | None = None
    _hash: int = field(init=False, repr=False, compare=False, default=0)

    def __post_init__(self) -> None:
        """Verdicts are looked up by the thousand: the hash is worked out once."""
        parts = (self.tmds_hz, self.frl, self.length_mm, self.passive, self.unknown, self.dsc, self.dead, self.beyond)
        object.__setattr__(self, "_hash", hash(parts))

    def __hash__(self) -> int:
        return self._hash


def capacity(out: End, lead: End | Grade, inp: End, length_mm: int | None = None) -> Capacity:
    """The lowest of the three parts of a link, part by part."""
    parts = {"out": out, "lead": lead, "in": inp}
    tmds = [(p.tmds_hz, name) for name, p in parts.items() if p.tmds_hz is not None]
    frl = [(p.frl, name) for name, p in parts.items() if p.frl is not None]
    low_tmds = min(tmds, key=lambda x: x[0]) if tmds else (None, "")
    low_frl = min(frl, key=lambda x: x[0]) if frl else (None, "")
    known_off = low_frl[0] == NO_FRL  # one part without FRL settles it
    unknown = tuple(name for name, p in parts.items() if p.tmds_hz is None or (p.frl is None and not known_off))
    return Capacity(low_tmds[0], low_frl[0], low_tmds[1], low_frl[1], length_mm, unknown=unknown)


@lru_cache(maxsize=4096)
def cable_capacity(out: End, cable: Cable, inp: End, dsc: DscSink | None = None) -> Capacity:
    """What two ends carry over a lead of which this is known. Raises SignalError for a malformed lead."""
    lead = cable_bounds(cable)
    sure = replace(
        capacity(out, lead.sure, inp, lead.limited_mm), dsc=dsc, dead=lead.dead, passive=cable.build == "passive",
        trusted_tmds_hz=lead.trusted.tmds_hz or 0, trusted_frl=lead.trusted.frl or NO_FRL,
    )  # fmt: skip
    if lead.sure.tmds_hz is None:
        if not cable.failed:
            return sure
        most = capacity(out, lead.most, inp)
        # nothing sure, but a limit seen here stops what is above it
        return replace(sure, tmds_hz=most.tmds_hz, frl=most.frl, tmds_by=most.tmds_by, frl_by=most.frl_by)
    if (lead.most.tmds_hz, lead.most.frl) == (lead.sure.tmds_hz, lead.sure.frl):
        return sure
    return replace(sure, beyond=replace(capacity(out, lead.most, inp), dsc=dsc))


@dataclass(frozen=True, slots=True)
class LongLead:
    """A lead longer than passive copper is trusted with at the rate in question. passive: known to be that, or taken
    for it as nobody wrote down how it is made.
    """

    length_mm: int
    reach: Reach
    passive: bool

    @property
    def unlikely(self) -> bool:
        return self.length_mm > self.reach.at_best_mm


@dataclass(frozen=True, slots=True)
class LinkVerdict:
    """The answer for one link. `transport` is `frl`, `tmds` or `none` (nothing known).

    used is a fraction of the capacity (step 7 for FRL, rate over ceiling for TMDS).
    """

    verdict: Verdict
    transport: str
    used: Fraction | None
    blocked_by: Stop | None
    demand: Demand
    capacity: Capacity
    tmds: TmdsUse | None = None
    frl: FrlUse | None = None
    dsc: DscUse | None = None
    dsc_stop: DscStop | None = None
    long: LongLead | None = None

    @property
    def fits(self) -> bool:
        return self.verdict in ("fits", "tight", "compressed")

    @property
    def used_percent(self) -> float | None:
        return None if self.used is None else round(float(self.used * 100), 4)


@lru_cache(maxsize=32768)
def check_link(need: Demand, cap: Capacity) -> LinkVerdict:
    """Does the demand fit? FRL where both ends and the lead have it, else TMDS; compressed where the path can.

    A fit on known figures stays a fit only if no part is unknown; a known part that is too small blocks.
    """
    frl = frl_use(need, cap.frl) if cap.frl is not None and cap.frl != NO_FRL else None
    tmds = tmds_use(need, cap.tmds_hz) if cap.tmds_hz is not None else None
    if cap.dead is not None:
        return LinkVerdict("blocked", "none", None, cap.dead, need, cap, tmds, frl)
    if frl is not None and (frl.blocked_by is None or tmds is None or tmds.blocked_by is not None):
        blocked: Stop | None = frl.blocked_by
        transport, used = "frl", frl.used
    elif tmds is not None:
        transport, used, blocked = "tmds", tmds.used, tmds.blocked_by
    else:
        return LinkVerdict("unknown", "none", None, "capacity_unknown", need, cap)
    squeezed: DscUse | None = None
    stop: DscStop | None = None
    if blocked is not None and cap.dsc is not None and frl is not None and cap.frl is not None:
        tried = dsc_use(need, cap.frl, cap.dsc)
        squeezed, stop = (tried, None) if isinstance(tried, DscUse) else (None, tried)
        if squeezed is not None and cap.dsc.certain:
            transport, used, blocked = "frl", squeezed.used, None
        elif not cap.dsc.certain:
            stop = None
        if squeezed is not None and not cap.dsc.certain and not cap.unknown:
            return LinkVerdict("unknown", "frl", frl.used, "compression_unknown", need, cap, tmds, frl, squeezed, stop)
    if blocked is not None and cap.frl is None and cap.tmds_hz is not None:
        blocked = "capacity_unknown"  # TMDS is too small, but nobody knows whether FRL is there
    if blocked is not None and cap.beyond is not None and check_link(need, cap.beyond).fits:
        blocked = "capacity_unknown"  # the lead was proved so far; it may carry more
    reach = _reach(need, cap, squeezed, frl, tmds)
    verdict: Verdict
    if blocked == "capacity_unknown" or (blocked is None and cap.unknown):
        verdict, blocked = "unknown", "capacity_unknown"
    elif blocked is not None:
        verdict = "blocked"
    elif reach is not None and reach.unlikely:
        verdict, blocked = "unknown", "lead_too_long"
    elif squeezed is not None:
        verdict = "compressed"
    elif reach is not None or (transport == "frl" and used > TIGHT_FROM):
        verdict = "tight"
    else:
        verdict = "fits"
    return LinkVerdict(verdict, transport, used, blocked, need, cap, tmds, frl, squeezed, stop, reach)


def _reach(
    need: Demand, cap: Capacity, squeezed: DscUse | None, frl: FrlUse | None, tmds: TmdsUse | None
) -> LongLead | None:
    """What practice says of a lead of this length for the easiest way to carry the signal; None: nothing against it.

    A link falls back to the slowest step that a lead trains to, so the slowest that carries the signal is asked.
    """
    if cap.length_mm is None:
        return None
    ways: list[tuple[Reach, bool]] = []
    if squeezed is not None:
        ways.append((frl_reach(squeezed.rate), cap.trusted_frl >= squeezed.rate))
    elif frl is not None and frl.blocked_by is None:
        step = frl_fits(need, tuple(r for r in FRL_RATES if r <= frl.rate)) or frl.rate
        ways.append((frl_reach(step), cap.trusted_frl >= step))
    if tmds is not None and tmds.blocked_by is None:
        ways.append((tmds_reach(need.tmds_rate_hz), cap.trusted_tmds_hz >= need.tmds_rate_hz))
    if not ways or any(proved or cap.length_mm <= reach.trusted_mm for reach, proved in ways):
        return None
    easiest = max((reach for reach, _ in ways), key=lambda r: r.at_best_mm)
    return LongLead(cap.length_mm, easiest, cap.passive)


def fullest(verdicts: Iterable[LinkVerdict]) -> LinkVerdict | None:
    """The link that matters most of several: a blocked one before all others, then the one used most. None of none."""
    return max(verdicts, key=lambda v: (v.verdict == "blocked", v.used or 0), default=None)
