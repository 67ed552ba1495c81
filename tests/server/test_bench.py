"""The bench: the warning, typed readings, and the simulated meter as a separate process, killed and restarted."""

from __future__ import annotations

import socket
import subprocess
import sys
import time
from collections.abc import Callable, Iterator
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.conftest import Api
from tests.server.test_jobs import change
from wavilex.instruments.framing import body, encode
from wavilex.instruments.lag_meter import LagMeter, MeterLostError
from wavilex.instruments.lag_protocol import (
    End,
    Garbage,
    Hello,
    MeterReading,
    decode,
)
from wavilex.instruments.lag_simulator import Simulator
from wavilex.server.demo import free_port


class Meter:
    """The simulator as its own process, ended by its own process id."""

    def __init__(self) -> None:
        self.port = free_port()
        self.start()

    def start(self) -> None:
        words = [sys.executable, "-m", "wavilex.cli", "simulate", "lag-meter", "--port", str(self.port)]
        self.process = subprocess.Popen(words, stdout=subprocess.PIPE, text=True)
        assert self.process.stdout
        assert "listening" in self.process.stdout.readline()

    def kill(self) -> None:
        self.process.kill()
        self.process.wait(timeout=5)
        assert self.process.stdout
        self.process.stdout.close()

    @property
    def url(self) -> str:
        return f"socket://127.0.0.1:{self.port}"


@pytest.fixture
def meter() -> Iterator[Meter]:
    made = Meter()
    yield made
    made.kill()


def until(what: Callable[[], Any], seconds: float = 60) -> Any:
    """Wait for something to be true, at most so long."""
    end = time.monotonic() + seconds
    while time.monotonic() < end:
        if value := what():
            return value
        time.sleep(0.05)
    raise AssertionError("it never came true")


@pytest.fixture
def session(api: Api, demo: str) -> dict[str, Any]:
    opened: dict[str, Any] = api.post(f"/jobs/{demo}/lag", {"device": "den-screen"})
    return opened


def test_no_reading_before_the_warning_is_accepted(api: Api, session: dict[str, Any]) -> None:
    uid, typed = session["uid"], {"condition": "game", "lag_ms": 11.2}
    assert api.post(f"/lag/{uid}/readings", typed, expect=409)["code"] == "warning_not_accepted"
    take = {"meter": "bench", "condition": "game", "count": 3}
    assert api.post(f"/lag/{uid}/take", take, expect=409)["code"] == "warning_not_accepted"
    assert api.post(f"/lag/{uid}/warning")["warned_at"]
    assert api.post(f"/lag/{uid}/readings", typed, expect=201)["readings"][0]["lag_ms"] == 11.2


def test_typed_readings_are_judged_and_can_be_discarded(api: Api, session: dict[str, Any]) -> None:
    """S15 by hand: two modes of a television, against 40 ms (common practice)."""
    uid = session["uid"]
    api.post(f"/lag/{uid}/warning")
    for n in range(6):
        api.post(f"/lag/{uid}/readings", {"condition": "standard", "lag_ms": 92.0 + n / 10}, expect=201)
        got = api.post(f"/lag/{uid}/readings", {"condition": "game", "lag_ms": 11.0 + n / 10}, expect=201)
    report = got["report"]
    assert [c["verdict"] for c in report["conditions"]] == ["over", "within"]
    assert report["difference"]["ms"] == -81.0
    assert report["difference"]["ci_low_ms"] < -81 < report["difference"]["ci_high_ms"]
    got = api.post(f"/lag/{uid}/readings/1/discard", {"reason": "somebody walked past"})
    assert got["report"]["conditions"][0]["summary"]["n"] == 5
    api.post(f"/lag/{uid}/readings/99/discard", {"reason": "x"}, expect=404)
    api.post(f"/lag/{uid}/readings", {"condition": "game", "lag_ms": -1}, expect=422)
    api.post(f"/lag/{uid}/readings", {"condition": "nobody", "lag_ms": 5}, expect=422)


def test_lag_is_measured_at_a_screen(api: Api, demo: str) -> None:
    assert api.post(f"/jobs/{demo}/lag", {"device": "den-console"}, expect=422)["code"] == "no_screen"


@pytest.fixture
def live_api(transactional_db: None, make_api: Callable[[str], Api]) -> tuple[Api, str]:
    """An API whose data another thread can see, with the demo job and an open, warned session."""
    from django.core.management import call_command

    call_command("seed_demo")
    api = make_api("technician")
    uid = api.post("/jobs/pierhead/lag", {"device": "den-screen"})["uid"]
    api.post(f"/lag/{uid}/warning")
    return api, uid


def test_readings_arrive_from_the_meter(live_api: tuple[Api, str], meter: Meter, settings: Any) -> None:
    api, uid = live_api
    settings.METERS = f"m1={meter.url}"
    api.post(f"/lag/{uid}/take", {"meter": "m1", "condition": "game", "count": 6}, expect=202)
    assert api.post(f"/lag/{uid}/take", {"meter": "m1", "condition": "game", "count": 1}, expect=409)
    until(lambda: api.get(f"/lag/{uid}")["meters"][0]["state"] == "done")
    got = api.get(f"/lag/{uid}?after=2")
    assert [r["seq"] for r in got["readings"]] == [3, 4, 5, 6]
    assert got["report"]["conditions"][1]["summary"]["n"] == 6
    assert 9 < got["report"]["conditions"][1]["summary"]["median_ms"] < 14


def test_the_meter_killed_mid_reading_loses_and_doubles_nothing(
    live_api: tuple[Api, str], meter: Meter, settings: Any
) -> None:
    api, uid = live_api
    settings.METERS = f"m2={meter.url}"
    state = lambda: api.get(f"/lag/{uid}")["meters"][0]  # noqa: E731  (a one-line helper)
    api.post(f"/lag/{uid}/take", {"meter": "m2", "condition": "standard", "count": 12}, expect=202)
    until(lambda: state()["taken"] >= 3)
    meter.kill()
    lost = until(lambda: state() if state()["state"] == "lost" else None)
    assert "Readings so far are kept" in lost["message"]
    kept = len(api.get(f"/lag/{uid}")["readings"])
    assert kept >= 3
    meter.start()
    until(lambda: state()["state"] == "done")
    readings = api.get(f"/lag/{uid}")["readings"]
    assert [r["seq"] for r in readings] == list(range(1, 13))


def test_a_line_that_breaks_between_keeping_and_telling_doubles_nothing(
    live_api: tuple[Api, str], meter: Meter, settings: Any, monkeypatch: pytest.MonkeyPatch
) -> None:
    api, uid = live_api
    settings.METERS = f"m4={meter.url}"
    tell, told = LagMeter.acknowledge, []

    def breaks_once(self: LagMeter, number: int) -> None:
        told.append(number)
        if len(told) == 3:
            raise MeterLostError("the line broke")
        tell(self, number)

    monkeypatch.setattr(LagMeter, "acknowledge", breaks_once)
    api.post(f"/lag/{uid}/take", {"meter": "m4", "condition": "game", "count": 6}, expect=202)
    until(lambda: api.get(f"/lag/{uid}")["meters"][0]["state"] == "done")
    assert [r["seq"] for r in api.get(f"/lag/{uid}")["readings"]] == list(range(1, 7))
    assert told.count(told[2]) == 2, "the meter sent it again, and was told that it may forget it"


def test_stopping_keeps_what_was_taken(live_api: tuple[Api, str], meter: Meter, settings: Any) -> None:
    api, uid = live_api
    settings.METERS = f"m3={meter.url}"
    api.post(f"/lag/{uid}/take", {"meter": "m3", "condition": "game", "count": 100}, expect=202)
    until(lambda: len(api.get(f"/lag/{uid}")["readings"]) >= 2)
    assert api.post("/meters/stop", {"meter": "m3"})["state"] == "stopped"
    count = len(api.get(f"/lag/{uid}")["readings"])
    assert 2 <= count < 100
    assert api.post("/meters/stop", {"meter": "none"}, expect=404)["code"] == "no_such_meter"


def test_an_unacknowledged_reading_comes_again_and_is_known(meter: Meter) -> None:
    with LagMeter(meter.url) as one:
        boot = one.hello().boot
        one.label("monitor game")
        one.take(2)
        got = [m for m in iter(one.read, End()) if isinstance(m, MeterReading)]
        one.acknowledge(got[0].number)
    with LagMeter(meter.url) as two:
        assert two.hello().boot == boot
        two.resume()
        assert two.read() == got[1]


def test_nobody_there_and_somebody_else_there_are_told_apart(meter: Meter) -> None:
    with pytest.raises(MeterLostError, match="no meter at"):
        LagMeter(f"socket://127.0.0.1:{free_port()}")
    with socket.create_server(("127.0.0.1", 0)) as deaf:
        url = f"socket://127.0.0.1:{deaf.getsockname()[1]}"
        with LagMeter(url) as silent, pytest.raises(MeterLostError, match="does not answer"):
            silent.hello()


@given(st.binary(max_size=300))
def test_any_bytes_from_a_meter_are_a_message(line: bytes) -> None:
    decode(line)
    assert isinstance(Simulator(1).answer(line), list)


@given(st.text(max_size=60).map(str.strip))
def test_a_line_survives_and_a_flipped_bit_does_not(text: str) -> None:
    line = encode(text)
    assert body(line) is not None
    spoiled = bytes([line[0] ^ 1]) + line[1:]
    assert body(spoiled) is None


def test_messages_of_the_protocol() -> None:
    assert decode(encode("R 7 11320")) == MeterReading(7, 11320)
    assert decode(encode("R 7 11320 0f3a")) == MeterReading(7, 11320, "0f3a")
    assert decode(encode("HI LAG1 bench 0a1b")) == Hello("bench", "0a1b", marks=False)
    assert decode(encode("HI LAG2 bench 0a1b")) == Hello("bench", "0a1b")
    assert isinstance(decode(b"R 7 11320*00\n"), Garbage)
    assert isinstance(decode(encode("R 7 0")), Garbage)


def test_a_film_counted_a_picture_of_two_counters_and_a_guess(api: Api, session: dict[str, Any]) -> None:
    uid = session["uid"]
    api.post(f"/lag/{uid}/warning")
    of = {"condition": "game", "position": "middle"}
    got = api.post(f"/lag/{uid}/readings", {**of, "method": "camera", "frames": 19, "camera_fps": 240}, expect=201)
    assert (got["readings"][0]["lag_ms"], got["readings"][0]["uncertainty_ms"]) == (79.167, 4.167)
    two = {**of, "method": "reference", "reference_ms": 4512.5, "screen_ms": 4480.0, "refresh_hz": 60}
    got = api.post(f"/lag/{uid}/readings", two, expect=201)
    assert got["readings"][1]["lag_ms"] == 32.5
    got = api.post(f"/lag/{uid}/readings", {**of, "method": "guess", "lag_ms": 25}, expect=201)
    film, two_counters = (c for c in got["report"]["conditions"] if c["mode"] == "game")  # never mixed
    assert (film["summary"]["n"], film["methods"], film["guess_ms"]) == (1, ["camera"], 25)
    assert film["condition"] == "game, middle, camera frames, 240 a second"
    assert (film["summary"]["of"], film["summary"]["counted_ms"]) == ("mean", pytest.approx(4.167, abs=1e-3))
    assert (two_counters["summary"]["n"], two_counters["methods"]) == (1, ["reference"])
    assert got["readings"][0]["step_ms"] == pytest.approx(25 / 6, abs=1e-6)
    turned = {**two, "reference_ms": 4480.0, "screen_ms": 4512.5}
    assert "right way round" in api.post(f"/lag/{uid}/readings", turned, expect=422)["detail"]
    assert api.post(f"/lag/{uid}/readings", {**of, "method": "typed"}, expect=422)["code"] == "no_number"


def test_a_plan_is_made_followed_and_dropped(api: Api, session: dict[str, Any]) -> None:
    uid = session["uid"]
    api.post(f"/lag/{uid}/warning")
    wanted = {"conditions": ["standard", "sharp"], "positions": ["top", "bottom"], "count": 2}
    plan = api.post(f"/lag/{uid}/plan", wanted)["plan"]
    assert (len(plan["cells"]), plan["next"], plan["order"]) == (4, 0, "grouped")
    first = {k: plan["cells"][0][k] for k in ("condition", "signal", "input", "position")}
    for _ in range(2):
        got = api.post(f"/lag/{uid}/readings", {**first, "lag_ms": 12}, expect=201)
    assert got["plan"]["next"] == 1
    assert "sharp" in got["conditions"]
    assert api("DELETE", f"/lag/{uid}/plan")["plan"] is None
    many = {"conditions": [f"m{n}" for n in range(12)], "inputs": [f"i{n}" for n in range(8)]}
    assert api.post(f"/lag/{uid}/plan", many, expect=422)["code"] == "too_many_cells"


def planned(api: Api, uid: str, **more: Any) -> dict[str, Any]:
    """One setting at a time at the den's screen, from game mode off and all else off."""
    baseline = {"game": "off", "noise": "off", "motion": "off", "preset": "standard", "tone": "off"}
    each = [{"setting": "motion", "option": "on"}, {"setting": "game", "option": "on"}]
    body = {"kind": "settings", "baseline": baseline, "each": each, "inputs": ["HDMI 3"], "count": 6, **more}
    got: dict[str, Any] = api.post(f"/lag/{uid}/plan", body)
    return got


def measured(api: Api, uid: str, plan: dict[str, Any], lags: dict[str, float]) -> dict[str, Any]:
    """Every cell of a plan typed, around these figures."""
    got: dict[str, Any] = {}
    for n, cell in enumerate(plan["cells"]):
        api.post(f"/lag/{uid}/ready", {"cell": n})
        own = {k: cell[k] for k in ("condition", "signal", "input", "position")}
        for k in range(cell["count"]):
            got = api.post(f"/lag/{uid}/readings", {**own, "lag_ms": lags[cell["condition"]] + k / 10}, expect=201)
    return got


LAGS = {"baseline": 60.0, "Interpolation on": 95.0, "Game mode on": 12.0}


def test_one_setting_at_a_time_is_set_waited_for_measured_and_used(
    api: Api, session: dict[str, Any], demo: str
) -> None:
    uid = session["uid"]
    api.post(f"/lag/{uid}/warning")
    offered = {s["id"]: s for s in api.get(f"/lag/{uid}/settings?input=HDMI 3")}
    assert {"game", "noise", "motion"} <= set(offered)
    assert (offered["motion"]["quickest"], offered["motion"]["likely"]) == ("off", True)
    barred = api.post(f"/lag/{uid}/settings/barred", {"input": "HDMI 3", "baseline": {"game": "on", "motion": "off"}})
    assert barred == {"motion=on": "Interpolation on cannot be had so: game mode shuts interpolation off"}
    wrong = {"kind": "settings", "baseline": {"game": "on", "motion": "off"},
             "each": [{"setting": "motion", "option": "on"}]}  # fmt: skip
    assert "shuts interpolation off" in api.post(f"/lag/{uid}/plan", wrong, expect=422)["detail"]
    assert api.post(f"/lag/{uid}/plan", {"kind": "before_after"}, expect=422)["code"] == "lag_state"

    plan = planned(api, uid)["plan"]
    assert sorted(c["condition"] for c in plan["cells"]) == sorted(LAGS)
    assert (plan["next"], plan["ready"], plan["back"]) == (0, None, [])
    words = [s["words"] for s in plan["cells"][0]["to_set"]]
    assert words[0] == "Plug the meter into HDMI 3 and show that input"
    assert any(w.startswith("Noise reduction: off") for w in words)
    first = {k: plan["cells"][0][k] for k in ("condition", "signal", "input", "position")}
    refused = api.post(f"/lag/{uid}/take", {**first, "meter": "bench", "count": 3}, expect=409)
    assert refused["code"] == "not_set"
    got = measured(api, uid, plan, LAGS)
    assert got["plan"]["next"] is None
    assert len(got["plan"]["cells"][1]["to_set"]) <= 2  # from one to the next only what differs
    costs = {c["words"]: c for c in got["report"]["setting_costs"]}
    assert costs["Interpolation on instead of off"]["ms"] == pytest.approx(35.0)
    assert costs["Game mode on instead of off"]["decision"] == "changed"
    assert got["kept_costs"] == []

    revision = api.get(f"/jobs/{demo}")["revision"]
    used = api.post(f"/lag/{uid}/use")
    assert sorted(used["kept_costs"]) == sorted(c["path"] for c in costs.values())
    assert api.get(f"/jobs/{demo}")["revision"] == revision + 1
    api.post(f"/lag/{uid}/use")  # the same again changes nothing
    assert api.get(f"/jobs/{demo}")["revision"] == revision + 1
    rows = api.get(f"/jobs/{demo}/runs/den/titles")["rows"]
    (told,) = (c for r in rows if r["key"] == "motion" for c in r["costs"])
    assert told["why"].startswith("measured here: Interpolation on costs 35.0 ms")
    hand = api.get(f"/jobs/{demo}/handover")["lag"]
    assert any(r["condition"] == "Interpolation on instead of off · HDMI 3" and "+35.0 ms" in r["text"] for r in hand)
    api.post(f"/jobs/{demo}/undo", {"uid": "undo-costs"})
    assert api.get(f"/lag/{uid}")["kept_costs"] == []


def test_a_new_firmware_makes_costs_stale(api: Api, session: dict[str, Any], demo: str) -> None:
    uid = session["uid"]
    api.post(f"/lag/{uid}/warning")
    api.post(f"/jobs/{demo}/changes", change(1, {"op": "set_device", "device": "den-screen", "firmware": "2.4"}))
    measured(api, uid, planned(api, uid)["plan"], LAGS)
    api.post(f"/lag/{uid}/use")
    revision = api.get(f"/jobs/{demo}")["revision"]
    newer = {"op": "set_device", "device": "den-screen", "firmware": "2.6"}
    api.post(f"/jobs/{demo}/changes", change(revision, newer))
    got = api.get(f"/lag/{uid}")
    assert all("2.6 runs now: measure again" in c["older"] for c in got["report"]["conditions"] if c["summary"])
    rows = api.get(f"/jobs/{demo}/runs/den/titles")["rows"]
    (told,) = (c for r in rows if r["key"] == "motion" for c in r["costs"])
    assert told["stale"]
    assert told["why"].endswith("with 2.6 measure again")


def test_another_state_of_the_same_name_gets_a_name_of_its_own(api: Api, session: dict[str, Any], demo: str) -> None:
    uid = session["uid"]
    api.post(f"/lag/{uid}/warning")
    planned(api, uid)
    other = {"game": "off", "noise": "high", "motion": "off", "preset": "standard", "tone": "off"}
    names = {c["condition"] for c in planned(api, uid, baseline=other)["plan"]["cells"]}
    assert names == {"baseline (2)", "Interpolation on (2)", "Game mode on (2)"}
    whole = api.get(f"/jobs/{demo}/file")
    (row,) = (r for r in whole["lag"] if r["device"] == "den-screen")
    assert row["states"]["baseline"]["noise"] == "off"
    assert row["states"]["baseline (2)"]["noise"] == "high"


def test_before_and_after_measures_what_was_found_and_what_is_planned(
    api: Api, session: dict[str, Any], demo: str
) -> None:
    uid = session["uid"]
    ops = [
        {"op": "set_setting", "device": "den-screen", "scope": scope, "key": key, "layer": layer, "value": value}
        for layer, values in (("found", ("off", "auto")), ("plan", ("on", "off")))
        for (scope, key), value in zip((("hdmi3", "game"), ("", "noise")), values, strict=True)
    ]
    api.post(f"/jobs/{demo}/changes", change(1, *ops))
    got = api.post(f"/lag/{uid}/plan", {"kind": "before_after", "count": 6})
    assert sorted(c["condition"] for c in got["plan"]["cells"]) == ["as found", "as planned"]
    assert got["plan"]["cells"][0]["condition"] == "as found", "nothing is to be set for it"
    assert got["plan"]["cells"][0]["to_set"] == []
    told = {c["mode"]: c["set_to"] for c in got["report"]["conditions"]}
    assert told["as found"] == "Game mode off, Noise reduction automatic"
    assert told["as planned"] == "Game mode on, Noise reduction off"
    api.post(f"/lag/{uid}/ready", {"cell": 1})
    assert [s["words"] for s in api.get(f"/lag/{uid}")["plan"]["back"]] == [
        "Game mode: off", "Noise reduction: automatic",
    ]  # fmt: skip


def test_a_condition_that_was_only_a_name_is_told_what_it_sets(api: Api, session: dict[str, Any]) -> None:
    uid = session["uid"]
    api.post(f"/lag/{uid}/conditions", {"condition": "late"})

    def set_to(told: dict[str, Any]) -> dict[str, str]:
        return {c["mode"]: c["set_to"] for c in told["report"]["conditions"]}

    assert set_to(api.get(f"/lag/{uid}"))["late"] == ""
    told = api.post(f"/lag/{uid}/states", {"name": "late", "state": {"game": "off", "motion": "on"}})
    assert set_to(told)["late"] == "Game mode off, Interpolation on"
    other = {"name": "late", "state": {"game": "off", "motion": "off"}}
    assert api.post(f"/lag/{uid}/states", other, expect=409)["code"] == "other_state"
    told = api.post(f"/lag/{uid}/states", {**other, "name": ""})
    assert set_to(told)["Game mode off, Interpolation off"] == "Game mode off, Interpolation off"
    barred = {"state": {"game": "on", "motion": "on"}}
    assert "shuts interpolation off" in api.post(f"/lag/{uid}/states", barred, expect=422)["detail"]
    assert api.post(f"/lag/{uid}/states", {"state": {"nothing": "x"}}, expect=422)["code"] == "lag_state"


def test_screens_side_by_side(api: Api, session: dict[str, Any], demo: str) -> None:
    uid = session["uid"]
    other = api.post(f"/jobs/{demo}/lag", {"device": "match-monitor"})["uid"]
    for each, ms in ((uid, 12.0), (other, 4.0)):
        api.post(f"/lag/{each}/warning")
        for n in range(6):
            api.post(f"/lag/{each}/readings", {"condition": "game", "lag_ms": ms + n / 10}, expect=201)
    told = api.get(f"/jobs/{demo}/lag/beside?baseline=match-monitor/game")
    assert told["baseline"] == "match-monitor/game"
    assert {r["key"]: r["against_ms"] for r in told["rows"]} == {"den-screen/game": 8.0, "match-monitor/game": None}


def test_held_against_a_bound_a_baseline_and_an_own_equivalence(api: Api, session: dict[str, Any]) -> None:
    """S06: the same readings are no practical change within ±5 ms and a change within ±2."""
    uid = session["uid"]
    api.post(f"/lag/{uid}/warning")
    for n in range(8):
        api.post(f"/lag/{uid}/readings", {"condition": "standard", "lag_ms": 14.0 + n / 20}, expect=201)
        api.post(f"/lag/{uid}/readings", {"condition": "game", "lag_ms": 11.0 + n / 20}, expect=201)
    asked = {"baseline": "game", "bound_ms": 12, "equivalence_ms": 2}
    report = api.post(f"/lag/{uid}/asked", asked)["report"]
    assert (report["baseline"], report["bound_ms"], report["bound_source"]) == ("game", 12, "asked here")
    assert [(c["condition"], c["decision"]) for c in report["costs"]] == [("standard", "changed")]
    report = api.post(f"/lag/{uid}/asked", {**asked, "equivalence_ms": 5})["report"]
    assert report["costs"][0]["decision"] == "same"
    assert "no practical change" in report["costs"][0]["sentence"]


def test_readings_as_a_table_in_and_out(api: Api, session: dict[str, Any]) -> None:
    uid = session["uid"]
    api.post(f"/lag/{uid}/warning")
    text = (
        "device,condition,lag_ms,method,taken_at\r\nDen screen,game,11.3,meter,2026-06-01T10:00:00Z\r\n"
        "Den screen,game,nothing,meter,\r\nAnother,game,9,meter,\r\n"
    )
    got = api.post(f"/lag/{uid}/readings.csv", {"text": text})
    assert got["taken"] == 1
    assert [(r["line"], r["why"]) for r in got["refused"]] == [
        (3, "lag_ms is a number of ms, not 'nothing'"), (0, "1 of another device: Another"),
    ]  # fmt: skip
    out = api.client.get(f"/api/v1/lag/{uid}/readings.csv")
    assert out["Content-Type"].startswith("text/csv")
    assert "2026-06-01T10:00:00Z,Den screen,,game,,,meter,11.3,,,no," in out.getvalue().decode()
    assert api.post(f"/lag/{uid}/readings.csv", {"text": "x"}, expect=422)["where"] == "line 1"


def test_a_runs_budget_and_its_sound(api: Api, session: dict[str, Any], demo: str) -> None:
    uid = session["uid"]
    unknown = api.get(f"/jobs/{demo}/runs/den/lag-budget")
    assert not unknown["known"]
    assert unknown["parts"][-1]["kind"] == "unknown"
    api.post(f"/lag/{uid}/warning")

    def read(condition: str, signal: str, lag_ms: float) -> None:
        for _ in range(6):
            own = {"condition": condition, "signal": signal, "lag_ms": lag_ms}
            api.post(f"/lag/{uid}/readings", own, expect=201)

    read("game", "1920x1080@60", 14.0)
    other = api.get(f"/jobs/{demo}/runs/den/lag-budget")
    assert other["parts"][-1]["kind"] == "unknown"
    assert other["parts"][-1]["why"] == "not measured for this signal, only with 1080p60"
    read("game", "2560x1440@120", 11.3)  # through the slow receiver the console falls to it
    read("standard", "2560x1440@120", 92.6)
    read("game", "1920x1080@60", 14.0)  # the last one taken is none of the run's own
    fact = {"op": "set_fact", "device": "den-receiver", "path": "sound_lag_ms", "value": 20}
    api.post(f"/jobs/{demo}/changes", change(1, fact))
    budget = api.get(f"/jobs/{demo}/runs/den/lag-budget?fps=60")
    assert budget["condition"] == "game"
    assert [p["kind"] for p in budget["parts"]] == ["worked_out", "unknown", "worked_out", "measured"]
    assert budget["parts"][0]["low_ms"] == pytest.approx(16.67, abs=0.01)
    # by hand: 11.3 less half of 1440 lines of 2720 dots at 497.75 MHz (CVT-RB1), 3.93 ms
    assert budget["parts"][-1]["low_ms"] == pytest.approx(11.3 - 720 * 2720 / 497_750, abs=0.01)
    rows = {r["condition"]: r for r in budget["lip_sync"]}
    # the receiver between is not known, and may hold two frames of 120 a second: both ends are told
    assert (rows["standard"]["picture_ms"], rows["standard"]["picture_most_ms"]) == pytest.approx(
        (92.6, 109.27), abs=0.01
    )
    assert (rows["standard"]["verdict"], rows["standard"]["delay_ms"]) == ("unknown", None)
    assert "set a delay of 73 ms" in rows["standard"]["words"]
    assert "set a delay of 89 ms" in rows["standard"]["words"]
    assert rows["game"]["verdict"] == "fits"


def test_a_run_without_a_way_has_no_budget(api: Api, demo: str) -> None:
    loose = {"op": "move_lead", "layer": "plan", "lead": "B1", "end": "b", "to": None}
    api.post(f"/jobs/{demo}/changes", change(1, loose))
    budget = api.get(f"/jobs/{demo}/runs/den/lag-budget")
    assert (budget["joined"], budget["known"], budget["parts"], budget["lip_sync"]) == (False, False, [], [])


def test_a_changed_signal_settles_before_readings_count(live_api: tuple[Api, str], meter: Meter, settings: Any) -> None:
    """Readings while the picture settles are kept, and say so."""
    api, uid = live_api
    settings.METERS = f"m4={meter.url}"
    about = api.get("/meters/m4/about")
    assert about["name"] == "bench-simulator"
    assert "1920x1080i@60" in about["signals"]
    cell = {"condition": "game", "signal": "1920x1080i@60", "position": "middle"}
    api.post(f"/lag/{uid}/take", {"meter": "m4", **cell, "count": 6, "settle": True}, expect=202)
    until(lambda: api.get(f"/lag/{uid}")["meters"][0]["state"] == "done")
    readings = api.get(f"/lag/{uid}")["readings"]
    settling = [r["lag_ms"] for r in readings if r["discard"] == "settling"]
    counted = [r["lag_ms"] for r in readings if not r["discard"]]
    assert len(counted) == 6
    assert len(settling) >= 5
    assert settling[0] > max(counted) + 3
    strange = {"meter": "m4", "condition": "game", "signal": "9x9@9", "count": 1}
    api.post(f"/lag/{uid}/take", strange, expect=202)
    told = until(lambda: next((m for m in api.get(f"/lag/{uid}")["meters"] if m["state"] == "failed"), None))
    assert "does not send 9x9@9" in told["message"]


def test_a_changed_lag_raises_an_alert(api: Api, session: dict[str, Any]) -> None:
    """The same condition in June and now: 8 ms more is a change, and is said."""
    uid = session["uid"]
    api.post(f"/lag/{uid}/warning")
    old = "".join(f"Den screen,game,{11 + n / 20},2026-06-01T10:00:0{n}Z\r\n" for n in range(8))
    api.post(f"/lag/{uid}/readings.csv", {"text": "device,condition,lag_ms,taken_at\r\n" + old})
    for n in range(8):
        got = api.post(f"/lag/{uid}/readings", {"condition": "game", "lag_ms": 19 + n / 20}, expect=201)
    change_ = got["report"]["changes"][0]
    assert change_["alert"]
    assert [e["n"] for e in change_["epochs"]] == [8, 8]
    assert "changes by +8.0 ms" in change_["sentences"][0]


def test_a_plan_for_a_certainty_counts_by_itself(api: Api, session: dict[str, Any]) -> None:
    """Wanted ±0.5 ms where readings spread by about 1 ms takes more than wanted ±2 ms."""
    uid = session["uid"]
    api.post(f"/lag/{uid}/warning")
    for n in range(8):
        api.post(f"/lag/{uid}/readings", {"condition": "game", "lag_ms": 11.0 + (n % 4) * 0.8}, expect=201)
    fine = api.post(f"/lag/{uid}/plan", {"conditions": ["game"], "certainty_ms": 0.5})["plan"]["cells"][0]["count"]
    rough = api.post(f"/lag/{uid}/plan", {"conditions": ["game"], "certainty_ms": 2})["plan"]["cells"][0]["count"]
    assert rough == 6
    assert fine > 12


def test_a_job_holds_only_as_many_readings_as_its_file_can(
    api: Api, demo: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Whatever is stored exports, and whatever was exported imports: the bound is the job's, not a session's."""
    monkeypatch.setattr("wavilex.core.bounds.READINGS", 5)
    one, two = (api.post(f"/jobs/{demo}/lag", {"device": d})["uid"] for d in ("den-screen", "match-monitor"))
    table = "device,condition,lag_ms\n" + "{0},game,12\n" * 3
    assert api.post(f"/lag/{one}/readings.csv", {"text": table.format("den-screen")})["taken"] == 3
    full = api.post(f"/lag/{two}/readings.csv", {"text": table.format("match-monitor")}, expect=422)
    assert full["code"] == "readings_full"
    file = api.client.get(f"/api/v1/jobs/{demo}/file").getvalue().decode()
    api.post("/import", {"text": file}, expect=201)
    monkeypatch.setattr("wavilex.core.bounds.READINGS", 2)
    assert "holds 2 readings" in api.post("/import", {"text": file}, expect=422)["detail"]
