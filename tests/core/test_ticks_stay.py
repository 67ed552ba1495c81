"""A tick never makes another open step vanish undone: whatever the order of ticks, steps end by being ticked alone."""

from __future__ import annotations

import random
from collections.abc import Callable

import pytest

from tests import arrivals, rigs
from tests.arrival_rigs import wide
from tests.core.test_cells import resetting_rig
from wavilex.core.advise.settings_plan import settings_plan
from wavilex.core.chain.paths import Layer
from wavilex.core.rig.changes import apply
from wavilex.core.rig.model import Rig
from wavilex.core.runsheet.sheet import Event, steps_now
from wavilex.core.ticks import DONE

MADE: dict[str, Callable[[], Rig]] = {
    "s05-arrival": arrivals.s05_arrival, "s09-arrival": arrivals.s09_arrival, "s16-arrival": arrivals.s16_arrival,
    "s18": rigs.s18, "s20": rigs.s20, "resets": resetting_rig,
    **{f"wide-{n}": lambda n=n: wide(n) for n in (0, 1, 3)},  # type: ignore[misc]
}  # fmt: skip


@pytest.mark.parametrize("made", MADE.values(), ids=MADE)
@pytest.mark.parametrize("seed", [None, 5], ids=["in order", "any order"])
def test_a_tick_takes_no_other_step_along(made: Callable[[], Rig], seed: int | None) -> None:
    tick_all(made(), seed)


def test_nor_on_a_job_of_many_sources() -> None:
    tick_all(arrivals.s14_arrival(), 17)


def tick_all(r: Rig, seed: int | None) -> None:
    r = apply(r, list(settings_plan(Layer(r)).ops))[0]
    rnd = random.Random(seed)
    events: list[Event] = []
    steps = steps_now(r, events)
    for _ in range(80):
        done = {e.key for e in events}
        left = [s for s in steps if s.ops or s.key not in done]
        if not left:
            break
        step = left[0] if seed is None else rnd.choice(left)
        events.append(Event(step.key, DONE, step.title, step.phase, "2026-11-29T10:00:00Z"))
        r = apply(r, list(step.ops))[0]
        steps = steps_now(r, events)
        there = {s.key for s in steps}
        gone = [s.title for s in left if s is not step and s.key not in there]
        assert not gone, f"{step.title} took along: {gone}"
    assert len(events) > 5
