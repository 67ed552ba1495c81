"""What a screen's readings mean for a run: the lag of the whole chain, and sound against picture."""

from __future__ import annotations

from fractions import Fraction

from wavilex.core.chain.carry import run_result
from wavilex.core.chain.paths import Layer
from wavilex.core.chain.sound import sound_of
from wavilex.core.lag.budget import Screen, budget, budget_data, lip_sync
from wavilex.core.lag.report import Group, ms, ms_if_known
from wavilex.core.lag.shapes import BudgetOut, LipSyncOut
from wavilex.core.lag.summary import median
from wavilex.core.rig.model import SOUND_LAG_FACT, Run
from wavilex.server.bench.selectors import groups_of
from wavilex.server.jobs import models


def budget_of(job: models.Job, layer: Layer, run: Run, condition: str, fps: int | None) -> BudgetOut:
    """The budget of a run with what was measured at its screen."""
    result = run_result(layer, run)
    session = job.lag_sessions.filter(device=run.sink).first()
    port = layer.rig.devices[run.sink].profile.port(result.path[-1].inp.port) if result.path else None
    by = _by_condition(groups_of(session) if session else [], port.label if port else "")
    quickest = min(by, key=lambda c: by[c].median_us, default="")
    chosen = condition if condition in by else quickest
    best = sound_of(layer, result).best if result.path else None
    plays = layer.rig.devices[best.device] if best else None
    fact = layer.rig.facts.get((plays.uid, SOUND_LAG_FACT)) if plays else None
    sound_us = Fraction(fact.value * 1000) if fact else None
    most = plays.profile.most_sound_delay_ms if plays else None
    rows: list[LipSyncOut] = []
    for name, picture in by.items():
        found = lip_sync(picture.median_us, sound_us, plays.label if plays else "what plays it", most)
        rows.append({
            "condition": name, "picture_ms": ms(picture.median_us), "sound_ms": ms_if_known(sound_us),
            "verdict": found.verdict, "delay_ms": found.delay_ms, "words": found.words,
        })  # fmt: skip
    return {
        **budget_data(budget(layer, result, by.get(chosen), fps)), "condition": chosen,
        "plays": plays.label if plays else "", "plays_device": plays.uid if plays else "",
        "sound_lag_ms": fact.value if fact else None, "lip_sync": rows,
    }  # fmt: skip


def _by_condition(groups: list[Group], socket: str) -> dict[str, Screen]:
    """A screen mode's median at mid-screen: of the run's own input where it was measured, else of any."""
    out: dict[str, Screen] = {}
    for fits in (lambda g: not g.cell.input, lambda g: g.cell.input == socket):
        for g in groups:
            if g.values and g.cell.position in ("", "middle") and fits(g):
                out[g.cell.condition] = Screen(median(g.values), g.cell.condition, g.cell.signal)
    return out
