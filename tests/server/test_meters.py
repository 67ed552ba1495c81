"""Meters that hold readings from before, and meters that are none: each ends with its reason, in seconds."""

from __future__ import annotations

import contextlib
import socket
import threading
import time
from collections.abc import Callable, Iterator
from typing import Any

import pytest

from tests.conftest import Api
from tests.server.test_bench import until
from wavilex.instruments.framing import body, encode
from wavilex.instruments.lag_meter import LagMeter, MeterFaultError, MeterLostError
from wavilex.instruments.lag_simulator import Simulator
from wavilex.server.bench import hub
from wavilex.server.bench.models import Reading
from wavilex.server.config import limits

Answer = Callable[[str], list[bytes]]


class Fake:
    """A meter on a loopback port that answers each line as told, and may talk unasked."""

    def __init__(self, answer: Answer, unasked: bytes = b"") -> None:
        self.answer, self.unasked = answer, unasked
        self.listener = socket.create_server(("127.0.0.1", 0))
        self.url = f"socket://127.0.0.1:{self.listener.getsockname()[1]}"
        self.heard: list[str] = []
        self.ended = False
        threading.Thread(target=self._serve, daemon=True).start()

    def _serve(self) -> None:
        while not self.ended:
            with contextlib.suppress(OSError):
                host, _ = self.listener.accept()
                with host:
                    self._talk(host)

    def _talk(self, host: socket.socket) -> None:
        host.settimeout(0.01)
        pending = b""
        while not self.ended:
            with contextlib.suppress(TimeoutError):
                data = host.recv(4096)
                if not data:
                    return
                *lines, pending = (pending + data).split(b"\n")
                for line in lines:
                    said = body(line) or ""
                    self.heard.append(said)
                    for out in self.answer(said):
                        host.sendall(out)
            if self.unasked:
                host.sendall(self.unasked)

    def end(self) -> None:
        self.ended = True
        self.listener.close()


@pytest.fixture
def fake() -> Iterator[Callable[..., Fake]]:
    made: list[Fake] = []

    def make(answer: Answer, unasked: bytes = b"") -> Fake:
        made.append(Fake(answer, unasked))
        return made[-1]

    yield make
    for one in made:
        one.end()


@pytest.fixture
def bench(transactional_db: None, make_api: Callable[[str], Api], monkeypatch: pytest.MonkeyPatch) -> tuple[Api, str]:
    """An API whose data another thread can see, an open session of the demo; what is waited for comes quickly."""
    from django.core.management import call_command

    call_command("seed_demo")
    api = make_api("technician")
    uid = api.post("/jobs/pierhead/lag", {"device": "den-screen"})["uid"]
    api.post(f"/lag/{uid}/warning")
    for name, value in (("SILENCE_SECONDS", 0.5), ("HELD_SECONDS", 1), ("GIVE_UP_SECONDS", 2), ("RETRY_SECONDS", 0.1)):
        monkeypatch.setattr(hub, name, value)
    return api, uid


def take(api: Api, uid: str, name: str, condition: str, count: int) -> None:
    api.post(f"/lag/{uid}/take", {"meter": name, "condition": condition, "count": count}, expect=202)


def ended(api: Api, uid: str) -> dict[str, Any]:
    def look() -> dict[str, Any] | None:
        meter: dict[str, Any] = api.get(f"/lag/{uid}")["meters"][0]
        return meter if meter["state"] in ("done", "failed", "stopped") else None

    found: dict[str, Any] = until(look, 20)
    return found


def simulated(meter: Simulator, fresh: bool = True) -> Answer:
    """A simulator that takes all it is asked for at once."""

    def answer(said: str) -> list[bytes]:
        out = meter.answer(encode(said).rstrip(b"\n"))
        while fresh and meter.wanted:
            out += meter.reading()
        return out

    return answer


def cells(uid: str) -> dict[str, int]:
    found: dict[str, int] = {}
    for condition in Reading.objects.filter(session__uid=uid, discard="").values_list("condition", flat=True):
        found[condition] = found.get(condition, 0) + 1
    return found


def test_what_a_meter_still_holds_goes_to_the_take_it_belongs_to(
    bench: tuple[Api, str], fake: Callable[..., Fake], settings: Any
) -> None:
    """After a stop or a kill the meter holds readings of the mode before: they are that mode's, not the next one's."""
    api, uid = bench
    meter = Simulator(3)
    one = fake(simulated(meter))
    settings.METERS = f"held={one.url}"
    take(api, uid, "held", "standard", 4)
    assert ended(api, uid)["state"] == "done"
    mark = next(said.split()[2] for said in one.heard if said.startswith("TAKE"))
    meter.kept = {900 + n: (85_000 + n, mark) for n in range(3)} | {950: (12_000, ""), 951: (12_500, "unknown")}
    take(api, uid, "held", "game", 5)
    done = ended(api, uid)
    assert done["state"] == "done"
    assert "2 of which nobody knows" in done["message"]
    assert cells(uid) == {"standard": 7, "game": 5}
    aside = Reading.objects.filter(session__uid=uid, discard="not placed")
    assert sorted(aside.values_list("lag_us", flat=True)) == [12_000, 12_500]
    assert meter.kept == {}
    assert {c["mode"] for c in api.get(f"/lag/{uid}")["report"]["conditions"]} == {"standard", "game"}


def test_a_meter_that_gives_no_marks_places_only_what_it_was_just_asked_for(
    bench: tuple[Api, str], fake: Callable[..., Fake], settings: Any
) -> None:
    api, uid = bench
    held = [encode(f"R {n} 84000") for n in range(1, 4)]

    def old(said: str) -> list[bytes]:
        word = said.split(" ")[0]
        if word == "TAKE":
            assert said == "TAKE 3"
            return [encode(f"R {n} 11000") for n in (4, 5, 6)] + [encode("END")]
        return {"HELLO": [encode("HI LAG1 old 77aa")], "RESUME": held}.get(word, [])

    settings.METERS = f"old={fake(old).url}"
    take(api, uid, "old", "game", 3)
    assert ended(api, uid)["state"] == "done"
    assert cells(uid) == {"game": 3}
    assert Reading.objects.filter(session__uid=uid, discard="not placed").count() == 3


def test_very_many_held_readings_are_bounded(bench: tuple[Api, str], fake: Callable[..., Fake], settings: Any) -> None:
    api, uid = bench
    flood = [encode(f"R {n} 84000") for n in range(1, 100_000)]

    def many(said: str) -> list[bytes]:
        word = said.split(" ")[0]
        return {"HELLO": [encode("HI LAG2 much 77ab")], "RESUME": flood}.get(word, [])

    settings.METERS = f"much={fake(many).url}"
    take(api, uid, "much", "game", 3)
    done = ended(api, uid)
    assert (done["state"], "without end" in done["message"]) == ("failed", True)
    assert cells(uid) == {}
    assert Reading.objects.filter(session__uid=uid).count() <= limits.READINGS_NOT_PLACED


def test_held_readings_that_begin_after_a_pause_are_bounded_too(
    bench: tuple[Api, str], fake: Callable[..., Fake], settings: Any
) -> None:
    """The meter is slow to begin: what it holds comes only when it was asked for new ones, and never ends."""
    api, uid = bench
    flood = [encode(f"R {n} 84000") for n in range(1, 100_000)]

    def late(said: str) -> list[bytes]:
        word = said.split(" ")[0]
        return {"HELLO": [encode("HI LAG2 late 77ad")], "TAKE": flood}.get(word, [])

    settings.METERS = f"late={fake(late).url}"
    take(api, uid, "late", "game", 3)
    done = ended(api, uid)
    assert (done["state"], "without end" in done["message"]) == ("failed", True)
    assert cells(uid) == {}


HELLO = encode("HI LAG2 odd 77ac")


@pytest.mark.parametrize(
    ("answer", "unasked", "words"),
    [
        (lambda said: [HELLO] if said == "HELLO" else [], b"\xff\xfe" * 200, "no reading|lost|end of line|without end"),
        (lambda said: [HELLO] if said == "HELLO" else [b"R 1 0*00\n"], b"", "no reading"),
        (lambda said: [HELLO] if said == "HELLO" else [encode("R 1 0")], b"", "no reading"),
        (lambda said: [b"GET / HTTP/1.1 400\r\n"] * 3, b"", "not answer as a lag meter"),
        (lambda said: [], b"noise without any end", "not answer as a lag meter"),
        (lambda said: [HELLO] if said == "HELLO" else [encode("END")], b"", "come back|no reading"),
    ],
    ids=["bytes for ever", "bad sums for ever", "zero for ever", "a web server", "no line ends", "ends at once"],
)
def test_what_is_no_meter_ends_with_its_reason(
    answer: Answer, unasked: bytes, words: str, bench: tuple[Api, str], fake: Callable[..., Fake], settings: Any
) -> None:
    import re

    api, uid = bench
    settings.METERS = f"odd-{abs(hash(words + str(unasked)))}={fake(answer, unasked).url}"
    name = next(iter(hub.meters()))
    begun = time.monotonic()
    take(api, uid, name, "game", 2)
    done = ended(api, uid)
    assert done["state"] == "failed"
    assert re.search(words, done["message"]), done["message"]
    assert time.monotonic() - begun < 15
    assert cells(uid) == {}
    # and it is free again
    take(api, uid, name, "game", 2)
    assert api.post("/meters/stop", {"meter": name})["state"] in ("stopped", "failed", "connecting", "lost", "reading")
    until(lambda: not hub._worker(name).busy(), 5)


def test_a_dead_line_and_one_without_ends_do_not_hold_anybody(fake: Callable[..., Fake]) -> None:
    with LagMeter(fake(lambda said: [], b"x" * 500).url) as endless:
        begun = time.monotonic()
        endless.read()
        assert time.monotonic() - begun < 1
        with pytest.raises(MeterFaultError, match="talks"):
            endless.hello()
    one = fake(lambda said: [])
    with LagMeter(one.url) as gone:
        gone._port.timeout = 0  # as a port does whose device was pulled
        begun = time.process_time()
        with pytest.raises(MeterLostError, match="dead"):
            all(gone.read() is None for _ in range(200))
        assert time.process_time() - begun < 1


def test_asking_who_it_is_leaves_a_measurement_alone(
    bench: tuple[Api, str], fake: Callable[..., Fake], settings: Any
) -> None:
    api, uid = bench
    slow = Simulator(4)
    one = fake(simulated(slow, fresh=False))
    settings.METERS = f"busy={one.url}"
    take(api, uid, "busy", "game", 5)
    until(lambda: any(s.startswith("TAKE") for s in one.heard))
    assert api.get("/meters/busy/about") == {"name": "", "signals": []}
    assert one.heard.count("HELLO") == 1
    api.post("/meters/stop", {"meter": "busy"})
    until(lambda: not hub._worker("busy").busy(), 5)
