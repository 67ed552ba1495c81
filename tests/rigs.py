"""Small rigs for tests, built with the same changes people make."""

from __future__ import annotations

from typing import Any

from wavilex.core.chain.changes import apply
from wavilex.core.chain.rig import Rig
from wavilex.core.gear.profile import profile_data
from wavilex.library import starter_profiles


def device(uid: str, profile: str) -> dict[str, Any]:
    data = profile_data(starter_profiles()[profile])
    return {"op": "add_device", "device": {"uid": uid, "label": uid.upper(), "profile": data}}


def lead(uid: str, a: str, b: str, grade: str = "ultra", length_mm: int | None = 2000) -> dict[str, Any]:
    """A lead between `device/port` and `device/port`, in both layers."""
    ends = [dict(zip(("device", "port"), end.split("/"), strict=True)) for end in (a, b)]
    row = {"uid": uid, "label": uid, "grade": grade, "length_mm": length_mm, "found": ends, "plan": ends}
    return {"op": "add_lead", "lead": row}


def run(uid: str, source: str, sink: str, **want: Any) -> dict[str, Any]:
    return {"op": "add_run", "run": {"uid": uid, "label": uid, "source": source, "sink": sink, "want": want}}


def setting(dev: str, scope: str, key: str, value: str, layer: str = "plan") -> dict[str, Any]:
    return {"op": "set_setting", "layer": layer, "device": dev, "scope": scope, "key": key, "value": value}


def rig(*changes: dict[str, Any]) -> Rig:
    return apply(Rig(title="test"), changes)[0]


def s02(**want: Any) -> Rig:
    """A 4K console on the wide input of a 60 Hz screen, its format at basic."""
    wanted = {"mode": "3840x2160@60", "hdr": "static", "bits": 10, **want}
    return rig(
        device("console", "kelpine-k1"), device("tv", "yarrowby-50w"),
        lead("A1", "console/hdmi", "tv/hdmi1", "premium"), run("main", "console", "tv", **wanted),
    )  # fmt: skip


def s03() -> Rig:
    """A base console on a plain input, a streaming stick that needs no HDR on the wide one."""
    return rig(
        device("base", "brindlo-base"), device("stick", "tindrel-stick"), device("tv", "yarrowby-50w"),
        lead("A1", "base/hdmi", "tv/hdmi2", "high_speed"), lead("A2", "stick/hdmi", "tv/hdmi1", "high_speed"),
        setting("tv", "hdmi1", "format", "wide"),
        run("base", "base", "tv", mode="1920x1080@60", hdr="static", bits=10),
        run("stick", "stick", "tv", mode="1920x1080@60"),
    )  # fmt: skip


def s05(fmt: str = "widest", **want: Any) -> Rig:
    """A gaming PC through a receiver to a 4K120 screen."""
    wanted = {"mode": "3840x2160@120", "hdr": "static", "chroma": "444", "bits": 10, **want}
    return rig(
        device("pc", "tindrel-r7"), device("av", "ostavar-av940"), device("tv", "yarrowby-65s"),
        lead("A1", "pc/hdmi", "av/game"), lead("A2", "av/out", "tv/hdmi3"),
        setting("av", "game", "format", fmt), run("main", "pc", "tv", **wanted),
    )  # fmt: skip
