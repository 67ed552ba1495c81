"""The law every change stands under: what was accepted can be worked out, exported and read again, everywhere."""

from __future__ import annotations

import csv
import json
import random
import re
import traceback
from collections.abc import Callable, Iterator
from io import StringIO
from typing import Any
from xml.etree import ElementTree

import pydot

from wavilex.core.advise.assign import assign
from wavilex.core.advise.connect_sound import rank_places
from wavilex.core.advise.fixes import find_fixes
from wavilex.core.advise.settings_plan import settings_plan_data
from wavilex.core.advise.table import carry_table, explain
from wavilex.core.chain.carry import run_result
from wavilex.core.chain.paths import Layer, States
from wavilex.core.edid.answers import answers_data
from wavilex.core.edid.build import build
from wavilex.core.edid.decode import decode
from wavilex.core.errors import WavilexError
from wavilex.core.fault.case import case_of
from wavilex.core.fault.said import said_answers
from wavilex.core.fault.told import fault_data
from wavilex.core.gear.edid_of_input import factory_settings, spec_of_input
from wavilex.core.gear.profile import profile_data, profile_from_data
from wavilex.core.gear.text import profile_text
from wavilex.core.lag.budget import budget, budget_data
from wavilex.core.modes.choices import choices_data
from wavilex.core.modes.coverage import coverage_data
from wavilex.core.modes.run_refresh import refresh_data
from wavilex.core.modes.titles import title_plans
from wavilex.core.rig.jobfile import Job, job_data, parse_job
from wavilex.core.rig.model import LAYERS, Rig, Run, Socket
from wavilex.core.runsheet.sheet import sheet_data
from wavilex.core.tell.assignment import assignment_data
from wavilex.core.tell.beside import compare_runs, comparisons
from wavilex.core.tell.drawing import dot, schedule_csv, svg
from wavilex.core.tell.handover import handover
from wavilex.core.tell.old_machine import retro_data
from wavilex.core.tell.report import table_data
from wavilex.core.tell.view import job_view
from wavilex.core.tell.ways import fixes_data


def everything(rig: Rig, *, slow: bool = False) -> Iterator[tuple[str, Callable[[], Any]]]:
    """Every answer there is about a rig, by name. slow: the searches too, cut short as the server cuts them."""
    states = States()
    for name in LAYERS:
        layer = Layer(rig, name, states)
        yield f"view {name}", lambda layer=layer: job_view(layer, 0)
        yield f"svg {name}", lambda layer=layer: ElementTree.fromstring(svg(layer))
        yield f"dot {name}", lambda layer=layer: drawn(dot(layer), layer)
        yield f"csv {name}", lambda layer=layer: tabled(schedule_csv(layer), layer)
        for run in rig.runs.values():
            result = run_result(layer, run)
            yield f"table {name}", lambda layer=layer, run=run: table_data(carry_table(layer, run))
            yield f"explain {name}", lambda layer=layer, run=run: explain(layer, run, run.want.mode, "rgb", 8)
            yield f"retro {name}", lambda layer=layer, result=result: retro_data(layer, result)
            yield f"refresh {name}", lambda layer=layer, result=result: refresh_data(layer, result)
            yield f"budget {name}", lambda layer=layer, r=result: budget_data(budget(layer, r, None, None))
            for other in comparisons(layer, run)[:2]:
                yield f"beside {name}", lambda name=name, run=run, o=other: compare_runs(rig, name, run, o["id"])
            if slow:
                yield (
                    f"fixes {name}",
                    lambda name=name, run=run: fixes_data(find_fixes(rig, run, name, go_on=counted()), rig, run),
                )
        for socket in [Socket(d.uid, p.id) for d in rig.devices.values() for p in d.profile.outputs()]:
            yield f"places {name}", lambda name=name, socket=socket: rank_places(rig, socket, name)
        if slow:
            yield f"assign {name}", lambda name=name: assignment_data(rig, assign(rig, name, go_on=counted()))
    plan = Layer(rig, "plan", states)
    yield "settings plan", lambda: settings_plan_data(plan)
    yield "coverage", lambda: coverage_data(plan, {})
    yield "hand-over", lambda: handover(rig)
    yield "run sheet", lambda: sheet_data(rig, [])
    for run in rig.runs.values():
        result = run_result(plan, run)
        yield "choices", lambda result=result: choices_data(plan, result)
        yield "titles", lambda result=result: title_plans(plan, result)
        if slow:  # a search runs every fault through the model
            yield "fault", lambda run=run: searched(rig, run)
    for device in rig.devices.values():
        yield "profile", lambda device=device: profile_from_data(profile_data(device.profile))
        yield "profile text", lambda device=device: profile_text(device.profile)
    yield "file", lambda: again(rig)


def searched(rig: Rig, run: Run) -> Any:
    """A search on a run as found, with two complaints."""
    of = case_of(Layer(rig, "found"), run)
    return fault_data(of, run, "", said_answers(of, run, ["no_picture", "lags"], []), counted())


def drawn(text: str, layer: Layer) -> None:
    """Graphviz's language as another program reads it (pydot): every box is a node there."""
    (graph,) = pydot.graph_from_dot_data(text) or [None]
    assert graph is not None, text
    assert len({n.get_name() for n in graph.get_nodes()} - {"node"}) >= len(layer.rig.devices), text


def tabled(text: str, layer: Layer) -> None:
    """A row a lead, and no cell that a spreadsheet would run as a formula."""
    head, *rows = csv.reader(StringIO(text, newline=""))
    assert len(rows) == len(layer.rig.leads)
    assert all(len(row) == len(head) and not cell.startswith(FORMULAS) for row in rows for cell in row), text


FORMULAS = ("=", "+", "-", "@", "\t", "\r")  # what starts one: OWASP, CSV injection


def counted(steps: int = 40) -> Callable[[], bool]:
    """Go on so many times."""
    left = iter(range(steps))
    return lambda: next(left, None) is not None


def again(rig: Rig) -> None:
    """The rig out as a file and in again is the same."""
    text = json.dumps(job_data(Job("j", rig.title or "test", "UTC", rig)))
    read = parse_job(text).rig
    assert job_data(Job("j", rig.title or "test", "UTC", read)) == json.loads(text)


def broken(rig: Rig, *, slow: bool = False) -> list[str]:
    """What of everything does not work, with the error; none, if the law holds."""
    found: list[str] = []
    try:
        for name, work in everything(rig, slow=slow):
            try:
                work()
            except Exception as error:
                found.append(f"{name}: {told(error)}")
    except Exception as error:
        found.append(f"run: {told(error)}")
    return found


def told(error: Exception) -> str:
    """The error with the line that raised it."""
    last = traceback.extract_tb(error.__traceback__)[-1]
    return f"{type(error).__name__}: {error} ({last.filename.rpartition('/')[2]}:{last.lineno})"


# --- odd values --------------------------------------------------------------------------------------

ODD: tuple[Any, ...] = (
    None, True, False, 0, 1, -1, 2, 7, 59, 65_535, 2**31, 2**63, 10**30, 0.5, -0.0, "", " ", "any", "none", "yes",
    "0", "no such", "hdmi1", "\x00", "\ud800", "\u202e", "🎮", "x" * 41, "x" * 5000, [], {}, [None], [[]], {"a": 1},
    "3840x2160@120", "vic:97", "1x1@1", "99999x99999@999", "0x0@0", "vic:0", "vic:999", "cvt:10x10@1", "modeline:1",
    "10x10@0", "640x480@1", [1, 2], [2, 1], [48, 120], ["static"], ["vic:97", "3840x2160@60"], ["1920x1080@60"], "4x12",
    {"setting": "format", "is": "wide"}, "1.0", "9999-99", "2026-13",
)  # fmt: skip


def places(data: Any, way: tuple[Any, ...] = ()) -> Iterator[tuple[Any, ...]]:
    """Every place in nested data."""
    yield way
    items = data.items() if isinstance(data, dict) else enumerate(data) if isinstance(data, list) else ()
    for key, value in items:
        yield from places(value, (*way, key))


def changed(rnd: random.Random, data: Any, others: list[Any], times: int) -> Any:
    """A copy with some places left out, made odd, or given what stands at such a place elsewhere."""
    out = json.loads(json.dumps(data))
    for _ in range(times):
        ways = [w for w in places(out) if w]
        if not ways:
            return out
        way = rnd.choice(ways)
        *above, last = way
        node: Any = out
        for step in above:
            node = node[step]
        kind = rnd.random()
        if kind < 0.2:
            del node[last]
        elif kind < 0.55:
            node[last] = rnd.choice(ODD)
        else:
            donors = [v for other in others for w in places(other) if w and w[-1] == last for v in [at(other, w)]]
            node[last] = json.loads(json.dumps(rnd.choice(donors))) if donors else rnd.choice(ODD)
    return out


def at(data: Any, way: tuple[Any, ...]) -> Any:
    for step in way:
        data = data[step]
    return data


def edids_hold(rig: Rig) -> list[str]:
    """What an input would say of itself can be built, decoded and answered, or is refused in words."""
    found = []
    for device in rig.devices.values():
        for port in device.profile.inputs():
            if port.kind != "hdmi":
                continue
            try:
                setting_of = factory_settings(device.profile, {})
                answers_data(decode(build(spec_of_input(device.profile, port.id, setting_of))))
            except WavilexError:
                pass
            except Exception as error:
                found.append(f"edid: {told(error)}")
    return found


_THEIRS = re.compile(r"Input should|[A-Z]\w+ should|Field required|Extra inputs|Value error|Unable to|pydantic|type=")


def in_our_words(error: WavilexError) -> None:
    """A refusal is in our words, and not a validator's raw text."""
    assert error.message
    assert not _THEIRS.search(f"{error.message} {error.where}"), error
