"""Boxes that answer: an answer whole or none, whatever the line does; fetched read-outs stand as seen."""

from __future__ import annotations

import threading
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.conftest import Api
from tests.core.simulated_chain import Truth, rig_of
from tests.server.test_prove import lines, prove
from wavilex.core.rig.jobfile import Job as CoreJob
from wavilex.instruments.box import Answer, AnsweringBox, BoxFaultError
from wavilex.instruments.box_protocol import Damaged, Done, Introduced, Shown, decode
from wavilex.instruments.box_simulator import RECEIVER, SCREEN, Faults, SimulatedBox, served
from wavilex.instruments.framing import encode
from wavilex.instruments.line import LineLostError
from wavilex.server.files.services import import_job

ALL = ("3840x2160@120", "3840x2160@60", "1920x1080@120", "1920x1080@60")


@contextmanager
def running(box: SimulatedBox) -> Iterator[str]:
    """The box on a loopback port, ended with the test."""
    with served(box) as server:
        threading.Thread(target=server.serve_forever, kwargs={"poll_interval": 0.02}, daemon=True).start()
        yield f"socket://127.0.0.1:{server.server_address[1]}"
        server.shutdown()


def asked(box: SimulatedBox) -> Answer:
    with running(box) as url, AnsweringBox(url) as there:
        return there.ask()


@pytest.mark.parametrize("shows", [RECEIVER, SCREEN])
def test_what_it_shows_arrives(shows: dict[tuple[str, str], str]) -> None:
    answer = asked(SimulatedBox("receiver", dict(shows)))
    assert {(s.place, s.key): s.words for s in answer.lines} == dict(shows)


def test_damaged_lines_are_asked_for_again_or_it_is_said() -> None:
    ok, failed = 0, 0
    for seed in range(25):
        box = SimulatedBox("receiver", dict(RECEIVER), Faults(damages=0.12), seed)
        try:
            assert {(s.place, s.key): s.words for s in asked(box).lines} == dict(RECEIVER)
            ok += 1
        except BoxFaultError:
            failed += 1  # each of the three answers had a damaged line; that is said, and nothing taken
    assert ok > failed


def test_a_lost_line_is_noticed() -> None:
    with pytest.raises(BoxFaultError, match="damaged each time"):
        asked(SimulatedBox("screen", dict(SCREEN), Faults(loses=True)))


def test_a_busy_box_is_asked_again_and_one_that_stays_busy_is_said() -> None:
    assert asked(SimulatedBox("screen", dict(SCREEN), Faults(busy=2))).lines
    with pytest.raises(BoxFaultError, match="its menu is open"):
        asked(SimulatedBox("screen", dict(SCREEN), Faults(busy=9)))


def test_a_silent_box_and_none_at_all(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("wavilex.instruments.box._ANSWER_SECONDS", 0.3)
    with pytest.raises(LineLostError, match="does not answer"):
        asked(SimulatedBox("screen", dict(SCREEN), Faults(silent=True)))
    with pytest.raises(LineLostError, match="no box at"):
        AnsweringBox("socket://127.0.0.1:1")


def test_something_else_is_no_box(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("wavilex.instruments.box._ANSWER_SECONDS", 0.3)

    class Chatter(SimulatedBox):
        def answer(self, line: bytes) -> list[bytes]:
            return [b"hello there\n", encode("R 1 12000")]

    with pytest.raises(BoxFaultError, match="does not answer as a box does"):
        asked(Chatter("x", {}))


@given(st.binary(max_size=300))
def test_no_bytes_break_the_reader(line: bytes) -> None:
    assert decode(line) is not None


def test_words_of_the_protocol() -> None:
    assert decode(encode("BOX1 den-screen 0a1b")) == Introduced("den-screen", "0a1b")
    assert decode(encode("L in_out in.colour 4:2:2, 12-bit")) == Shown("in_out", "in.colour", "4:2:2, 12-bit")
    assert decode(encode("END 4")) == Done(4)
    for text in ("BOX2 a b", "L nowhere x y", "L banner ../x y", "END -1", "END 10000", "L banner mode"):
        assert isinstance(decode(encode(text)), Damaged), text


# --- fetched into a job


@pytest.fixture
def chain(api: Api, settings: Any) -> Callable[[Truth, Truth], Any]:
    """A job noted one way, its boxes really another; what is fetched of one."""

    def made(noted: Truth, really: Truth) -> Any:
        job = import_job(job=CoreJob("x", "Chain", "UTC", rig_of(noted, {})))
        shown = really.shows()

        def fetch(device: str, expect: int = 200, uid: str = "fetch-0001") -> Any:
            told = {
                (key.split("/")[1], key.split("/")[2]): words
                for key, words in shown.items() if key.startswith(f"{device}/")
            }  # fmt: skip
            with running(SimulatedBox(device, told)) as url:
                settings.BOXES = f"{device}={url}"
                return api.post(f"/jobs/{job.uid}/runs/main/devices/{device}/fetch", {"uid": uid}, expect=expect)

        return job.uid, fetch

    return made


def test_fetched_read_outs_stand_as_seen(api: Api, chain: Any) -> None:
    t = Truth("on", "widest", "widest", ALL, True, True)
    uid, fetch = chain(t, t)
    assert fetch("receiver") == {"kept": 4, "unknown": 0}
    told = api.get(f"/jobs/{uid}/runs/main/prove")
    seen = [x["seen"] for x in lines(told).values() if x["seen"]]
    assert {s["by"] for s in seen} == {"technician, asked receiver"}
    assert told["differ"] == 0
    assert told["as_predicted"] == 4
    fetch("receiver")  # the same uid again
    assert api.get(f"/jobs/{uid}")["revision"] == 1


def test_a_box_that_shows_otherwise_names_the_stage(api: Api, chain: Any) -> None:
    uid, fetch = chain(Truth("on", "widest", "widest", ALL, True, True), Truth("on", "widest", "wide", ALL, True, True))
    fetch("receiver")
    told = api.get(f"/jobs/{uid}/runs/main/prove")
    assert told["differ"] == 2
    causes = api.get(f"/jobs/{uid}/runs/main/fault")["causes"]
    formats = [w for c in causes for w in c["what"] if c["device"] == "receiver"]
    assert any("Input format" in w for w in formats), "beside a title or a source that sends 60 by itself"


def test_boxes_are_the_owners_to_name(api: Api, demo: str, settings: Any) -> None:
    settings.BOXES = "den-screen=socket://127.0.0.1:1;nobody=socket://127.0.0.1:2"
    known = api.get("/jobs/pierhead/boxes")
    assert [(b["device"], b["name"]) for b in known] == [("den-screen", "den-screen")]
    assert "banner" in known[0]["places"]
    assert "title" not in known[0]["places"]
    body = {"uid": "fetch-0002"}
    silent = api.post("/jobs/pierhead/runs/den/devices/den-screen/fetch", body, expect=409)
    assert silent["code"] == "box_silent"
    assert "no box at" in silent["detail"]
    assert api.post("/jobs/pierhead/runs/den/devices/den-console/fetch", body, expect=404)["code"] == "no_such_box"
    assert prove(api, "den")["as_predicted"] == 0
