"""Where an effect usually hides on a box nobody has profiled: families of places and words, and what shows it.

People search by effect, since every maker calls it something else. All of it common practice, in our own words;
what was found there becomes a setting of the box's profile.
"""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from wavilex.core.errors import ChangeError
from wavilex.core.gear.profile import Profile, Role, profile_data
from wavilex.core.gear.setting import EFFECT_OPTIONS
from wavilex.core.modes.shapes import SoughtOut


@dataclass(frozen=True, slots=True)
class Hideout:
    """One family of places: where, and what kind of words to look for there."""

    place: str
    words: str


@dataclass(frozen=True, slots=True)
class Sought:
    """An effect: where it hides, likeliest first; what you should see when it is found; what it may be hidden by.

    options: the steps it mostly has; usual: at which of them boxes mostly leave the factory, "" the first;
    roles: the boxes that may have it.
    """

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
    roles: tuple[Role, ...] = ("screen",)
    usual: str = ""

    @property
    def steps(self) -> tuple[str, ...]:
        """The steps it may have, where its effect knows them; () where it may have any."""
        return EFFECT_OPTIONS.get(self.effect or "", ())


_BASIC = {"tmds_mhz": 300, "frl": "none", "hdr": [], "encodings": {e: [8] for e in ("rgb", "444", "422", "420")}}
SOUGHT = (
    Sought("full_rate", "open an input’s full rate", None, (
        Hideout("the list of inputs, one line for each", "format, signal, bandwidth, generation"),
        Hideout("the system or general page, connected boxes", "the HDMI generation, or a depth of colour"),
        Hideout("the input’s own menu while its console is shown", "an expert or advanced line"),
    ), "The picture drops for a moment, and the source’s list grows",
        "Try the other numbered sockets: on many screens only one or two have it", ("basic", "wide"), True,
        _BASIC, "basic formats commonly stop at 9 Gb/s and take no HDR", ("screen", "repeater")),
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
    Sought("high_rate", "send 120 Hz", "high_rate", (
        Hideout("the video output page, beside the resolution", "120, fast refresh, a line to allow it"),
        Hideout("a list of what the screen can do", "a line that is crossed out says what is missing"),
    ), "The list of what it can send grows by the 120 lines",
        "It may show only after the screen’s input is opened and the source restarted", roles=("source",)),
    Sought("uhd_output", "send 4K", "uhd_output", (
        Hideout("the video output page", "resolution, automatic or fixed"),
    ), "The screen’s banner says 2160", "Fixed at 1080? Set it to automatic first", roles=("source",),
        usual="on"),
    Sought("hdr", "send HDR", "hdr", (
        Hideout("the video output page", "HDR: off, on, when the title has it"),
        Hideout("the HDR set-up, a page of its own", "adjust, calibrate"),
    ), "The screen’s banner says HDR in an HDR title", "The screen’s input may have to be opened first",
        ("off", "auto", "on"), roles=("source",), usual="on"),
    Sought("vary", "variable refresh", "variable_refresh", (
        Hideout("the video output page", "variable, adaptive, sync"),
        Hideout("the driver’s display page of a PC", "adaptive sync, for windows or full screen"),
    ), "The screen’s counter moves with the title", "It may be greyed out until the screen’s input is opened",
        shut={"vrr": False}, shut_because="it varies nothing while that is off", roles=("source",)),
    Sought("quantisation", "full or limited range", "quantisation", (
        Hideout("the video output page", "RGB range, black level, levels"),
        Hideout("the driver’s display page of a PC", "output dynamic range"),
    ), "The step just above black is seen, and black is black", "Many sources have it only while RGB is sent",
        ("auto", "limited", "full"), roles=("source",)),
    Sought("depth", "bits of a colour", None, (
        Hideout("the video output page", "deep colour, depth, bits"),
        Hideout("the driver’s display page of a PC", "output colour depth"),
    ), "The screen’s banner, or the receiver’s, names the bits", "A receiver on the way may hold it to 8",
        ("8 bits", "10 bits", "12 bits"), roles=("source",)),
    Sought("sound_out", "what is sent as sound", None, (
        Hideout("the sound output page", "format: linear, bitstream, automatic"),
        Hideout("the list of boxes that play sound", "the box that is to play it"),
    ), "The box that plays it names the format", "A screen on the way may pass two channels only",
        ("automatic", "linear", "bitstream"), roles=("source",)),
    Sought("processing", "a picture passed on untouched", "processing", (
        Hideout("the video or HDMI page", "scaling, upscaling, processing, through"),
        Hideout("the input’s own page", "video mode"),
    ), "Its read-out says the same in and out", "Some boxes touch it only while they show a menu",
        ("off", "auto"), roles=("repeater",)),
    Sought("sound_delay", "sound in step with the picture", None, (
        Hideout("the sound page", "delay, lip sync, automatic"),
        Hideout("a key of the remote", "sync"),
    ), "Lips and words meet", "It can only wait: sound that is late stays late",
        ("automatic", "by hand"), roles=("repeater", "sound")),
    Sought("night", "night sound off", None, (
        Hideout("the sound page", "night, volume levelling, compression"),
        Hideout("a key of the remote", "night"),
    ), "Quiet steps stay quiet", "It may come back with every sound mode", roles=("repeater", "sound")),
    Sought("sound_mode", "sound as it is sent", None, (
        Hideout("a key of the remote", "straight, direct, standard; against surround by guess"),
    ), "Its display names the format that is sent", "Some keep a mode for each input",
        ("as sent", "surround", "by itself"), roles=("repeater", "sound")),
    Sought("device_control", "boxes steering each other", "device_control", (
        Hideout("the general or HDMI page", "control, link, a name of the maker’s own"),
    ), "Switching one box on wakes the others", "It may be on in one box and off in the next: look at both",
        roles=("source", "repeater", "screen", "sound")),
    Sought("standby", "passed on while it sleeps", None, (
        Hideout("the HDMI or power page", "standby, through, energy"),
    ), "The picture comes while its lamp is out", "With saving on it may be greyed out", roles=("repeater", "sound")),
)  # fmt: skip
_ANSWERS = ("found", "absent", "inert")


def sought_data(role: Role = "screen") -> list[SoughtOut]:
    """Every effect one can look for on a box of a role, as plain data."""
    return [
        {
            "id": s.id, "title": s.title, "steps": list(s.options),
            "known_steps": [{"id": k, "name": k.replace("_", " ")} for k in s.steps],
            "stands": s.usual or s.options[0], "see": s.see, "if_absent": s.if_absent,
            "hideouts": [{"place": h.place, "words": h.words} for h in s.hideouts],
        }
        for s in SOUGHT if role in s.roles
    ]  # fmt: skip


def _options(sought: Sought, steps: Sequence[str]) -> list[dict[str, str]]:
    """The steps of a setting as options: of a known effect by the effect's own words, else as they are written."""
    said = [s.strip()[:60] for s in steps if s.strip()] or list(sought.options)
    strange = [s for s in said if sought.steps and s.replace(" ", "_") not in sought.steps]
    if strange:
        raise ChangeError(f"{sought.title} has {', '.join(sought.steps)}, not {strange[0]!r}")
    options = [{"id": _ident(s), "label": s} for s in said]
    if len(options) < 2 or len({o["id"] for o in options}) != len(options):
        raise ChangeError("a setting has two steps at least, each of its own name")
    return options


def _ident(label: str) -> str:
    """A step's short name: letters, digits and lines of what was written."""
    return re.sub(r"[^a-z0-9_]+", "-", label.lower().replace(" ", "_")).strip("-_")[:40] or "step"


def learn(
    profile: Profile, sought_id: str, answer: str, label: str, where: str, steps: Sequence[str] = (), stands: str = ""
) -> dict[str, Any]:
    """The profile's data with what the finder found written in. Raises ChangeError for a strange answer.

    found: a setting by that name and place, with what it holds its sockets to while it is at its first step. inert: the
    setting, and a quirk that says it does nothing here. steps: as its menu has them, the least first, () as usual;
    stands: what it leaves the factory at, "" the first.
    absent: the profile stays as it is.
    """
    sought = next((s for s in SOUGHT if s.id == sought_id), None)
    if sought is None or answer not in _ANSWERS:
        raise ChangeError(f"the finder takes {', '.join(_ANSWERS)} for one of {', '.join(s.id for s in SOUGHT)}")
    data = profile_data(profile)
    if answer == "absent":
        return data
    settings = [s for s in data.get("settings", []) if s["id"] != sought.id]
    options = _options(sought, steps)
    first, last = options[0]["id"], options[-1]["id"]
    ids = {o["label"]: o["id"] for o in options} | {o["id"]: o["id"] for o in options}
    if stands and stands not in ids:
        raise ChangeError(f"it stands at one of {', '.join(o['label'] for o in options)}, not {stands!r}")
    row: dict[str, Any] = {
        "id": sought.id, "label": label.strip()[:60] or sought.title, "default": ids.get(stands or sought.usual, first),
        "options": options, "where": where.strip()[:160],
    }  # fmt: skip
    if sought.per_socket and profile.role != "source":
        row["ports"] = [p.id for p in profile.inputs()]
    if sought.effect:
        row["effect"] = sought.effect
    data["settings"] = [*settings, row]
    quirk_id = f"{sought.id}-shut"[:40]
    data["quirks"] = [q for q in data.get("quirks", []) if q["id"] != quirk_id]
    if sought.shut is not None and answer == "found":
        shut = {
            "id": quirk_id, "kind": "limits", "when": {"setting": sought.id, "is": first},
            "limits": dict(sought.shut), "because": sought.shut_because, "source": "common_practice",
        }  # fmt: skip
        data["quirks"] = [*data["quirks"], {**shut, "ports": row["ports"]} if "ports" in row else shut]
    if answer == "inert":
        quirk = {
            "id": f"{sought.id}-inert"[:40], "kind": "inert", "setting": sought.id, "options": [last],
            "when": {"setting": sought.id, "is": last}, "because": "looked at here: it does nothing",
            "source": "measured_here",
        }  # fmt: skip
        data["quirks"] = [*data.get("quirks", []), quirk]
    return data
