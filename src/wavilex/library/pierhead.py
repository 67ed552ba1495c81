"""The demo job as changes: the refit of the Pierhead Game Library. All of it is made up."""

from __future__ import annotations

from typing import Any

from wavilex.core.gear.profile import profile_data
from wavilex.core.rig.model import LEAD_KINDS
from wavilex.core.rig.ops import Change, read_change
from wavilex.library import pierhead_museum as museum
from wavilex.library import starter_profiles

DEMO_UID = "pierhead"

_DEVICES = (
    ("match-pc", "Match PC", "tindrel-r7", "Match room"),
    ("match-monitor", "Match monitor", "kelpine-m27", "Match room"),
    ("match-headset", "Match headset", "tindrel-hs", "Match room"),
    ("den-console", "Den console", "kelpine-k1", "Den"),
    ("den-receiver", "Den receiver", "ostavar-av940", "Den"),
    ("den-screen", "Den screen", "yarrowby-65s", "Den"),
    *((uid, label, profile, museum.ROOM) for uid, label, profile in museum.DEVICES),
    ("side-pc", "Side PC", "tindrel-r9", "Match room"),
    ("side-monitor", "Side monitor", "kelpine-m28", "Match room"),
    ("side-dock", "Dock", "brindlo-dk4", "Match room"),
    ("score-screen", "Score screen", "kelpine-m26", "Match room"),
    ("board-adapter", "Board adapter", "tindrel-pa3", "Match room"),
    ("board-screen", "Board screen", "kelpine-m22", "Match room"),
)
_LEADS = (
    ("A1", "match-pc/hdmi", "match-monitor/hdmi1", "premium", 2000),
    ("A2", "match-pc/usb", "match-headset/usb", "audio", 2000),
    ("B1", "den-console/hdmi", "den-receiver/game", "ultra", 2000),
    ("B2", "den-receiver/out", "den-screen/hdmi3", "ultra", 3000),
    *museum.LEADS,
    ("A3", "side-pc/hdmi", "side-monitor/hdmi1", "premium", 2000),
    ("A4", "side-pc/usbc", "side-dock/host", "usbc:c_20", 1000),
    ("A5", "side-dock/dp1", "score-screen/dp", "dp:dp8k", 2000),
    ("A6", "side-dock/dp2", "board-adapter/in", "dp:unread", 200),
    ("A7", "board-adapter/out", "board-screen/hdmi1", "high_speed", 3000),
)
_FOUND = (
    ("match-monitor", "", "adaptive_sync", "on"),
    ("den-console", "", "fast_refresh", "on"),
    ("den-receiver", "game", "format", "wide"),
    ("den-screen", "hdmi3", "format", "wide"),
    ("museum-screen", "hdmi1", "format", "wide"),
    *museum.FOUND,
)
_RUNS = (
    ("match", "Match PC", "match-pc", "match-monitor",
     {"mode": "2560x1440@144", "chroma": "444", "vrr": True, "low_lag": True}),
    ("den", "Den console", "den-console", "den-screen",
     {"mode": "3840x2160@120", "hdr": "static", "chroma": "444", "bits": 10, "vrr": True, "low_lag": True}),
    *museum.RUNS,
    ("side", "Side PC", "side-pc", "side-monitor",
     {"mode": "3840x2160@144", "hdr": "static", "chroma": "444", "bits": 10, "vrr": True}),
    ("score", "Score screen", "side-pc", "score-screen", {"mode": "2560x1440@60", "chroma": "444"}),
    ("board", "Board screen", "side-pc", "board-screen", {"mode": "1920x1080@60"}),
)  # fmt: skip
_TITLES = (
    {
        "uid": "tide",
        "name": "Tide Racer",
        "competitive": True,
        "hdr": True,
        "modes": [{"fps": 120, "name": "fast", "lines": 1440}, {"fps": 60, "name": "fine", "lines": 2160}],
    },
    {
        "uid": "lantern",
        "name": "Lantern Keep",
        "hdr": True,
        "style": {"motion": "interpolate"},
        "modes": [{"fps": 30, "name": "fine", "lines": 2160}, {"fps": 40, "name": "middle", "lines": 1800}],
    },
    {"uid": "brass", "name": "Brass Meridian", "hdr": False, "modes": [{"fps": 60}]},
)
_SURVEY = {
    "played": "Match room: competitive, twice a week. Den: racing and adventure. Museum corner: visitors, all ages.",
    "light": "Den has a north window; match room without daylight.",
    "must_stay": "The receiver and its speakers stay in the den.",
    "wall_leads": "B2 runs behind the panel, 3 m, certified Ultra High Speed.",
    "sound": "Receiver in the den; headsets in the match room; screen speakers in the corner.",
}


def _socket(text: str) -> dict[str, str]:
    device, port = text.split("/")
    return {"device": device, "port": port}


def demo_changes() -> list[Change]:
    """Every change that makes the job, in order."""
    library = starter_profiles()
    ops: list[dict[str, Any]] = []
    for uid, label, profile, room in _DEVICES:
        row = {"uid": uid, "label": label, "room": room, "profile": profile_data(library[profile])}
        ops.append({"op": "add_device", "device": row})
    for uid, a, b, grade, length in _LEADS:
        ends = [_socket(a), _socket(b)]
        kind, _, class_ = grade.partition(":")
        made = {"kind": kind, **({"grade": class_} if class_ else {})} if kind in LEAD_KINDS else {"grade": grade}
        lead = {"uid": uid, "label": uid, **made, "length_mm": length, "found": ends, "plan": ends}
        ops.append({"op": "add_lead", "lead": lead})
    for device, scope, key, value in _FOUND:
        ops.append(
            {"op": "set_setting", "layer": "found", "device": device, "scope": scope, "key": key, "value": value}
        )
    for uid, label, source, sink, want in _RUNS:
        ops.append({"op": "add_run", "run": {"uid": uid, "label": label, "source": source, "sink": sink, "want": want}})
    ops += [{"op": "add_title", "title": row} for row in _TITLES]
    ops += [{"op": "set_survey", "key": key, "value": value} for key, value in _SURVEY.items()]
    ops += [{"op": "set_device", "device": "den-receiver", "mark": "stays"},
            {"op": "replace_lead", "lead": "B2", "mark": "stays"}]  # fmt: skip
    return [read_change(op) for op in ops]
