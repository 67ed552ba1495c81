"""Generic devices: a class of gear that three answers make into a profile, marked as common practice, not as known.

Figures are common practice for the class; the profile says so, and what was read or measured goes over it.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any

from wavilex.core.errors import ProfileError
from wavilex.core.gear.profile import Profile, Role, profile_from_data
from wavilex.core.gear.shapes import TemplateOut

_4K60 = ["vic:97", "vic:96", "vic:95", "vic:93", "vic:16", "vic:31", "vic:4", "vic:19"]
_4K120 = ["vic:118", *_4K60[:4], "cvt:2560x1440@120:rb1", "cvt:2560x1440@60:rb1", "vic:63", *_4K60[4:]]
_1080 = ["vic:16", "vic:31", "vic:4", "vic:19"]
_DEEP = {e: [8, 10, 12] for e in ("rgb", "444", "422", "420")}
_FLAT = {e: [8] for e in ("rgb", "444", "422")}
_CLOSED = {"tmds_mhz": 300, "frl": "none", "hdr": [], "vrr": False, "encodings": {**_FLAT, "420": [8]}}


@dataclass(frozen=True, slots=True)
class Question:
    """One question: its answers as (id, words)."""

    id: str
    ask: str
    answers: tuple[tuple[str, str], ...]


@dataclass(frozen=True, slots=True)
class Template:
    """A class of gear. build makes a profile's data of the answers."""

    id: str
    title: str
    role: Role
    questions: tuple[Question, Question, Question]
    build: Callable[[Mapping[str, str]], dict[str, Any]]


def _inputs(count: int, fast: int, slow: dict[str, Any] | None = None, returns: str = "") -> list[dict[str, Any]]:
    """HDMI inputs; those after the first `fast` differ by `slow`; the second (or only) one returns sound."""
    ports: list[dict[str, Any]] = []
    for n in range(1, count + 1):
        port: dict[str, Any] = {"id": f"hdmi{n}", "label": f"HDMI {n}", "direction": "in", "source": "common_practice"}
        if n > fast and slow:
            port["video"] = slow
        if returns and n == min(2, count):
            port |= {"returns": returns, "note": {"arc": "ARC", "earc": "eARC"}[returns]}
        ports.append(port)
    return ports


_COUNT = Question("inputs", "How many HDMI inputs?", (("2", "two"), ("3", "three"), ("4", "four")))
_SOUND = Question("sound", "Does an input return sound?", (("none", "no"), ("arc", "ARC"), ("earc", "eARC")))


def _returns(a: Mapping[str, str]) -> str:
    return "" if a["sound"] == "none" else a["sound"]


def _format_setting(ports: list[str]) -> dict[str, Any]:
    return {
        "settings": [{
            "id": "format", "label": "Input format", "default": "basic", "ports": ports, "resync": True, "minutes": 2,
            "options": [{"id": "basic", "label": "basic"}, {"id": "wide", "label": "wide"}],
        }],
        "quirks": [{
            "id": "format-basic", "kind": "limits", "when": {"setting": "format", "is": "basic"}, "limits": _CLOSED,
            "because": "until its format is opened an input stops at 9 Gb/s, without HDR", "source": "common_practice",
        }],
    }  # fmt: skip


def _television(a: Mapping[str, str], fast: bool) -> dict[str, Any]:
    count = int(a["inputs"])
    wide = {"one": 1, "two": 2, "all": count}[a["wide"]]
    slow = {"frl": "none", "vrr": False} if fast else _CLOSED
    ports = _inputs(count, wide, slow, _returns(a))
    return {
        "role": "screen", "kind": "television", "panel": "3840x2160", "lag_bound_ms": 40, "ports": ports,
        "video": {
            "tmds_mhz": 600, "frl": "4x10" if fast else "none", "modes": _4K120 if fast else _4K60,
            "modes_420": ["vic:97", "vic:96"], "encodings": _DEEP, "hdr": ["static", "hlg"],
            "vrr": [48, 120] if fast else False, "low_latency": fast, "dsc": False, "hdcp": "2.3" if fast else "2.2",
        },
        "plays": True, "picture_modes": ["standard", "game", "film"], "cautions": ["large_screen"],
        **_format_setting([p["id"] for p in ports[:wide]]),
    }  # fmt: skip


def _monitor(a: Mapping[str, str]) -> dict[str, Any]:
    size, hz = a["panel"], int(a["rate"])
    link = {"slow": ("none", False), "fast": ("4x10", False), "faster": ("4x12", False)}[a["link"]]
    kind = "rb2" if hz > 120 else "rb1"
    own = (
        f"cvt:{size}@{hz}:{kind}" if not (size == "3840x2160" and hz in (60, 120)) else f"vic:{97 if hz == 60 else 118}"
    )
    modes = list(dict.fromkeys([own, *(["vic:97"] if size == "3840x2160" else []), f"cvt:{size}@60:rb1", *_1080]))
    return {
        "role": "screen", "kind": "monitor", "panel": size, "lag_bound_ms": 10, "ports": _inputs(2, 2),
        "video": {
            "tmds_mhz": 600, "frl": link[0], "modes": modes, "encodings": {e: [8, 10] for e in ("rgb", "444", "422")},
            "hdr": [], "vrr": [48, hz] if hz > 60 else False, "low_latency": False, "dsc": link[1], "hdcp": "2.2",
        },
        "picture_modes": ["standard", "game"],
    }  # fmt: skip


def _console(a: Mapping[str, str]) -> dict[str, Any]:
    most = a["most"]
    modes = ["3840x2160@120"] if most == "4k120" else []
    modes += ["3840x2160@60"] if most != "hd" else []
    modes += ["2560x1440@120", "2560x1440@60"] if a["qhd"] == "yes" else []
    modes += (["1920x1080@120"] if most == "4k120" else []) + ["1920x1080@60"]
    hdr = a["hdr"] == "yes"
    return {
        "role": "source", "kind": "console",
        "ports": [{"id": "hdmi", "label": "HDMI out", "direction": "out", "source": "common_practice"}],
        "video": {
            "tmds_mhz": 340 if most == "hd" else 600, "frl": "4x8" if most == "4k120" else "none", "modes": modes,
            "encodings": {"rgb": [8, 10] if hdr else [8], "422": [10, 12] if hdr else [8], "420": [8, 10]},
            "hdr": ["static"] if hdr else [], "vrr": most == "4k120", "low_latency": most == "4k120", "dsc": False,
            "hdcp": "1.4" if most == "hd" else "2.2",
        },
    }  # fmt: skip


def _receiver(a: Mapping[str, str]) -> dict[str, Any]:
    count, rate = int(a["inputs"]), a["rate"]
    ports = _inputs(count, count)
    out = {"id": "out", "label": "To screen", "direction": "out", "source": "common_practice"}
    out |= {"returns": a["sound"]} if a["sound"] != "none" else {}
    hd = rate == "hd"
    video: dict[str, Any] = {
        "tmds_mhz": 165 if hd else 600, "frl": {"hd": "none", "18": "none", "40": "4x10"}[rate],
        "hdr": [] if hd else ["static", "hlg"], "vrr": rate == "40", "low_latency": rate == "40", "dsc": False,
        "hdcp": "1.4" if hd else "2.2",
    }  # fmt: skip
    if hd:
        video |= {"modes": _1080, "encodings": _FLAT}
    return {"role": "repeater", "kind": "receiver", "ports": [*ports, out], "video": video, "plays": True}


def _switch(a: Mapping[str, str]) -> dict[str, Any]:
    frl = {"10": "none", "18": "none", "48": "4x12"}[a["rate"]]
    return {
        "role": "repeater", "kind": "switch",
        "ports": [*_inputs(int(a["inputs"]), 9), {"id": "out", "label": "out", "direction": "out"}],
        "video": {
            "tmds_mhz": 340 if a["rate"] == "10" else 600, "frl": frl, "vrr": a["vrr"] == "yes", "low_latency": True,
            "hdr": [] if a["rate"] == "10" else ["static", "hlg"], "dsc": a["rate"] == "48",
            "hdcp": "1.4" if a["rate"] == "10" else "2.2",
        },
        "plays": False, "cautions": ["own_power"],
    }  # fmt: skip


def _bar(a: Mapping[str, str]) -> dict[str, Any]:
    ports: list[dict[str, Any]] = []
    if a["sound"] != "none":
        ports.append({"id": "screen", "label": "To screen", "direction": "out", "returns": a["sound"]})
    for plug in ("optical", "jack"):
        if a[plug] == "yes":
            port = {"id": plug, "label": f"{plug} in", "direction": "in", "kind": "audio", "connector": plug}
            ports.append(port)
    return {"role": "sound", "kind": "soundbar", "ports": ports, "plays": True}


_YES = (("yes", "yes"), ("no", "no"))
_WIDE = Question("wide", "How many take the full rate?", (("one", "one"), ("two", "two"), ("all", "all")))
TEMPLATES = (
    Template("tv-4k60", "4K60 television", "screen", (_COUNT, _WIDE, _SOUND), lambda a: _television(a, False)),
    Template("tv-4k120", "4K120 television", "screen", (_COUNT, _WIDE, _SOUND), lambda a: _television(a, True)),
    Template("monitor", "monitor", "screen", (
        Question("panel", "Its panel?", (("1920x1080", "1080p"), ("2560x1440", "1440p"), ("3840x2160", "4K"))),
        Question("rate", "Its highest rate by HDMI?", (("60", "60 Hz"), ("120", "120 Hz"), ("144", "144 Hz"))),
        Question("link", "Its inputs?", (("slow", "18 Gb/s"), ("fast", "40 Gb/s"), ("faster", "48 Gb/s"))),
    ), _monitor),
    Template("console", "console", "source", (
        Question("most", "The most it sends?", (("hd", "1080p60"), ("4k60", "4K60"), ("4k120", "4K120"))),
        Question("hdr", "HDR?", _YES), Question("qhd", "Does it send 1440p?", _YES),
    ), _console),
    Template("receiver", "receiver", "repeater", (
        _COUNT, Question("rate", "What do its inputs pass?", (("hd", "1080p"), ("18", "18 Gb/s"), ("40", "40 Gb/s"))),
        _SOUND,
    ), _receiver),
    Template("switch", "switch", "repeater", (
        _COUNT, Question("rate", "What does it pass?", (("10", "10.2 Gb/s"), ("18", "18 Gb/s"), ("48", "48 Gb/s"))),
        Question("vrr", "Does variable refresh pass?", _YES),
    ), _switch),
    Template("soundbar", "sound bar", "sound", (
        Question("sound", "Does it take a screen’s sound?", (("none", "no"), ("arc", "by ARC"), ("earc", "by eARC"))),
        Question("optical", "Optical input?", _YES), Question("jack", "Jack input?", _YES),
    ), _bar),
)  # fmt: skip


def from_template(template_id: str, answers: Mapping[str, str], maker: str, model: str) -> Profile:
    """A profile of the answers. Raises ProfileError naming the question that lacks a proper answer."""
    template = next((t for t in TEMPLATES if t.id == template_id), None)
    if template is None:
        raise ProfileError(f"there is no template {template_id!r}; one of {', '.join(t.id for t in TEMPLATES)}")
    for q in template.questions:
        if answers.get(q.id) not in [a for a, _ in q.answers]:
            raise ProfileError(f"“{q.ask}” wants one of {', '.join(w for _, w in q.answers)}", where=f"answers.{q.id}")
    data = template.build(answers)
    slug = "".join(c if c.isascii() and c.isalnum() else "-" for c in f"{maker}-{model}".lower()).strip("-")[:40]
    return profile_from_data({
        "wavilex_profile": 1, "id": slug or template.id, "maker": maker or "unknown", "model": model or template.title,
        "summary": f"{template.title}, by its class: common practice, nothing read or measured yet", **data,
    })  # fmt: skip


def templates_data() -> list[TemplateOut]:
    """The templates with their questions, as plain data."""
    return [
        {
            "id": t.id, "title": t.title, "role": t.role,
            "questions": [
                {"id": q.id, "ask": q.ask, "answers": [{"id": a, "label": w} for a, w in q.answers]}
                for q in t.questions
            ],
        }
        for t in TEMPLATES
    ]  # fmt: skip
