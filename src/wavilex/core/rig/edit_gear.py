"""Changes of settings, input selection, devices and facts learned on site."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from typing import Any, get_args

from pydantic import ValidationError

from wavilex.core import refused
from wavilex.core.errors import ChangeError, WavilexError
from wavilex.core.fields import Provenance
from wavilex.core.gear.ports import Video
from wavilex.core.gear.profile import MOST_PEAK_CD_M2, Profile, profile_data, profile_digest, profile_from_data
from wavilex.core.gear.state import FactValue
from wavilex.core.rig.edit_cells import check_scope, fits
from wavilex.core.rig.edit_common import Applied, find_device, layer_of, need, new_uid, text_of, with_item
from wavilex.core.rig.model import (
    PEAK_FACT,
    PLAYS_FACT,
    SOUND_LAG_FACT,
    TRIED_FACT,
    Device,
    Rig,
    SettingKey,
    SettingValue,
)
from wavilex.core.rig.ops import (
    INPUT_KEY,
    AddDevice,
    DeviceData,
    LayerName,
    SelectInput,
    SetDevice,
    SetFact,
    SetProfile,
    SetSetting,
)

_DEVICE_TEXTS = ("label", "room", "firmware", "firmware_plan")
MOST_SOUND_LAG_MS = 5000
_PROVENANCE = get_args(Provenance)


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
    device = find_device(rig, change["device"])
    words: Mapping[str, Any] = dict(change)
    new: dict[str, Any] = {k: text_of(words[k], k, 60) for k in _DEVICE_TEXTS if k in words}
    need(new.get("label", "x").strip(), "a device needs a label")
    if "mark" in change:
        new["mark"] = change["mark"]
    back: SetDevice = {"op": "set_device", "device": device.uid}
    back.update({k: getattr(device, k) for k in new})  # type: ignore[typeddict-item]
    return replace(rig, devices={**rig.devices, device.uid: replace(device, **new)}), [back]


def set_fact(rig: Rig, change: SetFact) -> Applied:
    """Something learned here about a port's field; value None forgets it."""
    device, path, value = find_device(rig, change["device"]), change["path"], change["value"]
    parts = path.split(".")
    if path == PLAYS_FACT:
        need(value is None or isinstance(value, bool), "a box plays sound itself, true or false")
        return _put_fact(rig, device, path, value, change)
    if parts[0] == TRIED_FACT:
        known = len(parts) == 3 and device.profile.port(parts[1]) and len(parts[2]) <= 20
        need(known, f"what was tried is kept as {TRIED_FACT}.<port>.<multiple>, not {path!r}")
        need(value is None or isinstance(value, bool), "a multiple gave a picture, true or false")
        return _put_fact(rig, device, path, value, change)
    if path == SOUND_LAG_FACT:
        whole = isinstance(value, int) and not isinstance(value, bool) and 0 <= value <= MOST_SOUND_LAG_MS
        need(value is None or whole, f"sound comes 0 to {MOST_SOUND_LAG_MS} ms late, in whole ms")
        return _put_fact(rig, device, path, value, change)
    if path == PEAK_FACT:
        whole = isinstance(value, int) and not isinstance(value, bool) and 1 <= value <= MOST_PEAK_CD_M2
        need(value is None or whole, f"a screen's brightest white is 1 to {MOST_PEAK_CD_M2} cd/m², a whole number")
        need(device.profile.role == "screen", "only a screen has a brightest white")
        return _put_fact(rig, device, path, value, change)
    need(
        len(parts) == 3 and parts[0] == "ports" and device.profile.port(parts[1]) and parts[2] in Video.model_fields,
        f"a fact's path is ports.<port>.<one of {', '.join(Video.model_fields)}>, not {path!r}",
    )
    if value is not None:
        try:
            Video.model_validate({parts[2]: value})
        except ValidationError as error:
            raise ChangeError(f"{path} {refused.words(error.errors(include_url=False)[0])}") from None
    return _put_fact(rig, device, path, value, change)


def _put_fact(rig: Rig, device: Device, path: str, value: Any, change: SetFact) -> Applied:
    provenance = change.get("provenance", "measured_here")
    need(provenance in _PROVENANCE, f"provenance is one of {', '.join(_PROVENANCE)}")
    old = rig.facts.get((device.uid, path))
    back: SetFact = {"op": "set_fact", "device": device.uid, "path": path, "value": old.value if old else None}
    if old:
        back["provenance"] = old.provenance
    new = None if value is None else FactValue(value, provenance)
    return replace(rig, facts=with_item(rig.facts, (device.uid, path), new)), [back]


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
    return replace(rig, devices={**rig.devices, device.uid: new}), [back]


def _same_socket(device: Device, profile: Profile, port_id: str, lead: str) -> None:
    old, new = device.profile.port(port_id), profile.port(port_id)
    same = old and new and (old.direction, old.kind, old.plug) == (new.direction, new.kind, new.plug)
    need(
        same, f"lead {lead} is plugged into {old.label if old else port_id}, which this profile lacks or has otherwise"
    )
