"""Commands about what to do at a rig: settings, what excludes what, steps, what may be behind lag."""

from __future__ import annotations

import argparse
from typing import TYPE_CHECKING

from wavilex.cli.commands import say
from wavilex.cli.rig_commands import read_rig

if TYPE_CHECKING:
    from wavilex.core.rig.model import Rig, Run


def settings(a: argparse.Namespace) -> int:
    """`wavilex job settings`."""
    from wavilex.core.advise.settings_plan import settings_plan_data
    from wavilex.core.chain.carry import run_result
    from wavilex.core.chain.paths import Layer
    from wavilex.core.modes.choices import choices_data
    from wavilex.core.modes.titles import title_plans

    layer = Layer(read_rig(a.file), "plan")
    results = {r.label: run_result(layer, r) for r in layer.rig.runs.values()}
    plan = settings_plan_data(layer)
    excluded = {label: choices_data(layer, r) for label, r in results.items()}
    data = {
        "plan": plan,
        "choices": excluded,
        "titles": {label: title_plans(layer, r) for label, r in results.items()},
    }
    lines = []
    for box in plan["boxes"]:
        for row in box["rows"]:
            place = f"{box['label']}, {row['input']}" if row["input"] else box["label"]
            mark = "*" if row["changes"] else " "
            lines.append(f"{mark} {place}: {row['label']} {row['plan_now']} to {row['to']}; {row['why']}")
            lines += [f"    {text}" for text in (row["returns"], *row["elsewhere"], *row["clashes"]) if text]
    for label, found in excluded.items():
        for choice in found:
            ways = (f"{'*' if w['picked'] else ''}{w['label']}" for w in choice["ways"])
            lines.append(f"  {label}, {choice['title']}: {' or '.join(ways)}")
    say(data, "\n".join(lines) or "nothing to set", a.json)
    return 0


def steps(a: argparse.Namespace) -> int:
    """`wavilex job steps`."""
    from wavilex.core.runsheet.sheet import sheet_data

    data = sheet_data(read_rig(a.file), [])
    lines = [f"{data['open']} steps, about {data['minutes_left']} min"]
    for phase in data["phases"]:
        lines.append(phase["title"])
        lines += [f"  {s['title']}" + (f" ({s['where']})" if s["where"] else "") for s in phase["steps"]]
    say(data, "\n".join(lines), a.json)
    return 0


def _run_of(rig: Rig, name: str) -> Run:
    """A run by its name. Raises JobFileError naming those there are."""
    from wavilex.core.errors import JobFileError

    run = next((r for r in rig.runs.values() if name in (r.uid, r.label)), None)
    if run is None:
        names = ", ".join(r.label for r in rig.runs.values()) or "none"
        raise JobFileError(f"there is no run {name!r}; its runs are {names}", where="--run")
    return run


def prove(a: argparse.Namespace) -> int:
    """`wavilex job prove`."""
    from wavilex.core.chain.paths import Layer
    from wavilex.core.errors import JobFileError
    from wavilex.core.prove.told import prove_data
    from wavilex.core.runsheet.stages import END, layer_at, stages

    rig = read_rig(a.file)
    run, now = _run_of(rig, a.of_run), Layer(rig, "found")
    at = a.at or (END if a.layer == "plan" else "")
    moments = stages(rig, run)
    if at not in {m["key"] for m in moments}:
        raise JobFileError(f"no read-out of {a.of_run} changes at {at!r}; see stages in --json", where="--at")
    layer = layer_at(now, at)
    data = prove_data(layer, now, layer.rig.runs[run.uid], at, moments)
    lines = [data["path"]]
    for card in data["cards"]:
        lines.append(f"{card['label']}, {card['place']} ({card['trust_words']})")
        for x in card["lines"]:
            seen = x["seen"]
            told = f"; seen: {seen['observed']}{' (differs)' if seen['differs'] else ''}" if seen else ""
            lines.append(f"  {x['label']}: {x['says'] or 'cannot be told'}{told}")
    lines.append(data["proof"]["said"])
    say(data, "\n".join(lines), a.json)
    return 0


def fault(a: argparse.Namespace) -> int:
    """`wavilex job fault`."""
    from wavilex.core.chain.paths import Layer
    from wavilex.core.errors import JobFileError
    from wavilex.core.fault.case import case_of, seen_since
    from wavilex.core.fault.complaints import COMPLAINTS
    from wavilex.core.fault.said import said_answers
    from wavilex.core.fault.told import fault_data

    rig = read_rig(a.file)
    run = _run_of(rig, a.of_run)
    case = case_of(Layer(rig, "found"), run)
    try:
        more = said_answers(case, run, a.complaint, a.seen)
    except ValueError as error:
        raise JobFileError(str(error), where="--complaint" if "complaint" in str(error) else "--seen") from None
    data = fault_data(case, run, run.label, [*seen_since(rig, run.uid), *more])
    lines = [f"{run.label}: {'joined' if data['joined'] else 'not joined: follow the lead from the source'}"]
    lines += [f"complaint: {c['words']}" for c in data["complaints"] if c["picked"]]
    for c in data["causes"]:
        lines.append(f"{c['rank']}. {c['share'] * 100:.0f} %  {'; '.join(c['what'])}")
        lines += [f"     {r['text']}" for r in c["reasons"]]
    lines.append(f"all as noted {data['nothing'] * 100:.0f} %, unknown to this model {data['unknown'] * 100:.0f} %")
    if data["next"] is not None:
        lines.append(f"next: {data['next']['words']} ({data['next']['why']})")
        lines += [f"     {o['words']} → {o['leaves']}" for o in data["next"]["outcomes"]]
        lines.append(f"     key {data['next']['key']}")
    if not data["causes"]:
        lines.append(f"complaints: {', '.join(COMPLAINTS)}")
    say(data, "\n".join(lines), a.json)
    return 0


def retro(a: argparse.Namespace) -> int:
    """`wavilex job retro`."""
    from wavilex.core.chain.carry import run_result
    from wavilex.core.chain.paths import Layer
    from wavilex.core.tell.old_machine import retro_data

    layer = Layer(read_rig(a.file), a.layer)
    found = {r.label: retro_data(layer, run_result(layer, r)) for r in layer.rig.runs.values()}
    data = {label: d for label, d in found.items() if d is not None}
    lines = []
    for label, d in data.items():
        lines.append(f"{label}: {d['signal']['name'] if d['signal'] else 'no analogue signal'}; {d['shape']['words']}")
        lines += [f"  {x['where']}: {x['words']}" for x in d["links"]]
        lines += [f"  also {s['name']}: {x['where']}: {x['words']}" for s in d["also"] for x in s["links"]]
        lines += [f"  {d['rate']['words']}"] if d["rate"] else []
        for screen in d["screens"]:
            lines += [f"  at {screen['input']}: {screen['words']}"]
            lines += [
                f"    {m['times']}x {m['sampling']}: {a['answer']}, {a['why']}; {a['scale']}"
                for m, a in zip(d["multiples"], screen["answers"], strict=True)
            ]
    say(data, "\n".join(lines) or "no old machine in this job", a.json)
    return 0
