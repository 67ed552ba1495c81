"""What light a room asks of a screen's white: by day and in the evening, by house style. Common practice.

A dark room asks for 100 to 200 cd/m², a bright one for 400 to 600. Between them, and which end of a range, are figures
of our own. What nobody said of a room is guessed from the survey's words, and marked so.
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from typing import Literal

from wavilex.core.rig.model import Device, Rig
from wavilex.core.rig.room_light import ROOM_FACT, RoomIs, RoomLight
from wavilex.core.rig.style import followed

Time = Literal["day", "night"]
TIMES: tuple[Time, Time] = ("night", "day")
LIGHTS: dict[RoomIs, str] = {"dark": "dark", "lit": "lamps on", "bright": "bright"}
BANDS: dict[RoomIs, tuple[int, int]] = {"dark": (100, 200), "lit": (200, 400), "bright": (400, 600)}
_NEAR_MM = 1200  # a seat nearer than that looks into a large bright field: the lower end
_DAYLIGHT = re.compile(r"window|daylight|sun|bright|glare|conservatory", re.IGNORECASE)
_NONE = re.compile(r"(without|no|never any)\s+(daylight|window|sun)|dark|cellar|blackout", re.IGNORECASE)


@dataclass(frozen=True, slots=True)
class Target:
    """Light of white asked for at a time, in cd/m²: a range, and where in it to aim. guess: the room's light is."""

    time: Time
    light: RoomIs
    low: int
    high: int
    aim: int
    why: str
    guess: bool


def room_light(rig: Rig, device: Device) -> RoomLight:
    """What somebody noted of the light a screen stands in; empty where nobody did."""
    fact = rig.facts.get((device.uid, ROOM_FACT))
    return RoomLight.model_validate(fact.value) if fact is not None else RoomLight()


def target(rig: Rig, device: Device, time: Time) -> Target:
    """The light of white a screen is set to at a time."""
    noted = room_light(rig, device)
    here = noted.day if time == "day" else noted.night
    light, why, guess = (here, f"{LIGHTS[here]}, as noted of this room", False) if here else _guessed(rig, device, time)
    look = followed(rig.style)["look"].school
    if look == "bright_room" and not here:
        light, why, guess = "bright", "house style: for a bright room", False
    low, high = BANDS[light]
    aim = (low + high) // 2
    if look == "vivid":
        aim, why = high, f"{why}; house style vivid: the upper end"
    elif noted.glare and time == "day":
        aim, why = high, f"{why}; light falls on the glass: the upper end"
    elif noted.seat_mm is not None and noted.seat_mm < _NEAR_MM:
        aim, why = low + (high - low) // 4, f"{why}; a seat {noted.seat_mm / 1000:g} m away: the lower part"
    return Target(time, light, low, high, aim, f"{why}; {low} to {high} cd/m² (common practice)", guess)


def _guessed(rig: Rig, device: Device, time: Time) -> tuple[RoomIs, str, bool]:
    """From the survey's words on light: the sentence that names the room, or the only one there is."""
    if time == "night":
        return "dark", "in the evening it is taken for dark: nobody noted it", True
    said = rig.survey.get("light", "")
    parts = [p.strip() for p in re.split(r"[.;\n]", said) if p.strip()]
    room = device.room.lower()
    own = [p for p in parts if room and room.split()[0] in p.lower()] or (parts if len(parts) == 1 else [])
    for part in own:
        if _NONE.search(part):
            return "dark", f"“{part}” is taken for dark", True
        if _DAYLIGHT.search(part):
            return "bright", f"“{part}” is taken for bright by day", True
    return "lit", "by day it is taken for lit: nobody noted the light of this room", True
