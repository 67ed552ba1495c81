"""Taking a box out with all that hangs on it, so that the inverse brings all back."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from wavilex.core.rig import model as rig_m
from wavilex.core.rig.edit_brief import remove_run
from wavilex.core.rig.edit_common import Applied, Change, find_device, with_item
from wavilex.core.rig.edit_gear import device_data, put_setting, set_fact
from wavilex.core.rig.edit_wiring import move_lead
from wavilex.core.rig.model import INPUT_KEY, Rig


def remove_device(rig: Rig, change: Change) -> Applied:
    """Takes the box out with its leads' plugs, settings, facts and runs; the inverse brings all back."""
    device = find_device(rig, change["device"])
    inverse: list[dict[str, Any]] = []
    out = rig
    for run in [r for r in rig.runs.values() if device.uid in (r.source, r.sink)]:
        out, back = remove_run(out, {"run": run.uid})
        inverse = back + inverse
    for lead in rig.leads.values():
        for layer in rig_m.LAYERS:
            for end, socket in zip("ab", lead.ends(layer), strict=True):
                if socket and socket.device == device.uid:
                    loose = {"layer": layer, "lead": lead.uid, "end": end, "to": None}
                    out, back = move_lead(out, loose)
                    inverse = back + inverse
    for (uid, scope, key), value in rig.settings.items():
        if uid == device.uid:
            for layer in rig_m.LAYERS:
                if getattr(value, layer) is not None:
                    change_back = {"op": "set_setting", "device": uid, "scope": scope, "key": key}
                    if key == INPUT_KEY:
                        change_back = {"op": "select_input", "device": uid, **({"output": scope} if scope else {})}
                    out, back = put_setting(out, layer, (uid, scope, key), None, change_back)
                    inverse = back + inverse
    for (uid, path), _fact in rig.facts.items():
        if uid == device.uid:
            out, back = set_fact(out, {"device": uid, "path": path, "value": None})
            inverse = back + inverse
    out = replace(out, devices=with_item(out.devices, device.uid, None))
    return out, [{"op": "add_device", "device": device_data(device)}, *inverse]
