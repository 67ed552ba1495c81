"""Small rigs for tests, built with the same changes people make."""

from __future__ import annotations

from typing import Any

from wavilex.core.gear.profile import Profile, profile_data
from wavilex.core.gear.setting import Setting
from wavilex.core.rig.changes import apply
from wavilex.core.rig.model import Rig
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


def scopes_of(profile: Profile, s: Setting) -> list[str]:
    """Every cell a setting is kept in, of one resolution and rate, spelled out by hand."""
    presets = [o.id for p in profile.settings if p.effect == "preset" for o in p.options]
    parts = {
        "resolution": ["resolution=3840x2160"],
        "rate": ["rate=60"],
        "range": [f"range={r}" for r in ("sdr", "hdr", "dynamic")],
        "mode": [f"mode={p}" for p in presets],
    }
    found = list(s.ports or ("",))
    for name, values in parts.items():
        if name in s.kept_by:
            found = [f"{at};{value}" for at in found for value in values]
    return found


def values_of(s: Setting) -> list[str]:
    """Values a setting takes: its options; of a number the ends of its range and where it comes from its maker."""
    if s.number is not None:
        return [s.default, f"{s.number.from_:f}", f"{s.number.to:f}"]
    return [o.id for o in s.options]


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


def s04(**want: Any) -> Rig:
    """A 1440p monitor that also lists 4K60; a console that may send 4K."""
    wanted = {"mode": "2560x1440@120", "vrr": True, **want}
    r = rig(
        device("console", "kelpine-k2"), device("monitor", "kelpine-m27"),
        lead("A1", "console/hdmi", "monitor/hdmi1", "premium"), run("main", "console", "monitor", **wanted),
        setting("monitor", "", "adaptive_sync", "on"),
    )  # fmt: skip
    modes = ["vic:97", *r.devices["monitor"].profile.video.modes]  # type: ignore[misc]
    return apply(r, [{"op": "set_fact", "device": "monitor", "path": "ports.hdmi1.modes", "value": tuple(modes)}])[0]


def s08(**want: Any) -> Rig:
    wanted = {"mode": "3840x2160@60", "hdr": "static", "bits": 10, **want}
    return rig(
        device("console", "kelpine-k1"), device("old", "ostavar-av610"), device("tv", "yarrowby-55h"),
        lead("A1", "console/hdmi", "tv/hdmi1", "premium"), lead("A2", "old/out", "tv/hdmi2", "high_speed"),
        setting("tv", "hdmi1", "generation", "old"), run("main", "console", "tv", **wanted),
    )  # fmt: skip


def s09(console: str = "kelpine-k1", fmt: str = "full", **want: Any) -> Rig:
    wanted = {"mode": "3840x2160@120", "hdr": "static", "low_lag": True, **want}
    return rig(
        device("console", console), device("tv", "ostavar-75g"), lead("A1", "console/hdmi", "tv/hdmi4"),
        {"op": "set_device", "device": "tv", "firmware": "3.2"}, setting("tv", "hdmi4", "format", fmt),
        *([setting("console", "", "fast_refresh", "on")] if console == "kelpine-k1" else []),
        run("main", "console", "tv", **wanted),
    )  # fmt: skip


def s10(firmware: str = "2.9", fmt: str = "wide") -> Rig:
    return rig(
        device("console", "kelpine-k1"), device("tv", "ostavar-75g"), lead("A1", "console/hdmi", "tv/hdmi3"),
        {"op": "set_device", "device": "tv", "firmware": firmware},
        setting("console", "", "fast_refresh", "on"), setting("tv", "hdmi3", "format", fmt),
        run("main", "console", "tv", mode="3840x2160@120", hdr="static"),
    )  # fmt: skip


def s12() -> Rig:
    """A 4K240 monitor without speakers, three consoles, a bar on the return channel."""
    return rig(
        device("new", "kelpine-k1"), device("second", "ostavar-one"), device("oldest", "kelpine-k0"),
        device("monitor", "kelpine-x32"), device("bar", "brindlo-bar2"), device("mixer", "tindrel-mx"),
        lead("A1", "new/hdmi", "monitor/hdmi1"), lead("A2", "bar/arc", "monitor/hdmi2", "high_speed"),
        run("new", "new", "monitor", mode="3840x2160@120"), run("second", "second", "monitor", mode="3840x2160@60"),
        run("oldest", "oldest", "monitor", mode="1920x1080@60"),
        setting("new", "", "fast_refresh", "on"),
    )  # fmt: skip


def s14() -> Rig:
    """Fast and slow inputs; two new consoles, a stick, a disc player, an optical bar; plugged by whoever came first."""
    return rig(
        device("k1", "kelpine-k1"), device("one", "ostavar-one"), device("stick", "tindrel-stick"),
        device("disc", "yarrowby-d4"), device("tv", "ostavar-75g"), device("bar", "brindlo-bar2"),
        lead("A1", "k1/hdmi", "tv/hdmi1"), lead("A2", "one/hdmi", "tv/hdmi2"),
        lead("A3", "stick/hdmi", "tv/hdmi3", "premium"), lead("A4", "disc/hdmi", "tv/hdmi4", "premium"),
        {"op": "add_lead", "lead": {"uid": "S1", "label": "S1", "kind": "audio", "plan": [
            {"device": "tv", "port": "optical"}, {"device": "bar", "port": "optical"}]}},
        {"op": "set_device", "device": "tv", "firmware": "3.4"}, setting("k1", "", "fast_refresh", "on"),
        run("k1", "k1", "tv", mode="3840x2160@120", hdr="static", vrr=True, weight=3),
        run("one", "one", "tv", mode="3840x2160@120", hdr="static", vrr=True, weight=3),
        run("stick", "stick", "tv", mode="3840x2160@60", hdr="static"),
        run("disc", "disc", "tv", mode="3840x2160@24", hdr="static", protected=True),
    )  # fmt: skip


def s16(**want: Any) -> Rig:
    """Two consoles with other home screens on one 4K144 monitor whose inputs share their settings; its HDR is weak."""
    wanted = {"mode": "3840x2160@120", "hdr": "static", **want}
    return rig(
        device("k1", "kelpine-k1"), device("one", "ostavar-one"), device("monitor", "kelpine-m32"),
        lead("A1", "k1/hdmi", "monitor/hdmi1"), lead("A2", "one/hdmi", "monitor/hdmi2"),
        run("k1", "k1", "monitor", vrr=True, low_lag=True, **wanted), run("one", "one", "monitor", **wanted),
    )  # fmt: skip


def s20() -> Rig:
    """An old screen with special modes; a console on its first input, a stick on its second."""
    return rig(
        device("console", "kelpine-k1"), device("stick", "tindrel-stick"), device("tv", "yarrowby-55h"),
        lead("A1", "console/hdmi", "tv/hdmi1", "premium"), lead("A2", "stick/hdmi", "tv/hdmi2", "premium"),
        run("main", "console", "tv", mode="3840x2160@60", low_lag=True),
    )  # fmt: skip


def s07(through: bool = False) -> Rig:
    """A self-lit screen, three consoles with two ranges; straight, or all by a receiver on one socket."""
    boxes = [device("tv", "yarrowby-77e"), device("k1", "kelpine-k1"), device("one", "ostavar-one"),
             device("k2", "kelpine-k2")]  # fmt: skip
    if through:
        boxes += [device("av", "ostavar-av990"), lead("T", "av/out1", "tv/hdmi2")]
    ends = ("av/game1", "av/game2", "av/game3") if through else ("tv/hdmi1", "tv/hdmi3", "tv/hdmi4")
    leads = [lead(f"L{n}", f"{s}/hdmi", e) for n, (s, e) in enumerate(zip(("k1", "one", "k2"), ends, strict=True))]
    wants: dict[str, Any] = {"hdr": "static", "low_lag": True}
    return rig(
        *boxes, *leads, run("k1", "k1", "tv", mode="3840x2160@60", **wants),
        run("one", "one", "tv", mode="3840x2160@60", **wants), run("k2", "k2", "tv", mode="3840x2160@60", hdr="off"),
    )  # fmt: skip


def analogue_lead(uid: str, a: str, b: str) -> dict[str, Any]:
    made = lead(uid, a, b, length_mm=1500)
    made["lead"] = {k: v for k, v in made["lead"].items() if k != "grade"} | {"kind": "analogue"}
    return made


def s01() -> Rig:
    """A 625-line RGB home computer by SCART, a general converter, a 1080p monitor."""
    return rig(
        device("h8", "brindlo-h8"), device("conv", "brindlo-v2"), device("monitor", "brindlo-24b"),
        analogue_lead("V1", "h8/scart", "conv/scart"), lead("C1", "conv/out", "monitor/hdmi1", "high_speed"),
        run("main", "h8", "monitor", mode="1920x1080@60"),
    )  # fmt: skip


def s18(screen: str = "yarrowby-65s") -> Rig:
    """A 256-dot console, a line multiplier, a new screen."""
    inp = "hdmi3" if screen == "yarrowby-65s" else "hdmi1"
    return rig(
        device("c16", "brindlo-c16"), device("lm", "yarrowby-lm5"), device("tv", screen),
        analogue_lead("V1", "c16/scart", "lm/scart"), lead("C1", "lm/out", f"tv/{inp}", "high_speed"),
        run("main", "c16", "tv", mode="1280x720@60"),
    )  # fmt: skip


def s21(output: str = "vga", fit: str = "full") -> Rig:
    """An HDMI-only clone console, a scaler, a computer's picture tube by a VGA adapter."""
    return rig(
        device("clone", "brindlo-clone"), device("sc", "brindlo-sc"), device("a2", "brindlo-a2"),
        device("tube", "brindlo-t17"), lead("C1", "clone/hdmi", "sc/in", "high_speed"),
        lead("C2", "sc/out", "a2/in", "high_speed"), analogue_lead("V1", "a2/vga", "tube/vga"),
        setting("sc", "", "output", output), setting("sc", "", "fit", fit),
        run("main", "clone", "tube", mode="1920x1080@60"),
    )  # fmt: skip
