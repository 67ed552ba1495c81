"""Faults that were found to be it, as a box's shelf entry keeps them: in words, with day and version."""

from __future__ import annotations

import hashlib
from collections.abc import Iterator

from wavilex.core.fault.case import CLOSED
from wavilex.core.rig.learned import Seen
from wavilex.core.rig.model import CONFIRMED_FACT, Rig
from wavilex.core.rig.visit_facts import ConfirmedFault

_IT_WAS = "it was: "


def confirmed_faults(rig: Rig) -> Iterator[tuple[str, Seen]]:
    """Device and what was wrong there, of every search that was closed with a cause."""
    for seen in rig.observations.values():
        if seen.line != CLOSED or seen.observed in (None, "nothing") or seen.device not in rig.devices:
            continue
        fault = ConfirmedFault(
            words=seen.label.removeprefix(_IT_WAS)[:200] or "a fault", day=seen.at[:10], firmware=seen.firmware
        )
        name = hashlib.sha256(f"{seen.observed}".encode()).hexdigest()[:12]
        yield seen.device, Seen(f"{CONFIRMED_FACT}.{name}", fault.model_dump(mode="json", exclude_defaults=True))
