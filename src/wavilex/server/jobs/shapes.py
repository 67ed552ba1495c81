"""What the API adds to the core's answers about a job: which job and revision it is, what can be undone."""

from __future__ import annotations

from typing_extensions import TypedDict

from wavilex.core.link.check import Verdict
from wavilex.core.prove.shapes import ProveOut
from wavilex.core.tell.shapes import JobView


class ViewOut(JobView):
    """A job as the sheets show it."""

    uid: str
    revision: int
    line: str
    mark: str
    time_zone: str
    archived: bool
    can_undo: str | None
    can_redo: str | None


class OrderOut(TypedDict):
    """The uids of all that is there, in order."""

    devices: list[str]
    leads: list[str]
    runs: list[str]


class ChangedView(ViewOut):
    """A job after a change: of devices, leads and runs only those that differ from what the page said it knows."""

    order: OrderOut


class RunVerdict(TypedDict):
    label: str
    verdict: Verdict


class Summary(TypedDict):
    """What the list shows of a job, kept with it; version: of the program that worked it out.

    broken: why it cannot be worked out, "" where it can.
    """

    version: str
    boxes: int
    runs: list[RunVerdict]
    broken: str


class JobRow(TypedDict):
    """A job in the list; runs null: not worked out yet. broken: why it cannot be, "" where it can. due_in_days: until
    somebody is to look in again, below 0: it is late; null: no regular checks.
    """

    uid: str
    title: str
    revision: int
    changed_at: str
    archived: bool
    kept: bool
    boxes: int
    due_in_days: int | None
    runs: list[RunVerdict] | None
    broken: str


class JobsOut(TypedDict):
    """One page of the jobs; pages counts from 1."""

    jobs: list[JobRow]
    page: int
    pages: int
    total: int


class AccountSees(TypedDict):
    """An account, and whether it sees a job."""

    name: str
    role: str
    sees: bool


class AccessOut(TypedDict):
    """kept: only to the accounts that see it; else every account, a later one too, does."""

    kept: bool
    accounts: list[AccountSees]


class ProveAnswer(ProveOut):
    """The read-outs of a run, and the content of the job they are of."""

    mark: str


class PhotographOut(TypedDict):
    """A photograph kept with a job, by its name."""

    name: str
    bytes: int
