"""What the server remembers of jobs, in one bounded memory: answers by a job's mark, boxes and runs by content.

A mark stands for one content: it is made anew at every change, so what was worked out of a change that was not
kept in the end, or before a restore, is never asked for again.
"""

from __future__ import annotations

from collections.abc import Callable, Hashable
from typing import Any, TypeVar

from wavilex.core.chain.paths import Layer, States
from wavilex.core.memory import Memory
from wavilex.core.rig.model import Rig
from wavilex.core.rig.ops import LayerName
from wavilex.server.config import limits
from wavilex.server.jobs import models
from wavilex.server.jobs.store import load_rig

T = TypeVar("T")
memory = Memory(limits.REMEMBERED_BYTES)
RIG_BYTES = 20_000  # a revision’s own part of a rig; the rest is shared with its neighbours
_LAYER_BYTES = 30_000
ANSWER_BYTES = 40_000  # an answer about a job, where nothing better is known


def remembered(job: models.Job, question: Hashable, answer: Callable[[], T], size: Callable[[T], int] | int) -> T:
    """The answer to a question about a job as it is now, worked out at most once (or twice in a race).

    size: its bytes, roughly, or how to tell them.
    """
    key = (job.pk, job.mark, question)
    kept: tuple[T] | None = memory.get(key)
    if kept is not None:
        return kept[0]
    found = answer()
    memory.put(key, (found,), size(found) if callable(size) else size)
    return found


def keep(job: models.Job, question: Hashable, answer: T, size: int) -> None:
    """An answer known beforehand."""
    memory.put((job.pk, job.mark, question), (answer,), size)


def known_by(job: models.Job, mark: str, question: Hashable) -> Any | None:
    """The answer remembered of another content of the job; None where it is not."""
    kept: tuple[Any] | None = memory.get((job.pk, mark, question))
    return None if kept is None else kept[0]


def rig_of(job: models.Job) -> Rig:
    return remembered(job, "rig", lambda: load_rig(job), RIG_BYTES)


def keep_rig(job: models.Job, rig: Rig) -> None:
    """The rig of a change just made: no need to read back what was written."""
    keep(job, "rig", rig, RIG_BYTES)


def states_of(job: models.Job) -> States:
    """What is worked out of boxes and runs, by content: good for every revision of the job."""
    return States(memory, job.pk)


def layer_of(job: models.Job, name: LayerName) -> Layer:
    """The job's rig compiled for a layer, remembered by revision."""
    return remembered(job, ("layer", name), lambda: Layer(rig_of(job), name, states_of(job)), _LAYER_BYTES)


def forget() -> None:
    """For tests: row ids may come again with other content."""
    memory.clear()
