"""Sockets that are lit on the back of a box; what a phase of the run sheet says once; cautions said in full once."""

from __future__ import annotations

from tests.rigs import device, rig, s05, s14, setting
from wavilex.core.advise.assign import assign
from wavilex.core.advise.fixes import find_fixes
from wavilex.core.cautions import CAUTIONS
from wavilex.core.rig.changes import apply
from wavilex.core.rig.lit import lit
from wavilex.core.runsheet.sheet import sheet_data
from wavilex.core.tell.ways import fixes_data


def test_a_swap_lights_both_new_sockets_and_a_setting_its_own() -> None:
    r = rig(device("k", "kelpine-k1"), device("q", "kelpine-k2"), device("tv", "yarrowby-65s"))
    ends = [[{"device": d, "port": "hdmi"}, {"device": "tv", "port": p}] for d, p in (("k", "hdmi1"), ("q", "hdmi3"))]
    for uid, (a, b) in zip("AB", ends, strict=True):
        r = apply(r, [{"op": "add_lead", "lead": {"uid": uid, "label": uid, "found": [a, b], "plan": [a, b]}}])[0]
    swap = {"op": "swap_leads", "layer": "plan", "end": "b", "leads": ["A", "B"]}
    assert {(x["device"], x["port"]) for x in lit(r, [swap])} == {("tv", "hdmi1"), ("tv", "hdmi3")}
    planned = apply(r, [swap])[0]
    ticked = lit(planned, [{"op": "found_as_planned", "lead": "A"}])
    assert {(x["device"], x["port"]) for x in ticked} == {("tv", "hdmi3")}
    assert lit(r, [setting("tv", "hdmi1", "format", "full")]) == [{"device": "tv", "port": "hdmi1"}]
    assert lit(r, [setting("tv", "", "motion", "off")]) == []


def test_ways_and_best_places_show_their_sockets() -> None:
    r = s05("basic")
    run = r.runs["main"]
    told = fixes_data(find_fixes(r, run), r, run)
    assert {"device": "av", "port": "game"} in told["ways"][0]["sockets"]
    best = assign(s14())
    after = apply(s14(), list(best.ops))[0]
    moved = {e.device + "/" + e.port for x in after.leads.values() for e, was in
             zip(x.plan, s14().leads[x.uid].plan, strict=True) if e is not None and e != was}  # fmt: skip
    assert moved
    assert moved <= {f"{x['device']}/{x['port']}" for x in lit(s14(), best.ops)}


def test_what_steps_have_alike_is_said_once_and_cautions_in_full_once() -> None:
    r = apply(s14(), list(assign(s14()).ops))[0]
    sheet = sheet_data(r, [])
    full: list[str] = []
    for phase in sheet["phases"]:
        alike = [s for s in phase["steps"] if s["usual"]]
        assert len(alike) != 1
        assert all((s["see"], s["if_not"]) == (phase["see"], phase["if_not"]) for s in alike)
        others = [(s["see"], s["if_not"]) for s in phase["steps"] if s["open"] and not s["usual"]]
        assert (phase["see"], phase["if_not"]) not in others
        for step in phase["steps"]:
            full += [c["text"] for c in step["cautions"] if not c["again"]]
            assert all(c["text"] in full for c in step["cautions"])  # in full first, then in short
    assert len(full) == len(set(full))
    assert CAUTIONS["power_off"] in full
    assert sheet["ahead"] >= 2
