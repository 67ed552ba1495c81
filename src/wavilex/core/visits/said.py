"""A change in words, as a logbook keeps it: what was done at which box, with the names people know."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from wavilex.core.gear.words import cell_words
from wavilex.core.light.words import cd
from wavilex.core.rig.learned import fact_words
from wavilex.core.rig.light_notes import UCD
from wavilex.core.rig.model import AFTER_UPDATE_FACT, KEPT_FACT, UPDATED_FACT, Device, Rig
from wavilex.core.rig.ops import Change, ObservationData, SocketData
from wavilex.core.rig.room_light import ROOM_FACT
from wavilex.core.rig.touched import asked
from wavilex.core.rig.visit_facts import AfterUpdate

MOST_SAID = 8  # changes of one step that are told one by one
_WHERE = {"found": "as found", "plan": "planned"}


def changes_said(rig: Rig, ops: Sequence[Change]) -> str:
    """What a step of a job's history did; `rig`: before it, or after where something was added."""
    told = list(dict.fromkeys(change_said(rig, op) for op in ops if not _only_doubt(op)))
    more = f"; and {len(told) - MOST_SAID} more" if len(told) > MOST_SAID else ""
    return "; ".join(told[:MOST_SAID]) + more


def _only_doubt(op: Change) -> bool:
    """Is it no more than that something is to be looked at?"""
    if op["op"] != "set_fact" or not op["path"].startswith(f"{AFTER_UPDATE_FACT}.") or op["value"] is None:
        return False
    seen = AfterUpdate.model_validate(op["value"])
    return not seen.stayed and not seen.came_back


def change_said(rig: Rig, op: Change) -> str:
    """One change in words."""
    match op["op"]:
        case "set_setting":
            device = rig.devices.get(op["device"])
            setting = device.profile.setting(op["key"]) if device else None
            if device is None or setting is None:
                return f"{op['device']}: {op['key']} → {op['value'] or 'not known'}"
            value = setting.option_label(op["value"]) if op["value"] else "not known"
            return f"{device.place(op.get('scope', ''))}: {setting.label} → {value}, {_layer(op.get('layer', 'plan'))}"
        case "select_input":
            device = rig.devices.get(op["device"])
            port = device.profile.port(op["value"] or "") if device else None
            shown = port.label if port else op["value"] or "nothing known"
            return f"{_box(rig, op['device'])}: shows {shown}, {_layer(op.get('layer', 'plan'))}"
        case "move_lead":
            return f"lead {_lead(rig, op['lead'])}: end {op['end']} to {_at(rig, op['to'])}, " + _layer(
                op.get("layer", "plan")
            )
        case "swap_leads":
            return f"leads {' and '.join(_lead(rig, x) for x in op['leads'])} changed places"
        case "found_as_planned":
            return f"lead {_lead(rig, op['lead'])} hangs as planned"
        case "add_lead":
            ends = op["lead"].get("plan") or op["lead"].get("found") or []
            return f"new lead {op['lead']['label']}: " + " to ".join(_at(rig, e) for e in ends)
        case "replace_lead" | "remove_lead":
            return f"lead {_lead(rig, op['lead'])}: {'taken away' if op['op'] == 'remove_lead' else asked(op)}"
        case "add_device":
            return f"new box {op['device'].get('label') or op['device']['profile'].get('model', op['device']['uid'])}"
        case "remove_device":
            return f"{_box(rig, op['device'])} taken away"
        case "set_device":
            words = {"firmware": "firmware", "firmware_plan": "firmware planned", "room": "room", "label": "name"}
            said = [f"{name} {op[key]}" for key, name in words.items() if op.get(key)]  # type: ignore[literal-required]
            return f"{_box(rig, op['device'])}: {', '.join(said) or 'changed'}"
        case "set_profile":
            return f"{_box(rig, op['device'])}: another profile"
        case "set_fact":
            device = rig.devices.get(op["device"])
            if device is None or op["value"] is None:
                return f"{_box(rig, op['device'])}: {op['path']} {'forgotten' if op['value'] is None else 'noted'}"
            return f"{device.label}: {_fact(device, op['path'], op['value'])}"
        case "observe":
            return observed_said(op["observation"])
        case "note_light":
            note = op["note"]
            device = rig.devices.get(note["device"])
            at = cell_words(device.profile, note.get("scope", "")) if device else ""
            light = note.get("figures", {}).get("luminance_ucd_m2")
            what = f"{cd(light / UCD)} cd/m²" if light is not None else note["kind"].replace("_", " ")
            return f"{_box(rig, note['device'])}{f', {at}' if at else ''}: {what}, light"
        case "add_run":
            return f"new run {op['run']['label']}"
        case "set_want" | "set_run" | "remove_run":
            run = rig.runs.get(op["run"])
            what = f"{op['key']} " if op["op"] == "set_want" else ""
            return f"run {run.label if run else op['run']}: {what}{'gone' if op['op'] == 'remove_run' else asked(op)}"
        case "add_title":
            return f"new title {op['title']['name']}"
        case _:
            return f"{op['op'].replace('_', ' ')}: {asked(op)}"


def _fact(device: Device, path: str, value: Any) -> str:
    """Something noted of a box; of this job's own as well."""
    kind, _, name = path.partition(".")
    if kind == UPDATED_FACT:
        return f"updated from {value.get('was') or 'an unknown version'} to {value['now']}"
    if kind == KEPT_FACT:
        setting = device.profile.setting(name)
        because = "; ".join(dict.fromkeys(cell["because"] for cell in value["cells"].values()))
        return f"{setting.label if setting else name} kept by the client’s hand: {because}"
    return "the light of its room" if kind == ROOM_FACT else fact_words(device.profile, path, value)


def observed_said(seen: ObservationData) -> str:
    """`Television, the banner of the input: resolution 2160p60, where 2160p120 was predicted`."""
    said = seen.get("observed") or ("as predicted" if seen["answer"] == "as_predicted" else "otherwise")
    predicted = seen.get("predicted")
    against = f", where {predicted} was predicted" if seen["answer"] == "differs" and predicted else ""
    return f"{seen['place']}: {seen['label']} {said}{against}"


def boxes_of(ops: Sequence[Change]) -> list[str]:
    """The boxes that changes are about, by uid."""
    found: list[str] = []
    for op in ops:
        data = {**op}
        for part in (data, data.get("observation"), data.get("note")):
            device = part.get("device") if isinstance(part, dict) else None
            found += [device] if isinstance(device, str) else [device["uid"]] if isinstance(device, dict) else []
        end = data.get("to")
        found += [end["device"]] if isinstance(end, dict) else []
    return list(dict.fromkeys(found))


def _layer(name: str) -> str:
    return _WHERE[name]


def _box(rig: Rig, uid: str) -> str:
    device = rig.devices.get(uid)
    return device.label if device else uid


def _lead(rig: Rig, uid: str) -> str:
    lead = rig.leads.get(uid)
    return lead.label if lead else uid


def _at(rig: Rig, end: SocketData | None) -> str:
    if end is None:
        return "loose"
    device = rig.devices.get(end["device"])
    port = device.profile.port(end["port"]) if device else None
    return f"{device.label} · {port.label}" if device and port else f"{end['device']} · {end['port']}"
