"""The client's page says `seen` and `heard` of nothing but what somebody saw and heard as it is planned now."""

from __future__ import annotations

from tests.rigs import s14, setting
from wavilex.core.advise.assign import assign
from wavilex.core.chain.carry import run_result
from wavilex.core.chain.paths import Layer
from wavilex.core.prove.grounds import grounds_of
from wavilex.core.rig.changes import apply
from wavilex.core.rig.model import Rig
from wavilex.core.runsheet.plan import plan_steps
from wavilex.core.runsheet.sheet import Event, sheet_data, step_grounds
from wavilex.core.tell.handover import handover

DAY = "2026-11-25"


def finished() -> Rig:
    """S14 with its best places planned and every step that records something ticked."""
    r = apply(s14(), assign(s14()).best.ops)[0]
    for step in plan_steps(r):
        r = apply(r, step.ops)[0]
    return r


def ticked(r: Rig, *words: str) -> list[Event]:
    """The steps of the first console whose titles have one of these words, ticked on the day."""
    return [
        Event(s.key, "done", s.title, s.phase, f"{DAY}T10:00:00+00:00", "", tuple(step_grounds(r, s).items()))
        for s in plan_steps(r) if s.title.startswith("k1:") and any(w in s.title for w in words)
    ]  # fmt: skip


def shown(r: Rig, events: list[Event]) -> tuple[str, str]:
    row = next(p for p in handover(r, events)["client"]["plays"] if p["what"] == "K1")
    return row["picture"], row["sound"]


def held(r: Rig, label: str) -> Rig:
    return seen(r, "k1/hdmi/title/held", "yes", label)


def seen(r: Rig, line: str, observed: str, label: str = "") -> Rig:
    layer = Layer(r, "found")
    run = r.runs["k1"]
    grounds = grounds_of(layer, run, run_result(layer, run).path)
    data = {"uid": f"o{len(r.observations)}-line", "run": "k1", "device": "tv", "line": line, "place": "",
            "label": label, "answer": "as_predicted", "predicted": observed, "observed": observed,
            "at": f"{DAY}T10:00:00+00:00", "grounds": grounds}  # fmt: skip
    return apply(r, [{"op": "observe", "observation": data}])[0]


def test_a_job_nobody_looked_at_says_so_of_picture_and_sound() -> None:
    for row in handover(s14())["client"]["plays"]:
        assert row["picture"].endswith("(not seen yet)") or row["picture"] == "not as wished yet"
        assert row["sound"].endswith("(not heard yet)") or row["sound"].startswith("Silent")
    assert shown(finished(), [])[0].endswith("(not seen yet)")


def test_what_was_ticked_was_seen_and_heard() -> None:
    r = finished()
    picture, sound = shown(r, ticked(r, "prove"))
    assert picture == f"2160p120 (seen {DAY}), with HDR and variable refresh (not seen yet)"  # a title proves its mode
    assert sound.endswith("(not heard yet)")
    assert shown(r, ticked(r, "hear it"))[1].endswith(f"(heard {DAY})")


def test_a_tick_no_longer_counts_when_a_setting_of_its_way_stands_otherwise() -> None:
    r = finished()
    events = ticked(r, "prove", "hear it")
    inp = run_result(Layer(r, "found"), r.runs["k1"]).path[-1].inp
    changed = apply(r, [setting("tv", inp.port, "format", "basic", layer) for layer in ("found", "plan")])
    picture, sound = shown(changed[0], events)
    assert "seen 2026" not in picture
    assert "heard 2026" not in sound
    rows = [s for p in sheet_data(changed[0], events)["phases"] for s in p["steps"] if s["title"].startswith("k1:")]
    again = [s for s in rows if "since then" in s["why"]]
    assert [s["open"] for s in again] == [True] * len(events)
    assert all("went from" in s["why"] for s in again)
    other = next(p for p in r.devices["tv"].profile.inputs() if p.id in ("hdmi3", "hdmi4") and p.id != inp.port)
    elsewhere = apply(r, [setting("tv", other.id, "format", "basic", "found")])[0]
    assert shown(elsewhere, events)[0].startswith(f"2160p120 (seen {DAY})"), "another input is no ground"


def test_a_held_title_counts_for_the_mode_it_ran_in_and_until_the_plan_goes_on() -> None:
    r = finished()
    signal = run_result(Layer(r, "plan"), r.runs["k1"]).asked
    assert signal is not None
    name = signal.timing.mode.name
    assert shown(held(r, f"{name} holds for five minutes"), [])[0].startswith(f"{name} (seen {DAY})")
    assert shown(held(r, "480p60 holds for five minutes"), [])[0].endswith("(not seen yet)")
    planned = {"op": "set_device", "device": "tv", "firmware_plan": "9"}
    assert "seen 2026" not in shown(apply(held(r, f"{name} holds"), [planned])[0], [])[0]


def test_hdr_and_variable_refresh_are_seen_at_the_screen_and_nowhere_else() -> None:
    r = held(finished(), "2160p120 holds for five minutes")
    listed = seen(r, "k1/hdmi/list/hdr.3840x2160@120", "yes")
    assert shown(listed, [])[0] == f"2160p120 (seen {DAY}), with HDR and variable refresh (not seen yet)"
    banner = seen(r, "tv/hdmi3/banner/hdr", "yes")
    assert shown(banner, [])[0] == f"2160p120 with HDR (seen {DAY}), with variable refresh (not seen yet)"
    still = seen(banner, "tv/hdmi3/counter/rate", "120 Hz")
    assert shown(still, [])[0] == shown(banner, [])[0]
    moves = seen(banner, "tv/hdmi3/counter/rate", "moves, 48 to 120 Hz")
    assert shown(moves, [])[0] == f"2160p120 with HDR and variable refresh (seen {DAY})"
