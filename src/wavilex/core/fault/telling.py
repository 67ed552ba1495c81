"""The settings of a box on which anything hangs that can be read, seen or felt."""

from __future__ import annotations

from wavilex.core.gear.profile import EdidBySetting, HomeRate, Profile
from wavilex.core.gear.quirks import AddsLag, Dims, Excludes, Forces, Limits, Requires, Shows
from wavilex.core.gear.setting import Setting

_FELT_EFFECTS = ("game_mode", "room_light", "overscan", "variable_refresh", "high_rate", "uhd_output", "hdr")


def telling(profile: Profile) -> tuple[Setting, ...]:
    """In the order of the profile."""
    found = {s.id for s in profile.settings if s.effect in _FELT_EFFECTS}
    for q in profile.quirks:
        if isinstance(q, Limits | Shows | AddsLag | Dims) and q.when is not None:
            found |= q.when.settings()
    for part in (profile.home_hz, profile.edid):
        if isinstance(part, HomeRate | EdidBySetting):
            found.add(part.setting)
    for name in (
        profile.converts.output if profile.converts else None, profile.converts.fit if profile.converts else None,
        profile.shown_as.fit if profile.shown_as else None, profile.draws.fit if profile.draws else None,
    ):  # fmt: skip
        if name is not None:
            found.add(name)
    for _ in profile.settings:  # and those that these hang on
        acting = (q for q in profile.quirks if isinstance(q, Requires | Excludes | Forces) and q.setting in found)
        more = {name for q in acting for name in q.when.settings()}
        if more <= found:
            break
        found |= more
    return tuple(s for s in profile.settings if s.id in found)
