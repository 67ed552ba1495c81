"""How a lead of the plan stands to what was found: hanging so, moved, new, to come out, or noted by nobody."""

from __future__ import annotations

from typing import Literal

from wavilex.core.rig.model import Lead, Rig

Hanging = Literal["as_found", "moved", "new", "unnoted", "out"]
HANGING: dict[Hanging, str] = {
    "as_found": "", "moved": "moved", "new": "new", "unnoted": "nobody noted it as found", "out": "to come out",
}  # fmt: skip


def hanging(rig: Rig, lead: Lead) -> Hanging:
    """A lead that nobody noted as found is called new only where another was found in one of its sockets: a plan made
    before anybody looked invents no leads.
    """
    if lead.found == lead.plan:
        return "as_found"
    if lead.plan == (None, None):
        return "out"
    if lead.found != (None, None):
        return "moved"
    taken = any(s is not None and rig.lead_at("found", s) is not None for s in lead.plan)
    return "new" if taken else "unnoted"
