"""How a lead is told: moved, new, noted by nobody. A plan made before anybody looked invents no leads."""

from __future__ import annotations

from typing import Any

from tests.rigs import device, rig, run
from wavilex.core.rig.changes import apply
from wavilex.core.rig.hanging import hanging
from wavilex.core.rig.model import Rig
from wavilex.core.runsheet.plan import plan_steps


def joined(uid: str, a: str, b: str, *layers: str, **lead: str) -> dict[str, Any]:
    ends = [{"device": d, "port": p} for d, p in (a.split("/"), b.split("/"))]
    return {"op": "add_lead", "lead": {"uid": uid, "label": uid, **lead, **dict.fromkeys(layers, ends)}}


def job(*leads: dict[str, Any]) -> Rig:
    return rig(device("k", "kelpine-k1"), device("tv", "yarrowby-65s"), *leads, run("m", "k", "tv"))


def wiring(r: Rig) -> list[tuple[str, str]]:
    return [(s.title, s.why) for s in plan_steps(r) if s.phase == "wire" and s.ops]


def test_a_lead_planned_before_anybody_looked_is_no_new_lead() -> None:
    r = job(joined("A", "k/hdmi", "tv/hdmi3", "plan"))
    assert hanging(r, r.leads["A"]) == "unnoted"
    ((title, why),) = wiring(r)
    assert "New" not in title
    assert why == "nobody noted whether it hangs there already: if it does, tick"
    r = apply(r, [{"op": "found_as_planned", "lead": "A"}])[0]
    assert hanging(r, r.leads["A"]) == "as_found"
    assert wiring(r) == []


def test_where_another_lead_was_found_it_is_a_new_one() -> None:
    r = job(joined("A", "k/hdmi", "tv/hdmi1", "found"), joined("B", "k/hdmi", "tv/hdmi3", "plan"))
    assert (hanging(r, r.leads["B"]), hanging(r, r.leads["A"])) == ("new", "out")
    assert {t.split(" ")[0] for t, _ in wiring(r)} == {"New", "Take"}


def test_a_lead_between_boxes_that_were_looked_at_is_a_new_one() -> None:
    """Leads were found at both boxes, this one was not; where only one was looked at, nobody knows."""
    boxes = (device("pc", "tindrel-r9"), device("tv", "kelpine-m28"), device("k", "kelpine-k1"))
    r = rig(
        *boxes, joined("A", "pc/dp1", "tv/dp", "found", "plan", kind="dp"),
        joined("B", "pc/usbc", "tv/usbc", "plan", kind="usbc"), joined("C", "k/hdmi", "tv/hdmi1", "plan"),
    )  # fmt: skip
    assert (hanging(r, r.leads["B"]), hanging(r, r.leads["C"])) == ("new", "unnoted")


def test_a_lead_found_elsewhere_was_moved() -> None:
    moved = {"op": "move_lead", "layer": "plan", "lead": "A", "end": "b", "to": {"device": "tv", "port": "hdmi3"}}
    r = job(joined("A", "k/hdmi", "tv/hdmi1", "found", "plan"), moved)
    assert hanging(r, r.leads["A"]) == "moved"
    ((_, why),) = wiring(r)
    assert why.startswith("was ")
