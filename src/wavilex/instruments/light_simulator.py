"""A light meter that is not there, and the screen before it: speaks light_protocol over TCP on this machine.

The screen lights by a known curve of its panel light, window, signal and preset, that the host never sees; what it
stands before it is told on the line (`LABEL`), as a person would set it. Figures of our own.
"""

from __future__ import annotations

import contextlib
import random
import secrets
import selectors
import socket
import time
from collections.abc import Callable
from dataclasses import dataclass, replace
from math import exp
from typing import Any

from wavilex.core.light.transfer import pq_light
from wavilex.instruments.framing import body, encode
from wavilex.instruments.light_protocol import VERSION

SECONDS_A_SAMPLE = 0.08
_PRESETS = {"game": 0.92, "film": 0.8, "film_dark": 0.62, "film_bright": 1.0, "standard": 1.0, "vivid": 1.08}
_WARMTH = {"cool": (28_600, 29_600), "neutral": (29_900, 31_300), "warm": (31_350, 32_950)}


@dataclass(frozen=True, slots=True)
class Screen:
    """A screen of known light. white: cd/m² at full panel light in standard range; peak: of a small HDR patch; full: of
    a full HDR picture; gamma: how light grows with the panel light's share; black: cd/m².
    """

    white: float = 520.0
    peak: float = 780.0
    full: float = 190.0
    gamma: float = 1.35
    black: float = 0.0006

    def light(self, shown: Shown) -> float:
        """cd/m² of the patch."""
        if shown.hdr:
            top = self.full + (self.peak - self.full) * exp(-max(shown.window - 10, 0) / 32)
            asked = pq_light(shown.signal_e4 / 10_000)
            knee = 0.75 * top
            if asked <= knee:
                return max(self.black, asked)
            return knee + (top - knee) * (1 - exp(-(asked - knee) / (top - knee)))  # rolls off
        most = self.white * _PRESETS.get(shown.preset, 0.95)
        held = most * (0.06 + 0.94 * shown.panel_light**self.gamma)
        return float(max(self.black, held * (shown.signal_e4 / 10_000) ** 2.25))


@dataclass(frozen=True, slots=True)
class Shown:
    """What stands on the screen: panel light as a share of its range, window in percent, signal, preset, warmth."""

    panel_light: float = 0.8
    window: int = 10
    signal_e4: int = 10_000
    preset: str = "standard"
    hdr: bool = False
    warmth: str = "cool"


@dataclass(frozen=True, slots=True)
class LightFaults:
    """What the simulated bench does wrong. noise, drift: shares of the light, drift a sample; unit: another than it
    should; saturates: cd/m² above which it tells nothing; drops: hangs up after so many samples.
    """

    noise: float = 0.004
    drift: float = 0.0
    unit: str = "ucd/m2"
    saturates: float = 0.0
    drops: int = 0


class LightSimulator:
    """The meter's state: what is shown, how long since that changed, samples since power-on."""

    def __init__(self, seed: int, screen: Screen = Screen(), faults: LightFaults = LightFaults()) -> None:
        self.random = random.Random(seed)
        self.screen, self.faults = screen, faults
        self.boot = secrets.token_hex(4)
        self.shown, self.before = Shown(), Shown()
        self.since, self.number, self.watching = 100, 0, False

    def answer(self, line: bytes) -> list[bytes]:
        """What the meter says to a line."""
        text = body(line)
        word, _, rest = (text or "").partition(" ")
        if word == "HELLO":
            self.watching = False
            return [encode(f"HI LIGHT{VERSION} light-simulator {self.boot} 80")]
        if word in ("WATCH", "STOP"):
            self.watching = word == "WATCH"
            return []
        if word == "LABEL":
            self._before(rest)
            return []
        return [encode("ERR not understood")]

    def _before(self, rest: str) -> None:
        """What stands before it: `panel_light=0.5 window=10 signal_e4=10000 preset=game hdr=1 warmth=warm`, or some of
        that; a real meter shows the words, or leaves them.
        """
        kinds: dict[str, Callable[[str], Any]] = {
            "panel_light": float,
            "window": int,
            "signal_e4": int,
            "preset": str,
            "hdr": bool,
            "warmth": str,
        }
        try:
            pairs = dict(p.split("=", 1) for p in rest.split())
            given: dict[str, Any] = {k: v == "1" if k == "hdr" else kinds[k](v) for k, v in pairs.items()}
        except (KeyError, ValueError):
            return
        self.before, self.shown, self.since = self.shown, replace(self.shown, **given), 0

    def sample(self) -> bytes:
        """One look: on its way to a new light for a few samples, noisy, drifting."""
        self.number += 1
        self.since += 1
        aim, was = self.screen.light(self.shown), self.screen.light(self.before)
        light = aim + (was - aim) * exp(-self.since / 2.5)
        light *= 1 + self.faults.drift * self.number
        light = max(light * self.random.gauss(1, self.faults.noise), 0.0)
        if self.faults.saturates and light > self.faults.saturates:
            return encode(f"SAT {self.number}")
        x, y = _WARMTH.get(self.shown.warmth, _WARMTH["cool"])
        x, y = (round(v + self.random.gauss(0, 20)) for v in (x, y))
        return encode(f"L {self.number} {round(light * 1e6)} {self.faults.unit} {x} {y}")


def serve_forever(port: int, *, seed: int, seconds_a_sample: float = SECONDS_A_SAMPLE,
                  screen: Screen = Screen(), faults: LightFaults = LightFaults()) -> None:  # fmt: skip
    """Listen on the loopback address until killed. One host watches, another may say what is shown."""
    meter = LightSimulator(seed, screen, faults)
    watch = selectors.DefaultSelector()
    with socket.create_server(("127.0.0.1", port)) as listener:
        print(f"light meter listening on 127.0.0.1:{listener.getsockname()[1]}", flush=True)
        listener.setblocking(False)
        watch.register(listener, selectors.EVENT_READ)
        pending: dict[socket.socket, bytes] = {}
        watcher: socket.socket | None = None
        due, told = time.monotonic(), 0
        while True:
            for key, _ in watch.select(timeout=0.02):
                if key.fileobj is listener:
                    host, _address = listener.accept()
                    host.setblocking(False)
                    watch.register(host, selectors.EVENT_READ)
                    pending[host] = b""
                    continue
                assert isinstance(key.fileobj, socket.socket)
                host = key.fileobj
                try:
                    data = host.recv(4096)
                except OSError:
                    data = b""
                if not data:
                    watch.unregister(host)
                    host.close()
                    pending.pop(host)
                    if host is watcher:
                        watcher, meter.watching = None, False
                    continue
                *lines, pending[host] = (pending[host] + data)[-4000:].split(b"\n")
                for line in lines:
                    out = meter.answer(line)
                    if meter.watching and (body(line) or "").startswith("WATCH"):
                        watcher, told = host, 0
                    for said in out:
                        _send(host, said)
            if watcher is not None and meter.watching and time.monotonic() >= due:
                due = time.monotonic() + seconds_a_sample
                told += 1
                _send(watcher, meter.sample())
                if meter.faults.drops and told >= meter.faults.drops:
                    watch.unregister(watcher)
                    watcher.close()
                    pending.pop(watcher)
                    watcher, meter.watching = None, False


def _send(host: socket.socket, line: bytes) -> None:
    with contextlib.suppress(OSError):
        host.sendall(line)
