"""Taking a box out with all that hangs on it, so that the inverse brings all back."""

from __future__ import annotations

from dataclasses import replace
from itertools import product

from wavilex.core.rig import model as rig_m
from wavilex.core.rig.edit_brief import remove_run
from wavilex.core.rig.edit_common import Applied, find_device, with_item
from wavilex.core.rig.edit_facts import set_fact
from wavilex.core.rig.edit_gear import device_data, put_setting
from wavilex.core.rig.edit_wiring import move_lead
from wavilex.core.rig.model import Rig
from wavilex.core.rig.ops import ENDS, AddDevice, Change, RemoveDevice


def remove_device(rig: Rig, change: RemoveDevice) -> Applied:
    """Takes the box out with its leads' plugs, settings, facts and runs; the inverse brings all back."""
    device = find_device(rig, change["device"])
    inverse: list[Change] = []
    out = rig
    for run in [r for r in rig.runs.values() if device.uid in (r.source, r.sink)]:
        out, back = remove_run(out, {"op": "remove_run", "run": run.uid})
        inverse = back + inverse
    plugged = [
        (lead.uid, layer, end) for lead in rig.leads.values() for layer in rig_m.LAYERS
        for end, socket in zip(ENDS, lead.ends(layer), strict=True) if socket and socket.device == device.uid
    ]  # fmt: skip
    for uid, layer, end in plugged:
        out, back = move_lead(out, {"op": "move_lead", "layer": layer, "lead": uid, "end": end, "to": None})
        inverse = back + inverse
    own = [(place, value) for place, value in rig.settings.items() if place[0] == device.uid]
    for (place, value), layer in product(own, rig_m.LAYERS):
        if getattr(value, layer) is not None:
            out, back = put_setting(out, layer, place, None)
            inverse = back + inverse
    for uid, path in rig.facts:
        if uid == device.uid:
            out, back = set_fact(out, {"op": "set_fact", "device": uid, "path": path, "value": None})
            inverse = back + inverse
    out = replace(out, devices=with_item(out.devices, device.uid, None))
    first: AddDevice = {"op": "add_device", "device": device_data(device)}
    return out, [first, *inverse]
