"""Commands about a job's rig as a whole."""

from __future__ import annotations

import argparse
import sys
from pathlib import Path
from typing import TYPE_CHECKING

from wavilex.cli.commands import say
from wavilex.core.errors import JobFileError

if TYPE_CHECKING:
    from wavilex.core.rig.jobfile import Job
    from wavilex.core.rig.model import Rig


def read_job(name: str) -> Job:
    """A job file, `-` for standard input. Raises JobFileError."""
    from wavilex.core.rig.jobfile import parse_job

    try:
        text = sys.stdin.read() if name == "-" else Path(name).read_text(encoding="utf-8")
    except (OSError, UnicodeDecodeError) as error:
        raise JobFileError(f"cannot be read: {error}", where=name) from None
    return parse_job(text)


def read_rig(name: str) -> Rig:
    """The rig of a job file. Raises JobFileError."""
    return read_job(name).rig


def check(a: argparse.Namespace) -> int:
    """`wavilex job check`."""
    from wavilex.core.tell.report import job_report

    report = job_report(read_rig(a.file), a.layer)
    lines = []
    for run in report["runs"]:
        lines.append(f"{run['label']}: {run['verdict']}")
        lines += [f"  {r['text']}" for r in run["reasons"]]
        lines += [f"  {n['text']}" for n in run["notes"]]
        lines.append(f"  sound: {run['sound']['headline']}")
        lines += [f"  {p['wanted']}: {p['says']}" + (f" ({p['why']})" if p["why"] else "") for p in run["parts"]]
        lines += [f"  fix ({f['cost_text']}): {f['label']}" for f in run["fixes"]]
        lines += [f"  {run['needs']}"] if run["needs"] else []
    say(report, "\n".join(lines), a.json)
    return 0


def assign(a: argparse.Namespace) -> int:
    """`wavilex job assign`."""
    from wavilex.core.advise.assign import assign as solve
    from wavilex.core.tell.assignment import assignment_data

    rig = read_rig(a.file)
    data = assignment_data(rig, solve(rig, a.layer))
    lines = [data["headline"]]
    lines += [
        f"  {p['label']}: {p['input'] or 'none'}{' (moved)' if p['moved'] else ''}; {p['why']}" for p in data["places"]
    ]
    if data["runner_up"]:
        lines += ["runner-up:", *(f"  {text}" for text in data["runner_up"]["loses"])]
    say(data, "\n".join(lines), a.json)
    return 0


def want(a: argparse.Namespace) -> int:
    """`wavilex job want`."""
    from wavilex.core.advise.default_want import default_want
    from wavilex.core.rig.edit_brief import want_data
    from wavilex.core.rig.model import Run
    from wavilex.core.tell.ways import want_words

    rig = read_rig(a.file)
    uids = {d.label.casefold(): d.uid for d in rig.devices.values()}
    for name in (a.source, a.screen):
        if name.casefold() not in uids:
            raise JobFileError(f"no box is called {name}", where=a.file)
    found = default_want(rig, Run("new", "", uids[a.source.casefold()], uids[a.screen.casefold()]))
    say(want_data(found), want_words(found), a.json)
    return 0


def draw(a: argparse.Namespace) -> int:
    """`wavilex job draw`."""
    from wavilex.core.chain.paths import Layer
    from wavilex.core.tell.drawing import dot, schedule_csv, svg

    text = {"svg": svg, "dot": dot, "csv": schedule_csv}[a.form](Layer(read_rig(a.file), a.layer))
    if a.output == "-":
        sys.stdout.write(text)
        return 0
    try:
        Path(a.output).write_text(text, encoding="utf-8", newline="")
    except OSError as error:
        raise JobFileError(f"cannot be written: {error}", where=a.output) from None
    return 0
