"""What is said where no change is found that gives a run its want."""

from __future__ import annotations

from math import ceil

from wavilex.core.advise.relaxed import Barred
from wavilex.core.advise.search import Searched
from wavilex.core.chain.offer import CHROMA_ALLOWS, least_bits
from wavilex.core.chain.paths import Layer
from wavilex.core.chain.reasons import Reason, render
from wavilex.core.chain.results import RunResult
from wavilex.core.gear.socket_kinds import family
from wavilex.core.link.dp import dp_slowest, dp_use
from wavilex.core.link.dp_rates import LANE_RATES, DpRate
from wavilex.core.link.frl import frl_fits
from wavilex.core.link.rates import FRL_RATES, TMDS_MAX_MHZ
from wavilex.core.rig.model import Rig, Run
from wavilex.core.video.signal import Demand, DigitalVideo, demand

_TOGETHER = ("too_many_displays", "not_together", "card_full")  # what stands in the way of several displays of a source


def needs_words(start: Layer, result: RunResult, out_of_reach: Barred | None, found: Searched) -> str:
    """What is said where there is no way: of another box only where no change of this job does it."""
    if out_of_reach is not None:
        bar = out_of_reach.reasons[0]
        said = render(bar, out_of_reach.rig)
        more = "" if len(out_of_reach.reasons) == 1 else f" (and {len(out_of_reach.reasons) - 1} more like it)"
        even = "with every setting, socket, lead and update of this job at its best"
        return f"Not to be had {even}: {said}{more} {_another(start.rig, bar, result)}"
    reason = result.limiting
    if reason is None:
        return ""
    said = render(reason, start.rig)
    if reason.verdict == "unknown":
        return f"Find out first: {said}"
    if reason.code == "not_connected":
        return f"{said} No input is free that leads there. {_switch(start, result)}"
    if not found.whole:
        return f"No way found among {found.tried} rigs looked at, and not all were: {said}"
    besides = [render(r, start.rig) for r in result.reasons if r.code in _TOGETHER and r is not reason][:1]
    return " ".join([f"Nothing known here does it, not even at the cost of another run: {said}", *besides])


def _switch(start: Layer, result: RunResult) -> str:
    """The switch that would make room: how many inputs, and in which input it goes, with whose lead beside it."""
    rig, sink = start.rig, result.run.sink
    without = sum(r.sink == sink and not start.paths(r) for r in rig.runs.values())
    direct = [
        (r, paths[0][-1]) for r in rig.runs.values() if r.sink == sink for paths in (start.paths(r),)
        if paths and len(paths[0]) == 1 and rig.leads[paths[0][-1].lead].mark != "stays"
    ]  # fmt: skip
    if not direct:
        return f"One more input is needed: a switch with {without + 1} inputs."

    def asks(run: Run) -> tuple[int, int, bool]:
        mode = run.want.mode
        return mode.width * mode.height * mode.hz, run.want.bits, run.want.vrr

    least, hop = min(direct, key=lambda x: (asks(x[0]), x[0].uid))
    return (
        f"One more input is needed: a switch with {without + 1} inputs at {rig.socket_name(hop.inp)}, where "
        f"{least.label} hangs, which asks least; it must pass what each of them asks. Their sound goes through it too."
    )


def _another(rig: Rig, reason: Reason, result: RunResult) -> str:
    """What another box in the place of the one that stops it would have to take."""
    want = result.run.want
    parts = [want.mode.name]
    if want.hdr != "off":
        parts.append("HDR" if want.hdr == "static" else "dynamic-metadata HDR")
    if want.vrr:
        parts.append("variable refresh")
    if result.asked is not None:
        leanest = CHROMA_ALLOWS[want.chroma][-1]
        need = demand(DigitalVideo(result.asked.timing, leanest, least_bits(want), want.audio))
        lanes, lowest = _lanes(rig, reason, result, need), frl_fits(need, FRL_RATES)
        if lanes is not None:
            parts.append(f"a link of {lanes.name}")
        elif need.tmds_rate_hz <= TMDS_MAX_MHZ * 1_000_000:
            parts.append(f"a link of {ceil(need.tmds_rate_hz / 1_000_000)} MHz")
        elif lowest is not None:
            parts.append(f"a link of {lowest.name}")
    uid = reason.socket.device if reason.socket else result.run.sink
    return f"Another {rig.devices[uid].profile.kind} needs at least {', '.join(parts)}."


def _lanes(rig: Rig, reason: Reason, result: RunResult, need: Demand) -> DpRate | None:
    """The slowest four lanes that carry it, where the socket that stops it, or the last link, is DisplayPort."""
    port = rig.devices[reason.socket.device].profile.port(reason.socket.port) if reason.socket else None
    if port is not None and port.digital:
        by_lanes = family(port) == "dp"
    else:
        by_lanes = bool(result.links) and result.links[-1].wanted.transport == "dp"
    if not by_lanes:
        return None
    rate = dp_slowest(need, DpRate(4, LANE_RATES[-1]))
    return rate if dp_use(need, rate).blocked_by is None else None
