"""Commands about what to do at a rig: settings, what excludes what, steps, what may be behind lag."""

from __future__ import annotations

import argparse

from wavilex.cli.commands import say
from wavilex.cli.rig_commands import read_rig


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


def lag_causes(a: argparse.Namespace) -> int:
    """`wavilex job sluggish`."""
    from wavilex.core.chain.carry import run_result
    from wavilex.core.chain.paths import Layer
    from wavilex.core.errors import JobFileError
    from wavilex.core.fault.sluggish import causes_data

    layer = Layer(read_rig(a.file), "plan")
    run = next((r for r in layer.rig.runs.values() if a.run in (r.uid, r.label)), None)
    if run is None:
        names = ", ".join(r.label for r in layer.rig.runs.values()) or "none"
        raise JobFileError(f"there is no run {a.run!r}; its runs are {names}", where="--run")
    data = causes_data(layer, run_result(layer, run), a.game_options.replace("-", "_"))
    say(data, "\n".join(f"{c['rank']}. {c['title']}: {c['why']}\n   {c['check']}" for c in data), a.json)
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
