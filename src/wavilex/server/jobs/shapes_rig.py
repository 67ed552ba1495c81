"""The rig as a whole, as the API writes it: assignment, cable schedule, templates."""

from __future__ import annotations

from typing import Literal

from ninja import Schema

from wavilex.core.rig.ops import Op
from wavilex.server.jobs.shapes import Verdict


class PlaceSetting(Schema):
    text: str


class PlaceOut(Schema):
    run: str
    label: str
    weight: int
    input: str
    now: str
    lead: str
    moved: bool
    verdict: Verdict
    good: bool
    why: str
    settings: list[PlaceSetting]


class RunnerUpOut(Schema):
    satisfied: int
    moves: int
    loses: list[str]
    ops: list[Op]


class AssignmentOut(Schema):
    """The best places for the sources' leads, proved or not, and the runner-up with what each loses by it."""

    headline: str
    proved: bool
    looked_at: int
    moves: int
    satisfied: int
    present_satisfied: int
    runs: int
    places: list[PlaceOut]
    boxes: list[str]
    ops: list[Op]
    runner_up: RunnerUpOut | None


class ScheduleRow(Schema):
    lead: str
    kind: str
    plug: str
    start: str
    start_room: str
    label_from: str
    to: str
    to_room: str
    label_to: str
    length_m: str
    klass: str
    proved: str
    state: str


class AnswerOut(Schema):
    id: str
    label: str


class QuestionOut(Schema):
    id: str
    ask: str
    answers: list[AnswerOut]


class TemplateOut(Schema):
    id: str
    title: str
    role: Literal["source", "repeater", "screen", "sound"]
    questions: list[QuestionOut]


class NamedOut(Schema):
    id: str
    name: str


class EffectOut(NamedOut):
    """What a setting does; values: what its options are then known by."""

    values: list[str]


class GearWords(Schema):
    """Lists an editor of profiles offers."""

    roles: list[NamedOut]
    kinds: list[NamedOut]
    port_kinds: list[NamedOut]
    connectors: dict[str, list[str]]
    frl: list[NamedOut]
    hdr: list[NamedOut]
    protection: list[NamedOut]
    returns: list[NamedOut]
    quirk_kinds: list[NamedOut]
    stored_by: list[NamedOut]
    sources: list[NamedOut]
    limit_fields: list[NamedOut]
    vrr_kinds: list[NamedOut]
    effects: list[EffectOut]
    copies: list[NamedOut]
    syncs: list[NamedOut]
    colours: list[NamedOut]
    treatments: list[NamedOut]
    levels: list[NamedOut]


class HideoutOut(Schema):
    place: str
    words: str


class SoughtOut(Schema):
    """An effect, where it usually hides, what to see when it is found, what to think of when it is not."""

    id: str
    title: str
    see: str
    if_absent: str
    hideouts: list[HideoutOut]
