"""A lag meter that is not there, and the screen it looks at. Speaks lag_protocol over TCP on this machine."""

from __future__ import annotations

import contextlib
import random
import secrets
import selectors
import socket
import time
from dataclasses import dataclass
from math import exp
from typing import IO

from wavilex.instruments.framing import body, encode
from wavilex.instruments.lag_protocol import VERSION

SIGNALS = (
    "3840x2160@60", "1920x1080@120", "1920x1080@60", "1920x1080i@60", "1280x720@60", "720x480@60", "1440x480i@60",
    "1440x240@60",
)  # fmt: skip
# what a screen does to a picture before it lights up, in µs by kind and mode: median, spread; figures of our own, in
# the range common practice gives. Scan-out comes on top.
_PROCESSING = {
    ("television", "game"): (3_200, 350),
    ("television", "standard"): (84_500, 1_400),
    ("television", "film"): (96_700, 2_100),
    ("television", "fastest"): (3_000, 300),
    ("television", "interpolated"): (29_100, 700),
    ("monitor", "game"): (1_200, 250),
    ("monitor", "standard"): (5_600, 420),
    ("monitor", "reading"): (5_900, 450),
}
_OTHER = (19_800, 900)
# what a setting adds to that, in µs, by effect and value as the host's label says them; figures of our own
_ADDS = {
    "interpolation=on": 29_100, "processing=auto": 6_200, "processing=high": 12_400, "processing=low": 2_600,
    "black_frames=on": 8_300, "input_speed=slow": 14_900, "input_speed=middle": 7_200, "tone_mapping=screen": 400,
}  # fmt: skip
_USUAL = {"monitor": "1920x1080@120"}
_PLACES = {"top": 0.1, "middle": 0.5, "bottom": 0.9}
_ACTIVE = 0.96  # of a frame is picture
_FEW_LINES = 400  # a picture of fewer lines is taken for interlaced
_SETTLING_US, _SETTLES_IN = 9_000, 3.0  # after a change of signal, falling off by readings
SECONDS_A_READING = 0.18
_MISREAD_US = 16_683


@dataclass(frozen=True, slots=True)
class Behaviour:
    """What the simulated bench does wrong: readings off by a field now and then, a slow drift, more noise."""

    misreads: float = 0.0
    drift_us: float = 0.0
    noise: float = 1.0


class Simulator:
    """The meter's own state: numbers since power-on, readings not yet acknowledged, what is asked, what is sent."""

    def __init__(self, seed: int, behaviour: Behaviour = Behaviour(), log: IO[str] | None = None) -> None:
        self.random = random.Random(seed)
        self.behaviour = behaviour
        self.log = log
        self.boot = secrets.token_hex(4)
        self.number = 0
        self.kept: dict[int, tuple[int, str]] = {}
        self.mark = ""
        self.wanted = 0
        self.subject = ""
        self.signal = ""
        self.since_change = 1_000

    def answer(self, line: bytes) -> list[bytes]:
        """What the meter says to a line."""
        text = body(line)
        if text is None:
            return [encode("ERR damaged line")]
        word, _, rest = text.partition(" ")
        if word == "HELLO":
            self.wanted = 0
            return [encode(f"HI LAG{VERSION} bench-simulator {self.boot}")]
        if word == "SIGNALS":
            return [*(encode(f"S {name}") for name in SIGNALS), encode("END")]
        if word == "SIGNAL":
            return [self._choose(rest)]
        if word == "LABEL":
            self.subject = rest
        elif word == "TAKE" and (asked := rest.split(" "))[0].isdigit() and len(asked) < 3 and len(asked[0]) < 5:
            self.wanted, self.mark = int(asked[0]), asked[1] if len(asked) == 2 else ""
        elif word == "STOP":
            self.wanted = 0
            return [encode("END")]
        elif word == "ACK" and rest.isdigit():
            held = self.kept.pop(int(rest), None)
            if held is not None:
                self.acknowledged(int(rest), held[0])
        elif word == "RESUME":
            return [encode(f"R {n} {lag} {mark}".strip()) for n, (lag, mark) in self.kept.items()]
        else:
            return [encode(f"ERR not understood: {word[:20]}")]
        return []

    def acknowledged(self, number: int, lag_us: int) -> None:
        """The host says that it has kept a reading: noted where a test asked for it."""
        if self.log is not None:
            self.log.write(f"{self.boot}:{number} {lag_us}\n")
            self.log.flush()

    def _choose(self, name: str) -> bytes:
        if name not in SIGNALS:
            return encode(f"ERR no such signal: {name[:20]}")
        if name != self.signal:
            self.signal, self.since_change = name, 0
        return encode(f"OK {name}")

    def reading(self) -> list[bytes]:
        """Take one reading if any is asked."""
        if not self.wanted:
            return []
        self.number += 1
        self.wanted -= 1
        lag = max(500, round(self.lag_us()))
        self.kept[self.number] = lag, self.mark
        out = [encode(f"R {self.number} {lag} {self.mark}".strip())]
        return out if self.wanted else [*out, encode("END")]

    def lag_us(self) -> float:
        """What the next reading shows: processing, scan-out, kind of signal, settling, drift, noise, misreading."""
        kind, _, rest = self.subject.partition(" ")
        words = rest.split(" ")
        place = _PLACES.get(words[-1], _PLACES["middle"])
        mode = " ".join(w for w in words if w not in _PLACES and w != "analogue" and "=" not in w)
        middle, spread = _PROCESSING.get((kind, mode), _OTHER)
        name = self.signal or _USUAL.get(kind, "1920x1080@60")
        size, _, hz = name.partition("@")
        lines = int(size.partition("x")[2].rstrip("i"))
        lag = middle + place * _ACTIVE * 1_000_000 / int(hz)
        lag += sum(_ADDS.get(w, 0) for w in words)
        if size.endswith("i") or lines < _FEW_LINES:
            lag += 2_000_000 / 60  # woven out of two fields
        if "analogue" in words:
            lag += 1.5 * middle + 8_000
        lag += _SETTLING_US * exp(-self.since_change / _SETTLES_IN)
        self.since_change += 1
        lag += self.behaviour.drift_us * self.number
        if self.random.random() < self.behaviour.misreads:
            lag += _MISREAD_US
        return lag + self.random.gauss(0, spread * self.behaviour.noise)


def serve_forever(
    port: int, *, seed: int, seconds_a_reading: float = SECONDS_A_READING, behaviour: Behaviour = Behaviour(),
    log: IO[str] | None = None,
) -> None:  # fmt: skip
    """Listen on the loopback address until killed; one host at a time, the newest wins."""
    meter = Simulator(seed, behaviour, log)
    watch = selectors.DefaultSelector()
    with socket.create_server(("127.0.0.1", port)) as listener:
        print(f"lag meter listening on 127.0.0.1:{listener.getsockname()[1]}", flush=True)
        listener.setblocking(False)
        watch.register(listener, selectors.EVENT_READ)
        host: socket.socket | None = None
        pending = b""
        due = time.monotonic()
        while True:
            for key, _ in watch.select(timeout=0.02):
                if key.fileobj is listener:
                    _drop(watch, host)
                    host, _ = listener.accept()
                    host.setblocking(False)
                    watch.register(host, selectors.EVENT_READ)
                    pending, meter.wanted = b"", 0
                    continue
                data = _receive(host)
                if not data:
                    _drop(watch, host)
                    host, meter.wanted = None, 0
                    continue
                *lines, pending = (pending + data)[-4000:].split(b"\n")
                for line in lines:
                    _send(host, meter.answer(line))
            if host is not None and time.monotonic() >= due:
                due = time.monotonic() + seconds_a_reading
                _send(host, meter.reading())


def _receive(host: socket.socket | None) -> bytes:
    try:
        return host.recv(4096) if host else b""
    except OSError:
        return b""


def _send(host: socket.socket | None, lines: list[bytes]) -> None:
    with contextlib.suppress(OSError):
        for line in lines:
            if host is not None:
                host.sendall(line)


def _drop(watch: selectors.BaseSelector, host: socket.socket | None) -> None:
    if host is not None:
        watch.unregister(host)
        host.close()
