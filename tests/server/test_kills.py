"""The server and the meter killed at random while measuring: what was acknowledged is kept, once."""

from __future__ import annotations

import contextlib
import json
import os
import random
import sqlite3
import subprocess
import sys
import time
import urllib.request
from http.cookiejar import CookieJar
from pathlib import Path
from typing import Any

import pytest

from wavilex.server.demo import free_port

ASKED = 120
WAIT_SECONDS = 60


class Bench:
    """A server and a simulated meter as processes of their own; each can be killed and started again."""

    def __init__(self, folder: Path) -> None:
        self.data, self.log = folder / "data", folder / "acknowledged"
        self.log.touch()
        self.port, self.meter_port = free_port(), free_port()
        self.env = {
            **os.environ, "WAVILEX_DATA": str(self.data), "WAVILEX_DEMO": "1",
            "WAVILEX_METERS": f"bench=socket://127.0.0.1:{self.meter_port}",
            "DJANGO_SETTINGS_MODULE": "wavilex.server.config.settings",
        }  # fmt: skip
        subprocess.run([sys.executable, "-m", "wavilex.server.manage", "seed_demo"], env=self.env, check=True)
        self.meter = self.start_meter()
        self.server = self.start_server()

    def start_meter(self) -> subprocess.Popen[bytes]:
        words = ["simulate", "lag-meter", "--port", str(self.meter_port), "--every", "0.01", "--log", str(self.log)]
        return subprocess.Popen([sys.executable, "-m", "wavilex.cli", *words], env=self.env, stdout=subprocess.DEVNULL)

    def start_server(self) -> subprocess.Popen[bytes]:
        words = [sys.executable, "-m", "wavilex.server.run", "--demo", "--port", str(self.port)]
        made = subprocess.Popen(words, env=self.env, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL,
                                start_new_session=True)  # fmt: skip
        end = time.monotonic() + WAIT_SECONDS
        while time.monotonic() < end:
            with contextlib.suppress(OSError):
                urllib.request.urlopen(f"http://127.0.0.1:{self.port}/api/v1/ready", timeout=2).close()
                break
            time.sleep(0.05)
        self.jar = CookieJar()
        self.web = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(self.jar))
        self.call("GET", "/session/door")
        self.call("POST", "/session/demo")
        return made

    def call(self, method: str, path: str, body: Any = None) -> Any:
        token = next((c.value for c in self.jar if c.name.startswith("wavilex_token")), "")
        request = urllib.request.Request(
            f"http://127.0.0.1:{self.port}/api/v1{path}", method=method,
            data=json.dumps(body or {}).encode() if method == "POST" else None,
            headers={"Content-Type": "application/json", "X-CSRFToken": token or ""},
        )  # fmt: skip
        with self.web.open(request, timeout=20) as answer:
            return json.loads(answer.read() or b"null")

    def kill_server(self) -> None:
        os.killpg(self.server.pid, 9)
        self.server.wait(timeout=10)

    def kill_meter(self) -> None:
        self.meter.kill()
        self.meter.wait(timeout=10)

    def kept(self) -> list[tuple[str, int]]:
        with contextlib.closing(sqlite3.connect(next(self.data.glob("*.sqlite3")))) as db:
            return list(db.execute("select meter_ref, lag_us from bench_reading order by seq"))

    def close(self) -> None:
        self.kill_meter()
        self.kill_server()


def go(bench: Bench, kills: int, seed: int) -> None:
    rnd = random.Random(seed)
    uid = bench.call("POST", "/jobs/pierhead/lag", {"device": "den-screen"})["uid"]
    bench.call("POST", f"/lag/{uid}/warning")
    take = {"meter": "bench", "condition": "game", "count": ASKED}
    bench.call("POST", f"/lag/{uid}/take", take)
    for _ in range(kills):
        time.sleep(rnd.uniform(0.05, 0.6))
        if rnd.random() < 0.5:
            bench.kill_meter()
            time.sleep(rnd.uniform(0, 0.3))
            bench.meter = bench.start_meter()
        else:
            bench.kill_server()
            bench.server = bench.start_server()
        with contextlib.suppress(urllib.error.HTTPError):  # the meter is at work already
            bench.call("POST", f"/lag/{uid}/take", take)
    end = time.monotonic() + WAIT_SECONDS
    while bench.call("GET", f"/lag/{uid}")["meters"][0]["state"] not in ("done", "idle"):
        assert time.monotonic() < end, "the meter never came to an end"
        time.sleep(0.1)
    kept = bench.kept()
    acknowledged = [line.split() for line in bench.log.read_text().splitlines()]
    refs = [ref for ref, _ in kept]
    assert len(refs) == len(set(refs)), "a reading was kept twice"
    assert len(acknowledged) >= kills
    lost = {(ref, int(lag)) for ref, lag in acknowledged} - set(kept)
    assert not lost, f"acknowledged and lost: {sorted(lost)[:3]}"


@pytest.fixture
def bench(tmp_path: Path) -> Any:
    made = Bench(tmp_path)
    yield made
    made.close()


def test_three_kills_lose_and_double_nothing(bench: Bench) -> None:
    go(bench, 3, seed=4)


@pytest.mark.soak
def test_fifty_kills_lose_and_double_nothing(bench: Bench) -> None:
    go(bench, 50, seed=50)
