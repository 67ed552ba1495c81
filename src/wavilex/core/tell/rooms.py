"""Rooms that leads and runs join, and how far apart they are: asked once, kept with the job."""

from __future__ import annotations

from wavilex.core.chain.paths import Layer
from wavilex.core.rig.model import Rooms, between
from wavilex.core.tell.shapes import DistanceOut


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
