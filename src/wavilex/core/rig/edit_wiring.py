"""Changes of the wiring: move, swap, replace, add and remove leads."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import fields, replace
from typing import Any

from wavilex.core.errors import ChangeError, SignalError
from wavilex.core.gear.ports import FAR_ENDS, Port
from wavilex.core.link.cable import BUILDS, GRADES, POWERS, Cable, check_proofs
from wavilex.core.rig import model as rig_m
from wavilex.core.rig.edit_common import (
    Applied,
    find_device,
    find_lead,
    layer_of,
    need,
    new_uid,
    plain,
    text_of,
    with_item,
)
from wavilex.core.rig.edit_gear import select_input, shown_at
from wavilex.core.rig.model import LAYERS, Lead, Rig, Socket
from wavilex.core.rig.ops import (
    ENDS,
    AddLead,
    CableData,
    Change,
    FoundAsPlanned,
    LayerName,
    LeadData,
    MoveLead,
    RemoveLead,
    ReplaceLead,
    Selection,
    SocketData,
    SwapLeads,
)
from wavilex.core.rig.shapes import CableOut


def _socket(rig: Rig, data: SocketData | None, end: str, kind: str) -> Socket | None:
    if data is None:
        return None
    device = find_device(rig, data["device"])
    port = device.profile.port(data["port"])
    need(port is not None, f"{device.label} has no socket {data['port']!r}")
    wanted = "out" if end == "a" else "in"
    need(
        port is not None and port.direction == wanted,
        f"end {end} of a lead goes to an {wanted}put; {port.label if port else ''} of {device.label} is none",
    )
    assert port is not None
    fits = port.kind == kind if end == "a" else port.kind in FAR_ENDS.get(kind, (kind,))
    need(fits, f"{port.label} of {device.label} takes {KIND_WORDS[port.kind]}, not {KIND_WORDS[kind]}{_adapter(port)}")
    return Socket(device.uid, data["port"])


def _adapter(port: Port) -> str:
    """What would join sockets of two kinds."""
    return ": an adapter or converter between them is a box" if port.digital else ""


KIND_WORDS = {"hdmi": "an HDMI lead", "dp": "a DisplayPort lead", "usbc": "a USB-C lead", "dvi": "a DVI lead",
              "analogue": "an analogue video lead", "audio": "a sound lead",
              "power": "a USB power lead"}  # fmt: skip


def _same_plug(rig: Rig, one: Socket | None, other: Socket | None) -> None:
    """A lead has one kind of plug; where its ends differ, an adapter is a box of its own. Leads from USB-C to
    DisplayPort, and between HDMI and DVI, have one of each.
    """
    if one is not None and other is not None:
        ports = [rig.devices[s.device].profile.port(s.port) for s in (one, other)]
        if all(p is not None and p.digital for p in ports):
            return
    plugs = [p.plug for s in (one, other) if s is not None for p in (rig.devices[s.device].profile.port(s.port),) if p]
    need(len(set(plugs)) < 2, f"a {plugs[0]} plug does not go into a {plugs[-1]} socket: an adapter would be a box"
         if plugs else "")  # fmt: skip


def _own_plug(rig: Rig, lead: Lead, end: str, socket: Socket) -> None:
    """A lead that hangs in a socket of one kind has that plug there; another kind takes another lead."""
    port = rig.devices[socket.device].profile.port(socket.port)
    for layer in LAYERS:
        now = lead.ends(layer)[end == "b"]
        has = rig.devices[now.device].profile.port(now.port) if now is not None else None
        if has is not None and port is not None and has.kind != port.kind:
            words = f"lead {lead.label} has {PLUG_WORDS[has.kind]} at that end"
            raise ChangeError(f"{words}; {port.label} of {rig.devices[socket.device].label} takes another lead")


PLUG_WORDS = {"hdmi": "an HDMI plug", "dp": "a DisplayPort plug", "usbc": "a USB-C plug", "dvi": "a DVI plug",
              "analogue": "an analogue plug", "audio": "a sound plug", "power": "a power plug"}  # fmt: skip


def _set_end(rig: Rig, lead: Lead, layer: LayerName, end: str, socket: Socket | None) -> Rig:
    a, b = lead.ends(layer)
    ends = (socket, b) if end == "a" else (a, socket)
    moved = replace(lead, plan=ends) if layer == "plan" else replace(lead, found=ends)
    return replace(rig, leads={**rig.leads, lead.uid: moved})


def move_lead(rig: Rig, change: MoveLead) -> Applied:
    layer, end, lead = layer_of(change), change["end"], find_lead(rig, change["lead"])
    socket = _socket(rig, change["to"], end, lead.kind)
    before, other = lead.ends(layer)[end == "b"], lead.ends(layer)[end == "a"]
    _same_plug(rig, socket, other)
    if socket is not None:
        _own_plug(rig, lead, end, socket)
        taken = rig.lead_at(layer, socket)
        need(
            taken is None or taken.uid == lead.uid,
            f"{rig.socket_name(socket)} already holds lead {taken.label if taken else ''}; swap the two leads",
        )
    after = _set_end(rig, lead, layer, end, socket)
    _no_loop(after, layer, lead.uid)
    back: MoveLead = {"op": "move_lead", "layer": layer, "lead": lead.uid, "end": end, "to": plain(before)}
    return after, [back]


def _no_loop(rig: Rig, layer: LayerName, uid: str) -> None:
    """The picture a lead now carries must not come back to the box it left."""
    start, end = rig.leads[uid].ends(layer)
    if start is None or end is None or _sound_only(rig, start):
        return
    onward: dict[str, list[str]] = {}
    for lead in rig.leads.values():
        a, b = lead.ends(layer)
        if a is not None and b is not None and not _sound_only(rig, a):
            onward.setdefault(a.device, []).append(b.device)
    waiting, seen = [end.device], {end.device}
    while waiting:
        box = waiting.pop()
        need(box != start.device, "that would make a loop: a box would feed itself")
        for following in onward.get(box, ()):
            if following not in seen:
                seen.add(following)
                waiting.append(following)


def _sound_only(rig: Rig, out: Socket) -> bool:
    """No picture leaves this socket: a sound socket, or a bar's, whose lead brings the screen's sound back."""
    profile = rig.devices[out.device].profile
    return all(p.id != out.port for p in profile.outputs())


def swap_leads(rig: Rig, change: SwapLeads) -> Applied:
    """Two leads change places at one end; `select` re-selects inputs with it, as one move."""
    layer, end = layer_of(change), change["end"]
    need(len(change["leads"]) == 2, "two leads are swapped, no more and no fewer")
    first, second = (find_lead(rig, uid) for uid in change["leads"])
    need(first.uid != second.uid, "a lead cannot be swapped with itself")
    one, two = first.ends(layer)[end == "b"], second.ends(layer)[end == "b"]
    need(one is not None and two is not None, "both leads must be plugged in to be swapped")
    need(first.kind == second.kind, "leads of two kinds cannot be swapped")
    for lead, socket in ((first, two), (second, one)):
        if socket is not None and lead.digital:
            _own_plug(rig, lead, end, socket)
        elif not lead.digital:
            _same_plug(rig, socket, lead.ends(layer)[end == "a"])
    after = _set_end(_set_end(rig, first, layer, end, two), second, layer, end, one)
    _no_loop(after, layer, first.uid)
    _no_loop(after, layer, second.uid)
    restore: list[Selection] = []
    for choice in change.get("select", ()):
        before = getattr(shown_at(after, choice["device"], choice.get("output", "")), layer)
        after, _ = select_input(after, {"op": "select_input", "layer": layer, **choice})
        restore.append({**choice, "value": before})
    inverse: SwapLeads = {"op": "swap_leads", "layer": layer, "end": end, "leads": [first.uid, second.uid]}
    if restore:
        inverse["select"] = restore[::-1]
    return after, [inverse]


CABLE_KEYS = tuple(f.name for f in fields(Cable))


def _cable(now: Cable, change: CableData) -> Cable:
    """The lead's cable with what a change says of it."""
    words: Mapping[str, Any] = dict(change)
    for key, name, known in (("grade", "certification", GRADES), ("build", "make", BUILDS), ("power", "power", POWERS)):
        need(words.get(key, getattr(now, key)) in known, f"{name} is one of {', '.join(known)}")
    length_mm = change.get("length_mm")
    need(length_mm is None or 0 < length_mm <= 200_000, "a lead's length is 1 to 200 000 mm")
    cable = replace(now, **{key: words[key] for key in CABLE_KEYS if key in words})
    try:
        check_proofs(cable.proved, cable.failed)
    except SignalError as error:
        raise ChangeError(error.message) from None
    return cable


def replace_lead(rig: Rig, change: ReplaceLead) -> Applied:
    lead = find_lead(rig, change["lead"])
    label = text_of(change["label"], "label", 40) if "label" in change else lead.label
    mark = change.get("mark", lead.mark)
    after = replace(lead, cable=_cable(lead.cable, change), label=label, mark=mark)
    back: ReplaceLead = {"op": "replace_lead", "lead": lead.uid}
    back.update({k: v for k, v in cable_data(lead.cable).items() if k in change})  # type: ignore[typeddict-item]
    if "label" in change:
        back["label"] = lead.label
    if "mark" in change:
        back["mark"] = lead.mark
    return replace(rig, leads={**rig.leads, lead.uid: after}), [back]


def found_as_planned(rig: Rig, change: FoundAsPlanned) -> Applied:
    """The lead now hangs where the plan has it; `ends` given (by undo) says where it was found instead.

    A lead found in one of those sockets until now must have come out: its end is loose.
    """
    lead = find_lead(rig, change["lead"])
    ends = lead.plan
    if "ends" in change:
        need(len(change["ends"]) == 2, "a lead has two ends")
        a, b = change["ends"]
        ends = (_socket(rig, a, "a", lead.kind), _socket(rig, b, "b", lead.kind))
    inverse: list[Change] = []
    for end, socket in zip(ENDS, ends, strict=True):
        other = rig.lead_at("found", socket) if socket else None
        if other is not None and other.uid != lead.uid:
            rig, back = move_lead(rig, {"op": "move_lead", "layer": "found", "lead": other.uid, "end": end, "to": None})
            inverse = back + inverse
    first: FoundAsPlanned = {"op": "found_as_planned", "lead": lead.uid, "ends": [plain(e) for e in lead.found]}
    return replace(rig, leads={**rig.leads, lead.uid: replace(lead, found=ends)}), [first, *inverse]


def cable_data(cable: Cable) -> CableOut:
    """What is known of a lead as plain data."""
    return {
        "grade": cable.grade, "length_mm": cable.length_mm, "build": cable.build, "power": cable.power,
        "turned": cable.turned, "proved": cable.proved, "failed": cable.failed,
    }  # fmt: skip


def lead_data(lead: Lead) -> LeadData:
    """A lead as plain data, the form `add_lead` and job files use."""
    return {
        "uid": lead.uid, "label": lead.label, "kind": lead.kind, **cable_data(lead.cable),
        "found": [plain(e) for e in lead.found], "plan": [plain(e) for e in lead.plan], "mark": lead.mark,
    }  # fmt: skip


def add_lead(rig: Rig, change: AddLead) -> Applied:
    row = change["lead"]
    uid = new_uid(rig.leads, row["uid"], "lead")
    kind = row.get("kind", "hdmi")
    need(kind in rig_m.LEAD_KINDS, f"a lead's kind is {' or '.join(rig_m.LEAD_KINDS)}")
    lead = Lead(uid=uid, label=text_of(row["label"], "label", 40), kind=kind, cable=_cable(Cable(), row),
                mark=row.get("mark", ""))  # fmt: skip
    out = replace(rig, leads={**rig.leads, uid: lead})
    ends: dict[LayerName, list[SocketData | None]] = {"found": row.get("found", []), "plan": row.get("plan", [])}
    for layer, sockets in ends.items():
        need(len(sockets) in (0, 2), f"a lead has two ends; {layer} names {len(sockets)}")
        for end, socket in zip(ENDS, sockets, strict=False):
            if socket is not None:
                out, _ = move_lead(out, {"op": "move_lead", "layer": layer, "lead": uid, "end": end, "to": socket})
    return out, [{"op": "remove_lead", "lead": uid}]


def remove_lead(rig: Rig, change: RemoveLead) -> Applied:
    lead = find_lead(rig, change["lead"])
    back: AddLead = {"op": "add_lead", "lead": lead_data(lead)}
    return replace(rig, leads=with_item(rig.leads, lead.uid, None)), [back]
