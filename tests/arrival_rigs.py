"""Random rigs of the starter library as found on arrival: any socket, factory or odd settings, mixed leads."""

from __future__ import annotations

import random
from functools import cache
from typing import Any

from tests.rigs import device, lead, run, scopes_of, setting, values_of
from wavilex.core.errors import WavilexError
from wavilex.core.gear.profile import Profile
from wavilex.core.rig.changes import apply
from wavilex.core.rig.model import Rig
from wavilex.core.video.codes import listed_timing
from wavilex.library import starter_profiles


@cache
def by_role(role: str) -> tuple[str, ...]:
    """Profiles of a role with an HDMI socket, that neither convert nor are analogue alone."""
    found = []
    for uid, p in starter_profiles().items():
        plain = p.converts is None and any(x.kind == "hdmi" for x in p.ports)
        if p.role == role and plain and all(x.kind == "hdmi" for x in (*p.inputs(), *p.outputs()) if x.shows_picture):
            found.append(uid)
    return tuple(found)


def modes_of(profile: Profile) -> list[str]:
    """Modes any socket of a box lists, as wants name them."""
    lists = [p.video.modes if p.video.modes is not None else profile.video.modes for p in profile.ports]
    known = [m for listed in lists if isinstance(listed, tuple) for m in listed]
    return sorted({str(listed_timing(m).mode) for m in known}) or ["1920x1080@60", "2560x1440@144"]


def arrival(seed: int) -> Rig:
    """One screen, one to three sources, perhaps a box between; each lead in a random free socket."""
    rnd = random.Random(seed)
    sources = [rnd.choice(by_role("source")) for _ in range(rnd.choice((1, 1, 2, 3)))]
    boxes = [rnd.choice(by_role("repeater"))] if rnd.random() < 0.45 else []
    r, _ = apply(Rig(title="arrival"), [device("tv", rnd.choice(by_role("screen")))])
    names = {f"s{n}": uid for n, uid in enumerate(sources)} | {f"b{n}": uid for n, uid in enumerate(boxes)}
    for name, uid in names.items():
        r, _ = apply(r, [device(name, uid)])
    count = 0

    def plug(start: str, ends: list[str]) -> None:
        nonlocal r, count
        outs = [f"{start}/{p.id}" for p in r.devices[start].profile.outputs() if p.kind == "hdmi" and p.shows_picture]
        taken = {f"{s.device}/{s.port}" for x in r.leads.values() for s in x.plan if s}
        ins = [f"{e}/{p.id}" for e in ends for p in r.devices[e].profile.inputs() if p.kind == "hdmi"]
        free = [i for i in ins if i not in taken]
        outs = [o for o in outs if o not in taken]
        if not free or not outs:
            return
        count += 1
        grade = rnd.choice(("unknown", "high_speed", "high_speed", "premium", "premium", "ultra"))
        length = rnd.choice((None, 1500, 2000, 3000))
        r, _ = apply(r, [lead(f"L{count}", rnd.choice(outs), rnd.choice(free), grade, length)])

    for n in range(len(boxes)):
        plug(f"b{n}", ["tv"])
    for n in range(len(sources)):
        plug(f"s{n}", [*(f"b{m}" for m in range(len(boxes))), "tv"] if rnd.random() < 0.7 else ["tv"])
    for name, d in list(r.devices.items()):
        for s in d.profile.settings:
            for scope in scopes_of(d.profile, s):
                if rnd.random() < 0.25:
                    op = {"op": "set_setting", "layer": "found", "device": name, "scope": scope, "key": s.id,
                          "value": rnd.choice(values_of(s))}  # fmt: skip
                    r, _ = apply(r, [op])
    for n in range(len(sources)):
        source = r.devices[f"s{n}"].profile
        both = sorted(set(modes_of(source)) & set(modes_of(r.devices["tv"].profile)))
        modes = both if both and rnd.random() < 0.85 else modes_of(source)
        top = max(modes, key=lambda m: listed_timing(m).pixel_clock_hz)
        want: dict[str, Any] = {
            "mode": top if rnd.random() < 0.6 else rnd.choice(modes), "hdr": rnd.choice(("off", "static", "static")),
            "vrr": rnd.random() < 0.4, "low_lag": rnd.random() < 0.5, "chroma": rnd.choice(("any", "any", "444")),
        }  # fmt: skip
        if want["hdr"] != "off":
            want["bits"] = 10
        try:
            r, _ = apply(r, [run(f"r{n}", f"s{n}", "tv", **want)])
        except WavilexError:
            r, _ = apply(r, [run(f"r{n}", f"s{n}", "tv")])
    return r


@cache
def boxes_between() -> tuple[str, ...]:
    """Everything that takes HDMI and sends it on: receivers, switches, splitters, matrices, extractors, scalers."""
    return tuple(
        uid for uid, p in starter_profiles().items()
        if p.role == "repeater" and any(x.kind == "hdmi" for x in p.inputs()) and any(
            x.kind == "hdmi" for x in p.outputs())
    )  # fmt: skip


@cache
def sound_boxes() -> tuple[str, ...]:
    return tuple(uid for uid, p in starter_profiles().items() if p.role == "sound")


def wide(seed: int) -> Rig:
    """Over the whole library: one or two screens, boxes between of any kind, sound boxes, old firmware, any leads."""
    rnd = random.Random(f"wide {seed}")
    r = Rig(title="wide")

    def do(op: dict[str, Any]) -> bool:
        nonlocal r
        try:
            r, _ = apply(r, [op])
        except WavilexError:
            return False  # a lead that does not go there, a loop
        return True

    screens = [f"t{n}" for n in range(rnd.choice((1, 1, 2)))]
    boxes = [f"b{n}" for n in range(rnd.choice((0, 1, 1, 2)))]
    sources = [f"s{n}" for n in range(rnd.choice((1, 2, 2, 3)))]
    sounds = [f"a{n}" for n in range(rnd.choice((0, 0, 1)))]
    for uids, among in ((screens, by_role("screen")), (boxes, boxes_between()), (sources, by_role("source")),
                        (sounds, sound_boxes())):  # fmt: skip
        for uid in uids:
            do(device(uid, rnd.choice(among)))
            if r.devices[uid].profile.newest_firmware and rnd.random() < 0.5:
                do({"op": "set_device", "device": uid, "firmware": "1.0"})

    def free(uids: list[str], way: str) -> list[tuple[str, str, str]]:
        taken = {s for x in r.leads.values() for s in x.plan if s}
        return [
            (uid, p.id, p.kind) for uid in uids for p in r.devices[uid].profile.ports
            if p.direction == way and all((s.device, s.port) != (uid, p.id) for s in taken)
        ]  # fmt: skip

    def plug(start: list[str], ends: list[str], kind: str = "hdmi") -> None:
        outs = [x for x in free(start, "out") if x[2] == kind]
        ins = [x for x in free(ends, "in") if x[2] == kind]
        if not outs or not ins:
            return
        (a, out, _), (b, inp, _) = rnd.choice(outs), rnd.choice(ins)
        grade = rnd.choice(("unknown", "unread", "high_speed", "premium", "premium", "ultra"))
        op = lead(f"L{len(r.leads)}", f"{a}/{out}", f"{b}/{inp}", grade, rnd.choice((None, 1500, 3000, 8000)))
        if kind != "hdmi":
            op["lead"] |= {"kind": kind, "grade": "unknown"}
        do(op)

    for uid in boxes:
        plug([uid], screens)
        if rnd.random() < 0.3:
            plug([uid], screens)
    for uid in sources:
        plug([uid], boxes + screens)
    for uid in sounds:
        plug(screens + boxes, [uid], "audio")
        plug([uid], screens)
    for uid, d in list(r.devices.items()):
        for s in d.profile.settings:
            for scope in scopes_of(d.profile, s):
                if rnd.random() < 0.2:
                    do(setting(uid, scope, s.id, rnd.choice(values_of(s)), "found"))
    for uid in sources:
        screen = rnd.choice(screens)
        both = sorted(set(modes_of(r.devices[uid].profile)) & set(modes_of(r.devices[screen].profile)))
        wants: dict[str, Any] = {"mode": rnd.choice(both or modes_of(r.devices[uid].profile)),
                                 "hdr": rnd.choice(("off", "off", "static")), "vrr": rnd.random() < 0.3}  # fmt: skip
        if wants["hdr"] != "off":
            wants["bits"] = 10
        do(run(f"r{uid}", uid, screen, **wants))
    return r
