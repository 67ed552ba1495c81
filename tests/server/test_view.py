"""What the sheets are given is the same whether it was worked out afresh or put together from what is remembered."""

from __future__ import annotations

import random
from typing import Any

import pytest

from tests.rigs import scopes_of, values_of
from wavilex.core.chain.paths import Layer, States
from wavilex.core.errors import ChangeError
from wavilex.core.rig.changes import apply
from wavilex.core.rig.model import Rig
from wavilex.core.tell.view import job_view, joined
from wavilex.library.pierhead import demo_changes

MODES = ("3840x2160@120", "3840x2160@60", "2560x1440@120", "1920x1080@60", "1280x720@60")


def edit(rig: Rig, rnd: random.Random) -> list[dict[str, Any]]:
    """Something a person changes: a setting, a want, a lead, a fact, an input."""
    kind = rnd.choice(["setting", "setting", "want", "lead", "length", "fact", "unplug", "select", "box", "plays"])
    device = rnd.choice([d for d in rig.devices.values() if d.profile.settings])
    if kind == "setting":
        s = rnd.choice(device.profile.settings)
        op = {"op": "set_setting", "layer": rnd.choice(["plan", "found"]), "device": device.uid,
              "scope": rnd.choice(scopes_of(device.profile, s)), "key": s.id,
              "value": rnd.choice(values_of(s))}  # fmt: skip
        return [op]
    if kind == "want":
        key, value = rnd.choice([("mode", rnd.choice(MODES)), ("hdr", rnd.choice(["off", "static"])), ("vrr", True)])
        return [{"op": "set_want", "run": rnd.choice(list(rig.runs)), "key": key, "value": value}]
    lead = rnd.choice([x for x in rig.leads.values() if x.kind == "hdmi"])
    if kind == "lead":
        return [{"op": "replace_lead", "lead": lead.uid, "grade": rnd.choice(["high_speed", "premium", "ultra"])}]
    if kind == "length":
        return [{"op": "replace_lead", "lead": rnd.choice(list(rig.leads)), "length_mm": rnd.randrange(500, 15_000)}]
    if kind == "box":
        key, value = rnd.choice([("label", f"Box {rnd.random()}"), ("room", "Attic"), ("firmware", "1.0")])
        return [{"op": "set_device", "device": device.uid, key: value}]
    if kind == "plays":
        return [{"op": "set_fact", "device": device.uid, "path": "plays", "value": rnd.random() < 0.5}]
    if kind == "unplug":
        return [{"op": "move_lead", "lead": lead.uid, "end": "b", "to": None}]
    port = rnd.choice(device.profile.ports)
    if kind == "select":
        return [{"op": "select_input", "layer": "plan", "device": device.uid, "value": port.id}]
    return [{"op": "set_fact", "device": device.uid, "path": f"ports.{port.id}.vrr", "value": rnd.random() < 0.5}]


@pytest.mark.parametrize("seed", range(8))
def test_a_remembered_view_equals_a_fresh_one(seed: int) -> None:
    rnd = random.Random(seed)
    rig, _ = apply(Rig(), demo_changes())
    states = States()
    job_view(Layer(rig, "plan", states))
    done = 0
    while done < 12:
        try:
            rig, _ = apply(rig, edit(rig, rnd))
        except ChangeError:
            continue
        done += 1
        assert job_view(Layer(rig, "plan", states)) == job_view(Layer(rig))


def test_boxes_joined_by_leads_of_any_kind() -> None:
    rig, _ = apply(Rig(), demo_changes())
    together = joined(rig.leads)
    assert {"match-pc", "match-monitor"} <= together["match-pc"]
    assert "den-screen" not in together["match-pc"]
    assert "museum-screen" in together["museum-h8"]  # by an analogue lead, a converter, a switch and a receiver
    for whole in together.values():
        assert all(together[box] == whole for box in whole)
