"""The types of the answers about faults."""

from __future__ import annotations

from typing import Literal

from typing_extensions import TypedDict

from wavilex.core.fault.checks import CheckKind
from wavilex.core.fault.kinds import FaultKind
from wavilex.core.fields import Provenance
from wavilex.core.gear.own_faults import Complaint
from wavilex.core.rig.ops import Op


class ComplaintOut(TypedDict):
    """A complaint in a client's words; picked: the observation by which it was, null where it was not. suggested: what
    was noted elsewhere that is the same complaint, "" for nothing.
    """

    code: Complaint
    key: str
    words: str
    picked: str | None
    suggested: str


class ForOut(TypedDict):
    """One thing that was seen, held against a cause. speaks_for: it makes the cause likelier than nothing wrong."""

    text: str
    speaks_for: bool


class CureOut(TypedDict):
    """What to do about a cause. key: the check it is; ops: the same as changes of the plan, where there are."""

    key: str
    words: str
    seconds: int
    caution: str
    likely: float
    ops: list[Op]


class CauseOut(TypedDict):
    """What may be the matter. share: of all that is possible; what: one sentence a fault; also: states of the same
    thing, and what nothing here can tell from it. note_ops: the change that notes it as found.
    """

    id: str
    rank: int
    share: float
    kinds: list[FaultKind]
    device: str
    label: str
    what: list[str]
    also: list[str]
    reasons: list[ForOut]
    cures: list[CureOut]
    note_ops: list[Op]
    source: Provenance
    source_words: str


class LeavesOut(TypedDict):
    """An outcome to tap, how probable it is, and what would be likeliest then."""

    value: str
    words: str
    probable: float
    leaves: str
    share: float


class AskedOut(TypedDict):
    """A check to make. seconds: as one stands now. clears: the share of the doubt it is expected to clear up."""

    key: str
    kind: CheckKind
    words: str
    label: str
    seconds: int
    clears: float
    disturbs: bool
    caution: str
    why: str
    outcomes: list[LeavesOut]


class TrailOut(TypedDict):
    """One answer given, oldest first."""

    uid: str
    key: str
    kind: Literal["complaint", "read", "look", "cure", "cannot"]
    words: str
    value: str
    at: str
    by: str
    stale: bool


class SearchOut(TypedDict):
    """Where the search for a fault on a run stands. nothing: the share that all is as noted, with why that would bring
    it; unknown: that this model does not know it. assumed: what nobody noted and is taken to stand so. refined:
    pairs have been run through the model.
    """

    run: str
    label: str
    path: str
    joined: bool
    complaints: list[ComplaintOut]
    causes: list[CauseOut]
    nothing: float
    nothing_why: str
    unknown: float
    next: AskedOut | None
    more: list[AskedOut]
    trail: list[TrailOut]
    assumed: list[str]
    singles: int
    pairs_tried: int
    pairs: int
    helped: str
    refined: bool
