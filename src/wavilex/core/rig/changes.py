"""Applying changes to a rig, each by its handler; what a change may say stands in rig/ops."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from typing import Any

from wavilex.core.errors import ChangeError
from wavilex.core.plain import PlainError, check
from wavilex.core.rig.edit_brief import (
    add_run,
    add_title,
    remove_run,
    remove_title,
    set_distance,
    set_run,
    set_style,
    set_survey,
    set_title,
    set_want,
)
from wavilex.core.rig.edit_common import Applied
from wavilex.core.rig.edit_facts import set_fact
from wavilex.core.rig.edit_gear import add_device, select_input, set_device, set_profile, set_setting
from wavilex.core.rig.edit_light import drop_light, note_light
from wavilex.core.rig.edit_removal import remove_device
from wavilex.core.rig.edit_seen import observe, take_back
from wavilex.core.rig.edit_wiring import (
    add_lead,
    found_as_planned,
    move_lead,
    remove_lead,
    replace_lead,
    swap_leads,
)
from wavilex.core.rig.model import Rig
from wavilex.core.rig.ops import KINDS, Change, read_change


def apply(rig: Rig, changes: Sequence[Mapping[str, Any]]) -> Applied:
    """Apply changes in order; all or none. Returns the new rig and the changes that undo them.

    Raises ChangeError (with `where` = `ops.N` and the word in it) for the first that cannot be applied.
    """
    inverse: list[Change] = []
    for number, data in enumerate(changes):
        try:
            check(data)
            change = read_change(data)
            rig, back = _HANDLERS[change["op"]](rig, change)
        except (ChangeError, PlainError) as error:
            place = f"ops.{number}" + (f".{error.where}" if error.where else "")
            raise ChangeError(error.message, where=place) from None
        inverse = back + inverse
    return rig, inverse


_HANDLERS: Mapping[str, Callable[[Rig, Any], Applied]] = {
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
    "set_run": set_run,
    "remove_run": remove_run,
    "add_title": add_title,
    "remove_title": remove_title,
    "set_style": set_style,
    "set_survey": set_survey,
    "set_distance": set_distance,
    "set_title": set_title,
    "observe": observe,
    "take_back": take_back,
    "note_light": note_light,
    "drop_light": drop_light,
}
assert set(_HANDLERS) == set(KINDS)
