"""Boxes by their class: every set of answers makes a sound profile, and an answer moves the verdict it is asked for."""

from __future__ import annotations

import itertools
import random
from typing import Any

import pytest

from tests.rigs import lead, rig, run
from wavilex.core.chain.carry import run_result
from wavilex.core.chain.paths import Layer
from wavilex.core.chain.reasons import render
from wavilex.core.errors import ProfileError
from wavilex.core.gear.class_parts import Question, Template
from wavilex.core.gear.classes import GROUPS, TEMPLATES, from_template, templates_data
from wavilex.core.gear.profile import profile_data, profile_from_data
from wavilex.core.rig.changes import apply
from wavilex.core.rig.model import Rig

BY_ID = {t.id: t for t in TEMPLATES}
MOST = 400


def choices_of(q: Question, told: dict[str, str]) -> list[str]:
    """Answers to try: each alone, some together, and none where it may stay not known."""
    if q.kind == "number":
        return ["", "650"]
    known = q.choices(told)
    if q.kind in ("many", "sockets"):
        return [*([""] if q.optional else []), *known, ",".join(known), *(["none"] if q.kind == "sockets" else [])]
    return [*([""] if q.optional else []), *known]


def sets_of(template: Template) -> list[dict[str, str]]:
    """Every set of answers; of very many some, drawn at random, each answer at least once."""
    rnd = random.Random(template.id)
    told = {"inputs": "2"}
    sides = [choices_of(q, {**told, "outputs": "2"}) for q in template.questions]
    every = list(itertools.islice(itertools.product(*sides), 20_000))
    chosen = every if len(every) <= MOST else rnd.sample(every, MOST)
    out = []
    for answers in chosen:
        given = dict(zip((q.id for q in template.questions), answers, strict=True))
        given |= {"inputs": max(given["inputs"], "2")} if "inputs" in given else {}
        out.append(given)
    return out


@pytest.mark.parametrize("template", TEMPLATES, ids=lambda t: t.id)
def test_every_set_of_answers_makes_a_device(template: Template) -> None:
    made = 0
    for answers in sets_of(template):
        given = [answers.get(k, "none") for k in ("plugs", "returns")]
        if template.role == "sound" and set(given) <= {"none", ""}:
            continue  # a box without a socket is none
        profile = from_template(template.id, answers, "Ostavar", "Nine")
        made += 1
        assert (profile.role, profile.name) == (template.role, "Ostavar Nine")
        assert profile_from_data(profile_data(profile)) == profile
    assert made


@pytest.mark.parametrize("template", TEMPLATES, ids=lambda t: t.id)
def test_a_class_stands_on_its_usual_answers_and_marks_its_figures(template: Template) -> None:
    profile = from_template(template.id, {}, "", "")
    assert "common practice" in profile.summary
    hdmi = [p for p in profile.ports if p.kind == "hdmi" and p.id.startswith("hdmi")]
    assert all(p.source == "common_practice" for p in hdmi)
    assert all(q.source == "common_practice" for q in profile.quirks)


def test_the_trade_meets_all_of_these() -> None:
    """The list of the trade, common practice: a class for each."""
    wanted = {
        "pc", "laptop", "stick", "disc", "set-top", "console", "console-small", "console-4k60", "console-1080",
        "handheld",
        "clone", "home-computer", "old-console", "old-pc", "tv-old", "tv-self-lit", "tv-4k120", "tv-4k60", "monitor",
        "projector", "tube-tv", "tube-monitor", "receiver", "soundbar", "switch", "splitter", "matrix", "converter",
        "scaler", "multiplier", "adapter", "console-adapter", "adapter-passive",
        "converter-active", "dock", "headset", "mixer", "speakers",
    }  # fmt: skip
    assert set(BY_ID) == wanted
    assert [t["id"] for t in templates_data()] == list(BY_ID)
    assert {t["group"] for t in templates_data()} == set(GROUPS)


@pytest.mark.parametrize(
    ("answers", "where", "said"),
    [
        ({"inputs": "nine"}, "answers.inputs", "one of 1, 2, 3, 4"),
        ({"inputs": "2", "fast": "3"}, "answers.fast", "some of 1, 2"),
        ({"fast": "1,1"}, "answers.fast", "some of"),
        ({"peak": "bright"}, "answers.peak", "whole number"),
        ({"peak": "0"}, "answers.peak", "whole number"),
        ({"colour": "red"}, "answers.colour", "no question"),
    ],
)
def test_a_wrong_answer_is_refused_where_it_stands(answers: dict[str, str], where: str, said: str) -> None:
    with pytest.raises(ProfileError, match=said) as refused:
        from_template("tv-4k120", answers, "", "")
    assert refused.value.where == where
    with pytest.raises(ProfileError, match="no class"):
        from_template("toaster", {}, "", "")


def job(screen: dict[str, str], source: dict[str, str], *ops: dict[str, Any], port: str = "hdmi1", **want: Any) -> Rig:
    tv = profile_data(from_template("tv-4k120", screen, "Yarrowby", "Class"))
    k = profile_data(from_template("console", source, "Kelpine", "Class"))
    boxes = [
        {"op": "add_device", "device": {"uid": u, "label": u.upper(), "profile": p}} for u, p in (("tv", tv), ("k", k))
    ]
    return rig(
        *boxes, lead("L", "k/hdmi", f"tv/{port}"), run("main", "k", "tv", **{"mode": "3840x2160@120"} | want), *ops
    )


OPEN = [{"op": "set_setting", "device": "k", "scope": "", "key": "high_rate", "value": "on"}]


def opened(n: str) -> list[dict[str, Any]]:
    return [*OPEN, {"op": "set_setting", "device": "tv", "scope": f"hdmi{n}", "key": "format", "value": "wide"}]


def test_which_sockets_are_fast_is_never_guessed() -> None:
    """Not said: not known at any of them. Said: the named one carries it, the other does not."""
    unsaid = run_result(Layer(job({}, {}, *opened("1"))), job({}, {}).runs["main"])
    assert unsaid.verdict == "unknown"
    for port, verdict in (("hdmi1", "blocked"), ("hdmi3", "fits")):
        r = job({"fast": "3,4"}, {}, *opened(port[-1]), port=port)
        assert run_result(Layer(r), r.runs["main"]).verdict == verdict
    quiet = from_template("tv-4k120", {"returns": "earc"}, "", "")
    assert not any(p.returns for p in quiet.ports)
    told = from_template("tv-4k120", {"returns": "earc", "returns_at": "3"}, "", "")
    assert [p.id for p in told.ports if p.returns] == ["hdmi3"]


def test_at_factory_a_fast_socket_is_not_slower_than_a_slow_one() -> None:
    """All inputs leave the factory at basic, fast or not; a fast one says that its format closes it."""
    r = job({"fast": "3"}, {}, *OPEN, port="hdmi3")
    tops = {p: Layer(r).state(s).tmds_hz for p, s in ((p, socket("tv", p)) for p in ("hdmi1", "hdmi3"))}
    assert tops["hdmi1"] == tops["hdmi3"] == 300_000_000
    result = run_result(Layer(r), r.runs["main"])
    assert any("Input format at basic" in render(x, r) for x in result.reasons)


def socket(device: str, port: str) -> Any:
    from wavilex.core.rig.model import Socket

    return Socket(device, port)


@pytest.mark.parametrize(
    ("asked", "key", "lost"),
    [("rate", "high_rate", "no 120"), ("uhd", "uhd", "4K"), ("hdr", "hdr", "HDR"), ("vrr", "vrr", "variable")],
)
def test_a_permission_named_is_a_setting_that_stops_the_run(asked: str, key: str, lost: str) -> None:
    """What the menu has to allow is refused while it is off, and by its own setting; not asked, it is simply sent."""
    want = {"mode": "3840x2160@120", "hdr": "static" if asked == "hdr" else "off", "vrr": asked == "vrr"}
    with_it, without = (job({"fast": "1"}, {"permissions": p, "qhd": "no"}, *opened("1")[1:], **want)
                        for p in (asked, "none"))  # fmt: skip
    off = apply(with_it, [{"op": "set_setting", "device": "k", "scope": "", "key": key, "value": "off"}])[0]
    assert not run_result(Layer(off), off.runs["main"]).good, lost
    assert run_result(Layer(without), without.runs["main"]).good


@pytest.mark.parametrize(("how", "has"), [("switch", {"off", "on"}), ("auto", {"off", "on", "auto"}), ("none", set())])
def test_game_mode_by_how_it_is_called_up(how: str, has: set[str]) -> None:
    profile = from_template("tv-4k60", {"game": how}, "", "")
    game = profile.setting("game")
    assert ({o.id for o in game.options} if game else set()) == has
    preset = from_template("tv-4k60", {"game": "preset"}, "", "")
    assert preset.setting("game") is None
    assert "game" in {o.id for o in preset.preset.options}


def test_pal_and_ntsc_machines_send_what_they_are() -> None:
    """625 lines at 50 Hz, 525 at 60 (BT.470); the carrier only where a plug carries colour on one."""
    for system, hz, colour in (("525", 60, "ntsc"), ("625", 50, "pal")):
        profile = from_template("home-computer", {"system": system, "plugs": "scart,cvbs"}, "", "")
        for port in (p for p in profile.ports if p.sends):
            scan = port.sends[0]
            rate = float(scan.dot_clock_hz.split("/")[0]) / float(scan.dots) / scan.lines
            assert abs(rate - hz) < 0.6
            assert scan.colour == (colour if port.connector == "composite" else None)
