"""A lag meter on a serial port, or behind a `socket://` address: the same code for both."""

from __future__ import annotations

import time
from types import TracebackType

import serial

from wavilex.instruments.lag_protocol import (
    LONGEST_LINE,
    Chosen,
    End,
    Garbage,
    Hello,
    Message,
    Offered,
    Refused,
    decode,
    encode,
)

_BAUD = 115_200
_READ_SECONDS = 0.25
_HELLO_SECONDS = 2.0
_HELLO_TRIES = 8
_HURRIED_MOST = 20
_MOST_SIGNALS = 64


class MeterLostError(Exception):
    """The meter is not there, or went away: it may come back."""


class MeterFaultError(Exception):
    """Something is connected and does not behave as a lag meter: trying again changes nothing."""


class LagMeter:
    """One open meter. Use as a context manager. Every failure of the line is a MeterLostError."""

    def __init__(self, url: str) -> None:
        try:
            self._port = serial.serial_for_url(url, baudrate=_BAUD, timeout=_READ_SECONDS, write_timeout=2)
        except (serial.SerialException, OSError, ValueError) as error:
            raise MeterLostError(f"no meter at {url}: {error}") from error
        self._pending = b""
        self._hurried = 0

    def __enter__(self) -> LagMeter:
        return self

    def __exit__(self, kind: type[BaseException] | None, error: BaseException | None, tb: TracebackType | None) -> None:
        self.close()

    def close(self) -> None:
        sock = getattr(self._port, "_socket", None)  # pyserial leaves it open when the far end is gone already
        self._port.close()
        if sock is not None:
            sock.close()

    def _send(self, text: str) -> None:
        try:
            self._port.write(encode(text))
        except (serial.SerialException, OSError) as error:
            raise MeterLostError(f"the meter went away: {error}") from error

    def read(self) -> Message | None:
        """The next message, or None when nothing came for a moment. Never takes longer than a moment."""
        end = time.monotonic() + _READ_SECONDS
        while b"\n" not in self._pending:
            begun = time.monotonic()
            try:
                waiting = getattr(self._port, "in_waiting", 1) or 1
                data = self._port.read(min(max(1, waiting), LONGEST_LINE))
            except (serial.SerialException, OSError) as error:
                raise MeterLostError(f"the meter went away: {error}") from error
            if not data:
                self._idle(time.monotonic() - begun)
                return None
            self._hurried = 0
            self._pending += data
            if len(self._pending) > 4 * LONGEST_LINE and b"\n" not in self._pending:
                self._pending = b""
                return Garbage("noise without an end of line")
            if time.monotonic() > end:
                return None
        line, self._pending = self._pending.split(b"\n", 1)
        return decode(line)

    def _idle(self, seconds: float) -> None:
        """Nothing came. A line that says so at once, again and again, is dead: it must not keep a core busy."""
        self._hurried = self._hurried + 1 if seconds < _READ_SECONDS / 5 else 0
        if self._hurried > _HURRIED_MOST:
            raise MeterLostError("the line is open, but dead")
        if self._hurried:
            time.sleep(_READ_SECONDS / 5)

    def hello(self) -> Hello:
        """Ask who is there. Raises MeterLostError when nobody answers, MeterFaultError when it is no meter.

        Readings it still sends of a take before are passed over: they are held until acknowledged.
        """
        self._send("HELLO")
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
        self._send("SIGNALS")
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
        self._send(f"SIGNAL {signal}")
        for _ in range(_HELLO_TRIES):
            message = self.read()
            if isinstance(message, Chosen):
                return True
            if isinstance(message, Refused):
                return False
        raise MeterLostError("it does not answer which signal it sends")

    def label(self, text: str) -> None:
        """Tell the meter what the next readings are of."""
        self._send(f"LABEL {text}")

    def take(self, count: int, mark: str = "") -> None:
        """Ask for `count` readings; they come one by one with the mark, then End."""
        self._send(f"TAKE {count} {mark}".strip())

    def resume(self) -> None:
        """Ask for every reading not yet acknowledged, again."""
        self._send("RESUME")

    def acknowledge(self, number: int) -> None:
        """Reading `number` is kept: the meter may forget it."""
        self._send(f"ACK {number}")

    def stop(self) -> None:
        self._send("STOP")
