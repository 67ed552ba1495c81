"""Several pictures on one DisplayPort link: who shares it, and how many time slots the others take.

A hub, a dock or a chained monitor sends each output a stream of its own; the link before it carries all of them.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace

from wavilex.core.chain.analogue import segments
from wavilex.core.chain.choice import choose
from wavilex.core.chain.items import judge_chroma
from wavilex.core.chain.offer import advertise, path_capacities, timing_for
from wavilex.core.chain.paths import Layer, Path, facts_of_want
from wavilex.core.link.check import Capacity, LinkVerdict, check_link
from wavilex.core.link.dp import slots_of
from wavilex.core.link.dsc import LEAST_BPP
from wavilex.core.rig.model import Run
from wavilex.core.video.codes import usual_timing
from wavilex.core.video.signal import demand

Taken = tuple[int | None, ...]  # time slots that other streams have, by hop; None: no other


def taken_on(layer: Layer, run: Run, whole: Path) -> Taken:
    """For each digital hop of a way, the time slots that other streams take on it; none where no box sends several.

    Another run is counted with what it would ask if it had its links to itself. Runs that leave a link by the same
    onward leads are one stream.
    """
    if all(layer.rig.devices[h.inp.device].profile.routing != "streams" for h in whole):
        return ()
    path = layer.digital(whole)
    found: list[dict[tuple[str, ...], int]] = [{} for _ in path]
    where = {h.lead: n for n, h in enumerate(path)}
    own = [_onward(path, n) for n in range(len(path))]
    for other in layer.rig.runs.values():
        ways = layer.paths(other) if other.uid != run.uid else []
        on = layer.digital(ways[0]) if ways else ()
        met = [(n, where[h.lead]) for n, h in enumerate(on) if h.lead in where]
        for n, at in met:
            rest = _onward(on, n)
            slots = _slots(_alone(layer, other), on[n].lead) if rest != own[at] else None
            if slots is not None:
                found[at][rest] = max(slots, found[at].get(rest, 0))
    return tuple(sum(streams.values()) if streams else None for streams in found)


def shared(capacities: Sequence[Capacity], taken: Taken) -> list[Capacity]:
    """Link capacities with what other streams have of them."""
    if all(n is None for n in taken):
        return list(capacities)
    return [replace(c, taken=n) for c, n in zip(capacities, taken, strict=False)]


def _onward(path: Path, n: int) -> tuple[str, ...]:
    return tuple(h.lead for h in path[n + 1 :])


def _alone(layer: Layer, run: Run) -> Mapping[str, LinkVerdict]:
    """What a run asks of each of its first links as if no other shared them, by lead."""
    if run.uid not in layer.alone:
        layer.alone[run.uid] = _asked(layer, run)
    return layer.alone[run.uid]


def _asked(layer: Layer, run: Run) -> dict[str, LinkVerdict]:
    path = segments(layer, layer.digital(layer.paths(run)[0]))[0]
    stations = layer.stations(path, facts_of_want(run.want))
    capacities = path_capacities(layer, stations, path)
    timing = timing_for(advertise(layer, stations).modes, run.want.mode) or usual_timing(run.want.mode)
    asked = demand(choose(judge_chroma(stations, timing, run.want)[0], capacities))
    return {h.lead: check_link(asked, cap) for h, cap in zip(path, capacities, strict=True)}


def _slots(links: Mapping[str, LinkVerdict], lead: str) -> int | None:
    """What a run asks of a shared link, at the fewest bits a pixel where it travels compressed."""
    link = links.get(lead)
    if link is None or link.dp is None:
        return None
    use = link.dp
    if link.dsc is None:
        return slots_of(use.demand_bps, use.rate)
    least = LEAST_BPP[link.demand.signal.encoding]
    return slots_of(use.demand_bps * least / use.bits_per_pixel, use.rate, corrected=True)
