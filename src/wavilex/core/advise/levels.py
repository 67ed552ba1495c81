"""Start values for the numbers of a picture menu: light, contrast, black level, colour, sharpness.

Common practice, and no more than a start: nothing here was measured. A screen's neutral points come from its profile;
the light of a room is found with a meter.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from decimal import Decimal

from wavilex.core.gear.cells import REST, Spot
from wavilex.core.gear.setting import NUMBER_EFFECTS, Setting, Span
from wavilex.core.light.aim import aimed
from wavilex.core.light.readings import Cell, panel_light, scope_at
from wavilex.core.light.room import BANDS, Time
from wavilex.core.rig.model import Device, Rig
from wavilex.core.rig.room_light import RoomIs


@dataclass(frozen=True, slots=True)
class Start:
    """A value to begin with, why, and what kind of knowledge that is. firm: measured; it goes before what was found."""

    value: str
    why: str
    source: str
    firm: bool = False


def _asks(light: RoomIs) -> str:
    low, high = BANDS[light]
    return f"a {light} room asks for {low} to {high} cd/m²"


# share of the range, by look, in standard range: own figures, chosen to be turned up or down from
_LIGHT_SHARE: Mapping[str, tuple[int, str]] = {
    "accurate": (30, f"{_asks('dark')}: turn it from here with a meter on white"),
    "vivid": (60, "brighter than a dark room asks for, by house style: turn it from here"),
    "bright_room": (100, f"{_asks('bright')}: turn it down from here with a meter on white"),
}
_NEUTRAL_WHY: Mapping[str, str] = {
    "contrast": "its neutral point: white is white, and nothing above it is lost",
    "black_level": "its neutral point: black is black, and the step above it is seen",
    "saturation": "its neutral point: colours as the title means them",
    "tint": "its neutral point: skin neither green nor red",
    "sharpness": "its neutral point: nothing is drawn beside edges; it differs from screen to screen",
}
assert {*_NEUTRAL_WHY, "panel_light"} == set(NUMBER_EFFECTS)


def start_of(setting: Setting, dynamic_range: str, look: str) -> Start | None:
    """A number to begin with in a dynamic range, by the house style's look; None where nobody knows one."""
    number = setting.number
    if number is None or setting.effect is None:
        return None
    if setting.effect == "panel_light":
        return _light(number, dynamic_range, look)
    if number.neutral is None:
        return None
    return Start(number.nearest(number.neutral), _NEUTRAL_WHY[setting.effect], "common practice")


def measured(rig: Rig, device: Device, spot: Spot, setting: Setting, time: Time) -> Start | None:
    """The panel light that gives standard range at a spot what the room asks at a time; None where it was not read."""
    if setting is not panel_light(device) or spot.range != REST:
        return None
    aim = aimed(rig, Cell(device.uid, scope_at(device, spot)), time)
    if aim is None or aim.value is None:
        return None
    return Start(aim.value, f"{aim.said}; {aim.target.why}", "measured here", firm=True)


def _light(number: Span, dynamic_range: str, look: str) -> Start:
    if dynamic_range not in ("", REST):
        most = number.nearest(number.to)
        return Start(most, "HDR highlights need all the light there is; the title says how bright", "common practice")
    share, why = _LIGHT_SHARE[look]
    value = number.from_ + (number.to - number.from_) * Decimal(share) / 100
    return Start(number.nearest(value), why, "a guess")
