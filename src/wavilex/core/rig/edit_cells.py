"""Whether a value may be kept at a scope: the cell is one its setting has, and the value one it takes."""

from __future__ import annotations

import re

from wavilex.core.errors import ChangeError
from wavilex.core.gear.cells import RANGES, Spot, read_scope, said_by
from wavilex.core.gear.profile import Profile
from wavilex.core.gear.setting import Setting
from wavilex.core.rig.edit_common import need
from wavilex.core.rig.model import Device

_RESOLUTION = re.compile(r"[1-9]\d{1,4}x[1-9]\d{1,4}", re.ASCII)
_RATE = re.compile(r"[1-9]\d{0,2}", re.ASCII)
BY_WORDS = {
    "input": "input", "range": "dynamic range", "mode": "picture preset", "resolution": "resolution", "rate": "rate",
}  # fmt: skip


def check_scope(device: Device, setting: Setting, scope: str) -> None:
    """Raises ChangeError where the setting is kept otherwise, or the cell is none of the box's."""
    try:
        spot, said = read_scope(scope), said_by(scope)
    except ValueError as error:
        raise ChangeError(f"{setting.label} on {device.label}: {error}", where="scope") from None
    by = setting.dimensions
    kept = f"per {', '.join(BY_WORDS[d] for d in by)}" if by else "once for the whole box"
    need(said == by, f"{setting.label} on {device.label} is kept {kept}, which {scope or 'no cell'!r} does not say")
    fault = _fault(device.profile, setting, spot)
    need(not fault, f"{setting.label} on {device.label}: {fault}")


def _fault(profile: Profile, setting: Setting, spot: Spot) -> str:
    """What is wrong with a cell; "" where nothing is."""
    presets = [o.id for o in profile.preset.options] if profile.preset is not None else []
    if spot.input and spot.input not in setting.ports:
        return f"it is not kept for {spot.input!r}; for {', '.join(setting.ports)}"
    if spot.range and spot.range not in RANGES:
        return f"{spot.range!r} is no dynamic range; one of {', '.join(RANGES)}"
    if spot.mode and spot.mode not in presets:
        return f"{spot.mode!r} is none of its picture presets; one of {', '.join(presets)}"
    if spot.resolution and not _RESOLUTION.fullmatch(spot.resolution):
        return f"{spot.resolution!r} is no resolution like 3840x2160"
    return f"{spot.rate!r} is no rate in whole Hz" if spot.rate and not _RATE.fullmatch(spot.rate) else ""


def fits(device: Device, profile: Profile, scope: str, key: str, values: tuple[str | None, ...]) -> bool:
    """Would a profile know the values kept at a scope?"""
    setting = profile.setting(key)
    if setting is None:
        return False
    try:
        check_scope(Device(device.uid, device.label, profile, ""), setting, scope)
    except ChangeError:
        return False
    return all(v is None or setting.read(v) == v for v in values)
