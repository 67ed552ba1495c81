"""How fix search and assignment grow with the number of sources: the museum corner, and rigs of 4 to 32 sources."""

from __future__ import annotations

import time
from collections.abc import Callable
from typing import Any

from wavilex.core.advise.assign import assign
from wavilex.core.advise.fixes import find_fixes
from wavilex.core.chain.carry import run_result
from wavilex.core.chain.paths import Layer, States
from wavilex.core.gear.profile import profile_data
from wavilex.core.rig.changes import apply
from wavilex.core.rig.model import Rig
from wavilex.library import starter_profiles

SIZES = (4, 8, 16, 32)
_SOURCES = ("kelpine-k1", "kelpine-k2", "tindrel-stick", "brindlo-base", "kelpine-k0", "yarrowby-d4", "tindrel-h7")
_MODES = (
    "3840x2160@120",
    "3840x2160@60",
    "1920x1080@60",
    "1920x1080@60",
    "1920x1080@60",
    "3840x2160@24",
    "1920x1080@60",
)

_SWITCH_PLACES = (
    ("tv1", "av/game1"), ("tv2", "tv2/hdmi1"), ("tv3", "tv3/hdmi2"), ("tv1", "av/game2"), ("tv1", "av/game3"),
    ("tv1", "av/front"), ("tv1", "av/disc"),
)  # fmt: skip


def grown(count: int) -> Rig:
    """`count` sources on switches of four inputs, half of them behind a receiver, on three screens, badly plugged."""
    library = starter_profiles()
    ops: list[dict[str, Any]] = []

    def box(uid: str, profile: str) -> None:
        ops.append(
            {"op": "add_device", "device": {"uid": uid, "label": uid, "profile": profile_data(library[profile])}}
        )

    def plug(uid: str, a: str, b: str) -> None:
        ends = [dict(zip(("device", "port"), end.split("/"), strict=True)) for end in (a, b)]
        ops.append({"op": "add_lead", "lead": {"uid": uid, "label": uid, "grade": "ultra", "length_mm": 2000,
                                               "found": ends, "plan": ends}})  # fmt: skip

    for uid, profile in (
        ("tv1", "yarrowby-65s"),
        ("tv2", "yarrowby-50w"),
        ("tv3", "ostavar-75g"),
        ("av", "ostavar-av990"),
    ):
        box(uid, profile)
    plug("T0", "av/out1", "tv1/hdmi1")
    free = [("tv2", "tv2/hdmi2"), ("tv2", "tv2/hdmi3"), ("tv3", "tv3/hdmi1"), ("tv1", "av/disc"), ("tv1", "av/sat")]
    switches = -(-max(0, count - 4) // 4)
    for n in range(switches):
        box(f"s{n}", "brindlo-s4")
        screen, socket = _SWITCH_PLACES[n]
        free = [f for f in free if f[1] != socket]
        plug(f"T{n + 1}", f"s{n}/out", socket)
        free += [(screen, f"s{n}/in{i}") for i in range(1, 5)]
    for n in range(count):
        profile, mode = _SOURCES[n % len(_SOURCES)], _MODES[n % len(_MODES)]
        screen, socket = free[n]
        box(f"p{n}", profile)
        plug(f"L{n}", f"p{n}/hdmi", socket)
        want = {"mode": mode, "hdr": "static" if n % 3 == 0 else "off"}
        ops.append({"op": "add_run", "run": {"uid": f"r{n}", "label": f"r{n}", "source": f"p{n}", "sink": screen,
                                             "want": want}})  # fmt: skip
    return apply(Rig(title="grown"), ops)[0]


def slowest_fix(rig: Rig, states: States) -> tuple[float, int, int]:
    """Seconds of the slowest fix search over all runs, rigs it looked at, and how many searches were not proved."""
    layer = Layer(rig, "plan", states)
    worst, looked, unproved = 0.0, 0, 0
    for run in rig.runs.values():
        if run_result(layer, run).good:
            continue
        start = time.perf_counter()
        found = find_fixes(rig, run, states=states)
        took = time.perf_counter() - start
        unproved += not found.proved
        if took > worst:
            worst, looked = took, found.tried
    return worst, looked, unproved


def measure(rig: Rig, name: str, say: Callable[[str, str], None]) -> None:
    """Prints both figures of one rig, states warm as they are in a job that is open."""
    states = States()
    assign(rig, states=states)
    start = time.perf_counter()
    found = assign(rig, states=states)
    took = time.perf_counter() - start
    proof = "proved" if found.proved else "not proved"
    say(f"assignment, {name}, {found.looked_at} places judged, {proof}", f"{took * 1e3:.0f} ms")
    slowest_fix(rig, states)
    worst, looked, unproved = slowest_fix(rig, states)
    say(f"slowest fix search, {name}, {looked} rigs, {unproved} unproved", f"{worst * 1e3:.0f} ms")
