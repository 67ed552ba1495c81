"""Changes that put a box into a lead, or another box in the place of one; runs, wants, titles and styles stay."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from wavilex.core.errors import ChangeError, WavilexError
from wavilex.core.gear.ports import Port
from wavilex.core.gear.profile import Profile, profile_data, profile_from_data
from wavilex.core.rig import model as rig_m
from wavilex.core.rig.changes import apply
from wavilex.core.rig.edit_common import find_device, find_lead, need, plain
from wavilex.core.rig.model import Device, Rig, Socket
from wavilex.core.rig.ops import (
    ENDS,
    INPUT_KEY,
    AddLead,
    Change,
    LayerName,
    MoveLead,
    SelectInput,
    SetDevice,
    SetFact,
    SetProfile,
    to_set,
)
from wavilex.core.rig.plugging import new_lead
from wavilex.core.rig.shapes import ExchangeOut, InsertOut


def insert_ops(rig: Rig, layer: LayerName, lead_uid: str, box: str) -> list[Change]:
    """The changes that put a box of the job into a lead: the lead goes into it, a new one from it to where it went.

    Raises ChangeError where the lead is loose, or the box has no free input or output of its plug.
    """
    lead, device = find_lead(rig, lead_uid), find_device(rig, box)
    start, end = lead.ends(layer)
    need(start is not None and end is not None, f"lead {lead.label} is plugged in at one end only")
    assert start is not None
    assert end is not None
    need(box not in (start.device, end.device), f"{device.label} is at an end of lead {lead.label} already")
    there = rig.devices[end.device].profile.port(end.port)
    inp = _free(rig, layer, device, device.profile.inputs(), _plug(rig, start))
    out = _free(rig, layer, device, device.profile.outputs(), there.plug if there else "")
    need(inp is not None and out is not None, f"{device.label} has no free input and output for lead {lead.label}")
    assert inp is not None
    assert out is not None
    moved: MoveLead = {"op": "move_lead", "layer": layer, "lead": lead_uid, "end": "b", "to": plain(inp)}
    onward: AddLead = new_lead(rig, layer, out, end)
    ops: list[Change] = [moved, onward]
    if len(device.profile.inputs()) > 1 and device.profile.routing != "splitter":
        shown: SelectInput = {"op": "select_input", "layer": layer, "device": box, "value": inp.port}
        if device.profile.routing == "matrix":
            shown["output"] = out.port
        ops.append(shown)
    return ops


def _plug(rig: Rig, socket: Socket) -> str:
    port = rig.devices[socket.device].profile.port(socket.port)
    return port.plug if port else ""


def _free(rig: Rig, layer: LayerName, device: Device, ports: Sequence[Port], plug: str) -> Socket | None:
    sockets = (Socket(device.uid, p.id) for p in ports if p.plug == plug)
    return next((s for s in sockets if rig.lead_at(layer, s) is None), None)


def exchange_ops(rig: Rig, uid: str, data: dict[str, Any]) -> list[Change]:
    """The changes that put a box of another profile in the place of one: leads go to the sockets most alike.

    What was noted of the old box (settings, facts, firmware) goes. Raises ChangeError for a profile that is none, or of
    another role where runs end at the box.
    """
    device = find_device(rig, uid)
    try:
        profile = profile_from_data(data)
    except WavilexError as error:
        raise ChangeError(f"the profile is not valid: {error}") from None
    places = _places(device.profile, profile)
    ops: list[Change] = []
    back: list[Change] = []
    for lead in rig.leads.values():
        for layer in rig_m.LAYERS:
            for end, socket in zip(ENDS, lead.ends(layer), strict=True):
                if socket is None or socket.device != uid:
                    continue
                out: MoveLead = {"op": "move_lead", "layer": layer, "lead": lead.uid, "end": end, "to": None}
                ops.append(out)
                if socket.port in places:
                    to = plain(Socket(uid, places[socket.port]))
                    again: MoveLead = {"op": "move_lead", "layer": layer, "lead": lead.uid, "end": end, "to": to}
                    back.append(again)
    ops += _forgotten(rig, uid)
    changed: SetProfile = {"op": "set_profile", "device": uid, "profile": profile_data(profile)}
    unread: SetDevice = {"op": "set_device", "device": uid, "firmware": "", "firmware_plan": ""}
    if device.label == device.profile.name:
        unread["label"] = profile.name[:60]
    return [*ops, changed, unread, *back]


def _places(old: Profile, new: Profile) -> dict[str, str]:
    """Each old socket's successor: by its own name where it is of the same kind, else the next such."""
    found: dict[str, str] = {}
    alike = {
        p.id: [q.id for q in new.ports if (q.direction, q.kind, q.plug) == (p.direction, p.kind, p.plug)]
        for p in old.ports
    }
    for port in old.ports:
        if port.id in alike[port.id]:
            found[port.id] = port.id
    for port in old.ports:
        left = [q for q in alike[port.id] if q not in found.values()]
        if port.id not in found and left:
            found[port.id] = left[0]
    return found


def _forgotten(rig: Rig, uid: str) -> list[Change]:
    ops: list[Change] = []
    for (device, scope, key), value in rig.settings.items():
        if device != uid:
            continue
        for layer in rig_m.LAYERS:
            if getattr(value, layer) is None:
                continue
            if key == INPUT_KEY:
                shown: SelectInput = {"op": "select_input", "layer": layer, "device": uid, "value": None}
                if scope:
                    shown["output"] = scope
                ops.append(shown)
            else:
                ops.append(to_set((uid, scope, key), None, layer))
    for device, path in rig.facts:
        if device == uid:
            fact: SetFact = {"op": "set_fact", "device": uid, "path": path, "value": None}
            ops.append(fact)
    return ops


def insertable(rig: Rig, layer: LayerName, lead_uid: str) -> list[InsertOut]:
    """Every box of the job that could go into a lead. Raises ChangeError where the lead is not there."""
    find_lead(rig, lead_uid)
    out: list[InsertOut] = []
    for device in rig.devices.values():
        if device.profile.role != "repeater":
            continue
        try:
            ops = insert_ops(rig, layer, lead_uid, device.uid)
            apply(rig, ops)
        except ChangeError:
            continue  # no socket free, or a loop
        out.append({"device": device.uid, "label": device.label, "ops": ops})
    return out


def exchange_data(rig: Rig, uid: str, data: dict[str, Any]) -> ExchangeOut:
    """`exchange_ops`, with the leads that find no socket any more."""
    ops = exchange_ops(rig, uid, data)
    after, _ = apply(rig, ops)
    loose = [
        x.label for x in rig.leads.values()
        if sum(s is None for s in after.leads[x.uid].plan) > sum(s is None for s in x.plan)
    ]  # fmt: skip
    return {"ops": ops, "loose": loose}
