"""Compiled rigs and their answers, kept by (job, revision): the same question is not worked out twice."""

from __future__ import annotations

import threading
from collections import OrderedDict
from collections.abc import Callable, Hashable
from typing import Any

from wavilex.core.chain.paths import States
from wavilex.core.chain.rig import Rig
from wavilex.server.config import limits
from wavilex.server.jobs import models
from wavilex.server.jobs.store import load_rig

_kept: OrderedDict[tuple[int, int], dict[Hashable, Any]] = OrderedDict()
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


def states_of(job: models.Job) -> States:
    states: States = remembered(job, "states", States)
    return states


def forget() -> None:
    """For tests and restores: row ids may come again with other content."""
    with _lock:
        _kept.clear()
