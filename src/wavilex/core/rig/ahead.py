"""How far the plan is ahead of what was found."""

from __future__ import annotations

from wavilex.core.rig.model import Rig


def ahead(rig: Rig) -> int:
    """How many values, leads and firmware are planned otherwise than found."""
    return (
        sum(v.plan is not None and v.plan != v.found for v in rig.settings.values())
        + sum(x.found != x.plan for x in rig.leads.values())
        + sum(bool(d.firmware_plan) and d.firmware_plan != d.firmware for d in rig.devices.values())
    )
