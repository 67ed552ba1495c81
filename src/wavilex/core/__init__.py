"""The rules of the job: values in, values out.

The questions the rest of the house asks are named here and loaded when first used, so that asking about
a link does not load what a whole job needs.
"""

from __future__ import annotations

from importlib import import_module
from typing import Any

_HOME = {
    "parse_timing": "video.codes",
    "DigitalVideo": "video.signal",
    "demand": "video.signal",
    "capacity": "link.check",
    "check_link": "link.check",
    "link_answer": "link.answer",
    "parse_profile": "gear.profile",
    "resolve": "gear.state",
    "Rig": "rig.model",
    "Layer": "chain.paths",
    "apply": "rig.changes",
    "run_result": "chain.carry",
    "carry_table": "advise.table",
    "nearest": "advise.table",
    "rank_inputs": "advise.connect",
    "rank_places": "advise.connect_sound",
    "sound_of": "chain.sound",
    "assign": "advise.assign",
    "plan_steps": "runsheet.plan",
    "shown": "modes.refresh",
    "title_plans": "modes.titles",
    "settings_plan": "advise.settings_plan",
    "choices": "modes.choices",
    "causes": "fault.sluggish",
    "find_fixes": "advise.fixes",
    "render": "chain.reasons",
    "job_report": "tell.report",
    "parse_job": "rig.jobfile",
    "job_data": "rig.jobfile",
    "summarise": "lag.summary",
    "compare": "lag.difference",
    "equivalence": "lag.difference",
    "judge": "lag.summary",
}
__all__ = sorted(_HOME)


def __getattr__(name: str) -> Any:
    if name not in _HOME:
        raise AttributeError(f"module {__name__!r} has no attribute {name!r}")
    return getattr(import_module(f"{__name__}.{_HOME[name]}"), name)
