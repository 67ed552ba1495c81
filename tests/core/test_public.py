"""The core's public names."""

from __future__ import annotations

from wavilex import core

NAMES = [
    "DigitalVideo",
    "Layer",
    "Rig",
    "apply",
    "assign",
    "capacity",
    "carry_table",
    "causes",
    "check_link",
    "choices",
    "compare",
    "demand",
    "equivalence",
    "find_fixes",
    "job_data",
    "job_report",
    "judge",
    "link_answer",
    "nearest",
    "parse_job",
    "parse_profile",
    "parse_timing",
    "plan_steps",
    "rank_inputs",
    "rank_places",
    "render",
    "resolve",
    "run_result",
    "settings_plan",
    "shown",
    "sound_of",
    "summarise",
    "title_plans",
]


def test_the_public_names_are_these_and_all_load() -> None:
    assert core.__all__ == NAMES
    assert all(callable(getattr(core, name)) for name in NAMES)
