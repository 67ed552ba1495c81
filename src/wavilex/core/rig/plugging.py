"""The changes that join an output to an input, and the name a new lead gets."""

from __future__ import annotations

from wavilex.core.gear.ports import Port
from wavilex.core.link.cable import NOT_READ, TAKEN_FOR
from wavilex.core.rig.edit_common import plain
from wavilex.core.rig.model import Rig, Socket
from wavilex.core.rig.ops import AddLead, Change, LayerName, LeadData, LeadKind

ASSUMED_LENGTH_MM = 2000


def next_lead_name(rig: Rig) -> str:
    """The first free label and uid of the form N1, N2, …"""
    taken = {x.label for x in rig.leads.values()} | set(rig.leads)
    return next(f"N{n}" for n in range(1, len(taken) + 2) if f"N{n}" not in taken)


def plug_ops(rig: Rig, layer: LayerName, out: Socket, inp: Socket) -> list[Change]:
    """The changes that join an output to an input: move its lead, swap with the one there, or a new lead."""
    own, other = rig.lead_at(layer, out), rig.lead_at(layer, inp)
    if own is not None and own == other:
        return []
    if own is not None and other is not None and own.ends(layer)[1] is not None:
        return [{"op": "swap_leads", "layer": layer, "end": "b", "leads": [own.uid, other.uid],
                 "select": [{"device": inp.device, "value": inp.port}]}]  # fmt: skip
    ops: list[Change] = []
    if other is not None:
        ops.append({"op": "move_lead", "layer": layer, "lead": other.uid, "end": "b", "to": None})
    if own is not None:
        ops.append({"op": "move_lead", "layer": layer, "lead": own.uid, "end": "b", "to": plain(inp)})
        return ops
    return [*ops, new_lead(rig, layer, out, inp)]


def new_lead(rig: Rig, layer: LayerName, out: Socket, inp: Socket) -> AddLead:
    """A new lead between two sockets, of the kind the output takes: one to buy, or one found and not read yet."""
    name, port = next_lead_name(rig), rig.devices[out.device].profile.port(out.port)
    kind = lead_kind(port)
    row: LeadData = {
        "uid": name, "label": name, "kind": kind,
        # a new lead of the plan is taken for this until its certification is chosen
        "grade": TAKEN_FOR.get(kind, "ultra") if layer == "plan" else NOT_READ,
        "length_mm": _length_mm(rig, out, inp) if layer == "plan" else None,
    }  # fmt: skip
    row[layer] = [plain(out), plain(inp)]
    return {"op": "add_lead", "lead": row}


def lead_kind(out: Port | None) -> LeadKind:
    """The kind of lead that an output takes."""
    return out.kind if out is not None else "hdmi"


def _length_mm(rig: Rig, out: Socket, inp: Socket) -> int | None:
    """Two metres within a room; to another as long as the job says it must be, None where nobody has said."""
    rooms = [rig.devices[s.device].room for s in (out, inp)]
    if "" in rooms or rooms[0] == rooms[1]:
        return ASSUMED_LENGTH_MM
    return rig.distance_mm(*rooms)
