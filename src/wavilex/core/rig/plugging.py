"""The changes that join an output to an input, and the name a new lead gets."""

from __future__ import annotations

from typing import Any

from wavilex.core.rig.model import Rig, Socket

ASSUMED_GRADE, ASSUMED_LENGTH_MM = "ultra", 2000  # a new lead until its certification is chosen


def next_lead_name(rig: Rig) -> str:
    """The first free label and uid of the form N1, N2, …"""
    taken = {x.label for x in rig.leads.values()} | set(rig.leads)
    return next(f"N{n}" for n in range(1, len(taken) + 2) if f"N{n}" not in taken)


def plug_ops(rig: Rig, layer: str, out: Socket, inp: Socket) -> list[dict[str, Any]]:
    """The changes that join an output to an input: move its lead, swap with the one there, or a new lead."""
    own, other = rig.lead_at(layer, out), rig.lead_at(layer, inp)
    to = {"device": inp.device, "port": inp.port}
    if own is not None and own == other:
        return []
    if own is not None and other is not None and own.ends(layer)[1] is not None:
        return [{"op": "swap_leads", "layer": layer, "end": "b", "leads": [own.uid, other.uid],
                 "select": [{"device": inp.device, "value": inp.port}]}]  # fmt: skip
    ops: list[dict[str, Any]] = []
    if other is not None:
        ops.append({"op": "move_lead", "layer": layer, "lead": other.uid, "end": "b", "to": None})
    if own is not None:
        ops.append({"op": "move_lead", "layer": layer, "lead": own.uid, "end": "b", "to": to})
        return ops
    name = next_lead_name(rig)
    port = rig.devices[out.device].profile.port(out.port)
    row = {
        "uid": name, "label": name, "kind": port.kind if port else "hdmi",
        "grade": ASSUMED_GRADE, "length_mm": ASSUMED_LENGTH_MM,
        layer: [{"device": out.device, "port": out.port}, to],
    }  # fmt: skip
    return [*ops, {"op": "add_lead", "lead": row}]
