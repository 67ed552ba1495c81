"""What a screen's readings mean for a run: the lag of the whole chain, and sound against picture."""

from __future__ import annotations

from collections.abc import Mapping
from fractions import Fraction

from wavilex.core.advise.lag_cost import measured_costs
from wavilex.core.advise.situation import boxes_of
from wavilex.core.chain.carry import run_result
from wavilex.core.chain.paths import Layer
from wavilex.core.chain.results import RunResult
from wavilex.core.chain.sound import sound_of
from wavilex.core.gear.stand import stand, value_at
from wavilex.core.lag.at_run import Screen, as_it_stands, at_screen
from wavilex.core.lag.budget import arriving, budget, budget_data, path_sync, picture_path
from wavilex.core.lag.groups import ms_if_known
from wavilex.core.lag.shapes import BudgetOut, LipSyncOut
from wavilex.core.lag.state import lag_settings
from wavilex.core.rig.model import SOUND_LAG_FACT, Run
from wavilex.server.bench.models import LagSession
from wavilex.server.bench.selectors import groups_of, states_of
from wavilex.server.jobs import models


def budget_of(job: models.Job, layer: Layer, run: Run, condition: str, fps: int | None) -> BudgetOut:
    """The budget of a run with what was measured at its screen."""
    result = run_result(layer, run)
    session = job.lag_sessions.filter(device=run.sink).first()
    port = layer.rig.devices[run.sink].profile.port(result.path[-1].inp.port) if result.path else None
    timing = arriving(result)
    signal = str(timing.mode) if timing is not None else ""
    by = at_screen(groups_of(session) if session and result.path else [], port.label if port else "", signal)
    lags = {name: screen.lag_us for name, screen in by.items() if screen.lag_us is not None}
    own = _as_it_stands(session, layer, result, by) if session and result.path else None
    quickest = min(lags, key=lambda c: lags[c], default=next(iter(by), ""))
    chosen = condition if condition in by else own.condition if own is not None else quickest
    at = own if own is not None and chosen == own.condition else by.get(chosen)
    best = sound_of(layer, result).best if result.path else None
    plays = layer.rig.devices[best.device] if best else None
    fact = layer.rig.facts.get((plays.uid, SOUND_LAG_FACT)) if plays else None
    sound_us = Fraction(fact.value * 1000) if fact else None
    most = plays.profile.most_sound_delay_ms if plays else None
    rows: list[LipSyncOut] = []
    for name, screen in by.items():
        parts = picture_path(layer, result, screen)
        found = path_sync(parts, sound_us, plays.label if plays else "what plays it", most)
        low_ms, high_ms = (float(sum(getattr(p, end) for p in parts)) for end in ("low_ms", "high_ms"))
        rows.append({
            "condition": name, "picture_ms": low_ms, "picture_most_ms": high_ms, "sound_ms": ms_if_known(sound_us),
            "verdict": found.verdict, "delay_ms": found.delay_ms, "words": found.words,
        })  # fmt: skip
    return {
        **budget_data(budget(layer, result, at, fps)), "condition": chosen,
        "plays": plays.label if plays else "", "plays_device": plays.uid if plays else "",
        "sound_lag_ms": fact.value if fact else None, "lip_sync": rows,
    }  # fmt: skip


def _as_it_stands(session: LagSession, layer: Layer, result: RunResult, by: Mapping[str, Screen]) -> Screen | None:
    """What was measured nearest to how the run's screen stands in a layer, as far as somebody noted or planned that."""
    screen = next((b for b in boxes_of(layer, result) if b.device.uid == result.run.sink), None)
    if screen is None:
        return None
    profile = screen.device.profile
    values = value_at(profile, stand(profile, screen.chosen, screen.around), screen.scope, screen.around.shown_input)
    noted = {key: v for key, v in layer.rig.settings.items() if key[0] == screen.device.uid and (v.plan or v.found)}
    known = {
        s.id: value for s in lag_settings(profile, screen.scope)
        if screen.key((screen.scope if s.ports else "", s.id)) in noted and (value := values(s.id)) is not None
    }  # fmt: skip
    return as_it_stands(
        by, states_of(session), known, measured_costs(layer.rig, screen.device, screen.around.firmware), profile
    )
