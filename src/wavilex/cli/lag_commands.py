"""Commands about lag readings in a CSV file."""

from __future__ import annotations

import argparse
import sys
from pathlib import Path
from typing import TYPE_CHECKING, Any

from wavilex.cli.commands import say
from wavilex.core.lag.methods import LagError

if TYPE_CHECKING:
    from collections.abc import Mapping

    from wavilex.core.lag.readings import Readings
    from wavilex.core.lag.shapes import BesideRow


def _groups(name: str) -> tuple[Mapping[str, Readings], list[dict[str, Any]]]:
    """Readings by what they are of, and the rows that were refused. Raises LagError."""
    from wavilex.core.lag.table import by_group, read_table

    try:
        text = sys.stdin.read() if name == "-" else Path(name).read_text(encoding="utf-8")
    except (OSError, UnicodeDecodeError) as error:
        raise LagError(f"cannot be read: {error}", where=name) from None
    rows, refused = read_table(text)
    return by_group(rows), [{"line": r.line, "why": r.why} for r in refused]


def summary(a: argparse.Namespace) -> int:
    """`wavilex lag summary`: per condition n, median, mean, sd and the interval of the median, in ms."""
    from wavilex.core.lag.groups import ms, ms_if_known
    from wavilex.core.lag.summary import summarise

    groups, refused = _groups(a.file)
    found = {}
    for name, values in groups.items():
        s = summarise(values)
        if s is not None:
            found[name] = {"n": s.n, "lag": ms(s.lag_us), "of": s.of,
                           "median": ms(s.median_us), "mean": ms(s.mean_us), "sd": ms_if_known(s.sd_us),
                           "ci_low": ms_if_known(s.ci_low_us), "ci_high": ms_if_known(s.ci_high_us)}  # fmt: skip
    lines = []
    for name, row in found.items():
        span = f", {row['ci_low']:.1f} to {row['ci_high']:.1f} at 95 %" if row["ci_low"] is not None else ""
        lines.append(f"{name}: {row['of']} {row['lag']:.1f} ms of {row['n']}{span}")
    lines += [f"line {r['line']} refused: {r['why']}" for r in refused]
    say({"unit": "ms", "conditions": found, "refused": refused}, "\n".join(lines) or "no readings", a.json)
    return 0 if found else 1


def compare(a: argparse.Namespace) -> int:
    """`wavilex lag compare`: how much later B is than A, and whether that is a change."""
    from wavilex.core.lag.difference import compare as differ
    from wavilex.core.lag.difference import equivalence, ratio
    from wavilex.core.lag.report import difference_data

    groups, refused = _groups(a.file)
    for name in (a.a, a.b):
        if name not in groups or not groups[name].values:
            known = ", ".join(n for n, r in groups.items() if r.values) or "none"
            raise LagError(f"no readings of {name!r}; there are {known}", where=a.file)
    first, second = groups[a.a], groups[a.b]
    d = differ(first, second)
    same = equivalence(first, second, round(a.within * 1000))
    times = ratio(first, second)
    assert d is not None
    assert same is not None
    assert times is not None
    data = {
        **difference_data(a.a, a.b, d), "from": a.a, "to": a.b, "within_ms": a.within, "decision": same.decision,
        "more": same.more, "decided": same.sentence,
        "ratio": {"times": times.ratio, "of": times.of, "of_medians": times.of_medians, "ci_low": times.ci_low,
                  "ci_high": times.ci_high},
        "refused": refused,
    }  # fmt: skip
    span = f" ({times.ci_low:.2f} to {times.ci_high:.2f})" if times.ci_low and times.ci_high else ""
    what = "by means" if times.of == "means" else "by the shift of logarithms"
    lines = [
        data["sentence"], *([data["note"]] if data["note"] else []),
        f"{same.sentence[0].upper()}{same.sentence[1:]}.",
        f"{a.b.capitalize()} is {times.ratio:.2f} times {a.a}{span}, {what}.",
    ]  # fmt: skip
    say(data, "\n".join(lines), a.json)
    return 0


def of_job(a: argparse.Namespace) -> int:
    """`wavilex job lag`: every screen of a job that was measured, side by side, and what its settings cost."""
    from wavilex.cli.rig_commands import read_job
    from wavilex.core.lag.beside import Measured, beside
    from wavilex.core.lag.gather import of_file
    from wavilex.core.lag.report import Asked, lag_report
    from wavilex.core.lag.state import of_names

    job = read_job(a.file)
    screens, costs = [], {}
    for row in job.lag:
        device, groups = job.rig.devices[row.device], of_file(row)
        profile = device.profile
        screens.append(Measured(row.device, device.label, profile.kind, groups, row.equivalence_us, row.baseline))
        states = {**of_names(profile, row.conditions), **row.states}
        asked = Asked(
            profile.kind, row.bound_ms, row.baseline, row.equivalence_us, row.strobes, states=states, profile=profile,
            firmware=device.firmware,
        )  # fmt: skip
        costs[device.label] = lag_report(groups, asked)["setting_costs"]
    told = beside(screens, a.baseline)
    lines = [_side(r) for r in told["rows"]] or ["no screen of this job was measured"]
    lines += [
        f"{screen}: {c['words']} {c['ms']:+.1f} ms, {c['decided']}{'' if c['proved'] else ' (not proved)'}"
        for screen, each in costs.items() for c in each
    ]  # fmt: skip
    say({"unit": "ms", **told, "costs": costs}, "\n".join(lines), a.json)
    return 0 if told["rows"] else 1


def _side(row: BesideRow) -> str:
    against = "the baseline" if row["against_ms"] is None else f"{row['against_ms']:+.1f} ms, {row['decided']}"
    return f"{row['key']}: {row['lag_ms']:.1f} ms of {row['n']}; {against}"
