"""A weight of satisfied runs that no change of a job goes beyond: what best places are proved by."""

from __future__ import annotations

from collections.abc import Callable

from wavilex.core.advise.relaxed import barred, could
from wavilex.core.chain.paths import States
from wavilex.core.rig.model import Rig, Run, Socket


def upper_bound(rig: Rig, states: States) -> int:
    """A weight of satisfied runs that no change of the job goes beyond.

    Runs that are barred never count. Where a screen is reached from its sources alone, nothing passing signals on,
    each of its runs also needs an input of its own that could carry it: a matching (scipy).
    """
    open_runs = [r for r in rig.runs.values() if barred(rig, r, None, states) is None]
    passing = any(d.profile.passes_pictures for d in rig.devices.values())
    if passing:
        return sum(r.want.weight for r in open_runs)
    total = 0
    for screen in {r.sink: None for r in open_runs}:
        runs = [r for r in open_runs if r.sink == screen]
        inputs = [Socket(screen, p.id) for p in rig.devices[screen].profile.inputs()]
        total += _matched(runs, inputs, lambda run, inp: _could(rig, run, inp, states))
    return total


def _could(rig: Rig, run: Run, inp: Socket, states: States) -> bool:
    profile = rig.devices[run.source].profile
    here = rig.devices[inp.device].profile.port(inp.port)
    outs = [Socket(run.source, p.id) for p in profile.outputs() if here is not None and p.joins(here)]
    digital = here is not None and here.digital
    return any(not digital or could(rig, run, out, inp, states) for out in outs)


def _matched(runs: list[Run], inputs: list[Socket], fits: Callable[[Run, Socket], bool]) -> int:
    import numpy as np
    from scipy.optimize import linear_sum_assignment

    weights = np.array([[run.want.weight if fits(run, inp) else 0 for inp in inputs] for run in runs])
    if not weights.size:
        return 0
    where, what = linear_sum_assignment(weights, maximize=True)
    return int(weights[where, what].sum())
