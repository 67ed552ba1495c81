"""Compiled rigs and their answers, kept by (job, revision): the same question is not worked out twice."""

from __future__ import annotations

import threading
from collections import OrderedDict
from collections.abc import Callable, Hashable
from typing import Any

from wavilex.core.chain.paths import States
from wavilex.core.rig.model import Rig
from wavilex.server.config import limits
from wavilex.server.jobs import models
from wavilex.server.jobs.store import load_rig

_kept: OrderedDict[tuple[int, int], dict[Hashable, Any]] = OrderedDict()
_states: OrderedDict[int, States] = OrderedDict()
_lock = threading.Lock()


def _slot(job: models.Job) -> dict[Hashable, Any]:
    with _lock:
        key = (job.pk, job.revision)
        slot = _kept.setdefault(key, {})
        _kept.move_to_end(key)
        while len(_kept) > limits.CACHED_RIGS:
            _kept.popitem(last=False)
        return slot


def remembered(job: models.Job, question: Hashable, answer: Callable[[], Any]) -> Any:
    """The answer to a question about this revision of a job, worked out at most once (or twice in a race)."""
    slot = _slot(job)
    if question not in slot:
        slot[question] = answer()
    return slot[question]


def rig_of(job: models.Job) -> Rig:
    rig: Rig = remembered(job, "rig", lambda: load_rig(job))
    return rig


def keep(job: models.Job, question: Hashable, answer: Any) -> None:
    """An answer known beforehand."""
    _slot(job)[question] = answer


def keep_rig(job: models.Job, rig: Rig) -> None:
    """The rig of a revision just committed: no need to read back what was written."""
    keep(job, "rig", rig)


def states_of(job: models.Job) -> States:
    """What is worked out of boxes and runs, by content: good for every revision of the job."""
    with _lock:
        states = _states.setdefault(job.pk, States())
        _states.move_to_end(job.pk)
        while len(_states) > limits.CACHED_RIGS:
            _states.popitem(last=False)
        return states


def forget() -> None:
    """For tests and restores: row ids may come again with other content."""
    with _lock:
        _kept.clear()
        _states.clear()
