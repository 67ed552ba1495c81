"""What people are told: sentences of every reason, the sheets' data, the hand-over."""

from __future__ import annotations

from fractions import Fraction
from typing import Any

import pytest

from tests.rigs import device, lead, rig, run, s02, s03, s05, setting
from wavilex.core.chain.carry import run_result
from wavilex.core.chain.paths import Layer
from wavilex.core.chain.reasons import render
from wavilex.core.gear.profile import profile_data
from wavilex.core.quantity import Quantity
from wavilex.core.rig.changes import apply
from wavilex.core.rig.model import Rig, Socket
from wavilex.core.tell.handover import handover
from wavilex.core.tell.view import job_view
from wavilex.library import starter_profiles


def said(r: Rig, uid: str = "main") -> list[tuple[str, str, str]]:
    return [(x.code, x.verdict, render(x, r)) for x in run_result(Layer(r), r.runs[uid]).reasons]


def edited(profile: str, **changes: Any) -> dict[str, Any]:
    """A starter profile with parts of its `video` changed; None makes a figure unknown."""
    data = profile_data(starter_profiles()[profile])
    video = {**data["video"], **changes}
    data["video"] = {k: v for k, v in video.items() if v is not None}
    return data


def pair(screen: dict[str, Any], **want: Any) -> Rig:
    """A gaming PC straight on a screen of the given profile."""
    box = {"op": "add_device", "device": {"uid": "tv", "label": "TV", "profile": screen}}
    port = next(p["id"] for p in screen["ports"] if p["direction"] == "in")
    return rig(device("pc", "tindrel-r7"), box, lead("A1", "pc/hdmi", f"tv/{port}"), run("main", "pc", "tv", **want))


@pytest.mark.parametrize(
    ("r", "code", "verdict", "words"),
    [
        (s05(), "", "fits", ""),
        (s05("wide"), "link_rate", "blocked", "stops at AV, Game: it takes 18 Gb/s (600 MHz) at most as set"),
        (s02(hdr="dynamic"), "no_dynamic_hdr", "blocked", "No dynamic-metadata HDR at CONSOLE, HDMI out"),
        (s02(mode="2560x1440@60"), "mode_not_taken", "blocked", "does not list 1440p60"),
        (s02(mode="3840x2160@120"), "source_mode", "blocked", "CONSOLE, HDMI out does not send 2160p120"),
        (s02(vrr=True), "no_vrr", "blocked", "No variable refresh at TV, HDMI 1"),
        (s02(low_lag=True), "no_low_latency", "blocked", "choose its game mode by hand"),
        (s02(bits=12, chroma="444"), "no_encoding", "blocked", "takes no RGB or 4:4:4 at 12 bits as set"),
        (pair(edited("kelpine-m27", vrr=None), mode="1920x1080@120", vrr=True), "unknown_feature", "unknown",
         "Nobody knows yet whether TV, HDMI 1 handles variable refresh"),
        (pair(edited("kelpine-m27", tmds_mhz=None), mode="1920x1080@120"), "capacity_unknown", "unknown",
         "What TV, HDMI 1 carries is not known"),
    ],
)  # fmt: skip
def test_each_reason_has_its_sentence(r: Rig, code: str, verdict: str, words: str) -> None:
    if not code:
        assert said(r) == []
        return
    assert any(c == code and v == verdict and words in text for c, v, text in said(r)), said(r)


def test_no_room_for_sound_is_told_apart_from_no_room_for_the_picture() -> None:
    """RB2 with 4:2:0 leaves too little blanking: a real failure of the procedure's step 4."""
    only_420 = edited(
        "yarrowby-65s", modes=["cvt:3840x2160@144:rb2"], modes_420="any", encodings={"420": [8]}, frl="4x12"
    )  # fmt: skip
    only_420["ports"] = [{"id": "hdmi1", "label": "HDMI 1", "direction": "in"}]
    only_420["settings"], only_420["quirks"] = [], []
    assert [c for c, _, _ in said(pair(only_420, mode="3840x2160@144"))] == ["no_audio_room"]
    assert said(pair(only_420, mode="3840x2160@144", audio="none")) == []


@pytest.mark.parametrize(
    ("change", "code"),
    [
        ({"op": "replace_lead", "lead": "A2", "length_mm": 5000}, "lead_long"),
        ({"op": "replace_lead", "lead": "A2", "grade": "premium"}, "link_rate"),
        (
            {"op": "set_fact", "device": "tv", "path": "ports.hdmi3.frl", "value": "4x10", "provenance": "guess"},
            "guessed",
        ),
    ],
)
def test_leads_and_guesses_weigh_on_the_verdict(change: dict[str, Any], code: str) -> None:
    """Longer than practice and resting on a guess are tight; too low a certification blocks."""
    after, _ = apply(s05(), [change])
    codes = {c: v for c, v, _ in said(after)}
    assert codes == {code: "blocked" if code == "link_rate" else "tight"}


def test_of_two_paths_the_selected_input_decides() -> None:
    """The PC reaches the screen through the receiver and straight: the screen's input chooses."""
    two = s05("wide")
    two, _ = apply(two, [device("pc2", "tindrel-r7"), {"op": "remove_device", "device": "pc2"}])
    data = profile_data(starter_profiles()["tindrel-r7"])
    data["ports"] = [
        {"id": "hdmi", "label": "HDMI 1", "direction": "out"},
        {"id": "hdmi2", "label": "HDMI 2", "direction": "out"},
    ]
    two, _ = apply(two, [
        {"op": "add_device", "device": {"uid": "big", "label": "BIG", "profile": data}},
        {"op": "move_lead", "lead": "A1", "end": "a", "to": {"device": "big", "port": "hdmi"}},
        lead("A3", "big/hdmi2", "tv/hdmi4"),
        run("both", "big", "tv", mode="3840x2160@120", chroma="444", bits=10),
    ])  # fmt: skip
    for port, first, verdict in (("hdmi4", "A3", "fits"), ("hdmi3", "A1", "blocked")):
        chosen, _ = apply(two, [{"op": "select_input", "device": "tv", "value": port}])
        result = run_result(Layer(chosen), chosen.runs["both"])
        assert (result.path[0].lead, result.verdict) == (first, verdict)


def test_figures_are_rounded_only_when_shown() -> None:
    third = Quantity("x", Fraction(1, 3), "%", digits=2)
    assert (third.text(), third.value) == ("0.33 %", Fraction(1, 3))
    assert Quantity("x", -5, "Hz").text() == "−5 Hz"
    assert Quantity("x", "as found").text() == "as found"


# --- the sheets' data ---


def test_the_rail_says_in_words_what_waits() -> None:
    def rail(r: Rig, readings: int = 0) -> dict[str, str]:
        return {k: v["text"] for k, v in job_view(Layer(r), readings)["rail"].items()}

    empty = rail(rig())
    assert (empty["brief"], empty["gear"], empty["signal"]) == ("no run yet", "empty", "nothing to judge")
    assert (empty["lag"], empty["handover"]) == ("none taken", "as found")
    assert rail(s05("wide"))["signal"] == "1 blocked"
    assert rail(s05(), 1)["lag"] == "1 reading"
    loose, _ = apply(s05(), [{"op": "move_lead", "lead": "A2", "end": "b", "to": None}])
    assert rail(loose)["wiring"] == "1 run not joined"
    assert rail(loose)["runsheet"] == "2 planned changes"
    unknown, _ = apply(s05(), [{"op": "replace_lead", "lead": "A1", "grade": "unknown"}])
    assert (rail(unknown)["wiring"], rail(unknown)["signal"]) == ("1 lead not known", "1 unknown")


def test_the_tape_follows_the_run_from_source_to_glass() -> None:
    view = job_view(Layer(s05("wide")))
    stages = view["runs"][0]["stages"]
    assert [s["label"] for s in stages] == ["PC", "AV", "TV"]
    assert stages[0]["line"] == "wants 2160p120 RGB 10-bit"
    assert stages[1]["line"] == "Game · input format wide"
    assert [s["blocked"] for s in stages] == [False, True, False]
    assert view["runs"][0]["carried"] == "2160p60 4:2:2 12-bit"
    assert [x["tag"] for x in view["leads"]] == ["248 % of 600 MHz", "92 % of 40 Gb/s"]


def test_sockets_say_their_rate_as_set() -> None:
    ports = {p["id"]: p["rate"] for p in job_view(Layer(s05("basic")))["devices"][1]["ports"]}
    assert ports == {"game": "9", "disc": "18", "aux": "18", "out": "40"}
    assert job_view(Layer(s02(), "found"))["devices"][1]["ports"][0]["rate"] == "?"


def test_a_setting_says_whether_it_was_seen_planned_or_only_assumed() -> None:
    def of(r: Rig) -> tuple[Any, Any, Any, bool]:
        s = next(x for d in job_view(Layer(r))["devices"] for x in d["settings"] if x["scope"] == "hdmi1")
        return s["found"], s["plan"], s["value"], s["assumed"]

    assert of(s02()) == (None, None, "basic", True)
    seen, _ = apply(s02(), [setting("tv", "hdmi1", "format", "wide", layer="found")])
    assert of(seen) == ("wide", None, "wide", False)
    planned, _ = apply(seen, [setting("tv", "hdmi1", "format", "basic")])
    assert of(planned) == ("wide", "basic", "basic", False)


# --- the hand-over ---


def test_the_handover_tells_new_moved_and_unchanged_leads_apart() -> None:
    moved, _ = apply(s03(), [
        {"op": "move_lead", "lead": "A1", "end": "b", "to": {"device": "tv", "port": "hdmi3"}},
        {"op": "add_lead", "lead": {"uid": "A9", "label": "A9", "plan": [None, {"device": "tv", "port": "hdmi2"}]}},
    ])  # fmt: skip
    changes = {row["label"]: row["change"] for row in handover(moved)["wiring"]}
    assert changes == {"A1": "was BASE · HDMI out to TV · HDMI 2", "A2": "", "A9": "new"}
    done, _ = apply(moved, [{"op": "found_as_planned", "lead": "A1"}])
    assert {row["label"]: row["change"] for row in handover(done)["wiring"]}["A1"] == ""


def test_the_handover_lists_settings_to_make_and_what_is_open() -> None:
    page = handover(s05())
    to_make = {(s["device"], s["socket"], s["plan"]) for s in page["settings"] if s["make"]}
    assert ("AV", "Game", "widest") in to_make
    assert page["selections"] == ["main: select AV · Game, then TV · HDMI 3"]
    assert page["open"] == ["1 planned value was never seen on the boxes themselves: nobody noted what stands there."]
    blocked = handover(s05("wide"))
    assert blocked["runs"][0]["signal"] == "until lifted: 2160p60 4:2:2 12-bit"
    assert any("stops at AV, Game" in o for o in blocked["open"])


def test_cautions_follow_the_gear() -> None:
    plain = handover(rig(device("pc", "tindrel-r7"), device("m", "brindlo-24b")))["cautions"]
    assert any("photosensitive" in c for c in plain)
    assert not any("burn in" in c for c in plain)
    big = handover(s05())["cautions"]
    assert any("burn in" in c for c in big)
    assert any("licensed people under local codes" in c for c in big)


def test_a_socket_is_named_as_people_say_it() -> None:
    assert s03().socket_name(Socket("tv", "hdmi1")) == "TV · HDMI 1"
