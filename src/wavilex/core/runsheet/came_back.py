"""Settings that reverted after they were set, as the run sheet was told: on which box, to which value, which cell."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from wavilex.core.rig.learned import Seen
from wavilex.core.rig.model import CAME_BACK_FACT, Rig
from wavilex.core.runsheet.sheet import Event, steps_now
from wavilex.core.ticks import REVERTED


def came_back(rig: Rig, events: Sequence[Event]) -> Iterator[tuple[str, Seen]]:
    """Device and what came back there, of steps that still stand. A page with more settings does not say which of them
    it was, so it says nothing of the box.
    """
    last = {e.key: e for e in events}
    for step in steps_now(rig, events):
        event = last.get(step.key)
        sets = [op for op in step.ops if op["op"] == "set_setting"]
        if event is None or event.state != REVERTED or len(sets) != 1:
            continue
        op = sets[0]
        if op["value"] is not None:
            yield op["device"], Seen(f"{CAME_BACK_FACT}.{op['key']}.{op['value']}", op.get("scope", ""))
