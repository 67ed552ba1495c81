"""How a lead of the plan stands to what was found: hanging so, moved, new, to come out, or noted by nobody."""

from __future__ import annotations

from typing import Literal

from wavilex.core.rig.model import Lead, Rig

Hanging = Literal["as_found", "moved", "new", "unnoted", "out"]
HANGING: dict[Hanging, str] = {
    "as_found": "", "moved": "moved", "new": "new", "unnoted": "nobody noted it as found", "out": "to come out",
}  # fmt: skip


def hanging(rig: Rig, lead: Lead) -> Hanging:
    """A lead that nobody noted as found is called new only where another was found in one of its sockets, or leads were
    found at both of its boxes: a plan made before anybody looked invents no leads.
    """
    if lead.found == lead.plan:
        return "as_found"
    if lead.plan == (None, None):
        return "out"
    if lead.found != (None, None):
        return "moved"
    taken = any(s is not None and rig.lead_at("found", s) is not None for s in lead.plan)
    looked_at = {s.device for x in rig.leads.values() for s in x.found if s is not None}
    return "new" if taken or all(s is None or s.device in looked_at for s in lead.plan) else "unnoted"
