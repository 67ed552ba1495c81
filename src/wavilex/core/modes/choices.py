"""Where two wishes exclude each other on a run: what each school gains and loses, and which one is followed.

Two sources of choices: a question of the house style whose schools set the run's boxes differently, and a setting
whose options carry signals none of which is best in everything (rate, detail, HDR, variable refresh).
"""

from __future__ import annotations

from wavilex.core.advise.effects import Standing
from wavilex.core.chain.paths import Layer
from wavilex.core.chain.results import RunResult
from wavilex.core.modes.choice import Choice
from wavilex.core.modes.choices_link import of_options
from wavilex.core.modes.choices_style import of_question
from wavilex.core.modes.elsewhere import elsewhere
from wavilex.core.modes.shapes import ExclusionOut
from wavilex.core.rig.style import QUESTIONS


def choices(layer: Layer, result: RunResult) -> list[Choice]:
    """Every choice of a run, those of the link first."""
    if not result.path:
        return []
    found = of_options(layer, result)
    for key in QUESTIONS:
        choice = None if key == "rate_or_detail" else of_question(layer, result, key)
        if choice is not None:
            found.append(choice)
    return found


def choices_data(layer: Layer, result: RunResult) -> list[ExclusionOut]:
    """The choices of a run as plain data, each way with what it does to every other run before it is planned."""
    before = Standing(layer)
    return [
        {
            "id": c.id, "title": c.title, "question": c.question, "because": c.because, "level": c.level,
            "figures": list(dict.fromkeys(name for w in c.ways for name in w.figures)),
            "ways": [
                {"label": w.label, "school": w.school, "gains": list(w.gains), "losses": list(w.losses),
                 "figures": dict(w.figures), "ops": list(w.ops), "picked": w.picked,
                 "elsewhere": elsewhere(before, result, w.ops, c.question, w.school)} for w in c.ways
            ],
            "weighty": c.weighty,
        } for c in choices(layer, result)
    ]  # fmt: skip
