"""What of a job's changes can be undone and redone: the change log read as two stacks."""

from __future__ import annotations

from dataclasses import dataclass

from wavilex.server.jobs import models
from wavilex.server.jobs.cache import keep, remembered


@dataclass(frozen=True, slots=True)
class Step:
    """A change as the stacks hold it."""

    pk: int
    label: str


@dataclass(frozen=True, slots=True)
class History:
    """The next change to take back, or to do again, stands last."""

    undo: tuple[Step, ...] = ()
    redo: tuple[Step, ...] = ()

    def then(self, kind: str, step: Step) -> History:
        """The stacks after one more change: an edit, an undo or a redo; a job's start is none of them."""
        if kind == "start":
            return self
        if kind == "undo":
            return History(self.undo[:-1], (*self.redo, step))
        return History((*self.undo, step), self.redo[:-1] if kind == "redo" else ())


def history_of(job: models.Job) -> History:
    """The stacks of a job as it is; read from its whole log at most once."""
    return remembered(job, "history", lambda: _read(job), _size)


def keep_history(job: models.Job, past: History, change: models.ChangeSet) -> None:
    """The stacks of a change just made."""
    now = past.then(change.kind, Step(change.pk, change.label))
    keep(job, "history", now, _size(now))


def _size(history: History) -> int:
    """A stack is copied with every revision; its steps are shared."""
    return 8 * (len(history.undo) + len(history.redo)) + 300


def _read(job: models.Job) -> History:
    found = History()
    for pk, kind, label in job.changes.filter(revision__gt=job.folded_to).values_list("pk", "kind", "label"):
        found = found.then(kind, Step(pk, label))
    return found
