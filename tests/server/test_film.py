"""Films sent to the bench: in parts, again, wrongly, hostile; read by a process of its own; kept as readings."""

from __future__ import annotations

import shutil
import sys
import time
from functools import lru_cache
from io import BytesIO
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any

import numpy as np
import pytest
from PIL import Image

from tests.conftest import Api
from tests.films import Take, clicks, encode, frames, render, truth
from wavilex.server.bench import films
from wavilex.server.config import limits

WAIT_SECONDS = 120
TAKE = Take(fps=120, missed=(2,))
LAGS = truth(np.random.default_rng(11), 7, 0.045, TAKE).lags


@lru_cache(maxsize=1)
def rendered() -> bytes:
    """A film of seven presses, the third not answered; made once."""
    rng = np.random.default_rng(11)
    with TemporaryDirectory() as folder:
        file = Path(folder) / "film.mp4"
        render(file, rng, TAKE, truth(rng, 7, 0.045, TAKE))
        return file.read_bytes()


@lru_cache(maxsize=1)
def with_sound() -> bytes:
    """A film of seven flashes, each with a click 55 ms after it; made once."""
    rng = np.random.default_rng(3)
    take = Take(fps=120, rise_s=0)
    true = truth(rng, 7, 0.02, take)
    sound = clicks(rng, true.answers, 0.055)
    at, pictures = frames(rng, take, true)
    with TemporaryDirectory() as folder:
        file = Path(folder) / "sound.mp4"
        encode(file, at, pictures, sound=sound)
        return file.read_bytes()


def monitor_measured(api: Api, demo: str) -> str:
    """The lag session of the match room's monitor with six readings of 5 ms: no box stands between it and its PC."""
    uid: str = api.post(f"/jobs/{demo}/lag", {"device": "match-monitor"})["uid"]
    api.post(f"/lag/{uid}/warning")
    for _ in range(6):
        api.post(f"/lag/{uid}/readings", {"condition": "game", "lag_ms": 5}, expect=201)
    return uid


@pytest.fixture
def lag(api: Api, demo: str) -> str:
    uid: str = api.post(f"/jobs/{demo}/lag", {"device": "den-screen"})["uid"]
    return uid


def begin(api: Api, lag: str, film: bytes, name: str = "den.mp4") -> str:
    uid: str = api.post(f"/lag/{lag}/films", {"name": name, "bytes": len(film)}, expect=201)["uid"]
    return uid


def send(api: Api, uid: str, offset: int, data: bytes, expect: int = 200) -> Any:
    return api("PUT", f"/films/{uid}/part?offset={offset}", data, expect=expect)


def ended(api: Api, uid: str) -> Any:
    end = time.monotonic() + WAIT_SECONDS
    while (state := api.get(f"/films/{uid}"))["state"] not in ("ready", "failed"):
        assert time.monotonic() < end, state
        time.sleep(0.1)
    return state


def read_whole(api: Api, lag: str, film: bytes) -> str:
    uid = begin(api, lag, film)
    send(api, uid, 0, film)
    assert ended(api, uid)["state"] == "ready"
    return uid


def test_a_film_from_its_parts_to_readings(api: Api, lag: str, demo: str) -> None:
    film = rendered()
    uid, third = begin(api, lag, film), len(film) // 3
    send(api, uid, 0, film[:third])
    assert send(api, uid, 0, film[:third])["received"] == third, "the same part twice is nothing new"
    assert "goes on at byte" in send(api, uid, third + 10, film[third + 10 :], expect=409)["detail"]
    assert api.post(f"/films/{uid}/measure", {}, expect=409)["code"] == "film_not_ready"
    send(api, uid, third, film[third:])
    state = ended(api, uid)
    assert (state["state"], state["cut"], state["message"]) == ("ready", False, "")
    assert not list(films._folder(uid).glob("film.mp4")), "what was sent is not kept"
    told = api.post(f"/films/{uid}/measure", {})
    assert [p["what"] for p in told["presses"]].count("missed") == 1
    read = [p for p in told["presses"] if p["what"] == "read"]
    assert np.mean([p["lag_ms"] for p in read]) == pytest.approx(1000 * LAGS.mean(), abs=250 / 120)
    body = {
        "uid": "film-keep-1",
        "condition": "game",
        "input": "HDMI 3",
        "marks": {},
    }
    assert api.post(f"/films/{uid}/keep", body, expect=409)["code"] == "warning_not_accepted"
    api.post(f"/lag/{lag}/warning")
    first = read[0]["n"]
    body["marks"] = {"moved": [{"press": first, "end": "answer", "frames": 2}]}
    moved = api.post(f"/films/{uid}/measure", body["marks"])
    assert moved["presses"][first]["moved"]
    assert moved["sum"]["n"] == 6
    kept = api.post(f"/films/{uid}/keep", body, expect=201)
    again = api.post(f"/films/{uid}/keep", body, expect=201)
    assert kept["total"] == again["total"] == 6
    one = kept["readings"][0]
    assert (one["method"], one["input"]) == ("film", "HDMI 3")
    assert one["lag_ms"] == pytest.approx(read[0]["lag_ms"] + 2000 / 120, abs=0.01)
    assert one["uncertainty_ms"] == pytest.approx(read[0]["off_ms"] + 1000 / 120, abs=0.01)
    assert "den.mp4: press 1 at" in one["note"]
    assert "moved by hand" in one["note"]
    page = api.get(f"/jobs/{demo}/handover")
    assert any("a film" in row["method"] for row in page["lag"])
    early = {"moved": [{"press": first, "end": "answer", "frames": -40}]}
    wrong = api.post(f"/films/{uid}/keep", {**body, "uid": "film-keep-2", "marks": early}, expect=422)
    assert "would answer before it starts" in wrong["detail"]
    none = {"dropped": [p["n"] for p in read]}
    nothing = api.post(f"/films/{uid}/keep", {**body, "uid": "film-keep-3", "marks": none}, expect=422)
    assert nothing["code"] == "no_press"
    # what was kept stands on a picture of it, with the job's photographs, and travels with its file
    (picture,) = {r["evidence"] for r in kept["readings"]}
    image = Image.open(BytesIO(api.client.get(f"/api/v1/jobs/{demo}/photographs/{picture}").content))
    assert image.width > 1000
    assert image.height > 6 * 40
    text = api.client.get(f"/api/v1/jobs/{demo}/file").getvalue().decode()
    other = api.post("/import", {"text": text}, expect=201)["uid"]
    (again_lag,) = api.get(f"/jobs/{other}/lag")
    (copy,) = {r["evidence"] for r in api.get(f"/lag/{again_lag['uid']}")["readings"]}
    assert api.client.get(f"/api/v1/jobs/{other}/photographs/{copy}").status_code == 200
    api("DELETE", f"/films/{uid}", expect=204)
    assert api.get(f"/films/{uid}", expect=404)["code"] == "no_such_film"
    assert api.get(f"/lag/{lag}")["total"] == 6, "readings stay"


def test_a_films_sound_goes_into_the_sums_of_its_run(api: Api, demo: str, lag: str) -> None:
    monitor = monitor_measured(api, demo)
    uid = read_whole(api, monitor, with_sound())
    body = {"run": "match", "condition": "game", "marks": {}}
    assert api.post(f"/films/{uid}/sound", {**body, "run": "den"}, expect=422)["code"] == "another_screen"
    api.post(f"/films/{uid}/sound", body)
    told = api.get(f"/jobs/{demo}/runs/match/lag-budget")
    assert told["sound_lag_ms"] == pytest.approx(5 + 55, abs=1 + 500 / 120)  # the picture's own lag and the offset
    assert told["lip_sync"][0]["verdict"] in ("fits", "late")
    silent = read_whole(api, monitor, rendered())
    assert api.post(f"/films/{silent}/sound", body, expect=422)["code"] == "no_sound"
    den = read_whole(api, lag, with_sound())  # nobody measured its screen
    assert api.post(f"/films/{den}/sound", {**body, "run": "den"}, expect=422)["code"] == "picture_unknown"


def test_what_is_no_film_is_refused_and_harms_nobody(api: Api, lag: str) -> None:
    assert api.post(f"/lag/{lag}/films", {"name": "a.exe", "bytes": 9}, expect=422)["code"] == "film_kind"
    big = {"name": "a.mp4", "bytes": limits.FILM_BYTES + 1}
    assert "2 GB" in api.post(f"/lag/{lag}/films", big, expect=422)["detail"]
    for bad in (b"x" * 4000, rendered()[:3000], b"\0" * 100_000):
        uid = begin(api, lag, bad)
        send(api, uid, 0, bad)
        state = ended(api, uid)
        assert state["state"] == "failed"
        assert state["message"]
        assert "Traceback" not in state["message"]
    api.get("/films/..", expect=404)
    api.get("/films/0123456789abcdef", expect=404)
    send(api, uid, 0, b"more", expect=409)


def test_a_film_that_takes_too_much_is_ended(api: Api, lag: str, monkeypatch: Any) -> None:
    monkeypatch.setattr(limits, "FILM_MEGABYTES", 60)
    uid = begin(api, lag, rendered())
    send(api, uid, 0, rendered())
    state = ended(api, uid)
    assert state["state"] == "failed"
    assert state["message"]


@pytest.mark.parametrize("reads_for_seconds", [0, 0.02, 0.2, 0.8])
def test_left_while_it_is_read_it_goes(api: Api, lag: str, reads_for_seconds: float) -> None:
    uid = begin(api, lag, rendered())
    send(api, uid, 0, rendered())
    time.sleep(reads_for_seconds)
    api("DELETE", f"/films/{uid}", expect=204)
    assert not films._folder(uid).exists()
    api.get(f"/films/{uid}", expect=404)


def test_left_while_a_reading_writes_as_fast_as_it_can(api: Api, lag: str, monkeypatch: Any) -> None:
    writes = "import sys\nfor n in range(10**9): open(f'{sys.argv[1]}/{n}', 'w').close(); n or print('{}', flush=True)"
    monkeypatch.setattr(films, "_worker", lambda _, folder: [sys.executable, "-c", writes, str(folder)])
    remove, ended_by_then = shutil.rmtree, []

    def looked_at(folder: Path, **how: Any) -> None:
        ended_by_then.append(held.process is not None and held.process.returncode is not None)
        remove(folder, **how)

    for _ in range(5):
        uid = begin(api, lag, rendered())
        send(api, uid, 0, rendered())
        held, end = films._readings[uid], time.monotonic() + WAIT_SECONDS
        while not (films._folder(uid) / "3").exists() and time.monotonic() < end:
            time.sleep(0.01)
        assert (films._folder(uid) / "3").exists()
        with monkeypatch.context() as patched:
            patched.setattr(films.shutil, "rmtree", looked_at)
            api("DELETE", f"/films/{uid}", expect=204)
        time.sleep(0.1)  # nothing comes back
        assert not films._folder(uid).exists()
    assert ended_by_then == [True] * 5


def test_one_film_a_session(api: Api, lag: str) -> None:
    other = read_whole(api, lag, rendered())
    newer = begin(api, lag, rendered())
    assert not films._folder(other).exists(), "one film a session"
    assert api.get(f"/films/{newer}")["state"] == "arriving"
