"""Changes of settings, input selection, and devices."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from typing import Any

from wavilex.core.errors import ChangeError, WavilexError
from wavilex.core.gear.profile import Profile, profile_data, profile_digest, profile_from_data
from wavilex.core.rig.edit_cells import check_scope, fits
from wavilex.core.rig.edit_common import Applied, find_device, layer_of, need, new_uid, text_of, with_item
from wavilex.core.rig.edit_facts import set_fact, without_strays
from wavilex.core.rig.model import Device, Rig, SettingKey, SettingValue
from wavilex.core.rig.ops import (
    INPUT_KEY,
    AddDevice,
    DeviceData,
    LayerName,
    SelectInput,
    SetDevice,
    SetProfile,
    SetSetting,
)
from wavilex.core.rig.visit_facts import update_noted

_DEVICE_TEXTS = ("label", "room", "firmware", "firmware_plan")


def set_setting(rig: Rig, change: SetSetting) -> Applied:
    layer, scope, key = layer_of(change), change.get("scope", ""), change["key"]
    device = find_device(rig, change["device"])
    setting = device.profile.setting(key)
    need(setting is not None, f"{device.label} has no setting {key!r}")
    assert setting is not None
    check_scope(device, setting, scope)
    value = change["value"]
    kept = setting.read(value) if value is not None else None
    need(value is None or kept is not None, f"{setting.label} can be {setting.choice_words}, not {value!r}")
    return put_setting(rig, layer, (device.uid, scope, key), kept)


def shown_at(rig: Rig, device: str, output: str = "") -> SettingValue:
    """What is kept of the input a box shows, in both layers."""
    return rig.settings.get((device, output, INPUT_KEY), SettingValue())


def put_setting(rig: Rig, layer: LayerName, place: SettingKey, value: str | None) -> Applied:
    """Keep a value, unchecked: a setting's, or the input a box shows."""
    device, scope, key = place
    old = rig.settings.get(place, SettingValue())
    new, before = replace(old, **{layer: value}), getattr(old, layer)
    after = replace(rig, settings=with_item(rig.settings, place, None if new == SettingValue() else new))
    if key == INPUT_KEY:
        shown: SelectInput = {"op": "select_input", "layer": layer, "device": device, "value": before}
        if scope:
            shown["output"] = scope
        return after, [shown]
    back: SetSetting = {
        "op": "set_setting", "layer": layer, "device": device, "scope": scope, "key": key, "value": before,
    }  # fmt: skip
    return after, [back]


def select_input(rig: Rig, change: SelectInput) -> Applied:
    layer, device, value = layer_of(change), find_device(rig, change["device"]), change["value"]
    output = change.get("output", "")
    need(
        not output or (device.profile.routing == "matrix" and device.profile.port(output) in device.profile.outputs()),
        f"{device.label} has no output {output!r} that chooses for itself",
    )
    need(
        value is None or value in [p.id for p in device.profile.inputs()],
        f"{device.label} has no input {value!r}",
    )
    return put_setting(rig, layer, (device.uid, output, INPUT_KEY), value)


def device_data(device: Device) -> DeviceData:
    """A device as plain data, profile included, the form `add_device` uses."""
    return {
        "uid": device.uid, "label": device.label, "room": device.room, "firmware": device.firmware,
        "firmware_plan": device.firmware_plan, "mark": device.mark, "profile": profile_data(device.profile),
    }  # fmt: skip


def add_device(rig: Rig, change: AddDevice) -> Applied:
    row = change["device"]
    uid = new_uid(rig.devices, row["uid"], "device")
    try:
        profile = profile_from_data(row["profile"])
    except WavilexError as error:
        raise ChangeError(f"the profile is not valid: {error}") from None
    label = text_of(row.get("label", ""), "label", 60) or profile.name
    room, firmware, planned = row.get("room", ""), row.get("firmware", ""), row.get("firmware_plan", "")
    mark = row.get("mark", "")
    device = Device(uid, label, profile, profile_digest(profile), room, firmware, planned, mark)
    return replace(rig, devices={**rig.devices, uid: device}), [{"op": "remove_device", "device": uid}]


def set_device(rig: Rig, change: SetDevice) -> Applied:
    """A box's own words. Another version where one was known is an update: that it was one is noted, and from which."""
    device = find_device(rig, change["device"])
    words: Mapping[str, Any] = dict(change)
    new: dict[str, Any] = {k: text_of(words[k], k, 60) for k in _DEVICE_TEXTS if k in words}
    need(new.get("label", "x").strip(), "a device needs a label")
    if "mark" in change:
        new["mark"] = change["mark"]
    back: SetDevice = {"op": "set_device", "device": device.uid}
    back.update({k: getattr(device, k) for k in new})  # type: ignore[typeddict-item]
    after = replace(rig, devices={**rig.devices, device.uid: replace(device, **new)})
    noted = update_noted(device, new.get("firmware", device.firmware))
    if noted is None:
        return after, [back]
    after, fact_back = set_fact(after, noted)
    return after, [back, *fact_back]


def set_profile(rig: Rig, change: SetProfile) -> Applied:
    """Another profile for a device: corrected, or of another type. What is plugged in or set must still be there."""
    device = find_device(rig, change["device"])
    try:
        profile = profile_from_data(change["profile"])
    except WavilexError as error:
        raise ChangeError(f"the profile is not valid: {error}") from None
    for lead in rig.leads.values():
        for socket in (*lead.found, *lead.plan):
            if socket is not None and socket.device == device.uid:
                _same_socket(device, profile, socket.port, lead.label)
    for uid, scope, key in rig.settings:
        if uid != device.uid:
            continue
        value = rig.settings[uid, scope, key]
        good = key == INPUT_KEY or fits(device, profile, scope, key, (value.found, value.plan))
        need(
            good, f"{device.label} has {key} noted{f' for {scope}' if scope else ''}, which this profile does not know"
        )
    for uid, path in rig.facts:
        port = path.split(".")[1] if path.startswith("ports.") else ""
        need(
            uid != device.uid or not port or profile.port(port),
            f"a fact is noted about socket {port}, which is not there",
        )
    for run in rig.runs.values():
        role = {run.source: "source", run.sink: "screen"}.get(device.uid)
        need(role is None or profile.role == role, f"run {run.label} needs {device.label} as a {role}")
    new = replace(device, profile=profile, profile_digest=profile_digest(profile))
    back: SetProfile = {"op": "set_profile", "device": device.uid, "profile": profile_data(device.profile)}
    out, lost = without_strays(replace(rig, devices={**rig.devices, device.uid: new}), device.uid)
    return out, [back, *lost]


def _same_socket(device: Device, profile: Profile, port_id: str, lead: str) -> None:
    old, new = device.profile.port(port_id), profile.port(port_id)
    same = old and new and (old.direction, old.kind, old.plug) == (new.direction, new.kind, new.plug)
    need(
        same, f"lead {lead} is plugged into {old.label if old else port_id}, which this profile lacks or has otherwise"
    )
