"""Several pictures on one DisplayPort link: who shares it, and how many time slots the others take.

A hub, a dock or a chained monitor sends each output a stream of its own; the link before it carries all of them.
"""

from __future__ import annotations

from collections.abc import Callable

from wavilex.core.chain.paths import Layer, Path
from wavilex.core.chain.results import RunResult
from wavilex.core.link.dp import slots_of
from wavilex.core.link.dsc import LEAST_BPP
from wavilex.core.rig.model import Run


def shared_hops(layer: Layer, path: Path) -> bool:
    """Does any box of a path send several streams on?"""
    return any(layer.rig.devices[h.inp.device].profile.routing == "streams" for h in path)


def taken_on(layer: Layer, run: Run, path: Path, alone: Callable[[Run], RunResult]) -> tuple[int | None, ...]:
    """For each hop of a path, the time slots that other streams take on it; None where it carries this one alone.

    alone: how another run is judged as if it had its links to itself: what it then asks is what it is counted with.
    Two runs that leave a link by the same onward leads are one stream.
    """
    found: list[dict[tuple[str, ...], int]] = [{} for _ in path]
    where = {h.lead: n for n, h in enumerate(path)}
    own = [tuple(h.lead for h in path[n + 1 :]) for n in range(len(path))]
    for other in layer.rig.runs.values():
        ways = layer.paths(other) if other.uid != run.uid else []
        on = layer.digital(ways[0]) if ways else ()
        met = [(n, where[h.lead]) for n, h in enumerate(on) if h.lead in where]
        met = [(n, at) for n, at in met if tuple(h.lead for h in on[n + 1 :]) != own[at]]
        if not met:
            continue
        result = alone(other)
        for n, at in met:
            slots = _slots(result, on[n].lead)
            rest = tuple(h.lead for h in on[n + 1 :])
            if slots is not None:
                found[at][rest] = max(slots, found[at].get(rest, 0))
    return tuple(sum(streams.values()) if streams else None for streams in found)


def _slots(result: RunResult, lead: str) -> int | None:
    """What a run asks of a shared link, at the fewest bits a pixel where it travels compressed."""
    link = next((x for x in result.links if x.hop.lead == lead), None)
    use = link.wanted.dp if link is not None else None
    if link is None or use is None:
        return None
    if link.wanted.dsc is None:
        return slots_of(use.demand_bps, use.rate)
    least = LEAST_BPP[link.signal.encoding]
    return slots_of(use.demand_bps * least / use.bits_per_pixel, use.rate, corrected=True)
