"""Light by the API: notes kept once with what they rest on, the meter live and in trouble, CSV both ways."""

from __future__ import annotations

import json
import subprocess
import sys
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.conftest import Api
from tests.server.test_bench import until
from wavilex.instruments.framing import encode
from wavilex.instruments.light_meter import WATCHED, LightMeter, LightMeterFaultError, LightNow, now_of
from wavilex.instruments.light_protocol import LightHello, NoLine, Sample, Saturated, WrongUnit, decode
from wavilex.instruments.light_simulator import LightFaults, LightSimulator, Screen, Shown
from wavilex.server.demo import free_port
from wavilex.server.light import watch

J = "/jobs/pierhead"
CELL = "hdmi3;range=sdr;mode=game"
WHEN = "2026-11-30T09:00:00Z"


@contextmanager
def simulated(*words: str) -> Iterator[str]:
    """The simulated meter as its own process, ended by its own process id."""
    port = free_port()
    line = [
        sys.executable,
        "-m",
        "wavilex.cli",
        "simulate",
        "light-meter",
        "--port",
        str(port),
        "--every",
        "0.01",
        *words,
    ]
    process = subprocess.Popen(line, stdout=subprocess.PIPE, text=True)
    assert process.stdout is not None
    process.stdout.readline()
    try:
        yield f"socket://127.0.0.1:{port}"
    finally:
        process.terminate()
        process.wait(timeout=5)
        process.stdout.close()


@pytest.fixture
def light_meter() -> Iterator[str]:
    with simulated() as url:
        yield url
        for name in list(watch._watches):
            watch._watches.pop(name).stop()


def patch(light: float, value: str = "30", **more: Any) -> dict[str, Any]:
    return {"kind": "patch", "device": "den-screen", "scope": CELL, "value": value,
            "figures": {"luminance_ucd_m2": round(light * 1e6)}, "method": "typed", **more}  # fmt: skip


def note(api: Api, uid: str, *notes: dict[str, Any], expect: int = 200) -> Any:
    body = {"uid": uid, "notes": list(notes), "said_at": WHEN}
    return api.post(f"{J}/light?screen=den-screen", body, expect=expect)


def readings(told: Any) -> list[Any]:
    return [r for c in told["screen"]["cells"] for r in c["readings"]]


def test_a_typed_reading_is_kept_once_with_who_and_how_sure(api: Api, demo: str) -> None:
    told = note(api, "typed-0001", patch(151.5))
    again = note(api, "typed-0001", patch(151.5))
    assert readings(told) == readings(again)
    (row,) = readings(told)
    assert (row["light"], row["error_percent"], row["method"], row["by"]) == (151.5, 2.0, "typed", "technician")
    assert api.post(f"{J}/undo", {"uid": "undo-light"})
    assert readings(api.get(f"{J}/light?screen=den-screen")) == []


def test_by_eye_is_a_guess_and_stands_in_no_curve(api: Api, demo: str) -> None:
    told = note(api, "eye-000001", *(patch(30 + 8 * v, str(v), method="eye") for v in (0, 20, 40)))
    assert {r["method"] for r in readings(told)} == {"by eye: a guess"}
    assert all(c["curve"] is None for c in told["screen"]["cells"])


@pytest.mark.parametrize(
    ("notes", "status", "word"),
    [
        (patch(151, "900"), 422, "Panel light"), (patch(151, device="nobody"), 404, "no such box"),
        (patch(151, scope="hdmi3;colour=red"), 422, "cell"), (patch(30_000), 422, "ight in cd/m²"),
        (patch(151, method="meter"), 422, "names the meter"), (patch(151, warmth="boiling"), 422, "colour temperature"),
        ({"kind": "clicks", "device": "den-console", "value": "peak", "figures": {}}, 422, "count"),
        (patch(151, meter="nobody", method="meter"), 404, "light meter"),
    ],
)  # fmt: skip
def test_what_cannot_be_is_refused_in_words(api: Api, demo: str, notes: Any, status: int, word: str) -> None:
    problem = note(api, "refused-01", notes, expect=status)
    assert word in problem["detail"]
    assert readings(api.get(f"{J}/light?screen=den-screen")) == []


def test_a_count_is_held_against_what_was_measured_and_nothing_else(api: Api, demo: str) -> None:
    """The claim of the profile, 900 cd/m², is not what somebody counted on; unknown is not zero."""
    scope = CELL.replace("sdr", "hdr")
    count = {"kind": "clicks", "device": "den-console", "screen": "den-screen", "scope": scope, "value": "peak",
             "figures": {"count": 41}, "method": "typed"}  # fmt: skip

    def figures(uid: str) -> Any:
        note(api, uid, count)
        file = json.loads(api.client.get(f"/api/v1{J}/file").getvalue())
        return next(n["figures"] for n in file["light"] if n["uid"].startswith(uid))

    assert figures("count-0001") == {"count": 41}
    note(api, "count-0002", patch(640, "50", scope=scope))
    assert figures("count-0003") == {"count": 41, "light_ucd_m2": 640_000_000, "error_e4": 200}


def test_a_reader_looks_and_changes_nothing(api: Api, demo: str, make_api: Callable[[str], Api]) -> None:
    reader = make_api("viewer")
    assert reader.get(f"{J}/light")["screen"]["label"]
    note(reader, "reader-001", patch(100), expect=403)
    reader.post(f"{J}/light/look", {"meter": "spot", "device": "den-screen"}, expect=403)


def test_a_dropped_note_comes_back_by_undo(api: Api, demo: str) -> None:
    note(api, "drop-00001", patch(100))
    told = api.post(f"{J}/light/drop?screen=den-screen", {"uid": "drop-it-now", "note": "drop-00001.0"})
    assert readings(told) == []
    api.post(f"{J}/undo", {"uid": "undo-a-drop"})
    assert len(readings(api.get(f"{J}/light?screen=den-screen"))) == 1
    api.post(f"{J}/light/drop", {"uid": "drop-nothing", "note": "nobody"}, expect=404)


def test_csv_goes_out_and_comes_back_the_same(api: Api, demo: str) -> None:
    xy = {"x_e5": 31_270, "y_e5": 32_900, "luminance_ucd_m2": 151_250_000}
    before = readings(note(api, "csv-000001", patch(30, "0"), patch(0, "20", figures=xy)))
    text = api.client.get(f"/api/v1{J}/light.csv").content.decode()
    api.post(f"{J}/undo", {"uid": "undo-csv-one"})
    body = {"uid": "csv-000002", "text": text, "said_at": WHEN}
    after = readings(api.post(f"{J}/light.csv", body))
    keys = ("value", "light", "window", "signal_percent", "x", "y", "error_percent")
    assert [[r[k] for k in keys] for r in after] == [[r[k] for k in keys] for r in before]


@pytest.mark.parametrize(
    ("text", "where"),
    [
        ("value,cd\n1,2\n", "line 1"), ("screen,cd_m2\nden-screen,bright\n", "line 2"),
        ("screen,cd_m2\nden-screen,10\nnobody,20\n", "line 3"), ("screen,cd_m2\n", "line 2"),
    ],
)  # fmt: skip
def test_a_wrong_line_of_csv_is_named_and_nothing_is_kept(api: Api, demo: str, text: str, where: str) -> None:
    body = {"uid": "csv-wrong1", "text": text, "said_at": WHEN}
    assert api.post(f"{J}/light.csv", body, expect=422)["where"] == where
    assert readings(api.get(f"{J}/light?screen=den-screen")) == []


def look(api: Api, name: str, expect: int = 200, **before: Any) -> Any:
    body = {"meter": name, "device": "den-screen", "scope": CELL, "value": "30", **before}
    return api.post(f"{J}/light/look", body, expect=expect)


def settled(api: Api, name: str, **before: Any) -> Any:
    def seen() -> Any:
        now = look(api, name, **before)
        return now if now["settled"] or now["state"] == "failed" else None

    return until(seen, 60)


def test_the_meter_is_watched_until_it_settles_and_its_reading_kept(
    api: Api, demo: str, light_meter: str, settings: Any
) -> None:
    """Against the simulated screen's own light, which the host never sees."""
    settings.LIGHT_METERS = f"spot={light_meter}"
    assert api.get(f"{J}/light")["meters"] == ["spot"]
    now = settled(api, "spot", warmth="warm")
    true = Screen().light(Shown(0.6, 10, 10_000, "game", False, "warm"))
    assert now["light"] == pytest.approx(true, rel=0.01)
    kept = note(api, "meter-0001", patch(0, figures={}, method="meter", meter="spot", ref=now["ref"]))
    (row,) = readings(kept)
    assert (row["method"], row["light"]) == ("by meter", pytest.approx(true, rel=0.01))
    assert row["x"] == pytest.approx(0.3135, abs=0.001)
    look(api, "spot", value="5")
    problem = note(api, "meter-0002", patch(0, figures={}, method="meter", meter="spot", ref="gone:1"), expect=409)
    assert problem["code"] in ("not_settled", "another_moment")
    api.post("/light-meters/spot/let-go")
    look(api, "other", 404)


@pytest.mark.parametrize(
    ("words", "said"),
    [(("--unit", "mlx"), "lux is light that"), (("--saturates", "5"), "more light than it can tell")],
    ids=["another unit", "saturated"],
)
def test_a_meter_that_cannot_tell_says_why(api: Api, demo: str, settings: Any, words: Any, said: str) -> None:
    with simulated(*words) as url:
        settings.LIGHT_METERS = f"odd-{words[0][2:]}={url}"
        now = settled(api, f"odd-{words[0][2:]}")
        assert (now["state"], said in now["message"]) == ("failed", True)


def moments(url: str, count: int) -> list[LightNow]:
    """So many moments as they are seen."""
    out: list[LightNow] = []

    def tell(now: LightNow, _label: str) -> bool:
        out.append(now)
        return len(out) < count

    with LightMeter(url) as meter:
        meter.watch(meter.hello(), tell, lambda: "", 30)
    return out


@pytest.mark.parametrize(
    ("words", "why"), [(("--drift", "0.01"), "still rising"), (("--noise", "0.2"), "samples do not agree")]
)
def test_drift_and_flicker_never_settle(words: Any, why: str) -> None:
    with simulated(*words) as url:
        seen = moments(url, 60)[WATCHED + 5 :]
    assert sum(m.settled for m in seen) / len(seen) < 0.1
    assert any(why in m.why for m in seen)


def test_a_meter_that_hangs_up_is_looked_for_again(api: Api, demo: str, settings: Any) -> None:
    with simulated("--drops", "6") as url:
        settings.LIGHT_METERS = f"drops={url}"
        until(lambda: look(api, "drops")["state"] == "lost", 60)
        until(lambda: look(api, "drops")["light"] is not None, 60)
        api.post("/light-meters/drops/let-go")


def test_settled_readings_are_as_sure_as_they_say() -> None:
    """Coverage on the simulated meter: 95 % of settled means lie within 1.96 of their stated errors of the truth."""
    inside, count = 0, 0
    for seed in range(150):
        meter = LightSimulator(seed, faults=LightFaults(noise=0.012))
        true = meter.screen.light(meter.shown)
        samples = [decode(meter.sample()) for _ in range(30)]
        seen = [s for s in samples if isinstance(s, Sample)][-WATCHED:]
        now = now_of(LightHello("m", "b", 1), seen)
        if now.settled:
            count += 1
            inside += abs(now.light_ucd_m2 / 1e6 - true) <= 1.96 * now.error_e4 / 1e4 * true
    assert count > 120
    assert 0.87 <= inside / count <= 0.99  # ten samples: their own spread stands for the true one, a t of 9 degrees


@given(st.binary(max_size=300))
def test_no_line_of_a_meter_raises(line: bytes) -> None:
    decode(line)


def test_lines_of_the_meter() -> None:
    assert decode(encode("HI LIGHT1 spot 7a 80")) == LightHello("spot", "7a", 80)
    assert decode(encode("L 3 151000000 ucd/m2 31270 32900")) == Sample(3, 151_000_000, (31_270, 32_900))
    assert decode(encode("L 4 100000 mfL")) == Sample(4, 342_625_910)  # 100 fL: NIST SP 811, 3.426 259 cd/m² each
    assert decode(encode("SAT 5")) == Saturated(5)
    assert decode(encode("L 6 100 mlx")) == WrongUnit("mlx")
    for bad in (
        b"L 3 151 ucd/m2\n",
        encode("L 3 x ucd/m2"),
        encode("L 3 99999999999 ucd/m2"),
        encode("HI LIGHT1 a b 0"),
    ):
        assert isinstance(decode(bad), NoLine)


def test_what_is_no_light_meter_says_so() -> None:
    from tests.server.test_bench import Meter

    lag = Meter()
    try:
        with LightMeter(lag.url) as meter, pytest.raises(LightMeterFaultError, match="light meter"):
            meter.hello()
    finally:
        lag.kill()
