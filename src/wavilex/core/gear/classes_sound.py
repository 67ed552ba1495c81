"""What plays sound, by class: bars, headsets, mixers, speakers. Common practice."""

from __future__ import annotations

from wavilex.core.gear.class_parts import Answers, Data, Kind, Question, Template, picked

_PLUGS = {"optical": "optical", "coaxial": "coaxial", "usb": "USB", "jack": "jack", "phono": "phono"}


def _box(kind: Kind, a: Answers) -> Data:
    ports: list[Data] = []
    if a.get("returns", "none") != "none":
        ports.append({"id": "screen", "label": "To screen", "direction": "out", "returns": a["returns"]})
    ports += [
        {"id": p, "label": f"{_PLUGS[p]} in", "direction": "in", "kind": "audio", "connector": p}
        for p in picked(a, "plugs")
    ]  # fmt: skip
    return {"role": "sound", "kind": kind, "ports": ports, "plays": True}


def _asked(usual: str, *names: str) -> Question:
    return Question("plugs", "Its inputs", tuple((p, _PLUGS[p]) for p in names), kind="many", usual=usual)


_RETURNS = Question("returns", "It takes a screen’s sound", (("none", "no"), ("arc", "by ARC"), ("earc", "by eARC")),
                    usual="arc")  # fmt: skip
TEMPLATES = (
    Template("soundbar", "sound bar", "sound", "sound", (_RETURNS, _asked("optical", "optical", "jack", "usb")),
             lambda a: _box("soundbar", a)),
    Template("headset", "headset", "sound", "sound", (_asked("jack", "jack", "usb"),), lambda a: _box("headset", a)),
    Template("mixer", "headset mixer", "sound", "sound", (_asked("optical,usb,jack", "optical", "usb", "jack"),),
             lambda a: _box("mixer", a)),
    Template("speakers", "speakers", "sound", "sound", (_asked("jack", "jack", "phono", "optical", "coaxial", "usb"),),
             lambda a: _box("speakers", a)),
)  # fmt: skip
