"""What a session's conditions set its screen to, what a plan may try, and what is to be set before each cell."""

from __future__ import annotations

import random
from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import asdict, replace
from typing import Any, Literal

from django.db import transaction

from wavilex.core.chain.paths import Layer
from wavilex.core.gear.cells import read_scope
from wavilex.core.gear.conditions import Surroundings
from wavilex.core.gear.profile import Profile
from wavilex.core.lag.plan import MOST_CELLS, Bench, Cell, ordered, seconds, steps_back, steps_before
from wavilex.core.lag.state import (
    BASELINE,
    State,
    StateError,
    ToSet,
    barred,
    checked,
    full_name,
    is_likely,
    lag_settings,
    name_of,
    quickest,
)
from wavilex.core.rig.model import Device
from wavilex.core.rig.ops import LayerName
from wavilex.server.bench.models import LagSession
from wavilex.server.bench.selectors import states_of
from wavilex.server.bench.services import add_condition
from wavilex.server.jobs.cache import rig_of
from wavilex.server.jobs.cache import states_of as results_of
from wavilex.server.problems import ProblemError

_FIELDS = ("condition", "signal", "input", "position")
AS_FOUND, AS_PLANNED = "as found", "as planned"


def screen_of(session: LagSession) -> Device:
    """The screen a session is of. Raises ProblemError where it is gone from the job."""
    device = rig_of(session.job).devices.get(session.device)
    if device is None:
        raise ProblemError(409, "no_screen", "This screen is not in the job any more.", "device")
    return device


def port_of(session: LagSession, label: str) -> str:
    """The socket an input's label names; without one that of the first run to this screen, "" where none is."""
    rig, device = rig_of(session.job), screen_of(session)
    named = next((p.id for p in device.profile.inputs() if p.label == label), None)
    if named is not None:
        return named
    layer = Layer(rig, "plan", results_of(session.job))
    paths = (layer.paths(r)[0] for r in rig.runs.values() if r.sink == device.uid)
    return next((p[-1].inp.port for p in paths if p), "")


def stands(session: LagSession, port: str, name: LayerName) -> dict[str, str]:
    """How the screen's settings on which lag may hang stand at a socket, those alone that somebody saw or planned."""
    device, rig = screen_of(session), rig_of(session.job)
    layer = Layer(rig, name, results_of(session.job))
    now = layer.standing(device)
    noted = {
        (spot.input, key)
        for (uid, scope, key), v in rig.settings.items()
        if uid == device.uid and (v.found or (v.plan and name == "plan")) and (spot := read_scope(scope))
    }
    out: dict[str, str] = {}
    for s in lag_settings(device.profile, port):
        at = port if port in s.ports else s.ports[0] if s.ports else ""
        held = now.get((at, s.id))
        if held is not None and held.value is not None and {(at, s.id), (port, s.id)} & noted:
            out[s.id] = held.value
    return out


def around_of(session: LagSession, port: str) -> Surroundings:
    """What the screen's rules are held against while it is measured at a socket."""
    layer = Layer(rig_of(session.job), "found", results_of(session.job))
    around = layer.around(screen_of(session))
    if not port:
        return around
    others = {k: v for k, v in around.plugged.items() if k != port}  # there the meter is plugged in
    return replace(around, shown_input=port, plugged=others)


def offered(session: LagSession, label: str) -> list[dict[str, Any]]:
    """Every setting that may cost time at an input: how it stands, what is quickest, whether a cost is expected."""
    device, port = screen_of(session), port_of(session, label)
    found, planned = (stands(session, port, name) for name in ("found", "plan"))
    return [
        {
            "id": s.id, "label": s.label, "where": s.where,
            "options": [{"id": o.id, "label": o.label} for o in s.options],
            "found": found.get(s.id), "planned": planned.get(s.id), "quickest": quickest(s),
            "likely": is_likely(device.profile, s),
        }
        for s in lag_settings(device.profile, port)
    ]  # fmt: skip


def one_by_one(
    session: LagSession, label: str, baseline: Mapping[str, str], each: Sequence[tuple[str, str]]
) -> dict[str, State]:
    """A baseline and what differs from it in one setting, by the names of their conditions. Raises StateError."""
    profile, port = screen_of(session).profile, port_of(session, label)
    around = around_of(session, port)
    base = checked(profile, port, dict(baseline), around)
    if not base:
        raise StateError("a baseline says what at least one setting stands at", where="baseline")
    wanted: dict[str, State] = {BASELINE: base}
    for setting, option in each:
        if setting not in base:
            raise StateError(f"the baseline does not say {setting}", where="baseline")
        state = checked(profile, port, {**base, setting: option}, around)
        if state != base:
            wanted[name_of(profile, base, state)] = state
    return wanted


def why_barred(session: LagSession, label: str, baseline: Mapping[str, str]) -> dict[str, str]:
    """Of every value that the baseline does not let stand: why, by `setting=value`."""
    profile, port = screen_of(session).profile, port_of(session, label)
    around = around_of(session, port)
    out = {}
    for s in lag_settings(profile, port):
        for o in s.options:
            if s.id in baseline and (why := barred(profile, port, {**baseline, s.id: o.id}, around)):
                out[f"{s.id}={o.id}"] = why
    return out


def before_after(session: LagSession, label: str) -> dict[str, State]:
    """How the screen was found and how it is planned, of the settings of which both is known. Raises StateError."""
    port = port_of(session, label)
    found, planned = (stands(session, port, name) for name in ("found", "plan"))
    both = [k for k in found if k in planned]
    if not both or all(found[k] == planned[k] for k in both):
        raise StateError("found and plan do not differ in any setting that costs time: nothing to compare")
    return {AS_FOUND: {k: found[k] for k in both}, AS_PLANNED: {k: planned[k] for k in both}}


@transaction.atomic
def name_states(*, session: LagSession, wanted: Mapping[str, State]) -> dict[str, str]:
    """Conditions that mean these states, kept; by the name asked for the name it got: another state of that name that
    was measured before keeps it.
    """
    session = LagSession.objects.select_for_update().get(pk=session.pk)
    names: dict[str, str] = {}
    for name, state in wanted.items():
        given, n = name, 1
        while given in session.states and session.states[given] != dict(state):
            n += 1
            given = f"{name} ({n})"
        session.states = {**session.states, given: dict(state)}
        names[name] = given
    session.save(update_fields=["states"])
    for given in names.values():
        add_condition(session=session, condition=given)
    return names


@transaction.atomic
def say_state(*, session: LagSession, name: str, label: str, state: Mapping[str, str]) -> str:
    """What a condition sets the screen to: a new one, or one that was only a name; its name. Raises StateError where
    the box cannot stand so, ProblemError where the condition is known to be another state.
    """
    profile, port = screen_of(session).profile, port_of(session, label)
    said = checked(profile, port, dict(state), around_of(session, port))
    if not said:
        raise StateError("say what at least one setting stands at", where="state")
    given = name or full_name(profile, said)
    if session.states.get(given, said) != said:
        raise ProblemError(
            409, "other_state", f"{given} is another state already: give this one a name of its own.", "name"
        )
    return name_states(session=session, wanted={given: said})[given]


def bench_of(session: LagSession, label: str) -> Bench:
    """What a plan at an input is made for."""
    device = rig_of(session.job).devices.get(session.device)
    if device is None:
        return Bench()
    return Bench(device.profile, states_of(session), stands(session, port_of(session, label), "found"))


@transaction.atomic
def make_plan(*, session: LagSession, wanted: Sequence[Cell], order: Literal["grouped", "random"], count: int) -> None:
    """Cells to measure, in the order to take them; modes that are new become conditions."""
    if not 1 <= len(wanted) <= MOST_CELLS:
        raise ProblemError(422, "too_many_cells", f"A plan has 1 to {MOST_CELLS} cells, this one {len(wanted)}.")
    for condition in dict.fromkeys(c.condition for c in wanted):
        session = add_condition(session=session, condition=condition)
    shuffle = random.SystemRandom().shuffle
    cells = ordered(wanted, order, shuffle, bench_of(session, wanted[0].input))
    session.plan = {"cells": [asdict(c) for c in cells], "count": count, "order": order, "ready": None}
    session.save(update_fields=["plan"])


def drop_plan(*, session: LagSession) -> None:
    """Measure without a plan; readings stay."""
    session.plan = {}
    session.save(update_fields=["plan"])


@transaction.atomic
def set_ready(*, session: LagSession, cell: int) -> None:
    """Somebody says that everything is set for a cell of the plan."""
    session = LagSession.objects.select_for_update().get(pk=session.pk)
    if not 0 <= cell < len(session.plan.get("cells", ())):
        raise ProblemError(422, "no_such_cell", "The plan has no such cell.", "cell")
    session.plan = {**session.plan, "ready": cell}
    session.save(update_fields=["plan"])


def require_set(session: LagSession, cell: Cell) -> None:
    """A planned cell is measured only once somebody said that it is set so. Raises ProblemError 409."""
    cells = [Cell(**c) for c in session.plan.get("cells", ())]
    if cell in cells and session.plan.get("ready") != cells.index(cell):
        raise ProblemError(409, "not_set", f"Set {cell.name} first, and say that it is set so.", "condition")


def plan_of(session: LagSession) -> dict[str, Any] | None:
    """The plan as it stands: readings taken of each cell, the next one to take with what to set for it, what to put
    back at the end, and about how long the rest takes.
    """
    if not session.plan:
        return None
    count, at = session.plan["count"], session.plan.get("ready")
    taken = Counter(session.readings.filter(discard="").exclude(method="guess").values_list(*_FIELDS))
    cells = [Cell(**data) for data in session.plan["cells"]]
    bench = bench_of(session, cells[0].input)
    last = cells[at] if at is not None else None
    rows = []
    for cell in cells:
        done = min(taken[(cell.condition, cell.signal, cell.input, cell.position)], count)
        steps = [] if cell == last else steps_before(bench, last, cell, sent=bool(cell.signal))
        name = ", ".join(w for n, w in enumerate(cell.parts) if w and (n == 0 or len({c.parts[n] for c in cells}) > 1))
        rows.append({**asdict(cell), "name": name, "taken": done, "count": count, "to_set": _data(steps)})
    left = [c for c, r in zip(cells, rows, strict=True) if r["taken"] < count]
    following = next((n for n, r in enumerate(rows) if r["taken"] < count), None)
    back: list[dict[str, str]] = []
    stood = last or (cells[-1] if following is None else None)
    if stood is not None:
        back = _data(steps_back(bench, stood, stands(session, port_of(session, stood.input), "plan")))
    return {
        "cells": rows, "next": following, "ready": at, "order": session.plan["order"], "back": back,
        "seconds_left": seconds(left, count, bench),
    }  # fmt: skip


def _data(steps: Sequence[ToSet]) -> list[dict[str, str]]:
    return [asdict(s) for s in steps]


def label_of(session: LagSession, cell: Cell) -> str:
    """What the meter is told the next readings are of: kind of screen, mode, what is set, analogue or not, place."""
    device = rig_of(session.job).devices.get(session.device)
    if device is None:
        return f"television {cell.condition} {cell.position}".strip()
    port = next((p for p in device.profile.inputs() if p.label == cell.input), None)
    profile, state = device.profile, states_of(session).get(cell.condition, {})
    mode, rest = _mode_words(profile, state) if state else (cell.condition, [])
    words = [profile.kind, mode, *rest, "analogue" if port and port.kind == "analogue" else "", cell.position]
    return " ".join(w for w in words if w)


def _mode_words(profile: Profile, state: State) -> tuple[str, list[str]]:
    """The screen mode of a state in one word, and what else it sets as `effect=value`."""
    of = {s.effect: state[s.id] for s in profile.settings if s.id in state and s.effect is not None}
    preset, game = of.get("preset", ""), of.get("game_mode", "")
    mode = "game" if game in ("on", "auto") else preset or "standard"
    if game == "off" and mode == "game":
        mode = "standard"
    return mode, sorted(f"{k}={v}" for k, v in of.items() if k not in ("preset", "game_mode"))
