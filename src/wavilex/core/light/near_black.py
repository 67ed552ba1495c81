"""Near black: from which 8-bit step on shadows are seen, and which control raises drowned ones.

Common practice: steps 2 to 4 of 255 above black are just seen in a dark room; more than that drowned is crushed.
"""

from __future__ import annotations

from dataclasses import dataclass

from wavilex.core.light.codes import Levels, mismatch
from wavilex.core.rig.model import Device

GOOD_STEP = 4
_UNKNOWN_LEVELS = "the levels of source and screen may differ"


@dataclass(frozen=True, slots=True)
class Control:
    """A thing to change, in the order to try: what to do, what it does elsewhere. setting: its id, "" for none."""

    setting: str
    do: str
    elsewhere: str


def judged(first_step: int, levels: tuple[Levels, Levels] | None = None) -> str:
    """What a first visible step says, in a line."""
    if first_step == 0:
        return "Black itself is grey: step 0 is told from the ground"
    if first_step <= GOOD_STEP:
        return f"Step {first_step} is the first seen: shadows are there"
    off = mismatch(*levels) if levels else None
    if off is not None:
        return f"Steps below {first_step} drown, and the levels of the two ends differ: {off.looks}"
    return f"Steps below {first_step} drown"


def controls(device: Device, first_step: int, *, hdr: bool, levels_differ: bool | None) -> list[Control]:
    """What to try on a screen, the least harmful first; none where shadows are seen as they should."""
    if 0 < first_step <= GOOD_STEP:
        return []
    at = {s.effect: s for s in device.profile.settings if s.effect}
    out = []
    if levels_differ is not False:
        at_levels = at.get("quantisation")
        why = "the two ends mean different levels" if levels_differ else _UNKNOWN_LEVELS
        out.append(Control(
            at_levels.id if at_levels else "", "set limited or full alike at both ends",
            f"{why}; nothing else moves once they agree"))  # fmt: skip
    if first_step == 0:
        if "black_level" in at:
            out.append(Control(at["black_level"].id, f"{at['black_level'].label} down, step by step, until step 0 goes",
                               "darkens every shadow a little; too far drowns them"))  # fmt: skip
        return out
    balance = next((s for s in device.profile.settings if s.copies == "unit"), None)
    out.append(Control(
        balance.id if balance else "", "the lowest step of the white balance up a little, red, green and blue alike",
        "near black only; white and the middle stay; it is this unit’s own"))  # fmt: skip
    if "black_level" in at:
        out.append(Control(at["black_level"].id, f"{at['black_level'].label} up a step",
                           "raises black itself: a dark room sees it grey"))  # fmt: skip
    if "shadow_lift" in at:
        what = "HDR too" if hdr else "standard range only where it is kept apart"
        out.append(Control(at["shadow_lift"].id, f"{at['shadow_lift'].label} low",
                           f"lifts the lower third of the picture ({what}); noise comes with it"))  # fmt: skip
    return out
