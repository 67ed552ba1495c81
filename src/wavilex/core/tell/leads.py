"""What leads are, and the rooms they join: how far apart those are is asked once and kept with the job."""

from __future__ import annotations

from wavilex.core.chain.paths import Layer
from wavilex.core.link.words import cable_text
from wavilex.core.rig.model import Lead, Rooms, between
from wavilex.core.tell.shapes import DistanceOut

_KINDS = {"analogue": "analogue video", "audio": "sound", "power": "5 V"}


def lead_text(lead: Lead) -> str:
    """What is known of a lead: of a digital lead its certification, of others their kind; they have no class."""
    return cable_text(lead.cable) if lead.digital else _KINDS[lead.kind]


def distances(layer: Layer) -> list[DistanceOut]:
    """Pairs of rooms that a run or a lead joins, with what is known of the way between them."""
    rig = layer.rig
    asked: dict[Rooms, list[str]] = {key: [] for key in rig.distances}
    joins = [(r.label, r.source, r.sink) for r in rig.runs.values()]
    for lead in rig.leads.values():
        a, b = lead.ends(layer.name)
        if a is not None and b is not None:
            joins.append((f"lead {lead.label}", a.device, b.device))
    for label, one, other in joins:
        ends = [rig.devices[uid].room for uid in (one, other)]
        if all(ends) and ends[0] != ends[1]:
            asked.setdefault(between(*ends), []).append(label)
    return [
        {"rooms": list(rooms), "mm": rig.distances.get(rooms), "asked_by": labels[:4]}
        for rooms, labels in asked.items()
    ]
