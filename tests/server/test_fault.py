"""The search for a fault through the API: answers, their undo, the end, what is learned; and practice, kept apart."""

from __future__ import annotations

import json
from collections.abc import Callable
from typing import Any

import pytest

from tests.conftest import Api
from tests.core.test_fault import s12_one
from tests.server.test_jobs import change
from wavilex.core.fault.practice import GUESS, LEVELS, SHIPPED
from wavilex.core.rig.jobfile import Job, job_data
from wavilex.server.faults.models import Confirmed, Game

R = "/jobs/pierhead/runs/den/fault"
WHOLE = f"{R}?whole=true"
AT = "2026-11-30T10:00:00Z"
COUNT = iter(range(1, 10_000))


def answer(api: Api, key: str, value: str, uid: str = "", expect: int = 200) -> Any:
    body = {"uid": uid or f"answer-{next(COUNT):05}", "key": key, "value": value, "said_at": AT}
    return api.post(f"{R}/answers", body, expect=expect)


def close(api: Api, cause: str, *, note: bool = False, uid: str = "", expect: int = 200) -> Any:
    body = {"uid": uid or f"close-{next(COUNT):05}", "cause": cause, "note": note, "said_at": AT}
    return api.post(f"{R}/close", body, expect=expect)


def test_a_complaint_ranks_causes_and_asks(api: Api, demo: str) -> None:
    before = api.get(R)
    assert (before["causes"], before["next"], before["trail"]) == ([], None, [])
    assert before["joined"]
    assert before["assumed"], "the den has settings nobody noted"
    told = answer(api, "complaint/no_hdr", "yes")
    assert [c["rank"] for c in told["causes"]] == list(range(1, len(told["causes"]) + 1))
    shares = [c["share"] for c in told["causes"]]
    assert shares == sorted(shares, reverse=True)
    assert sum(shares) + told["nothing"] + told["unknown"] == pytest.approx(1, abs=0.05)
    assert told["next"]["outcomes"][0]["probable"] >= told["next"]["outcomes"][-1]["probable"]
    assert all(c["reasons"][0]["text"].startswith("If ") for c in told["causes"])
    rail = api.get("/jobs/pierhead")["rail"]
    assert rail["fault"] == {"text": "open: Den console", "attn": True}
    assert rail["prove"]["text"] == "nothing seen yet", "a complaint is not read off a box"


def test_an_answer_sent_twice_is_kept_once_and_can_be_taken_back(api: Api, demo: str) -> None:
    first = answer(api, "complaint/no_hdr", "yes", uid="twice-0001")
    again = answer(api, "complaint/no_hdr", "yes", uid="twice-0001")
    assert first["trail"] == again["trail"]
    assert len(again["trail"]) == 1
    back = {"uid": "back-00001", "seen": again["trail"][0]["uid"]}
    api.post("/jobs/pierhead/runs/den/not-seen", back)
    assert api.get(R)["trail"] == []
    api.post("/jobs/pierhead/undo", {"uid": "undo-00001"})
    assert len(api.get(R)["trail"]) == 1


def test_what_is_answered_is_of_a_check_there_is(api: Api, demo: str) -> None:
    answer(api, "complaint/it_smells", "yes", expect=422)
    assert answer(api, "check/setting/nobody//x", "on", expect=404)["code"] == "no_such_check"
    key = "check/input/den-screen/"
    assert "hdmi1" in answer(api, key, "hdmi77", expect=422)["detail"]
    told = answer(api, key, "hdmi1")
    assert told["trail"][0]["value"] == "HDMI 1"
    cannot = answer(api, "check/setting/den-screen/hdmi3/format", "cannot")
    assert cannot["trail"][-1]["kind"] == "cannot"
    asked = [cannot["next"], *cannot["more"]] if cannot["next"] else []
    assert "check/setting/den-screen/hdmi3/format" not in {c["key"] for c in asked}
    assert api.get("/jobs/pierhead")["revision"] == 3, "what was refused wrote nothing"


def test_a_read_out_answered_here_stands_in_prove(api: Api, demo: str) -> None:
    told = answer(api, "den-screen/hdmi3/banner/mode", "1080p60")
    assert told["trail"][0]["kind"] == "read"
    lines = {x["key"]: x for c in api.get("/jobs/pierhead/runs/den/prove")["cards"] for x in c["lines"]}
    assert lines["den-screen/hdmi3/banner/mode"]["seen"]["differs"]
    predicted = lines["den-screen/hdmi3/banner/mode"]["says"]
    answer(api, "den-screen/hdmi3/banner/mode", predicted)
    lines = {x["key"]: x for c in api.get("/jobs/pierhead/runs/den/prove")["cards"] for x in c["lines"]}
    assert lines["den-screen/hdmi3/banner/mode"]["seen"]["answer"] == "as_predicted"


def test_what_it_was_is_learned_and_forgotten(api: Api, demo: str) -> None:
    answer(api, "complaint/no_hdr", "yes")
    cause = api.get(WHOLE)["causes"][0]
    before = cause["share"]
    assert close(api, "nobody/knows", expect=404)["code"] == "no_such_cause"
    after = close(api, cause["id"], uid="close-aaaa")
    assert after["trail"] == []
    close(api, cause["id"], uid="close-aaaa")
    assert Confirmed.objects.count() == 1, "sent twice, counted once"
    learned = api.get("/faults/experience")
    assert learned["total"] == 1
    assert learned["rows"][0]["times"] > 1
    answer(api, "complaint/no_hdr", "yes")
    assert api.get(WHOLE)["causes"][0]["share"] > before
    assert api.post("/faults/forget")["total"] == 0
    assert api.get(WHOLE)["causes"][0]["share"] == pytest.approx(before)


def test_it_is_so_notes_the_rig_as_found(api: Api, demo: str) -> None:
    answer(api, "complaint/no_hdr", "yes")
    told = answer(api, "check/setting/den-receiver/game/format", "basic")
    cause = told["causes"][0]
    assert cause["id"] == "format/den-receiver/game/format=basic"
    close(api, cause["id"], note=True)
    rows = api.get("/jobs/pierhead?layer=found")["devices"]
    receiver = next(d for d in rows if d["uid"] == "den-receiver")
    assert "basic" in str(receiver)
    history = api.get("/jobs/pierhead")["revision"]
    assert history == 5, "two answers, the end, and the note"


def test_what_was_confirmed_leaves_with_no_file(api: Api, demo: str) -> None:
    told = answer(api, "complaint/lags", "yes")
    close(api, told["causes"][0]["id"])
    text = api.client.get("/api/v1/jobs/pierhead/file").getvalue().decode()
    assert '"confirmed"' not in text


def test_a_viewer_reads_and_answers_nothing(make_api: Callable[[str], Api], demo: str) -> None:
    viewer = make_api("viewer")
    viewer.get(R)
    answer(viewer, "complaint/lags", "yes", expect=403)
    viewer.post("/faults/forget", expect=403)


def test_an_unjoined_run_says_so(api: Api, demo: str) -> None:
    api.post("/jobs/pierhead/changes", change(1, {"op": "move_lead", "layer": "found", "lead": "B1", "end": "b",
                                                  "to": None}))  # fmt: skip
    told = api.get(R)
    assert not told["joined"]
    assert told["next"] is None


# --- practice ------------------------------------------------------------------------------------------------------


def begin(api: Api, text: str, expect: int = 201) -> Any:
    return api.post("/practice", {"case": text}, expect=expect)


def move(api: Api, game: Any, key: str, expect: int = 200) -> Any:
    return api.post(f"/practice/games/{game['uid']}/moves", {"number": len(game["moves"]), "key": key}, expect=expect)


def test_twelve_cases_ship_and_every_one_can_be_solved(api: Api) -> None:
    told = api.get("/practice")
    assert len(told["cases"]) == len(SHIPPED) == 12
    assert [x["id"] for x in told["levels"]] == list(LEVELS)
    for case in told["cases"]:
        game = begin(api, case["case"])
        assert game["complaints"], case
        assert (game["truth"], game["ended"]) == ("", False), "nothing is told before the end"
        again = begin(api, case["case"])
        assert (again["complaints"], again["par_seconds"]) == (game["complaints"], game["par_seconds"])
        for name in game["names"]:  # somebody who guesses through all of it gets there, slowly
            if game["ended"] or " two " in case["case"]:
                break
            game = move(api, game, f"{GUESS}{name['id']}")
        assert game["ended"] or " two " in case["case"], case
        if game["ended"]:
            assert game["truth"]
            assert game["points"] < 100 or len(game["moves"]) == 1
            assert all(m["instead"] or m["truth"] for m in game["moves"])


def test_a_game_is_its_accounts_alone_and_moves_are_made_once(make_api: Callable[[str], Api], demo: str) -> None:
    one, other = make_api("technician"), make_api("viewer")
    game = begin(one, "template/console-tv modes 6")
    other.get(f"/practice/games/{game['uid']}", expect=404)
    theirs = begin(other, "template/console-tv modes 6")
    assert theirs["uid"] != game["uid"]
    first = move(one, game, "check/input/screen/")
    assert first == move(one, game, "check/input/screen/"), "the same move again is no second one"
    assert len(first["moves"]) == 1
    move(one, first, "check/nothing", expect=422)
    body = {"number": 7, "key": "check/input/screen/"}
    assert one.post(f"/practice/games/{game['uid']}/moves", body, expect=409)["code"] == "not_the_next_move"


def test_practice_leaks_into_nothing(api: Api, demo: str) -> None:
    revision = api.get("/jobs/pierhead")["revision"]
    rigs = api.get("/practice/rigs/pierhead")
    den = next(r for r in rigs if r["label"] == "Den console")
    game = begin(api, f"{den['name']} formats 7")
    for name in game["names"]:
        if not game["ended"]:
            game = move(api, game, f"{GUESS}{name['id']}")
    assert game["ended"]
    assert api.get("/jobs/pierhead")["revision"] == revision
    assert Confirmed.objects.count() == 0
    assert api.get("/faults/experience")["total"] == 0
    assert api.get("/shelf?search=&role=&away=false&starters=false") == []
    assert api.get(R)["trail"] == []
    assert Game.objects.count() == 1


def test_cases_that_are_none_are_refused_with_what_there_is(api: Api, demo: str) -> None:
    for text in ("nonsense", "demo/den formats", "demo/den formats x", "demo/nobody formats 1", "demo/den magic 1",
                 "template/console-tv old 3", "random/x leads 1", "demo/den formats 99999999999"):  # fmt: skip
        said = begin(api, text, expect=422)
        assert said["code"] == "no_such_case", text
        assert said["detail"]
    begin(api, "job/nobody/den leads 1", expect=404)


def test_progress_is_the_best_of_a_case(api: Api) -> None:
    text = "template/console-tv modes 6"
    slow, fast = begin(api, text), begin(api, text)
    slow = move(api, slow, "card/screen/hdmi1/banner")
    guess = next(n["id"] for n in slow["names"] if n["id"].startswith("game/"))
    slow, fast = move(api, slow, f"{GUESS}{guess}"), move(api, fast, f"{GUESS}{guess}")
    assert slow["ended"]
    assert fast["ended"]
    assert slow["moves"][0]["lines"], "a card is read whole"
    assert api.get("/practice")["best"][text] == max(slow["points"], fast["points"])


def test_a_job_brought_in_has_its_own_search(api: Api) -> None:
    text = json.dumps(job_data(Job("one", "One", "UTC", s12_one())))
    uid = api.post("/import", {"text": text}, expect=201)["uid"]
    body = {"uid": "import-0001", "key": "complaint/not_offered", "value": "yes", "said_at": AT}
    told = api.post(f"/jobs/{uid}/runs/main/fault/answers", body)
    assert told["causes"][0]["kinds"] == ["title_option"]
    file = api.client.get(f"/api/v1/jobs/{uid}/file").getvalue().decode()
    assert "complaint/not_offered" in file, "the trail goes with the job"


def test_readings_over_their_bound_and_reverted_steps_amount_to_complaints(api: Api, demo: str) -> None:
    uid = api.post("/jobs/pierhead/lag", {"device": "den-screen"})["uid"]
    api.post(f"/lag/{uid}/warning")
    for n in range(7):
        api.post(f"/lag/{uid}/readings", {"condition": "game", "lag_ms": 88 + n / 10}, expect=201)
    seen = {"uid": "rev-000001", "run": "", "device": "den-screen", "line": "reverted/hdmi3/format/wide",
            "place": "Den screen, HDMI 3", "label": "Input format", "answer": "differs",
            "observed": "wide reverted, by the box itself or by its path", "at": AT}  # fmt: skip
    api.post("/jobs/pierhead/changes", change(1, {"op": "observe", "observation": seen}))
    suggested = {c["code"]: c["suggested"] for c in api.get(R)["complaints"]}
    assert suggested["lags"].startswith("game: 88.3 ms measured where")
    assert suggested["reverted"].startswith("Input format at Den screen, HDMI 3: wide reverted")
    assert suggested["no_picture"] == ""
    other = {c["code"]: c["suggested"] for c in api.get("/jobs/pierhead/runs/match/fault")["complaints"]}
    assert set(other.values()) == {""}
