"""A lag meter that is not there, and the screen it looks at. Speaks lag_protocol over TCP on this machine."""

from __future__ import annotations

import contextlib
import random
import secrets
import selectors
import socket
import time

from wavilex.instruments.lag_protocol import VERSION, body, encode

# screen kind and mode → (median, spread) in µs; figures of our own, in the range common practice gives
_SCREENS = {
    ("television", "game"): (11_300, 350),
    ("television", "standard"): (92_600, 1_400),
    ("television", "film"): (104_800, 2_100),
    ("monitor", "game"): (4_600, 250),
    ("monitor", "standard"): (9_100, 420),
    ("monitor", "reading"): (9_400, 450),
}
_OTHER = (27_900, 900)
_SECONDS_A_READING = 0.18


class Simulator:
    """The meter's own state: numbers since power-on, readings not yet acknowledged, what is asked."""

    def __init__(self, seed: int) -> None:
        self.random = random.Random(seed)
        self.boot = secrets.token_hex(4)
        self.number = 0
        self.kept: dict[int, int] = {}
        self.wanted = 0
        self.subject = ""

    def answer(self, line: bytes) -> list[bytes]:
        """What the meter says to a line."""
        text = body(line)
        if text is None:
            return [encode("ERR damaged line")]
        word, _, rest = text.partition(" ")
        if word == "HELLO":
            self.wanted = 0
            return [encode(f"HI LAG{VERSION} bench-simulator {self.boot}")]
        if word == "LABEL":
            self.subject = rest
        elif word == "TAKE" and rest.isdigit() and len(rest) < 5:
            self.wanted = int(rest)
        elif word == "STOP":
            self.wanted = 0
            return [encode("END")]
        elif word == "ACK" and rest.isdigit():
            self.kept.pop(int(rest), None)
        elif word == "RESUME":
            return [encode(f"R {n} {lag}") for n, lag in self.kept.items()]
        else:
            return [encode(f"ERR not understood: {word[:20]}")]
        return []

    def reading(self) -> list[bytes]:
        """Take one reading if any is asked."""
        if not self.wanted:
            return []
        kind, _, mode = self.subject.partition(" ")
        middle, spread = _SCREENS.get((kind, mode), _OTHER)
        lag = max(1000, round(self.random.gauss(middle, spread)))
        self.number += 1
        self.wanted -= 1
        self.kept[self.number] = lag
        out = [encode(f"R {self.number} {lag}")]
        return out if self.wanted else [*out, encode("END")]


def serve_forever(port: int, *, seed: int, seconds_a_reading: float = _SECONDS_A_READING) -> None:
    """Listen on the loopback address until killed; one host at a time, the newest wins."""
    meter = Simulator(seed)
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
