"""Light in a job: pages and clicks, targets, cells that never mix, what ages a reading, and where its figures go."""

from __future__ import annotations

import json
from bisect import bisect_left
from typing import Any

import numpy as np
import pytest

from tests.rigs import s07, s16, setting
from wavilex.core.advise.settings_plan import settings_plan
from wavilex.core.chain.paths import Layer
from wavilex.core.errors import ChangeError
from wavilex.core.gear.hdr_pages import HdrPage
from wavilex.core.light.care import Load, eases, grade
from wavilex.core.light.near_black import controls, judged
from wavilex.core.light.overdrive import best_for, grades
from wavilex.core.light.pages import clicks_for, fitted, light_of, lights
from wavilex.core.light.room import target
from wavilex.core.light.transfer import pq_light
from wavilex.core.rig.changes import apply
from wavilex.core.rig.edit_light import light_note_data
from wavilex.core.rig.jobfile import Job, job_data, parse_job
from wavilex.core.rig.learned import learned
from wavilex.core.rig.light_notes import LightNote
from wavilex.core.rig.model import Rig
from wavilex.core.runsheet.plan import plan_steps
from wavilex.core.tell.handover import handover
from wavilex.core.tell.light import light_data

SDR, HDR = "hdmi1;range=sdr;mode=game", "hdmi1;range=hdr;mode=game"


def lit(uid: str, light: float, value: str = "25", scope: str = SDR, **more: Any) -> dict[str, Any]:
    figures = {"luminance_ucd_m2": round(light * 1e6), "window_percent": 10, "signal_e4": 10_000, "error_e4": 80}
    figures |= more.pop("figures", {})
    note = {"uid": uid, "kind": "patch", "device": "tv", "scope": scope, "value": value, "figures": figures,
            "method": "meter", "at": "2026-11-30T09:00:00Z", "by": "someone", **more}  # fmt: skip
    return {"op": "note_light", "note": note}


def read(*more: dict[str, Any]) -> Rig:
    """A self-lit screen in game mode, read at five values of its panel light."""
    ops = [setting("tv", f"hdmi{n}", "game", "on") for n in (1, 3, 4)]
    curve = ((0, 31), (12, 96), (25, 190), (38, 312), (50, 450))
    ops += [lit(f"r{v}", light, str(v)) for v, light in curve]
    return apply(s07(), [*ops, *more])[0]


def cell(r: Rig, scope: str = SDR) -> Any:
    return next(c for c in light_data(Layer(r, "plan"), "tv")["cells"] if c["scope"] == scope)


def simulated(rng: np.random.Generator) -> list[float]:
    """A page of a make of its own: equal steps of light, equal steps to the eye, or a list of no rule at all."""
    kind = rng.integers(3)
    if kind == 0:
        first, step = rng.uniform(20, 200), rng.uniform(15, 70)
        return lights(HdrPage(id="p", label="p", sets="peak", first=first, step=step, most=80))
    if kind == 1:
        first, step = rng.uniform(3500, 5200), rng.uniform(40, 110)
        return lights(HdrPage(id="p", label="p", sets="peak", first=first, step=step, most=40, scale="pq"))
    steps = tuple(np.cumsum(rng.uniform(5, 120, 40)).tolist())
    return lights(HdrPage(id="p", label="p", sets="peak", steps=steps))


def test_clicks_are_right_on_a_hundred_simulated_pages_or_not_said() -> None:
    """The right count is found by clicking: the first step at or over the true light. The meter errs by 1 %."""
    rng = np.random.default_rng(5)
    sure = 0
    for _ in range(100):
        table = simulated(rng)
        true = float(rng.uniform(table[1], table[-1]))
        by_clicking = next(n for n, light in enumerate(table) if light >= true)
        seen, off = true * (1 + rng.normal(0, 0.01)), 3.3 * 0.01
        answer = clicks_for(table, seen * (1 - off), seen * (1 + off))
        assert answer.low <= by_clicking <= answer.high
        if answer.sure:
            sure += 1
            assert answer.low == by_clicking
        low, high = light_of(table, by_clicking)
        assert low < true <= high
    assert sure > 8


def test_a_page_s_steps_are_found_from_counts_or_refused() -> None:
    """Counts on screens of known light, the steps hidden: another screen's count lies in what is said."""
    rng = np.random.default_rng(11)
    said = 0
    for _ in range(60):
        first, step = rng.uniform(50, 200), rng.uniform(40, 90)
        table = [first + step * n for n in range(40)]
        known = rng.uniform(table[0], table[30], 7)
        counted = [(bisect_left(table, x), x * 0.99, x * 1.01) for x in known]
        found = fitted(counted)
        assert found is not None
        assert found.fits, "equal steps of light explain it"
        other = float(rng.uniform(table[2], table[28]))
        answer = found.clicks_for(other * 0.99, other * 1.01)
        assert answer.low <= bisect_left(table, other) <= answer.high
        said += answer.high - answer.low <= 2
    assert said > 40


def test_under_three_counts_no_table_is_made_and_slips_explain_nothing() -> None:
    assert fitted([(3, 190, 210), (9, 480, 500)]) is None
    assert fitted([(3, 190, 210), (3, 195, 200), (3, 192, 204)]) is None
    slip = fitted([(3, 199, 201), (9, 499, 501), (15, 120, 121), (20, 1050, 1051)])
    assert slip is not None
    assert not slip.fits


@pytest.mark.parametrize(
    ("facts", "style", "time", "band", "guess"),
    [
        ({}, {}, "night", (100, 200), True),
        ({"day": "bright"}, {}, "day", (400, 600), False),
        ({"day": "dark"}, {}, "day", (100, 200), False),
        ({}, {"look": "bright_room"}, "night", (400, 600), False),
    ],
)
def test_the_room_asks_by_day_and_by_night(
    facts: dict[str, str], style: dict[str, str], time: Any, band: tuple[int, int], guess: bool
) -> None:
    """Dark 100 to 200, bright 400 to 600 cd/m²: common practice."""
    ops = [{"op": "set_style", "level": "job", "key": k, "value": v} for k, v in style.items()]
    ops += [{"op": "set_fact", "device": "tv", "path": "room_light", "value": facts}] if facts else []
    r = apply(s07(), ops)[0]
    t = target(r, r.devices["tv"], time)
    assert ((t.low, t.high), t.guess) == (band, guess)
    assert t.low <= t.aim <= t.high


@pytest.mark.parametrize(
    ("said", "light"),
    [("Den has a north window; hall without daylight", "bright"), ("no daylight in the den", "dark"), ("", "lit")],
)
def test_an_unnoted_room_is_guessed_from_the_survey_and_says_so(said: str, light: str) -> None:
    ops: list[dict[str, Any]] = [{"op": "set_device", "device": "tv", "room": "Den"}]
    ops += [{"op": "set_survey", "key": "light", "value": said}] if said else []
    r = apply(s07(), ops)[0]
    t = target(r, r.devices["tv"], "day")
    assert (t.light, t.guess) == (light, True)


def test_s07_the_panel_light_for_the_room_comes_of_its_own_cell_alone() -> None:
    """Readings of another preset, window, signal, by eye, or by another input do not move it."""
    clean = cell(read())["answers"][0]
    assert clean["value"] is not None
    assert clean["low"] <= 150 <= clean["high"] * 1.02
    others = [
        lit("o1", 900, "25", "hdmi1;range=sdr;mode=vivid"), lit("o2", 900, "25", "hdmi3;range=sdr;mode=game"),
        lit("o3", 900, "25", figures={"window_percent": 100}), lit("o4", 20, "25", figures={"signal_e4": 5000}),
        lit("o5", 900, "25", method="eye"),
    ]  # fmt: skip
    assert cell(read(*others))["answers"][0] == clean


def test_beyond_the_readings_it_names_the_next_reading() -> None:
    r = apply(
        s07(),
        [setting("tv", "hdmi1", "game", "on"), *(lit(f"r{v}", x, str(v)) for v, x in ((0, 20), (5, 40), (10, 60)))],
    )[0]
    answer = cell(r)["answers"][0]
    assert answer["value"] is None
    assert 10 < float(answer["next_value"]) <= 50
    assert "nothing is said outside the readings" in answer["said"]
    unread = cell(apply(s07(), [setting("tv", "hdmi1", "game", "on")])[0])["answers"][0]
    assert (unread["value"], unread["next_value"]) == (None, "25")


def test_a_reading_ages_with_what_it_rests_on() -> None:
    grounds = {"grounds": {"setting/tv//shown_light": "off"}}
    r = read(lit("g", 200, "26", **grounds), {**setting("tv", "", "shown_light", "off"), "layer": "found"})
    assert next(x for x in cell(r)["readings"] if x["uid"] == "g")["counts"]
    later = apply(r, [{**setting("tv", "", "shown_light", "on"), "layer": "found"}])[0]
    aged = next(x for x in cell(later)["readings"] if x["uid"] == "g")
    assert not aged["counts"]
    assert "was off, is on" in aged["stale"]


def test_the_plan_and_the_run_sheet_carry_the_number() -> None:
    r = read()
    value = cell(r)["answers"][0]["value"]
    plan = settings_plan(Layer(r, "plan"))
    row = plan.rows["tv", SDR, "light"]
    assert (row.value, row.source) == (value, "measured here")
    see = " ".join(s.see for s in plan_steps(r) if s.phase == "range")
    assert f"Panel light {value} gives" in see
    assert "aim 150 (the room is a guess): measure it on Light" in " ".join(
        s.see for s in plan_steps(s07()) if s.phase == "range"
    )


def test_the_measured_peak_stands_for_the_claimed_one_in_its_own_cell() -> None:
    r = read(lit("p", 512, "50", HDR))
    runs = {h["run"]: h for h in light_data(Layer(r, "plan"), "tv")["hdr"]}
    assert (runs["k1"]["peak"], runs["k1"]["peak_measured"]) == (512, True)
    assert (runs["one"]["peak"], runs["one"]["peak_measured"]) == (800, False)


def clicks(count: int, light: float, page: str = "peak", source: str = "k1", **more: Any) -> dict[str, Any]:
    note = {"uid": f"c{page}{count}", "kind": "clicks", "device": source, "scope": HDR, "value": page,
            "figures": {"count": count, "light_ucd_m2": round(light * 1e6)}, "method": "typed",
            "at": "2026-11-30T09:00:00Z", **more}  # fmt: skip
    return {"op": "note_light", "note": note}


def test_clicks_by_the_measured_peak_and_back() -> None:
    r = read(lit("p", 512, "50", HDR), clicks(36, 512, grounds={"setting/tv//tone": "source"}))
    page = next(p for h in light_data(Layer(r, "plan"), "tv")["hdr"] for p in h["pages"] if p["page"] == "peak")
    table = lights(r.devices["k1"].profile.hdr_pages[0])
    right = next(n for n, x in enumerate(table) if x >= 512)
    assert page["low"] <= right <= page["high"]
    assert "36 found means" in page["meaning"]
    assert table[36] == pytest.approx(pq_light((4800 + 36 * 60) / 10_000))
    changed = apply(r, [{**setting("tv", "", "tone", "screen"), "layer": "found"}])[0]
    page = next(p for h in light_data(Layer(changed, "plan"), "tv")["hdr"] for p in h["pages"] if p["page"] == "peak")
    assert "led by the source" in page["stale"]


def test_a_source_calibrated_low_and_a_screen_that_maps_on_is_warned_of() -> None:
    r = read(lit("p", 512, "50", HDR), clicks(36, 512), setting("tv", "", "tone", "screen"))
    warned = next(h for h in light_data(Layer(r, "plan"), "tv")["hdr"] if h["run"] == "k1")
    assert "Mapped twice" in warned["warning"]
    led = apply(r, [setting("tv", "", "tone", "source")])[0]
    assert not next(h for h in light_data(Layer(led, "plan"), "tv")["hdr"] if h["run"] == "k1")["warning"]


def test_s16_weak_hdr_is_told_in_figures_and_the_school_decides() -> None:
    off = {"op": "set_style", "level": "job", "key": "weak_hdr", "value": "off"}
    told = light_data(Layer(apply(s16(), [off])[0], "plan"), "monitor")["hdr"][0]
    assert (told["weak"], told["school"]) == (True, "off")
    assert any(c["worse"] == "yes" for c in told["costs"])


def test_the_hand_over_says_what_was_measured_and_that_nothing_was() -> None:
    assert handover(s07())["light"] == []
    rows = handover(read(lit("p", 512, "50", HDR, figures={"x_e5": 31_300, "y_e5": 32_900}), clicks(36, 512)))["light"]
    text = json.dumps(rows, ensure_ascii=False)
    assert "white 512 cd/m²" in text
    assert "36 clicks" in text
    assert "nobody noted that it was left at that" in text


def test_a_job_file_brings_light_back_as_it_was() -> None:
    r = read(clicks(36, 512))
    job = Job("light", "Light", "UTC", r, (), (), {})
    assert parse_job(json.dumps(job_data(job))).rig.light == r.light


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ({"figures": {"luminance_ucd_m2": 5}}, "window percent"), ({"scope": "hdmi1;rnge=hdr"}, "rnge"),
        ({"figures": {"sparkle": 3}}, "says its"), ({"at": "noon"}, "a moment like"),
    ],
)  # fmt: skip
def test_a_note_that_says_no_light_is_refused(change: dict[str, Any], words: str) -> None:
    note = {**lit("x", 100)["note"], **change}
    with pytest.raises(ChangeError, match=words):
        apply(s07(), [{"op": "note_light", "note": note}])


def test_the_same_reading_of_a_meter_is_kept_once() -> None:
    r = read(lit("a", 100, ref="77:4"))
    with pytest.raises(ChangeError, match="kept already"):
        apply(r, [lit("b", 100, ref="77:4")])
    assert light_note_data(r.light["a"])["ref"] == "77:4"


def ghost(value: str, hz: int, trail: int, seam: int = 0) -> LightNote:
    figures = (("hz", hz), ("trail", trail), ("seam", seam))
    return LightNote(f"{value}{hz}", "ghost", "m", "", value, figures, "eye", "2026-11-30T09:00:00Z")


def test_overdrive_that_suits_every_rate_played_comes_first() -> None:
    """Common practice: good at 144 may ghost at 60. Against every order of the same notes."""
    notes = [ghost("high", 144, 0), ghost("high", 60, 0, 3), ghost("middle", 144, 1), ghost("middle", 60, 0, 1),
             ghost("low", 144, 2), ghost("low", 60, 0)]  # fmt: skip
    for order in (notes, notes[::-1]):
        assert [s.value for s in best_for(grades(order), [60, 144])] == ["middle", "low", "high"]
    assert best_for(grades(notes), [144])[0].value == "high"
    assert best_for(grades(notes[:1]), [60, 144])[0].unseen == (60,)
    assert best_for({}, [60]) == []


def test_near_black_names_the_control_that_moves_least_elsewhere_first() -> None:
    tv = s07().devices["tv"]
    todo = controls(tv, 9, hdr=False, levels_differ=False)
    assert next("white balance" in c.do for c in todo)
    assert [c.setting for c in todo][1:] == ["black_level", "shadows"]
    assert controls(tv, 3, hdr=False, levels_differ=None) == []
    assert "levels" in controls(tv, 9, hdr=False, levels_differ=True)[0].elsewhere
    assert "drown" in judged(9)
    assert "crushed" in judged(9, ("full", "limited"))
    assert "grey" in judged(0)


def test_care_grows_with_hours_stillness_and_light_and_promises_nothing() -> None:
    """A rule of thumb of our own, common practice."""
    tv = s07().devices["tv"]
    easy, hard = Load("a", 5, 10, 120.0), Load("b", 40, 30, 400.0)
    assert (grade([]), grade([easy]), grade([easy, hard])) == ("", "light", "heavy")
    assert any("down to 150" in e.what for e in eases(tv, [hard]))
    assert eases(s16().devices["monitor"], [hard]) == []


def test_steps_found_by_counts_go_with_the_source_and_stay_as_unsure_as_they_are() -> None:
    """Counts on seven lights of a page of hidden steps: what is said holds the right count before and after keeping."""
    table, scope = [120 + 37.0 * n for n in range(60)], "hdmi4;range=hdr;mode=game"
    ops: list[dict[str, Any]] = [{"op": "set_want", "run": "k2", "key": "hdr", "value": "static"}]
    for light in (300, 455, 610, 780, 960, 1200, 1500):
        ops.append(clicks(bisect_left(table, light), light, source="k2"))
    r = read(*ops, lit("p4", 700, "50", scope), setting("tv", "hdmi4", "game", "on"))

    def page(of: Rig) -> Any:
        told = next(h for h in light_data(Layer(of, "plan"), "tv")["hdr"] if h["run"] == "k2")
        return next(p for p in told["pages"] if p["page"] == "peak")

    before = page(r)
    assert before["low"] <= bisect_left(table, 700) <= before["high"]
    kept = apply(r, before["ops"])[0]
    assert (page(kept)["low"], page(kept)["high"]) == (before["low"], before["high"])
    assert any("a click" in line.words for line in learned(kept, kept.devices["k2"]))
    elsewhere = apply(kept, [{"op": "drop_light", "note": uid} for uid in kept.light if uid.startswith("cpeak")])[0]
    assert page(elsewhere)["low"] < bisect_left(table, 700) < page(elsewhere)["high"]
