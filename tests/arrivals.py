"""The acceptance scenarios as found on arrival: factory values, wrong sockets, unread leads. For core and browser."""

from __future__ import annotations

from typing import Any

from tests.rigs import device, lead, rig, run, s04, s05, setting
from wavilex.core.advise.settings_plan import settings_plan
from wavilex.core.chain.paths import Layer
from wavilex.core.gear.profile import profile_data
from wavilex.core.rig.changes import apply
from wavilex.core.rig.model import Rig
from wavilex.core.rig.ops import INPUT_KEY, Change, to_set
from wavilex.library import starter_profiles


def at_found(r: Rig, *ops: dict[str, Any]) -> Rig:
    return apply(r, list(ops))[0]


def s02_arrival() -> Rig:
    return rig(
        device("console", "kelpine-k1"), device("tv", "yarrowby-50w"),
        lead("A1", "console/hdmi", "tv/hdmi1", "unread", None), setting("tv", "hdmi1", "format", "basic", "found"),
        setting("console", "", "fast_refresh", "off", "found"),
        run("main", "console", "tv", mode="3840x2160@120", hdr="static", bits=10, vrr=True, low_lag=True),
    )  # fmt: skip


def s06_arrival() -> Rig:
    return rig(
        device("console", "kelpine-k1"), device("tv", "yarrowby-55h"),
        lead("A1", "console/hdmi", "tv/hdmi1", "premium"),
        setting("tv", "hdmi1", "generation", "newer", "found"), setting("tv", "", "special", "sports", "found"),
        run("main", "console", "tv", mode="3840x2160@60", hdr="static", bits=10),
    )  # fmt: skip


def s04_arrival() -> Rig:
    return at_found(
        s04(), setting("console", "", "fast_refresh", "off"), setting("monitor", "", "adaptive_sync", "off"),
        setting("console", "", "uhd", "on"),
    )  # fmt: skip


def s05_arrival() -> Rig:
    return at_found(s05("wide", vrr=True), setting("tv", "hdmi3", "format", "basic", "found"))


def s08_arrival() -> Rig:
    return rig(
        device("console", "kelpine-k1"), device("tv", "yarrowby-55h"),
        lead("A1", "console/hdmi", "tv/hdmi1", "premium"),
        run("main", "console", "tv", mode="3840x2160@60", hdr="static", bits=10),
    )  # fmt: skip


def s08_bypassed(receiver: str = "tv/hdmi1") -> Rig:
    """After somebody's bypass: the console sits in the only socket from which sound comes back, all inputs old.

    receiver: where the receiver's own lead hangs, "" where it has none any more.
    """
    return rig(
        device("console", "kelpine-k1"), device("old", "ostavar-av610"), device("tv", "yarrowby-55h"),
        lead("A1", "console/hdmi", "tv/hdmi2", "premium"),
        *([lead("A2", "old/out", receiver, "high_speed")] if receiver else []),
        *(setting("tv", f"hdmi{n}", "generation", "old", "found") for n in (1, 2, 3)),
        run("main", "console", "tv", mode="3840x2160@60", hdr="static", bits=10),
    )  # fmt: skip


def s09_arrival() -> Rig:
    return rig(
        device("console", "ostavar-one"), device("tv", "ostavar-75g"), lead("A1", "console/hdmi", "tv/hdmi3"),
        {"op": "set_device", "device": "tv", "firmware": "3.2"}, setting("tv", "hdmi3", "format", "basic", "found"),
        run("main", "console", "tv", mode="3840x2160@120", hdr="dynamic", bits=10),
    )  # fmt: skip


def s10_arrival() -> Rig:
    return rig(
        device("console", "kelpine-k1"), device("tv", "ostavar-75g"), lead("A1", "console/hdmi", "tv/hdmi1"),
        {"op": "set_device", "device": "tv", "firmware": "2.9"}, setting("console", "", "fast_refresh", "off", "found"),
        *(setting("tv", p, "format", "basic", "found") for p in ("hdmi3", "hdmi4")),
        run("main", "console", "tv", mode="3840x2160@120", hdr="static", bits=10),
    )  # fmt: skip


def s12_arrival() -> Rig:
    """A monitor with two inputs and no speakers, a bar on the return channel, four sources of which one is joined."""
    sources = {"new": "kelpine-k1", "second": "ostavar-one", "oldest": "kelpine-k0", "stick": "tindrel-stick"}
    return rig(
        *(device(uid, profile) for uid, profile in sources.items()), device("monitor", "kelpine-x32"),
        device("bar", "brindlo-bar2"), lead("A1", "new/hdmi", "monitor/hdmi1", "unread", None),
        lead("A2", "bar/arc", "monitor/hdmi2", "unread", None),
        setting("new", "", "fast_refresh", "off", "found"),
        run("new", "new", "monitor", mode="3840x2160@120", vrr=True),
        run("second", "second", "monitor", mode="3840x2160@60"),
        *(run(uid, uid, "monitor", mode="1920x1080@60") for uid in ("oldest", "stick")),
    )  # fmt: skip


def s14_arrival() -> Rig:
    sources = {"k1": "kelpine-k1", "one": "ostavar-one", "stick": "tindrel-stick", "disc": "yarrowby-d4"}
    fast = {"mode": "3840x2160@120", "hdr": "static", "bits": 10, "vrr": True, "weight": 3}
    return rig(
        *(device(uid, profile) for uid, profile in sources.items()), device("tv", "ostavar-75g"),
        *(lead(f"A{n}", f"{uid}/hdmi", f"tv/hdmi{n}") for n, uid in enumerate(sources, 1)),
        *(setting("tv", f"hdmi{n}", "format", "basic", "found") for n in (3, 4)),
        setting("k1", "", "fast_refresh", "off", "found"), {"op": "set_device", "device": "tv", "firmware": "3.4"},
        run("k1", "k1", "tv", **fast), run("one", "one", "tv", **fast),
        run("stick", "stick", "tv", mode="3840x2160@60", hdr="static"),
        run("disc", "disc", "tv", mode="3840x2160@24", hdr="static", protected=True),
    )  # fmt: skip


def s16_arrival() -> Rig:
    screen = profile_data(starter_profiles()["kelpine-m32"])
    screen["video"] = {**screen["video"], "vrr_kinds": ["vendor"]}
    return rig(
        device("console", "kelpine-k1"), device("monitor", "kelpine-m32"),
        {"op": "set_profile", "device": "monitor", "profile": screen}, lead("A1", "console/hdmi", "monitor/hdmi1"),
        setting("console", "", "fast_refresh", "off", "found"),
        setting("monitor", "", "adaptive_sync", "off", "found"),
        run("main", "console", "monitor", mode="3840x2160@120", hdr="static", bits=10, vrr=True),
    )  # fmt: skip


def s17_arrival() -> Rig:
    slow = {"op": "add_title", "title": {"uid": "t1", "name": "Lantern Keep", "render_rates": [30]}}
    fast = {"op": "add_title", "title": {"uid": "t2", "name": "Tide Racer", "render_rates": [120], "competitive": True}}
    return rig(
        device("console", "kelpine-k1"), device("tv", "yarrowby-50i"), lead("A1", "console/hdmi", "tv/hdmi1"),
        run("main", "console", "tv", mode="3840x2160@120", vrr=True), slow, fast,
        {"op": "set_style", "level": "job", "key": "motion", "value": "interpolate"},
    )  # fmt: skip


def settled(found: Rig) -> Rig:
    """A job at its end: planned, wired, and every planned value seen on the boxes."""
    r = settings_plan(Layer(found, "plan")).after
    ops: list[Change] = [{"op": "found_as_planned", "lead": x.uid} for x in r.leads.values() if x.found != x.plan]
    for (box, scope, key), value in r.settings.items():
        if key == INPUT_KEY:
            shown: Change = {
                "op": "select_input", "layer": "found", "device": box, "output": scope, "value": value.plan,
            }  # fmt: skip
            ops.append(shown)
        elif value.plan:
            ops.append(to_set((box, scope, key), value.plan, "found"))
    return apply(r, ops)[0]
