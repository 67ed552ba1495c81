"""The types of the hand-over."""

from __future__ import annotations

from typing_extensions import TypedDict

from wavilex.core.link.check import Verdict


class HandLead(TypedDict):
    label: str
    start: str
    end: str
    grade: str
    length_m: str
    change: str


class HandRun(TypedDict):
    label: str
    path: str
    verdict: Verdict
    signal: str
    with_: list[str]
    why: str
    sound: str


class HandSetting(TypedDict):
    """plan "": nothing is planned and nobody has looked; factory: what it stands at then, by its profile."""

    device: str
    socket: str
    setting: str
    where: str
    found: str
    plan: str
    make: bool
    factory: str
    note: str


class HandVersion(TypedDict):
    device: str
    version: str


class HandUpdate(TypedDict):
    device: str
    found: str
    plan: str


class HandLag(TypedDict):
    device: str
    condition: str
    text: str
    judged: str
    count: int
    method: str


class HandSeen(TypedDict):
    """What was seen of a run: so many lines as predicted, of how many; otherwise, stale: in words; places not looked
    at. rate: the fastest test that held, "" without one.
    """

    run: str
    seen: int
    of: int
    otherwise: list[str]
    stale: list[str]
    not_seen: list[str]
    rate: str


class HandLight(TypedDict):
    """Light as it was measured in a cell of a screen, or clicks counted on a source."""

    device: str
    cell: str
    lines: list[str]


class HandoverTold(TypedDict):
    """The hand-over page, without what the bench adds."""

    title: str
    wiring: list[HandLead]
    runs: list[HandRun]
    settings: list[HandSetting]
    selections: list[str]
    updates: list[HandUpdate]
    firmware: list[HandVersion]
    seen: list[HandSeen]
    light: list[HandLight]
    cautions: list[str]
    survey: dict[str, str]
    open: list[str]


class HandoverOut(HandoverTold):
    """The hand-over page; made_at: ISO 8601 in UTC."""

    made_at: str
    lag: list[HandLag]
