"""The input a box shows: a step for every run that must be called up before it can be seen."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from wavilex.core.chain.results import RunResult
from wavilex.core.rig.model import Rig, Socket
from wavilex.core.rig.ops import INPUT_KEY, SelectInput
from wavilex.core.runsheet.step import Step
from wavilex.core.ticks import key_of


def selection_steps(rig: Rig, before: str) -> Iterator[Step]:
    """Inputs that the plan has a box show, and that it was not found showing."""
    for (uid, output, key), value in rig.settings.items():
        if key == INPUT_KEY and value.plan is not None and value.plan != value.found:
            name = rig.socket_name(Socket(uid, value.plan))
            op: SelectInput = {"op": "select_input", "layer": "found", "device": uid, "value": value.plan}
            if output:
                op["output"] = output
            yield Step(
                key_of("select", uid, output, value.plan),
                "select",
                f"Select {name}",
                rig.devices[uid].room,
                "settings belong to the socket: it now meets another box",
                "The banner names that input",
                "Take the input’s own key, not the automatic",
                needs=(before,) if before else (),
                ops=(op,),
            )


def show_steps(rig: Rig, results: Sequence[RunResult]) -> Iterator[Step]:
    """Each run called up before it is proved: the input of every box on its way that has several."""
    for r in results:
        places = list(_chosen(rig, r))
        if places:
            names = [rig.socket_name(s) for s in places]
            yield Step(
                show_key(r),
                "prove",
                f"{r.run.label}: call it up: select {', then '.join(names)}",
                rig.devices[r.run.sink].room,
                "what is shown must be this run before anything is judged",
                "Each box’s banner or front names that input",
                "Take the input’s own key; device control may have switched it",
                1,
            )  # it records nothing: the next run called up shows another input again


def show_key(result: RunResult) -> str:
    return key_of("show", result.run.uid, result.path)


def hear_key(result: RunResult, sound: str) -> str:
    """The key of the step that hears a run. sound: its sound in one sentence; other words are another step."""
    return key_of("sound", result.run.uid, sound)


def _chosen(rig: Rig, result: RunResult) -> Iterator[Socket]:
    """The inputs on a run's way of boxes that show one of several."""
    for hop in result.path:
        profile = rig.devices[hop.inp.device].profile
        if len(profile.inputs()) > 1 and profile.routing != "splitter":
            yield hop.inp
