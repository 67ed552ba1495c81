"""Commands that try the program on itself: how well faults are found."""

from __future__ import annotations

import argparse
import sys
from pathlib import Path

from wavilex.cli.commands import say


def diagnosis(a: argparse.Namespace) -> int:
    """`wavilex evaluate diagnosis`."""
    from wavilex.core.chain.paths import Layer
    from wavilex.core.fault.evaluated import evaluation, evaluation_text
    from wavilex.core.fault.trials import Rigged, random_rig, templates
    from wavilex.core.rig.changes import apply
    from wavilex.core.rig.model import Rig
    from wavilex.library.pierhead import demo_changes

    demo, _ = apply(Rig(title="Pierhead"), demo_changes())
    layer = Layer(demo, "found")
    rigs = [Rigged(f"demo/{uid}", demo, uid) for uid, run in demo.runs.items() if layer.paths(run)]
    rigs += list(templates())
    seed = 0
    while len(rigs) < a.rigs:
        made = random_rig(seed)
        seed += 1
        rigs += [made] if made is not None else []
    found = evaluation(rigs[: a.rigs], lambda words: print(words, file=sys.stderr), searches=a.searches)
    text = evaluation_text(found)
    if a.output != "-":
        Path(a.output).write_text(text, encoding="utf-8")
        text = f"written to {a.output}"
    say(found, text, a.json)
    return 0
