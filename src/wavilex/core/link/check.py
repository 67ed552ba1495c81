"""Capacity of a link and the verdict on a demand over it."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field, replace
from fractions import Fraction
from functools import lru_cache, reduce
from typing import Literal, get_args

from wavilex.core.link.cable import Cable, Grade, Reach, cable_bounds, dp_reach, frl_reach, tmds_reach
from wavilex.core.link.dp import DP_TIGHT_FROM, DpUse, dp_dsc_use, dp_slowest, dp_use
from wavilex.core.link.dp_rates import DVI_LINK_HZ, NO_DP, DpRate, lesser
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
    """Ceilings of one end of a link, or of the lead. None is unknown; 0, NO_FRL, NO_DP are known absences.

    dvi: how many TMDS links a DVI socket has; 0: it is none. Of a lead: how many it carries.
    """

    tmds_hz: int | None
    frl: FrlRate | None
    dp: DpRate | None = NO_DP
    dvi: int = 0


@dataclass(frozen=True, slots=True)
class Capacity:
    """What a link carries. `tmds_by`, `frl_by` and `dp_by` name what limits it: `out`, `lead` or `in`.

    `unknown` lists the parts whose figures are missing; `beyond` is what the link might carry if a part proved
    only so far goes further; `trusted_*` is what a lead was proved to carry; `dead` is why the lead carries
    nothing; `dsc` what compression the whole path does (None: none). `dvi`: the links of a DVI end, 0: it has none;
    `taken`: time slots that other streams of a shared DisplayPort link have, None: it is not shared.
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
    dp: DpRate | None = NO_DP
    dp_by: str = ""
    trusted_dp: DpRate = NO_DP
    dvi: int = 0
    taken: int | None = None
    beyond: Capacity | None = None
    _hash: int = field(init=False, repr=False, compare=False, default=0)

    def __post_init__(self) -> None:
        """Verdicts are looked up by the thousand: the hash is worked out once."""
        parts = (self.tmds_hz, self.frl, self.length_mm, self.passive, self.unknown, self.dsc, self.dead, self.beyond,
                 self.dp, self.dvi, self.taken)  # fmt: skip
        object.__setattr__(self, "_hash", hash(parts))

    def __hash__(self) -> int:
        return self._hash


def capacity(out: End, lead: End | Grade, inp: End, length_mm: int | None = None) -> Capacity:
    """The lowest of the three parts of a link, part by part."""
    parts = {"out": out, "lead": lead, "in": inp}
    dvi = 0
    if out.dvi or inp.dvi:  # an HDMI end has one link of the kind
        dvi = min(p.dvi or 1 for p in parts.values())
    tmds = [(p.tmds_hz, name) for name, p in parts.items() if p.tmds_hz is not None]
    frl = [(p.frl, name) for name, p in parts.items() if p.frl is not None]
    low_tmds = min(tmds, key=lambda x: x[0]) if tmds else (None, "")
    low_frl = min(frl, key=lambda x: x[0]) if frl else (None, "")
    dp = [(p.dp, name) for name, p in parts.items() if p.dp is not None]
    low_dp = min(dp, key=lambda x: x[0].data_bps)[1] if dp else ""
    lanes = reduce(lesser, (rate for rate, _ in dp)) if dp else None
    # one part without a way of sending settles it, whatever is known of the others
    off = {"tmds_hz": low_tmds[0] == 0, "frl": low_frl[0] == NO_FRL, "dp": lanes == NO_DP}
    unknown = tuple(
        name for name, p in parts.items() if any(getattr(p, way) is None and not there for way, there in off.items())
    )
    hz = low_tmds[0] if not dvi or low_tmds[0] is None else min(low_tmds[0], DVI_LINK_HZ) * dvi
    return Capacity(
        hz, low_frl[0], low_tmds[1], low_frl[1], length_mm, unknown=unknown, dp=lanes, dp_by=low_dp, dvi=dvi
    )


@lru_cache(maxsize=4096)
def cable_capacity(out: End, cable: Cable, inp: End, dsc: DscSink | None = None) -> Capacity:
    """What two ends carry over a lead of which this is known. Raises SignalError for a malformed lead."""
    lead = cable_bounds(cable)
    sure = replace(
        capacity(out, lead.sure, inp, lead.limited_mm), dsc=dsc, dead=lead.dead, passive=cable.build == "passive",
        trusted_tmds_hz=lead.trusted.tmds_hz or 0, trusted_frl=lead.trusted.frl or NO_FRL,
        trusted_dp=lead.trusted.dp or NO_DP,
    )  # fmt: skip
    if lead.sure.tmds_hz is None:
        if not cable.failed:
            return sure
        most = capacity(out, lead.most, inp)
        # nothing sure, but a limit seen here stops what is above it
        return replace(
            sure, tmds_hz=most.tmds_hz, frl=most.frl, tmds_by=most.tmds_by, frl_by=most.frl_by, dp=most.dp,
            dp_by=most.dp_by,
        )  # fmt: skip
    if (lead.most.tmds_hz, lead.most.frl, lead.most.dp) == (lead.sure.tmds_hz, lead.sure.frl, lead.sure.dp):
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
    """The answer for one link. `transport` is `dp`, `frl`, `tmds` or `none` (nothing known, or nothing in common).

    used is a fraction of the capacity (step 7 for FRL, rate over ceiling for TMDS, bits or time slots for DisplayPort).
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
    dp: DpUse | None = None

    @property
    def fits(self) -> bool:
        return self.verdict in ("fits", "tight", "compressed")

    @property
    def used_percent(self) -> float | None:
        return None if self.used is None else round(float(self.used * 100), 4)


@lru_cache(maxsize=32768)
def check_link(need: Demand, cap: Capacity) -> LinkVerdict:
    """Does the demand fit? DisplayPort where both ends speak it, FRL where both ends and the lead have it, else TMDS;
    compressed where the path can.

    A fit on known figures stays a fit only if no part is unknown; a known part that is too small blocks.
    """
    frl = frl_use(need, cap.frl) if cap.frl is not None and cap.frl != NO_FRL else None
    tmds = tmds_use(need, cap.tmds_hz, with_sound=not cap.dvi) if cap.tmds_hz else None
    dp = dp_use(need, cap.dp, cap.taken) if cap.dp is not None and cap.dp.lanes else None
    if cap.dead is not None:
        return LinkVerdict("blocked", "none", None, cap.dead, need, cap, tmds, frl, dp=dp)
    if cap.tmds_hz == 0 and cap.frl == NO_FRL and cap.dp == NO_DP:
        return LinkVerdict("blocked", "none", None, "no_common_link", need, cap)
    if dp is not None:
        return _over_dp(need, cap, dp)
    if tmds is not None and cap.dvi and (need.signal.encoding, need.signal.bits) != ("rgb", 8):
        return LinkVerdict("blocked", "tmds", tmds.used, "dvi_format", need, cap, tmds)
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


def _over_dp(need: Demand, cap: Capacity, use: DpUse) -> LinkVerdict:
    """The verdict over DisplayPort; compressed where that alone passes."""
    squeezed: DscUse | None = None
    stop: DscStop | None = None
    blocked = use.blocked_by
    if blocked == "rate" and cap.dsc is not None:
        tried = dp_dsc_use(need, use.rate, cap.dsc, cap.taken)
        squeezed, stop = (tried, None) if isinstance(tried, DscUse) else (None, tried)
        if squeezed is not None and cap.dsc.certain:
            blocked = None
        elif squeezed is not None and not cap.unknown:
            blocked = "compression_unknown"
        if not cap.dsc.certain:
            stop = None
    used = squeezed.used if squeezed is not None and blocked is None else use.used
    if blocked is not None and cap.beyond is not None and check_link(need, cap.beyond).fits:
        blocked = "capacity_unknown"
    long = None
    if blocked is None and cap.length_mm is not None:
        step = use.rate if squeezed is not None else dp_slowest(need, use.rate, cap.taken)
        reach = dp_reach(step)
        if cap.length_mm > reach.trusted_mm and cap.trusted_dp.data_bps < step.data_bps:
            long = LongLead(cap.length_mm, reach, cap.passive)
    verdict: Verdict
    if blocked in ("capacity_unknown", "compression_unknown") or (blocked is None and cap.unknown):
        verdict, blocked = "unknown", blocked or "capacity_unknown"
    elif blocked is not None:
        verdict = "blocked"
    elif long is not None and long.unlikely:
        verdict, blocked = "unknown", "lead_too_long"
    elif squeezed is not None:
        verdict = "compressed"
    else:
        verdict = "tight" if long is not None or (use.slots is None and used > DP_TIGHT_FROM) else "fits"
    return LinkVerdict(verdict, "dp", used, blocked, need, cap, dsc=squeezed, dsc_stop=stop, long=long, dp=use)


def _reach(
    need: Demand, cap: Capacity, squeezed: DscUse | None, frl: FrlUse | None, tmds: TmdsUse | None
) -> LongLead | None:
    """What practice says of a lead of this length for the easiest way to carry the signal; None: nothing against it.

    A link falls back to the slowest step that a lead trains to, so the slowest that carries the signal is asked.
    """
    if cap.length_mm is None:
        return None
    ways: list[tuple[Reach, bool]] = []
    if squeezed is not None and squeezed.rate is not None:
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
