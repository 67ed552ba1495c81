"""The hand-over page as the API writes it."""

from __future__ import annotations

from ninja import Schema

from wavilex.server.jobs.shapes import Verdict


class HandLead(Schema):
    label: str
    start: str
    end: str
    grade: str
    length_m: str
    change: str


class HandRun(Schema):
    label: str
    path: str
    verdict: Verdict
    signal: str
    with_: list[str]
    why: str
    sound: str


class HandSetting(Schema):
    device: str
    socket: str
    setting: str
    where: str
    found: str
    plan: str
    make: bool
    assumed: bool
    note: str


class HandUpdate(Schema):
    device: str
    found: str
    plan: str


class HandLag(Schema):
    device: str
    condition: str
    text: str
    judged: str
    count: int
    method: str


class HandoverOut(Schema):
    title: str
    made_at: str
    wiring: list[HandLead]
    runs: list[HandRun]
    settings: list[HandSetting]
    selections: list[str]
    updates: list[HandUpdate]
    lag: list[HandLag]
    cautions: list[str]
    survey: dict[str, str]
    open: list[str]
