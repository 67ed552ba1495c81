"""Boxes simulated by a table: what each shows of a picture, by what is set on it. Knows no rule of the product.

Least links by mode and depth, in Gb/s, by HDMI 2.0 and 2.1 (value from memory): 2160p120 10-bit 4:4:4 needs 40,
12-bit 48, 8-bit 32; 2160p60 8-bit 18, 10-bit 24; 4:2:2 as 8-bit 4:4:4; 4:2:0 half of it.
"""

from __future__ import annotations

import random
from dataclasses import dataclass, field, replace
from typing import Any

from tests.rigs import lead, rig, run, setting
from wavilex.core.rig.model import Rig

UHD120, UHD60, HD120, HD60 = "3840x2160@120", "3840x2160@60", "1920x1080@120", "1920x1080@60"
MODES = (UHD120, UHD60, HD120, HD60)
SHORT = {UHD120: "2160p120", UHD60: "2160p60", HD120: "1080p120", HD60: "1080p60"}
CODES = {UHD120: "vic:118", UHD60: "vic:97", HD120: "vic:63", HD60: "vic:16"}
NEEDS = {  # mode, encoding, bits: the least link in Gb/s
    (UHD120, "rgb", 8): 32, (UHD120, "rgb", 10): 40, (UHD120, "422", 12): 32,
    (UHD60, "rgb", 8): 18, (UHD60, "rgb", 10): 24, (UHD60, "422", 12): 18,
    (HD120, "rgb", 8): 9, (HD120, "rgb", 10): 18, (HD120, "422", 12): 9,
    (HD60, "rgb", 8): 9, (HD60, "rgb", 10): 9, (HD60, "422", 12): 9,
}  # fmt: skip
OFFERED = (("rgb", 8), ("rgb", 10), ("422", 12))  # in the order a source takes them
LINKS = {"basic": 9, "wide": 18, "wider": 24, "fast": 32, "widest": 40}
NAMES = {"rgb": "RGB", "422": "4:2:2"}


@dataclass(frozen=True)
class Truth:
    """How things really stand: the source's permission, both formats, what the screen lists."""

    allowed: str
    screen: str
    receiver: str | None
    lists: tuple[str, ...]
    screen_hdr: bool
    window: bool
    source_link: int = 40
    game: str = "off"
    noted: dict[str, str] = field(default_factory=dict)

    @property
    def first_link(self) -> int:
        return min(self.source_link, LINKS[self.receiver or self.screen])

    @property
    def narrowest(self) -> int:
        return min(self.first_link, LINKS[self.screen])

    def sends(self, mode: str) -> bool:
        return self.allowed == "on" or mode.endswith("@60")

    def listed(self, mode: str, least_bits: int = 8) -> bool:
        """Its list has a mode where it may send it, the screen lists it, and its own lead's two ends carry it."""
        if not self.sends(mode) or mode not in self.lists:
            return False
        depths = [(e, b) for e, b in OFFERED if b >= least_bits and self.deep_enough(b)]
        return any(NEEDS[mode, e, b] <= self.first_link for e, b in depths)

    def deep_enough(self, bits: int) -> bool:
        """At basic, boxes take 8 bits only."""
        return bits == 8 or "basic" not in (self.screen, self.receiver)

    @property
    def hdr(self) -> bool:
        return self.screen_hdr and "basic" not in (self.screen, self.receiver)

    def playing(self) -> tuple[str, str, int] | None:
        """What a title starts in: the source's first mode that goes all the way, in the first format that does."""
        for mode in MODES:
            if mode not in self.lists or not self.sends(mode):
                continue
            for encoding, bits in OFFERED:
                if self.deep_enough(bits) and NEEDS[mode, encoding, bits] <= self.first_link:
                    return (mode, encoding, bits) if NEEDS[mode, encoding, bits] <= self.narrowest else None
        return None

    def shows(self) -> dict[str, str]:
        """Everything that can be read, by place and line, in the words of the boxes."""
        said: dict[str, str] = {}
        for mode in MODES:
            said[f"source/list/mode.{mode}"] = _word(self.listed(mode))
            said[f"source/list/hdr.{mode}"] = _word(self.listed(mode, 10) and self.hdr)
        said["source/list/vrr"] = _word(self.window and "basic" not in (self.screen, self.receiver))
        playing = self.playing()
        if playing is None:
            return said
        mode, encoding, bits = playing
        if self.receiver:
            for end in ("in", "out"):
                said[f"receiver/in_out/{end}.mode"] = SHORT[mode]
                said[f"receiver/in_out/{end}.colour"] = f"{NAMES[encoding]}, {bits}-bit"
        said["screen/banner/mode"] = SHORT[mode]
        said["screen/counter/rate"] = f"{mode.partition('@')[2]} Hz"
        return said


def _word(there: bool) -> str:
    return "yes" if there else "no"


def _format(ports: list[str], options: list[str]) -> dict[str, Any]:
    named = [{"id": o, "label": o} for o in options]
    return {"id": "format", "label": "Input format", "options": named, "default": "basic", "ports": ports}


def _limits(ports: list[str], options: list[str]) -> list[dict[str, Any]]:
    """The formats as limits: below FRL by TMDS, above it by steps; at basic no HDR, no variable refresh, 8 bits."""
    frl = {9: "none", 18: "none", 24: "4x6", 32: "4x8", 40: "4x10"}
    eight = {"rgb": [8], "444": [8], "422": [8]}
    found = []
    for o in options:
        held: dict[str, Any] = {"frl": frl[LINKS[o]]}
        if o == "basic":
            held |= {"tmds_mhz": 300, "hdr": [], "vrr": False, "encodings": eight}
        found.append({"id": f"at-{o}", "kind": "limits", "when": {"setting": "format", "is": o}, "ports": ports,
                      "limits": held, "because": f"{o} stops there"})  # fmt: skip
    return found


def _box(uid: str, role: str, kind: str, ports: list[dict[str, Any]], **more: Any) -> dict[str, Any]:
    profile = {"wavilex_profile": 1, "id": uid, "maker": "Brindlo", "model": uid, "role": role, "kind": kind,
               "ports": ports, **more}  # fmt: skip
    return {"op": "add_device", "device": {"uid": uid, "label": uid.capitalize(), "profile": profile}}


def rig_of(t: Truth, noted: dict[str, str]) -> Rig:
    """The rig as somebody noted it: `noted` says settings by box; the rest is as it really is."""
    deep = {"rgb": [8, 10], "422": [12]}
    video = {"tmds_mhz": 600, "frl": "4x10", "encodings": deep, "dsc": False, "hdcp": "2.3"}
    formats = list(LINKS)
    allow = {"id": "allow", "label": "120 Hz output", "effect": "high_rate", "default": "off",
             "options": [{"id": "off", "label": "off"}, {"id": "on", "label": "on"}]}  # fmt: skip
    slow = {"id": "slow", "kind": "limits", "when": {"setting": "allow", "is": "off"}, "because": "not allowed",
            "limits": {"modes": [m for m in MODES if m.endswith("@60")]}}  # fmt: skip
    ops = [
        _box("source", "source", "console", [{"id": "out", "label": "Out", "direction": "out"}],
             video={**video, "modes": list(MODES), "hdr": ["static"], "vrr": True}, prefers=list(MODES),
             settings=[allow], quirks=[slow]),
        _box("screen", "screen", "television", [{"id": "in1", "label": "In 1", "direction": "in"}],
             video={**video, "modes": [CODES[m] for m in t.lists], "hdr": ["static"] if t.screen_hdr else [],
                    "vrr": [48, 120] if t.window else False, "modes_420": []},
             settings=[_format(["in1"], formats)], quirks=_limits(["in1"], formats)),
    ]  # fmt: skip
    ends = ["source/out", "screen/in1"]
    if t.receiver:
        ports = [{"id": "a", "label": "A", "direction": "in"}, {"id": "to", "label": "To", "direction": "out"}]
        ops.append(_box("receiver", "repeater", "receiver", ports,
                        video={**video, "hdr": ["static"], "vrr": True}, settings=[_format(["a"], formats)],
                        quirks=_limits(["a"], formats)))  # fmt: skip
        ends = ["source/out", "receiver/a", "receiver/to", "screen/in1"]
    ops += [lead(f"L{n}", ends[2 * n], ends[2 * n + 1]) for n in range(len(ends) // 2)]
    values = {"source": t.allowed, "screen": t.screen, "receiver": t.receiver or "", **noted}
    ops += [setting("source", "", "allow", values["source"], "found"),
            setting("screen", "in1", "format", values["screen"], "found")]  # fmt: skip
    if t.receiver:
        ops.append(setting("receiver", "a", "format", values["receiver"], "found"))
    ops.append(run("main", "source", "screen", mode=UHD120))
    return rig(*ops)


def truth(seed: int) -> Truth:
    """A chain of the seed: any formats, any list of at least one mode, with or without a receiver."""
    chance = random.Random(seed)
    lists = tuple(m for m in MODES if chance.random() < 0.8) or (HD60,)
    formats = list(LINKS)
    return Truth(
        chance.choice(("on", "off")), chance.choice(formats), chance.choice((None, *formats)), lists,
        chance.random() < 0.7, chance.random() < 0.7,
    )  # fmt: skip


def with_fault(t: Truth, seed: int) -> tuple[str, Truth]:
    """The same chain with one thing really otherwise: which box, and how it stands."""
    chance = random.Random(seed + 10_000)
    box = chance.choice(["source", "screen"] + (["receiver"] if t.receiver else []))
    if box == "source":
        return box, replace(t, allowed="off" if t.allowed == "on" else "on")
    now = t.screen if box == "screen" else t.receiver
    other = chance.choice([f for f in LINKS if f != now])
    return box, replace(t, **{box: other})
