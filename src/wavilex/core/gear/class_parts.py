"""What classes of gear are made of: questions, and parts of profiles that several classes share.

All figures and menus here are common practice, in our own words.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any, Literal

from wavilex.core.gear.profile import Kind, Role
from wavilex.core.gear.shapes import QuestionKind

__all__ = ["Kind"]
MOST_NUMBER = 20_000
Answers = Mapping[str, str]
Data = dict[str, Any]
Group = Literal["sources", "screens", "in between", "old machines", "sound"]

MODES_4K60 = ["vic:97", "vic:96", "vic:95", "vic:93", "vic:16", "vic:31", "vic:4", "vic:19"]
MODES_4K120 = ["vic:118", *MODES_4K60[:4], "cvt:2560x1440@120:rb1", "cvt:2560x1440@60:rb1", "vic:63", *MODES_4K60[4:]]
MODES_1080 = ["vic:16", "vic:31", "vic:4", "vic:19"]
DEEP = {e: [8, 10, 12] for e in ("rgb", "444", "422", "420")}
FLAT = {e: [8] for e in ("rgb", "444", "422")}
RATES = {"hd": (165, "none"), "10": (340, "none"), "18": (600, "none"), "24": (600, "4x6"), "32": (600, "4x8"),
         "40": (600, "4x10"), "48": (600, "4x12")}  # fmt: skip


@dataclass(frozen=True, slots=True)
class Question:
    """One question: its answers as (id, words). kind: one of them, many with commas between, numbered sockets (of the
    count that `sockets_of` answers), or a number. usual: what stands there until somebody says otherwise; optional: it
    may stay not known. when: asked only where another question has one of these answers.
    """

    id: str
    ask: str
    answers: tuple[tuple[str, str], ...] = ()
    kind: QuestionKind = "one"
    usual: str = ""
    optional: bool = False
    sockets_of: str = ""
    when: tuple[str, tuple[str, ...]] | None = None

    def choices(self, told: Answers) -> list[str]:
        """What may be answered."""
        if self.kind == "sockets":
            return [str(n) for n in range(1, int(told.get(self.sockets_of) or 0) + 1)]
        return [a for a, _ in self.answers]

    def asked(self, told: Answers) -> bool:
        return self.when is None or bool({told.get(self.when[0]), *picked(told, self.when[0])} & set(self.when[1]))


@dataclass(frozen=True, slots=True)
class Template:
    """A class of gear. build makes a profile's data of the answers."""

    id: str
    title: str
    group: Group
    role: Role
    questions: tuple[Question, ...]
    build: Callable[[Answers], Data]


def picked(a: Answers, question: str) -> list[str]:
    """The answers to a question that takes many; none where it is not known."""
    text = a.get(question, "")
    return [] if text in ("", "none") else text.split(",")


def known(a: Answers, question: str) -> bool:
    return bool(a.get(question))


YES = (("yes", "yes"), ("no", "no"))
NUMBERS = (("1", "one"), ("2", "two"), ("3", "three"), ("4", "four"))


def inputs_question(usual: str, answers: Sequence[tuple[str, str]] = NUMBERS) -> Question:
    return Question("inputs", "How many HDMI inputs?", tuple(answers), usual=usual)


def sockets(question: str, ask: str, when: tuple[str, tuple[str, ...]] | None = None) -> Question:
    """Which numbered inputs: never guessed."""
    return Question(question, ask, kind="sockets", optional=True, sockets_of="inputs", when=when)


RETURNS = Question(
    "returns", "Sound returned by", (("none", "nothing"), ("arc", "ARC"), ("earc", "eARC")), optional=True
)
RETURNS_AT = sockets("returns_at", "at which input?", ("returns", ("arc", "earc")))


def hdmi_inputs(count: int) -> list[Data]:
    """Numbered inputs."""
    return [
        {"id": f"hdmi{n}", "label": f"HDMI {n}", "direction": "in", "source": "common_practice"}
        for n in range(1, count + 1)
    ]


def with_returns(ports: list[Data], a: Answers) -> list[Data]:
    """The input that returns sound, where somebody said which."""
    kind = a.get("returns", "")
    for n in picked(a, "returns_at")[:1]:
        ports[int(n) - 1] |= {"returns": kind, "note": {"arc": "ARC", "earc": "eARC"}[kind]}
    return ports


def switch(
    key: str, label: str, effect: str = "", default: str = "off", where: str = "",
    words: tuple[str, str] = ("off", "on"), **more: Any,
) -> Data:  # fmt: skip
    """A setting that is off or on."""
    options = [{"id": "off", "label": words[0]}, {"id": "on", "label": words[1]}]
    row: Data = {"id": key, "label": label, "options": options, "default": default, **more}
    return row | ({"effect": effect} if effect else {}) | ({"where": where} if where else {})


def choice(key: str, label: str, options: Sequence[tuple[str, str]], effect: str = "", **more: Any) -> Data:
    """A setting of several steps; it leaves the factory at the first."""
    row: Data = {"id": key, "label": label, "options": [{"id": k, "label": v} for k, v in options],
                 "default": options[0][0], **more}  # fmt: skip
    return row | ({"effect": effect} if effect else {})


def quantisation(where: str) -> Data:
    """Full or limited range at a source; from the factory by itself."""
    options = (("auto", "automatic"), ("limited", "limited"), ("full", "full"))
    return choice("quantisation", "Range, full or limited", options, "quantisation", where=where)


def limit(key: str, when: Data, limits: Data, because: str, **more: Any) -> Data:
    return {"id": key, "kind": "limits", "when": when, "limits": limits, "because": because,
            "source": "common_practice", **more}  # fmt: skip


_FORMATS = {"basic": "basic", "wide": "wide", "widest": "widest"}
_CLOSED = {"tmds_mhz": 300, "frl": "none", "hdr": [], "vrr": False, "encodings": {**FLAT, "420": [8]}}
FORMATS = Question(
    "formats", "Does each input have a format setting?",
    (("none", "no"), ("basic,wide", "basic and wide"), ("basic,wide,widest", "basic, wide, widest")),
    usual="basic,wide",
)  # fmt: skip


def formats(ports: Sequence[str], steps: Sequence[str], widest: str = "40 Gb/s") -> Data:
    """A format for each input, at its least when it leaves the factory: it stops there, and says so."""
    if not steps:
        return {"settings": [], "quirks": []}
    quirks = [
        limit("format-basic", {"setting": "format", "is": "basic"}, _CLOSED,
              "until its format is opened an input stops at 9 Gb/s, without HDR")
    ]  # fmt: skip
    if "widest" in steps:
        quirks.append(
            limit("format-wide", {"setting": "format", "is": "wide"}, {"tmds_mhz": 600, "frl": "none", "vrr": False},
                  f"wide stops at 18 Gb/s; widest opens {widest}")
        )  # fmt: skip
    return {
        "settings": [{
            "id": "format", "label": "Input format", "default": "basic", "ports": list(ports), "resync": True,
            "minutes": 2, "options": [{"id": s, "label": _FORMATS[s]} for s in steps],
        }],
        "quirks": quirks,
    }  # fmt: skip


GAME_MODE = Question(
    "game", "Game mode is called up",
    (("switch", "by a switch"), ("auto", "by a switch or by the source"), ("preset", "as a picture preset"),
     ("none", "it has none")),
    usual="auto",
)  # fmt: skip
PRESETS = ("standard", "game", "film_dark", "film_bright", "vivid", "expert")
PRESET_WORDS = {"standard": "standard", "game": "game", "film_dark": "film dark", "film_bright": "film bright",
                "vivid": "vivid", "expert": "expert", "computer": "computer"}  # fmt: skip


def game_mode(ports: Sequence[str], how: str) -> list[Data]:
    """The switch for game mode; none where it is a preset."""
    if how in ("none", "preset"):
        return []
    options = [{"id": "off", "label": "off"}, {"id": "on", "label": "on"}]
    options += [{"id": "auto", "label": "automatic"}] if how == "auto" else []
    return [{"id": "game", "label": "Game mode", "effect": "game_mode", "options": options, "default": "off",
             "ports": list(ports), "where": "picture or general page"}]  # fmt: skip


def picture(presets: Sequence[str], *, most: int = 100) -> list[Data]:
    """Picture presets and the numbers of a picture menu, kept by input, range and preset. Neutral points: not known."""
    cell = ["input", "range", "mode"]
    rows: list[Data] = [{
        "id": "preset", "label": "Picture preset", "effect": "preset", "default": presets[0],
        "options": [{"id": p, "label": PRESET_WORDS[p]} for p in presets], "kept_by": ["input", "range"],
        "where": "picture page",
    }]  # fmt: skip
    numbers = (("light", "Panel light", "panel_light", "room"), ("contrast", "Contrast", "contrast", "yes"),
               ("black_level", "Black level", "black_level", "yes"), ("colour", "Colour", "saturation", "yes"),
               ("sharpness", "Sharpness", "sharpness", "yes"))  # fmt: skip
    for key, label, effect, copies in numbers:
        rows.append({
            "id": key, "label": label, "effect": effect, "number": {"from": 0, "to": most}, "default": str(most // 2),
            "kept_by": cell, "copies": copies, "where": "picture page",
        })  # fmt: skip
    return rows


PEAK = Question("peak", "Brightest HDR white, cd/m²", kind="number", optional=True)


def peak(a: Answers) -> Data:
    return {"peak_cd_m2": int(a["peak"])} if known(a, "peak") else {}


DP_RATES = (("hbr2", "5.4 Gb/s a lane"), ("hbr3", "8.1 Gb/s a lane"), ("uhbr10", "10 Gb/s a lane"),
            ("uhbr13.5", "13.5 Gb/s a lane"), ("uhbr20", "20 Gb/s a lane"))  # fmt: skip
_COUNTS = (("0", "none"), ("1", "one"), ("2", "two"), ("3", "three"))


def dp_questions(what: str, usual: str, usbc: str) -> tuple[Question, ...]:
    """How many DisplayPort and USB-C sockets, and how fast their lanes are."""
    return (
        Question("dp", f"DisplayPort {what}", _COUNTS, usual=usual),
        Question("usbc", f"USB-C {what} with pictures", _COUNTS[:3], usual=usbc),
        Question("lanes", "Their lanes run at", DP_RATES, usual="hbr3"),
    )


def dp_ports(a: Answers, direction: str) -> list[Data]:
    """The DisplayPort and USB-C sockets answered for. Whether an output sends TMDS too is not known."""
    rows: list[Data] = []
    for kind, name in (("dp", "DisplayPort"), ("usbc", "USB-C")):
        count = int(a.get(kind, "0"))
        for n in range(1, count + 1):
            number = f" {n}" if count > 1 else ""
            rows.append({
                "id": f"{kind}{n}", "label": f"{name}{number}", "direction": direction, "kind": kind,
                "source": "common_practice", "video": {"dp": f"4x{a['lanes']}"},
            })  # fmt: skip
    return rows


def fast_data(port: str, lanes: str) -> Data:
    """The rule of a USB-C socket beside fast data."""
    return limit("fast-data", {"setting": "data", "is": "fast"}, {"dp": f"2x{lanes}"},
                 "fast data takes two of the four lanes of USB-C", ports=[port])  # fmt: skip
