"""What a change writes, as paths, and what it would leave there: for undo, for two people at one job, for a choice."""

from __future__ import annotations

from collections.abc import Mapping

from wavilex.core.rig.ops import INPUT_KEY, Change, MoveLead, SelectInput, SetSetting, SwapLeads


def touched(change: Change) -> set[str]:
    """The paths a change writes. A path covers everything below it."""
    match change["op"]:
        case "set_setting":
            return {f"settings/{_layer(change)}/{change['device']}/{change.get('scope', '')}/{change['key']}"}
        case "select_input":
            return {_shown(_layer(change), change["device"], change.get("output", ""))}
        case "move_lead":
            return {f"leads/{change['lead']}/{_layer(change)}/{change['end']}"}
        case "swap_leads":
            ends = {f"leads/{x}/{_layer(change)}/{change['end']}" for x in change["leads"]}
            return ends | {_shown(_layer(change), s["device"], "") for s in change.get("select", ())}
        case "replace_lead":
            return {f"leads/{change['lead']}/{k}" for k in change if k not in ("op", "lead")}
        case "found_as_planned":
            return {f"leads/{change['lead']}/found"}
        case "set_fact":
            return {f"facts/{change['device']}/{change['path']}"}
        case "set_device":
            return {f"devices/{change['device']}/{k}" for k in change if k not in ("op", "device")}
        case "set_profile":
            return {f"devices/{change['device']}/profile"}
        case "set_want":
            return {f"runs/{change['run']}/want/{change['key']}"}
        case "set_style":
            owner = "" if change["level"] == "job" else f"{change['level']}s/{change.get('uid')}/"
            return {f"{owner}style/{change['key']}"}
        case "set_survey":
            return {f"survey/{change['key']}"}
        case "set_distance":
            return {f"distances/{' to '.join(sorted(change['rooms']))}"}
        case "set_title":
            return {"title"}
        case "add_lead":
            return {f"leads/{change['lead']['uid']}"}
        case "remove_lead":
            return {f"leads/{change['lead']}"}
        case "add_device":
            return {f"devices/{change['device']['uid']}"}
        case "remove_device":
            return {f"devices/{change['device']}"}
        case "add_run":
            return {f"runs/{change['run']['uid']}"}
        case "set_run":
            return {f"runs/{change['run']}/{k}" for k in change if k not in ("op", "run")}
        case "remove_run":
            return {f"runs/{change['run']}"}
        case "add_title":
            return {f"titles/{change['title']['uid']}"}
        case "remove_title":
            return {f"titles/{change['title']}"}
        case "observe":
            return {f"observations/{change['observation']['uid']}"}
        case "take_back":
            return {f"observations/{change['observation']}"}
        case "note_light":
            return {f"light/{change['note']['uid']}"}
        case "drop_light":
            return {f"light/{change['note']}"}


def _layer(change: SetSetting | SelectInput | MoveLead | SwapLeads) -> str:
    return change.get("layer", "plan")


def _shown(layer: str, device: str, output: str) -> str:
    return f"settings/{layer}/{device}/{output}/{INPUT_KEY}"


def asked(change: Change) -> str:
    """What a change would leave there, in short, for a choice between two versions."""
    words: Mapping[str, object] = {**change}
    key = next((k for k in ("value", "to", "grade", "label", "length_mm", "leads") if k in words), "op")
    value = words[key]
    if value is None:
        return "nothing"
    if isinstance(value, dict):
        return " · ".join(str(v) for v in value.values())
    if isinstance(value, list):
        return " and ".join(str(v) for v in value)
    if isinstance(value, bool):
        return "yes" if value else "no"
    return str(value)


def overlapping(a: set[str], b: set[str]) -> set[str]:
    """The paths of `a` that a path of `b` covers or lies below."""
    return {x for x in a for y in b if x == y or x.startswith(y + "/") or y.startswith(x + "/")}
