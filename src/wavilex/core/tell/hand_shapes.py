"""The types of the hand-over."""

from __future__ import annotations

from typing import Literal

from typing_extensions import TypedDict

from wavilex.core.link.check import Verdict
from wavilex.core.visits.shapes import StateDiff


class PlaysRow(TypedDict):
    """What plays where. press: the inputs to call up, the screen's first. picture, sound: what comes of it, in words,
    with the day somebody saw a title hold, or heard it, as it is planned now.
    """

    what: str
    room: str
    on: str
    press: list[str]
    picture: str
    sound: str


class ClientPage(TypedDict):
    """The page the client keeps. leave: what not to touch; yours: what he set himself; black: three steps."""

    plays: list[PlaysRow]
    not_yet: list[str]
    leave: list[str]
    yours: list[str]
    black: list[str]
    updates: str
    cautions: list[str]


class LabelOut(TypedDict):
    """A label: its code, the name, a line of text; line: all of it in one; at: the socket it goes to, "" of a box."""

    kind: Literal["lead", "box"]
    code: str
    name: str
    text: str
    line: str
    at: str


class PanelSocket(TypedDict):
    """A socket of a box's back; lead, code: of the lead in it, "" none; to: where that goes."""

    label: str
    direction: str
    lead: str
    code: str
    to: str


class PanelOut(TypedDict):
    """A box's back as planned, its sockets in their order."""

    device: str
    code: str
    room: str
    sockets: list[PanelSocket]


class HandLead(TypedDict):
    label: str
    code: str
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
    client: ClientPage
    panels: list[PanelOut]
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
    """The hand-over page; made_at: ISO 8601 in UTC. improved: what stands otherwise than at the first visit, of what
    was measured and of what the runs carry; since: of when that first state is, "" none was kept.
    """

    made_at: str
    lag: list[HandLag]
    improved: list[StateDiff]
    since: str
