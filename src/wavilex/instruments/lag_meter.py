"""A lag meter on a serial port, or behind a `socket://` address: the same code for both."""

from __future__ import annotations

import time

from wavilex.instruments.lag_protocol import Chosen, End, Hello, Message, Offered, Refused, decode
from wavilex.instruments.line import Line, LineLostError

_HELLO_SECONDS = 2.0
_HELLO_TRIES = 8
_MOST_SIGNALS = 64

MeterLostError = LineLostError


class MeterFaultError(Exception):
    """Something is connected and does not behave as a lag meter: trying again changes nothing."""


class LagMeter(Line):
    """One open meter. Use as a context manager. Every failure of the line is a MeterLostError."""

    def __init__(self, url: str) -> None:
        super().__init__(url, "meter")

    def read(self) -> Message | None:
        """The next message, or None when nothing came for a moment. Never takes longer than a moment."""
        line = self.read_line()
        return None if line is None else decode(line)

    def hello(self) -> Hello:
        """Ask who is there. Raises MeterLostError when nobody answers, MeterFaultError when it is no meter.

        Readings it still sends of a take before are passed over: they are held until acknowledged.
        """
        self.send("HELLO")
        end, other = time.monotonic() + _HELLO_SECONDS, False
        while time.monotonic() < end:
            message = self.read()
            if isinstance(message, Hello):
                return message
            other = other or message is not None
        if other:
            raise MeterFaultError("something is connected and talks, but does not answer as a lag meter")
        raise MeterLostError("something is connected, but it does not answer as a lag meter")

    def signals(self) -> list[str]:
        """The pictures it can send, by mode; none where it cannot choose. Raises MeterLostError when it goes silent."""
        self.send("SIGNALS")
        found: list[str] = []
        for _ in range(_MOST_SIGNALS):
            message = self.read()
            if isinstance(message, Offered):
                found.append(message.name)
            elif isinstance(message, End | Refused):
                return found
            elif message is None:
                raise MeterLostError("it does not finish its list of signals")
        return found

    def choose(self, signal: str) -> bool:
        """Send this picture from now on; False where the meter cannot."""
        self.send(f"SIGNAL {signal}")
        for _ in range(_HELLO_TRIES):
            message = self.read()
            if isinstance(message, Chosen):
                return True
            if isinstance(message, Refused):
                return False
        raise MeterLostError("it does not answer which signal it sends")

    def label(self, text: str) -> None:
        """Tell the meter what the next readings are of."""
        self.send(f"LABEL {text}")

    def take(self, count: int, mark: str = "") -> None:
        """Ask for `count` readings; they come one by one with the mark, then End."""
        self.send(f"TAKE {count} {mark}".strip())

    def resume(self) -> None:
        """Ask for every reading not yet acknowledged, again."""
        self.send("RESUME")

    def acknowledge(self, number: int) -> None:
        """Reading `number` is kept: the meter may forget it."""
        self.send(f"ACK {number}")

    def stop(self) -> None:
        self.send("STOP")
