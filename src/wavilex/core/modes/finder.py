"""Where an effect usually hides on a screen nobody has profiled: families of places and words, and what shows it.

People search by effect, since every maker calls it something else. All of it common practice, in our own words;
what was found there becomes a setting of the screen's profile.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from wavilex.core.errors import ChangeError
from wavilex.core.gear.profile import Profile, profile_data
from wavilex.core.modes.shapes import SoughtOut


@dataclass(frozen=True, slots=True)
class Hideout:
    """One family of places: where, and what kind of words to look for there."""

    place: str
    words: str


@dataclass(frozen=True, slots=True)
class Sought:
    """An effect: where it hides, likeliest first; what you should see when it is found; what it may be hidden by."""

    id: str
    title: str
    effect: str | None
    hideouts: tuple[Hideout, ...]
    see: str
    if_absent: str
    options: tuple[str, ...] = ("off", "on")
    per_socket: bool = False
    shut: Mapping[str, Any] | None = None  # what its sockets are held to while it stands at its first option
    shut_because: str = ""


_BASIC = {"tmds_mhz": 300, "frl": "none", "hdr": [], "encodings": {e: [8] for e in ("rgb", "444", "422", "420")}}
SOUGHT = (
    Sought("full_rate", "open an input’s full rate", None, (
        Hideout("the list of inputs, one line for each", "format, signal, bandwidth, generation"),
        Hideout("the system or general page, connected boxes", "the HDMI generation, or a depth of colour"),
        Hideout("the input’s own menu while its console is shown", "an expert or advanced line"),
    ), "The picture drops for a moment, and the source’s list grows",
        "Try the other numbered sockets: on many screens only one or two have it", ("basic", "wide"), True,
        _BASIC, "basic formats commonly stop at 9 Gb/s and take no HDR"),
    Sought("game_mode", "lowest lag", "game_mode", (
        Hideout("the picture presets", "a preset for games"),
        Hideout("the general or external-devices page", "an automatic switch for games, low latency"),
        Hideout("the input’s label or icon", "naming the input a game box or a computer"),
    ), "The picture turns plainer, and the pointer or hero follows the hand at once",
        "Is the console’s input shown, and does anything grey it out?", ("off", "on"), True),
    Sought("variable_refresh", "variable refresh", "variable_refresh", (
        Hideout("the game panel, often a key of its own in game mode", "variable, adaptive, sync"),
        Hideout("the input’s format line", "the widest format may bring it"),
        Hideout("a monitor’s gaming page", "adaptive sync"),
    ), "The source lists it as available", "It may need the full rate first, or newer firmware",
        shut={"vrr": False}, shut_because="no window is offered while variable refresh is off"),
    Sought("no_overscan", "no overscan", None, (
        Hideout("the aspect or picture-size page", "unscaled, every pixel, one to one"),
        Hideout("the advanced picture page", "overscan, edge"),
    ), "The test picture’s outermost line shows on all four sides", "Every input and resolution may keep its own"),
    Sought("full_chroma", "sharp coloured text (4:4:4)", None, (
        Hideout("the input’s label or icon", "naming the input a computer"),
        Hideout("the picture presets", "a preset for computers or graphics"),
    ), "One-pixel coloured lines stay apart", "It resets other picture settings: do it first"),
    Sought("interpolation", "no motion interpolation", "interpolation", (
        Hideout("the picture page, motion or clarity", "motion, judder and blur sliders"),
        Hideout("the game panel", "interpolation for games"),
    ), "Pans stutter a little and ghosts are gone", "Game mode often turns it off by itself"),
    Sought("black_frames", "black-frame insertion", "black_frames", (
        Hideout("the picture page, motion", "blur reduction, dark frames"),
    ), "Darker, and moving edges are clean", "Commonly 60 Hz only, and not with variable refresh"),
    Sought("same_brightness", "brightness that stays put", None, (
        Hideout("the energy or eco page", "saving, ambient light, adaptive brightness"),
        Hideout("the picture page, brightness", "light sensor, automatic"),
    ), "A white window keeps its brightness when your hand covers the frame",
        "It may come back at every start of game mode"),
)  # fmt: skip
_ANSWERS = ("found", "absent", "inert")


def sought_data() -> list[SoughtOut]:
    """Every effect one can look for, as plain data."""
    return [
        {
            "id": s.id, "title": s.title, "see": s.see, "if_absent": s.if_absent,
            "hideouts": [{"place": h.place, "words": h.words} for h in s.hideouts],
        }
        for s in SOUGHT
    ]  # fmt: skip


def learn(profile: Profile, sought_id: str, answer: str, label: str, where: str) -> dict[str, Any]:
    """The profile's data with what the finder found written in. Raises ChangeError for a strange answer.

    found: a setting by that name and place, with what it holds its sockets to while it is off. inert: the setting, and
    a quirk that says it does nothing here.
    absent: the profile stays as it is.
    """
    sought = next((s for s in SOUGHT if s.id == sought_id), None)
    if sought is None or answer not in _ANSWERS:
        raise ChangeError(f"the finder takes {', '.join(_ANSWERS)} for one of {', '.join(s.id for s in SOUGHT)}")
    data = profile_data(profile)
    if answer == "absent":
        return data
    settings = [s for s in data.get("settings", []) if s["id"] != sought.id]
    row: dict[str, Any] = {
        "id": sought.id, "label": label.strip()[:60] or sought.title, "default": sought.options[0],
        "options": [{"id": o, "label": o} for o in sought.options], "where": where.strip()[:160],
    }  # fmt: skip
    if sought.per_socket:
        row["ports"] = [p.id for p in profile.inputs()]
    if sought.effect:
        row["effect"] = sought.effect
    data["settings"] = [*settings, row]
    quirk_id = f"{sought.id}-shut"[:40]
    data["quirks"] = [q for q in data.get("quirks", []) if q["id"] != quirk_id]
    if sought.shut is not None and answer == "found":
        shut = {
            "id": quirk_id, "kind": "limits", "when": {"setting": sought.id, "is": sought.options[0]},
            "limits": dict(sought.shut), "because": sought.shut_because, "source": "common_practice",
        }  # fmt: skip
        data["quirks"] = [*data["quirks"], {**shut, "ports": row["ports"]} if sought.per_socket else shut]
    if answer == "inert":
        last = sought.options[-1]
        quirk = {
            "id": f"{sought.id}-inert"[:40], "kind": "inert", "setting": sought.id, "options": [last],
            "when": {"setting": sought.id, "is": last}, "because": "looked at here: it does nothing",
            "source": "measured_here",
        }  # fmt: skip
        data["quirks"] = [*data.get("quirks", []), quirk]
    return data
