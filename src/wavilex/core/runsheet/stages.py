"""The moments at which boxes can be read: as found, behind each step that changes a read-out, at the plan’s end."""

from __future__ import annotations

from collections.abc import Iterator

from wavilex.core.chain.paths import Layer, States
from wavilex.core.errors import WavilexError
from wavilex.core.prove.differ import said_lines
from wavilex.core.prove.readouts import readouts
from wavilex.core.prove.shapes import MomentOut
from wavilex.core.rig.changes import apply
from wavilex.core.rig.model import Rig, Run
from wavilex.core.runsheet.plan import plan_steps
from wavilex.core.runsheet.step import Step

NOW, END = "", "plan"


def steps_with(rig: Rig) -> Iterator[tuple[Step, Rig]]:
    """Each step of the run sheet that records something, and the rig as found once it is done."""
    for step in plan_steps(rig):
        if step.ops:
            try:
                rig = apply(rig, step.ops)[0]
            except WavilexError:
                continue  # a step that only another order allows changes nothing here
            yield step, rig


def layer_at(now: Layer, stage: str) -> Layer:
    """The boxes at a moment: as found, once the steps up to one are done, or as planned. now: as found."""
    if stage == NOW:
        return now
    if stage == END:
        return Layer(now.rig, "plan", now.states)
    after = next((after for step, after in steps_with(now.rig) if step.key == stage), now.rig)
    return Layer(after, "found", now.states)


def stages(rig: Rig, run: Run, states: States | None = None) -> list[MomentOut]:
    """The moments of a run at which its boxes read otherwise than before."""
    told: list[MomentOut] = [{"key": NOW, "title": "Now, as noted", "changes": 0}]
    before = said_lines(readouts(Layer(rig, "found", states), run))
    for step, after in steps_with(rig):
        now = said_lines(readouts(Layer(after, "found", states), after.runs[run.uid]))
        changes = sum(now.get(k) != before.get(k) for k in now.keys() | before.keys())
        if changes:
            told.append({"key": step.key, "title": step.title, "changes": changes})
        before = now
    end = said_lines(readouts(Layer(rig, "plan", states), run))
    changes = sum(end.get(k) != before.get(k) for k in end.keys() | before.keys())
    return [*told, {"key": END, "title": "At the end, as planned", "changes": changes}]
