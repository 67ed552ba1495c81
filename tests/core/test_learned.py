"""What a job learned of a box: line by line to the shelf, and from there into the next job as what it is."""

from __future__ import annotations

import json
from fractions import Fraction

import pytest

from tests.rigs import device, lead, rig, run, s03, s14
from wavilex.core.chain.carry import run_result
from wavilex.core.chain.paths import Layer
from wavilex.core.errors import ChangeError
from wavilex.core.fault.case import CLOSED
from wavilex.core.fault.confirmed import confirmed_faults
from wavilex.core.gear.pack import FactRow
from wavilex.core.gear.profile import profile_data
from wavilex.core.lag.budget import picture_path
from wavilex.core.lag.groups import Group
from wavilex.core.lag.plan import Cell
from wavilex.core.lag.readings import Way
from wavilex.core.lag.report import lag_report
from wavilex.core.lag.seen import seen_lag
from wavilex.core.rig.changes import apply
from wavilex.core.rig.jobfile import Job, job_data, parse_job
from wavilex.core.rig.learned import fact_fault, fact_ops, learned, with_learned
from wavilex.core.rig.model import Rig
from wavilex.core.rig.ops import Change
from wavilex.core.rig.renew import renew
from wavilex.core.runsheet.came_back import came_back
from wavilex.core.runsheet.sheet import Event, steps_now
from wavilex.core.ticks import DONE, REVERTED


def two_boxes() -> Rig:
    return rig(
        device("k", "kelpine-k1"), device("tv", "yarrowby-65s"), lead("L", "k/hdmi", "tv/hdmi1"), run("m", "k", "tv")
    )


def test_what_a_job_learned_goes_to_the_shelf_line_by_line_and_comes_back_with_the_box() -> None:
    r = apply(s03(), [
        {"op": "set_fact", "device": "tv", "path": "peak_cd_m2", "value": 610},
        {"op": "set_fact", "device": "tv", "path": "ports.hdmi1.frl", "value": "4x8"},
        {"op": "set_device", "device": "tv", "firmware": "9.9"},
    ])[0]  # fmt: skip
    tv = r.devices["tv"]
    lines = learned(r, tv)
    assert {x.path for x in lines} == {"peak_cd_m2", "ports.hdmi1.frl", "newest_firmware"}
    profile, facts = with_learned(
        tv.profile, [], [x for x in lines if x.path != "ports.hdmi1.frl"], "2026-11-29", "9.9"
    )
    assert profile.newest_firmware == "9.9"
    assert [(f.path, f.value, f.at, f.firmware) for f in facts] == [("peak_cd_m2", 610, "2026-11-29", "9.9")]
    assert {x.path for x in learned(r, tv, facts)} == {"ports.hdmi1.frl", "newest_firmware"}
    fresh = rig({"op": "add_device", "device": {"uid": "n", "profile": profile_data(profile)}}, *fact_ops("n", facts))
    assert fresh.peak_cd_m2("n") == 610
    assert learned(fresh, fresh.devices["n"], facts) == []


def test_measured_lag_goes_along_and_is_told_as_measured_elsewhere() -> None:
    """A lag kept on the shelf stands in the budget until somebody measures here, and is never called measured here."""
    quick, slow = [14_000 + n for n in range(8)], [76_000 + n for n in range(8)]
    way = Way("meter", None)
    cells = [Cell("3840x2160@60", "HDMI 1", name) for name in ("game", "film")]
    report = lag_report([Group(cells[0], tuple(quick), (), ("meter",), (), way),
                         Group(cells[1], tuple(slow), (9,), ("meter",), (), way)])  # fmt: skip
    seen = seen_lag(report)
    assert [x.value["lag_us"] for x in seen] == [14_004, 76_004]  # medians of eight, to the even µs
    r = two_boxes()
    tv = r.devices["tv"]
    lines = learned(r, tv, (), seen)
    assert "62.0 ms more than game" in lines[1].words
    _, facts = with_learned(tv.profile, [], lines, "2026-11-29", "9.9")
    there = apply(r, fact_ops("tv", facts))[0]
    assert {f.provenance for f in there.device_facts("tv").values()} == {"measured_elsewhere"}
    layer = Layer(there)
    (part,) = [p for p in picture_path(layer, run_result(layer, there.runs["m"]), None) if p.kind == "elsewhere"]
    scan_ms = Fraction(1000, 60) / 2  # half a frame and a little blanking: CTA-861, 2160p60
    assert float(part.low_ms) == pytest.approx(14.004 - float(scan_ms), abs=0.5)
    assert float(part.high_ms) == pytest.approx(76.004 - float(scan_ms), abs=0.5)
    assert learned(there, there.devices["tv"], facts, seen) == []


def test_what_a_box_put_back_is_learned_and_said_in_the_next_job() -> None:
    value: Change = {"op": "set_setting", "device": "k", "key": "fast_refresh", "value": "off", "layer": "plan"}
    r = two_boxes()
    r = apply(r, [value])[0]
    (step,) = [s for s in steps_now(r, []) if any(o["op"] == "set_setting" and o["device"] == "k" for o in s.ops)]
    events = [Event(step.key, REVERTED, step.title, step.phase, "2026-11-29T10:00:00Z")]
    ((box, seen),) = came_back(r, events)
    (line,) = learned(r, r.devices["k"], (), [seen])
    assert (box, line.words) == (
        "k",
        "120 Hz output: put to not allowed, and it reverted, by the box itself or by its path",
    )
    assert list(came_back(r, [*events, Event(step.key, DONE, step.title, step.phase, "2026-11-29T11:00:00Z")])) == []
    _, facts = with_learned(r.devices["k"].profile, [], [line], "2026-11-29", "3.1")
    there = apply(r, fact_ops("k", facts))[0]
    (again,) = [s for s in steps_now(there, []) if s.key == step.key]
    assert "reverted at such a box in another job" in again.why
    with pytest.raises(ChangeError, match="came back"):
        apply(r, [{"op": "set_fact", "device": "k", "path": "came_back.fast_refresh.green", "value": ""}])


def test_a_newer_version_without_the_socket_takes_what_still_fits() -> None:
    r = s03()
    tv = r.devices["tv"]
    data = profile_data(tv.profile)
    facts = [FactRow(path="peak_cd_m2", value=610), FactRow(path="ports.gone.frl", value="4x8")]
    assert [op["path"] for op in renew(r, "tv", data, facts)["ops"] if op["op"] == "set_fact"] == ["peak_cd_m2"]


def test_a_rate_proved_by_a_lead_is_known_of_both_sockets() -> None:
    r = two_boxes()
    assert not [x for x in learned(r, r.devices["tv"]) if "proved" in x.words]
    proved = apply(r, [{"op": "replace_lead", "lead": "L", "proved": "frl:4x10"}])[0]
    told = [x for x in learned(proved, proved.devices["tv"]) if "proved" in x.words]
    assert [(x.path, x.value) for x in told] == [("ports.hdmi1.frl", "4x10")]  # its maker says no FRL there
    assert not [x for x in learned(proved, proved.devices["k"]) if "proved" in x.words]  # 48 Gb/s is more already


# --- versions ----------------------------------------------------------------------------------------------


def test_a_newer_version_is_taken_with_what_it_lets_go_named_and_undo_brings_all_back() -> None:
    r = apply(s03(), [{"op": "set_setting", "layer": "found", "device": "tv", "scope": "hdmi1", "key": "format",
                       "value": "basic"}])[0]  # fmt: skip
    tv = r.devices["tv"]
    data = profile_data(tv.profile)
    data["summary"] = "as we know it now"
    data["settings"] = [s for s in data.get("settings", []) if s["id"] != "format"]
    data["quirks"] = [q for q in data.get("quirks", []) if q.get("when", {}).get("setting") != "format"]
    told = renew(r, "tv", data, [FactRow(path="peak_cd_m2", value=700)])
    assert told["lost"] == ["Input format, HDMI 1: wide"]
    after, back = apply(r, list(told["ops"]))
    assert after.devices["tv"].profile.summary == "as we know it now"
    assert after.peak_cd_m2("tv") == 700
    assert apply(after, back)[0] == r


def test_what_a_profile_has_no_place_for_any_more_goes_and_comes_back_with_undo() -> None:
    """A job file must read again, whatever was noted of a setting or a socket that an edited profile has lost."""
    r = two_boxes()
    noted: list[Change] = [
        {"op": "set_fact", "device": "k", "path": "came_back.fast_refresh.off", "value": ""},
        {"op": "set_fact", "device": "tv", "path": "tried.hdmi2.5x", "value": True},
    ]
    r = apply(r, noted)[0]
    less_k, less_tv = (profile_data(r.devices[uid].profile) for uid in ("k", "tv"))
    less_k["settings"] = [s for s in less_k["settings"] if s["id"] != "fast_refresh"]
    less_k["quirks"] = [q for q in less_k["quirks"] if "fast_refresh" not in str(q)]
    less_tv["ports"] = [p for p in less_tv["ports"] if p["id"] != "hdmi2"]
    for part in (*less_tv["settings"], *less_tv["quirks"]):
        if "ports" in part:
            part["ports"] = [p for p in part["ports"] if p != "hdmi2"]
    edits: list[Change] = [
        {"op": "set_profile", "device": uid, "profile": data} for uid, data in (("k", less_k), ("tv", less_tv))
    ]
    after, back = apply(r, edits)
    assert after.facts == {}
    assert parse_job(json.dumps(job_data(Job("j1", "test", "UTC", after)))).rig.facts == {}
    assert apply(after, back)[0] == r


def test_a_fact_that_does_not_fit_its_box_is_told() -> None:
    tv = s03().devices["tv"].profile
    assert fact_fault(tv, FactRow(path="peak_cd_m2", value=610)) == ""
    for path, value in (
        ("lag.abc", {"ms": 5}),
        ("lag.abc", "quick"),
        ("came_back.motion", ""),
        ("peak_cd_m2", "bright"),
    ):
        assert fact_fault(tv, FactRow(path=path, value=value))


def test_a_confirmed_fault_is_a_line_for_the_shelf() -> None:
    """Of a search that was closed with a cause: in words, with day and version; one closed without is none."""
    seen = {
        "uid": "s1.0", "run": "k1", "device": "tv", "line": CLOSED, "place": "Fault", "label": "it was: HDMI 1 is dead",
        "answer": "seen", "observed": "dead/tv/hdmi1", "at": "2026-05-03T10:00:00+00:00", "firmware": "3.4",
    }  # fmt: skip
    nothing = {**seen, "uid": "s2.0", "observed": "nothing", "label": "it was: nothing found"}
    rig = apply(s14(), [{"op": "observe", "observation": o} for o in (seen, nothing)])[0]
    ((device, fault),) = confirmed_faults(rig)
    assert device == "tv"
    (line,) = [x for x in learned(rig, rig.devices["tv"], seen=[fault]) if x.path == fault.path]
    assert line.words == "a fault that was confirmed: HDMI 1 is dead, on firmware 3.4, 2026-05-03"
    profile, facts = rig.devices["tv"].profile, [FactRow(path=line.path, value=line.value)]
    assert fact_fault(profile, facts[0]) == ""
