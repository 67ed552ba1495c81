"""Scenarios of whole chains: what the source will really send, formats, firmware, sound, protected pictures."""

from __future__ import annotations

from tests.rigs import device, lead, rig, run, s04, s08, s09, s10, s12, setting
from wavilex.core.advise.connect_sound import rank_places
from wavilex.core.advise.fixes import find_fixes
from wavilex.core.advise.table import nearest
from wavilex.core.chain.carry import run_result
from wavilex.core.chain.notes import notes, sent_signal
from wavilex.core.chain.paths import Layer
from wavilex.core.chain.reasons import render
from wavilex.core.chain.results import RunResult
from wavilex.core.chain.sound import sound_of
from wavilex.core.rig.changes import apply
from wavilex.core.rig.model import Rig, Socket
from wavilex.core.tell.report import job_report
from wavilex.core.tell.sound import sound_data


def judge(r: Rig, uid: str = "main", layer: str = "plan") -> RunResult:
    return run_result(Layer(r, layer), r.runs[uid])


def texts(r: Rig, uid: str = "main") -> str:
    result = judge(r, uid)
    return " ".join(render(x, r) for x in [*result.reasons, *notes(Layer(r), result)])


def fixes(r: Rig, uid: str = "main") -> list[str]:
    return [w.label for w in find_fixes(r, r.runs[uid]).ways]


def test_s04_the_source_prefers_4k60_and_forbidding_it_gives_1440p120() -> None:
    r = s04()
    result = judge(r)
    assert result.verdict == "blocked"
    assert result.limiting is not None
    assert result.limiting.code == "source_prefers"
    sent = sent_signal(result)
    assert sent is not None
    assert sent.timing.mode == "3840x2160@60"
    said = texts(r)
    assert "scales 2160p60 down to its 2560×1440 panel" in said
    assert "do not trust it" in said
    assert fixes(r)[0] == "CONSOLE: 4K output → not allowed"
    fixed, _ = apply(r, [setting("console", "", "uhd", "off")])
    assert judge(fixed).verdict == "fits"
    assert "goes black" in texts(fixed)  # the home screen at 60, the title at 120


def test_s04_no_hdr_at_native_1440p() -> None:
    r, _ = apply(s04(hdr="static"), [setting("console", "", "uhd", "off")])
    assert "hdr_not_at_mode" in [x.code for x in judge(r).reasons]
    rate, _detail = nearest(Layer(r), r.runs["main"])
    assert rate is not None
    assert (rate.signal.timing.mode, rate.hdr) == ("2560x1440@120", False)


def test_s04_adaptive_sync_on_in_the_monitor_first() -> None:
    r, _ = apply(s04(), [setting("monitor", "", "adaptive_sync", "off"), setting("console", "", "uhd", "off")])
    assert fixes(r)[0] == "MONITOR: Adaptive sync → on"


def test_s08_hdr_is_the_inputs_generation() -> None:
    assert fixes(s08())[0].startswith("TV, HDMI 1: HDMI generation → the newer")


def test_s08_120_is_the_screens_limit_and_no_setting_helps() -> None:
    r = s08(mode="3840x2160@120", hdr="off", bits=8)
    found = find_fixes(r, r.runs["main"])
    assert (found.ways, found.proved) == ((), True)
    assert "Another television needs at least 2160p120" in found.needs


def test_s08_automatic_may_fall_back_now_and_then() -> None:
    r, _ = apply(s08(), [setting("tv", "hdmi1", "generation", "auto")])
    result = judge(r)
    assert result.verdict == "tight"
    assert "It comes and goes, seen 2026-05." in texts(r)


def test_s08_past_the_old_receiver_with_sound_fed_back() -> None:
    """The 1080p receiver in the path caps 4K; straight to the screen its sound comes back over ARC."""
    r, _ = apply(s08(), [setting("tv", "hdmi1", "generation", "newer")])
    sound = sound_data(Layer(r), sound_of(Layer(r), judge(r)))
    assert (sound["ends"][0]["device"], sound["ends"][0]["way"]) == ("old", ["HDMI", "ARC"])
    assert sound["ends"][0]["format"] == "lossy with object sound"
    assert "TV must be on" in sound["headline"]
    through = [
        {"op": "move_lead", "layer": "plan", "lead": "A1", "end": "b", "to": {"device": "old", "port": "in1"}},
    ]
    capped, _ = apply(r, through)
    assert judge(capped).verdict == "blocked"
    assert any("past OLD" in label for label in fixes(capped))


def test_s09_the_manual_game_mode_step_is_for_the_console_that_does_not_ask() -> None:
    one, other = judge(s09()), judge(s09("ostavar-one"))
    assert {i.key: i.verdict for i in one.items}["low_lag"] == "fits"
    assert {i.key: i.verdict for i in other.items}["low_lag"] == "blocked"
    assert one.verdict == other.verdict == "fits"
    assert "choose its game mode by hand" in texts(s09("ostavar-one"))


def test_s09_4k120_and_the_dynamic_hdr_exclude_each_other_there() -> None:
    assert judge(s09(fmt="full")).verdict == "fits"
    disc = rig(
        device("disc", "yarrowby-d4"), device("tv", "ostavar-75g"), lead("A1", "disc/hdmi", "tv/hdmi4"),
        {"op": "set_device", "device": "tv", "firmware": "3.2"}, setting("tv", "hdmi4", "format", "full"),
        run("main", "disc", "tv", mode="3840x2160@24", hdr="dynamic", bits=10),
    )  # fmt: skip
    assert fixes(disc)[0] == "TV, HDMI 4: Input format → wide with dynamic HDR"
    assert judge(s09(fmt="films")).verdict == "blocked"


def test_s10_firmware_first_then_the_port() -> None:
    r = s10()
    assert fixes(r)[0] in (
        "TV, HDMI 3: Input format → widest; then Update TV to firmware 3.1",
        "Update TV to firmware 3.1; then TV, HDMI 3: Input format → widest",
    )
    opened, _ = apply(r, [setting("tv", "hdmi3", "format", "full")])
    assert "firmware before 3.1" in texts(opened)
    assert fixes(opened) == ["Update TV to firmware 3.1"]
    updated, _ = apply(opened, [{"op": "set_device", "device": "tv", "firmware_plan": "3.1"}])
    assert judge(updated).verdict == "fits"
    assert judge(updated, layer="found").verdict != "fits"  # the plan is not yet what is there


def test_s10_unread_firmware_is_not_assumed_good() -> None:
    assert judge(s10(firmware="", fmt="full")).verdict == "unknown"


def test_s10_asking_120_before_the_port_is_open_silently_costs_resolution() -> None:
    """On the 18 Gb/s port the console falls to 1440p120 where that is shared, else to 1080p120: never said aloud."""
    sent = sent_signal(judge(s10(firmware="3.2")))
    assert sent is not None
    assert sent.timing.mode == "2560x1440@120"
    plain = rig(
        device("console", "ostavar-one"), device("tv", "ostavar-75g"), lead("A1", "console/hdmi", "tv/hdmi3"),
        {"op": "set_device", "device": "tv", "firmware": "3.2"},
        run("main", "console", "tv", mode="3840x2160@120"),
    )  # fmt: skip
    fallen = sent_signal(judge(plain))
    assert fallen is not None
    assert fallen.timing.mode == "1920x1080@120"


def test_s11_one_list_after_each_step() -> None:
    """Permissions off, plain input, format closed: what is shared grows with each step."""
    r = rig(
        device("console", "kelpine-k1"), device("tv", "yarrowby-65s"), lead("A1", "console/hdmi", "tv/hdmi1"),
        setting("tv", "hdmi1", "format", "basic"), setting("tv", "hdmi4", "format", "basic"),
        run("main", "console", "tv", mode="3840x2160@120", hdr="static", vrr=True),
    )  # fmt: skip
    steps = [
        [setting("console", "", "fast_refresh", "on")],
        [setting("tv", "hdmi1", "format", "wide")],
        [{"op": "move_lead", "layer": "plan", "lead": "A1", "end": "b", "to": {"device": "tv", "port": "hdmi4"}}],
        [setting("tv", "hdmi4", "format", "wide")],
    ]
    blocked = []
    for step in steps:
        r, _ = apply(r, step)
        blocked.append({i.key for i in judge(r).items if i.verdict == "blocked"})
    assert blocked[0] >= {"hdr", "link", "vrr"}
    # the plain input: HDR is there, the mode is not on its list, its rate and window are not either
    assert blocked[1] == {"picture", "link", "vrr"}
    assert blocked[-1] == set()


def test_s11_what_each_lead_allows() -> None:
    """The same path over a bargain lead: blocked by the lead alone, and one swap tells it from the port."""
    r = rig(
        device("console", "kelpine-k1"), device("tv", "yarrowby-65s"),
        lead("A1", "console/hdmi", "tv/hdmi4", "high_speed"), setting("console", "", "fast_refresh", "on"),
        setting("tv", "hdmi4", "format", "wide"),
        run("main", "console", "tv", mode="3840x2160@120", hdr="static"),
    )  # fmt: skip
    result = judge(r)
    assert {x.lead for x in result.reasons if x.code == "link_rate"} == {"A1"}
    allowed = {}
    for grade in ("standard", "high_speed", "premium", "ultra"):
        swapped, _ = apply(r, [{"op": "replace_lead", "lead": "A1", "grade": grade}])
        rate, _ = nearest(Layer(swapped), swapped.runs["main"])
        allowed[grade] = rate.signal.timing.mode if rate else None
    assert allowed == {
        "standard": None, "high_speed": "1920x1080@120", "premium": "2560x1440@120", "ultra": "3840x2160@120",
    }  # fmt: skip


def test_s12_a_sound_path_for_every_source() -> None:
    r = s12()
    layer = Layer(r)
    new = sound_data(layer, sound_of(layer, judge(r, "new")))
    assert (new["ends"][0]["device"], new["ends"][0]["way"]) == ("bar", ["HDMI", "ARC"])
    assert not new["silent"]
    oldest = sound_of(layer, judge(r, "oldest"))
    assert oldest.best is None
    assert oldest.ways[0]["label"] == "optical lead from OLDEST · optical out to BAR · optical in"
    joined, _ = apply(r, oldest.ways[0]["ops"])
    again = sound_of(Layer(joined), judge(joined, "oldest"))
    assert again.best is not None
    assert (again.best.device, again.best.formats[0]) == ("bar", "lossy5")


def test_s12_arc_needs_device_control() -> None:
    r, _ = apply(s12(), [setting("bar", "", "device_control", "off")])
    answer = sound_of(Layer(r), judge(r, "new"))
    assert answer.best is None
    assert "ARC needs device control, and it is off at BAR." in answer.barred


def test_s12_bar_pass_through_is_rejected_with_the_reason() -> None:
    r = rig(
        device("new", "kelpine-k1"), device("bar", "yarrowby-bar5"), device("monitor", "kelpine-x32"),
        lead("A1", "new/hdmi", "bar/in"), lead("A2", "bar/out", "monitor/hdmi2"),
        setting("new", "", "fast_refresh", "on"), run("new", "new", "monitor", mode="3840x2160@120", vrr=True),
    )  # fmt: skip
    said = texts(r, "new")
    assert "2160p120 RGB 8-bit stops at BAR, HDMI in: it takes 18 Gb/s (600 MHz) at most." in said
    assert "No variable refresh at BAR" in said


def test_s12_1440p_is_not_shared_with_one_console() -> None:
    r, _ = apply(s12(), [
        {"op": "move_lead", "layer": "plan", "lead": "A1", "end": "a", "to": {"device": "second", "port": "hdmi"}},
        {"op": "set_want", "run": "second", "key": "mode", "value": "2560x1440@120"},
    ])  # fmt: skip
    assert "SECOND, HDMI out does not send 1440p120" in texts(r, "second")


def test_protected_4k_needs_22_at_every_stage() -> None:
    r = rig(
        device("disc", "yarrowby-d4"), device("av", "ostavar-av940"), device("cap", "kelpine-c4"),
        device("tv", "yarrowby-50w"), lead("A1", "disc/hdmi", "cap/in", "premium"),
        lead("A2", "cap/out", "tv/hdmi1", "premium"), setting("tv", "hdmi1", "format", "wide"),
        run("main", "disc", "tv", mode="3840x2160@24", hdr="static", protected=True),
    )  # fmt: skip
    assert "CAP, from console has no copy protection, and this is protected: it needs 2.2." in texts(r)
    assert any("past CAP" in label for label in fixes(r))


def test_a_source_that_protects_everything_is_let_through_by_its_setting() -> None:
    r = rig(
        device("console", "ostavar-one"), device("cap", "kelpine-c4"), device("tv", "yarrowby-50w"),
        lead("A1", "console/hdmi", "cap/in", "premium"), lead("A2", "cap/out", "tv/hdmi1", "premium"),
        setting("tv", "hdmi1", "format", "wide"), run("main", "console", "tv", mode="3840x2160@60"),
    )  # fmt: skip
    assert "protects everything it sends, games too" in texts(r)
    assert fixes(r)[0] == "CONSOLE: Copy protection → off"


def test_every_reported_run_of_a_rig_ends_in_words() -> None:
    """`job check`: no run ends in a shrug. A blocked one has a fix or says what is missing and where."""
    for r in (s04(), s08(), s08(mode="3840x2160@120"), s09(), s10(), s12()):
        for row in job_report(r)["runs"]:
            assert row["headline"]
            assert row["verdict"] in ("fits", "tight", "compressed") or row["fixes"] or row["needs"]
            assert row["sound"]["headline"]


def test_where_a_sound_output_goes_is_ranked_by_who_plays_it() -> None:
    r = s12()
    optical = rank_places(r, Socket("oldest", "optical"))
    assert [(o.socket.device, o.verdict) for o in optical] == [("bar", "fits"), ("mixer", "fits")]
    assert optical[0].why == "plays it, at best as lossy 5.1"
    bar = rank_places(r, Socket("bar", "arc"))
    assert [(o.socket.port, o.verdict) for o in bar] == [("hdmi2", "fits"), ("hdmi1", "blocked")]
    assert "by ARC" in bar[0].why
