"""The one grammar of changes: every edit, try, fix and undo is a list of these.

Each change is a flat mapping with `op` and its words. `apply` gives the new rig and the inverse list;
`touched` gives the paths a change writes, so that two edits clash only where they overlap.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any

from wavilex.core.errors import ChangeError
from wavilex.core.rig.edit_brief import (
    add_run,
    add_title,
    remove_run,
    remove_title,
    set_style,
    set_survey,
    set_title,
    set_want,
)
from wavilex.core.rig.edit_common import Applied, Change
from wavilex.core.rig.edit_gear import add_device, select_input, set_device, set_fact, set_profile, set_setting
from wavilex.core.rig.edit_removal import remove_device
from wavilex.core.rig.edit_wiring import (
    CABLE_KEYS,
    add_lead,
    found_as_planned,
    move_lead,
    remove_lead,
    replace_lead,
    swap_leads,
)
from wavilex.core.rig.model import INPUT_KEY, Rig


def apply(rig: Rig, changes: Sequence[Change]) -> Applied:
    """Apply changes in order; all or none. Returns the new rig and the changes that undo them.

    Raises ChangeError (with `where` = `ops.N`) for the first that cannot be applied.
    """
    inverse: list[dict[str, Any]] = []
    for number, change in enumerate(changes):
        op = change.get("op")
        handler = _OPS.get(str(op))
        if handler is None:
            raise ChangeError(f"{op!r} is no change; one of {', '.join(_OPS)}", where=f"ops.{number}")
        try:
            rig, back = handler(rig, change)
        except ChangeError as error:
            raise ChangeError(error.message, where=f"ops.{number}") from None
        except (KeyError, TypeError, ValueError) as error:
            raise ChangeError(f"{op} lacks or misuses {error}", where=f"ops.{number}") from None
        inverse = back + inverse
    return rig, inverse


def touched(change: Change) -> set[str]:
    """The paths a change writes. A path covers everything below it."""
    op, get = change["op"], change.get
    layer = get("layer", "plan")
    if op in ("set_setting", "select_input"):
        return {f"settings/{layer}/{get('device')}/{get('scope', get('output', ''))}/{get('key', INPUT_KEY)}"}
    if op == "move_lead":
        return {f"leads/{get('lead')}/{layer}/{get('end')}"}
    if op == "swap_leads":
        ends = {f"leads/{x}/{layer}/{get('end')}" for x in get("leads", ())}
        selections = {f"settings/{layer}/{s.get('device')}//{INPUT_KEY}" for s in get("select", ())}
        return ends | selections
    if op == "replace_lead":
        return {f"leads/{get('lead')}/{k}" for k in (*CABLE_KEYS, "label") if k in change}
    if op == "found_as_planned":
        return {f"leads/{get('lead')}/found"}
    if op == "set_fact":
        return {f"facts/{get('device')}/{get('path')}"}
    if op == "set_want":
        return {f"runs/{get('run')}/want/{get('key')}"}
    if op == "set_survey":
        return {f"survey/{get('key')}"}
    if op == "set_device":
        return {f"devices/{get('device')}/{k}" for k in ("label", "room", "firmware", "firmware_plan") if k in change}
    if op == "set_profile":
        return {f"devices/{get('device')}/profile"}
    if op == "set_title":
        return {"title"}
    if op == "set_style":
        level = get("level")
        owner = "" if level == "job" else f"{level}s/{get('uid')}/"
        return {f"{owner}style/{get('key')}"}
    kind = op.partition("_")[2]
    row = get(kind, get("uid"))
    return {f"{kind}s/{row if isinstance(row, str) else (row or {}).get('uid')}"}


def overlapping(a: set[str], b: set[str]) -> set[str]:
    """The paths of `a` that a path of `b` covers or lies below."""
    return {x for x in a for y in b if x == y or x.startswith(y + "/") or y.startswith(x + "/")}


_OPS: dict[str, Callable[[Rig, Change], Applied]] = {
    "set_setting": set_setting,
    "select_input": select_input,
    "move_lead": move_lead,
    "swap_leads": swap_leads,
    "replace_lead": replace_lead,
    "found_as_planned": found_as_planned,
    "add_lead": add_lead,
    "remove_lead": remove_lead,
    "add_device": add_device,
    "remove_device": remove_device,
    "set_device": set_device,
    "set_fact": set_fact,
    "set_profile": set_profile,
    "set_want": set_want,
    "add_run": add_run,
    "remove_run": remove_run,
    "add_title": add_title,
    "remove_title": remove_title,
    "set_style": set_style,
    "set_survey": set_survey,
    "set_title": set_title,
}
OPS = tuple(_OPS)
