"""Commands about coming back to a job: after an update, two states compared, the hand-over, labels."""

from __future__ import annotations

import argparse

from wavilex.cli.commands import say
from wavilex.cli.rig_commands import read_job, read_rig
from wavilex.core.errors import JobFileError


def after_update(a: argparse.Namespace) -> int:
    """`wavilex job update`: what to look at on a box that was, or may be, brought to a version."""
    from wavilex.core.visits.told import recheck_data

    rig = read_rig(a.file)
    uid = next((d.uid for d in rig.devices.values() if a.box in (d.uid, d.label)), None)
    if uid is None:
        raise JobFileError(f"there is no box {a.box!r} in this job", where="--box")
    told = recheck_data(rig, uid, a.to, {})
    lines = [f"{told['label']} at {told['version']}: {len(told['steps'])} looks, about {told['minutes']} min, "
             f"instead of {told['full']} of a full re-check"]  # fmt: skip
    stood = {f"{v['scope']}|{v['setting']}": v for v in told["values"]}
    for step in told["steps"]:
        values = ", ".join(f"{stood[p]['label']} {stood[p]['stood']}" for p in step["values"])
        cell = f", {step['cell']}" if step["cell"] else ""
        lines.append(f"{step['covered_percent']:3} %  {step['title']}{cell}: {values}")
    lines += [f"known: {k['words']} ({k['source']})" for k in told["known"]]
    lines += [f"on the older version: {r['count']} {r['words']}" for r in told["resting"]]
    say(told, "\n".join(lines), a.json)
    return 0


def compare(a: argparse.Namespace) -> int:
    """`wavilex job compare`: what stands otherwise in the second job file than in the first."""
    from wavilex.core.visits.compare import as_text
    from wavilex.core.visits.compare import compare as compared
    from wavilex.core.visits.state import State

    told = compared(State(read_rig(a.file)), State(read_rig(a.other)), (a.file, a.other), a.layer)
    say(told, as_text(told), a.json)
    return 1 if told["rows"] else 0


def hand_over(a: argparse.Namespace) -> int:
    """`wavilex job handover`: the hand-over as text, without what the bench adds."""
    from wavilex.core.runsheet.sheet import Event
    from wavilex.core.tell.hand_shapes import HandoverOut
    from wavilex.core.tell.hand_text import hand_text
    from wavilex.core.tell.handover import handover

    job = read_job(a.file)
    events = [Event(t.key, t.state, t.title, t.phase, t.at, "", tuple(t.grounds.items())) for t in job.ticks]
    told: HandoverOut = {**handover(job.rig, events), "made_at": "", "lag": [], "improved": [], "since": ""}
    say(told, hand_text(told, client_only=a.client), a.json)
    return 0


def labels(a: argparse.Namespace) -> int:
    """`wavilex job labels`: a line a label."""
    from wavilex.core.tell.labels import label_lines
    from wavilex.core.tell.labels import labels as told

    rig = read_rig(a.file)
    say(told(rig), label_lines(rig).rstrip(), a.json)
    return 0
