"""A link put together by hand: two ends and a lead between them."""

from __future__ import annotations

from dataclasses import replace

from wavilex.core.errors import SignalError
from wavilex.core.link.cable import BEST, BUILDS, GRADES, POWERS, Cable, check_proofs
from wavilex.core.link.check import Capacity, End, LinkVerdict, cable_capacity, capacity
from wavilex.core.link.dp_rates import DpRate
from wavilex.core.link.dsc import DscSink
from wavilex.core.link.rates import NO_FRL, FrlRate, parse_over

_FULL_TMDS_HZ = 600_000_000
_WHERE = {"out": "the sending end", "lead": "the lead", "in": "the receiving end"}


def end_of(text: str) -> End:
    """One end of a link as `parse_over` reads it; an FRL end takes TMDS to 600 MHz too. Raises SignalError."""
    over = parse_over(text)
    return End(_FULL_TMDS_HZ if over.tmds_hz is None else over.tmds_hz, over.frl, over.dp, over.dvi)


def ends_capacity(out: str, lead: Cable | None, inp: str, dsc: DscSink | None) -> Capacity:
    """What two ends and the lead carry together; without a lead: over any that is good enough. Raises SignalError."""
    if lead is None:
        bare = capacity(end_of(out), BEST, end_of(inp))
        return replace(bare, length_mm=None, unknown=(), dsc=dsc)
    for what, value, known in (
        ("grade", lead.grade, GRADES), ("build", lead.build, BUILDS), ("power", lead.power, POWERS),
    ):  # fmt: skip
        if value not in known:
            raise SignalError(f"a lead's {what} is one of {', '.join(known)}, not {value!r}", where=what)
    check_proofs(lead.proved, lead.failed)
    return cable_capacity(end_of(out), lead, end_of(inp), dsc)


def ceilings(cap: Capacity) -> tuple[int | None, FrlRate | None, DpRate | None, int]:
    """What a link carries, as `ceiling_text` takes it."""
    return cap.tmds_hz, cap.frl, cap.dp, cap.dvi


def limited_by(cap: Capacity, link: LinkVerdict) -> str:
    """The part that decides, in words; "" where no part is told apart."""
    if link.transport == "dp":
        part = cap.dp_by
    else:
        part = (
            cap.frl_by if link.transport == "frl" or (cap.frl == NO_FRL and link.verdict == "blocked") else cap.tmds_by
        )
    return "the lead" if cap.dead or link.blocked_by == "lead_too_long" else _WHERE.get(part, "")
