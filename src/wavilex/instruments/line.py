"""A serial line, or a `socket://` address in its place: lines out, lines in, never for longer than a moment."""

from __future__ import annotations

import time
from types import TracebackType
from typing import Self

import serial

from wavilex.instruments.framing import LONGEST_LINE, encode

_BAUD = 115_200
_READ_SECONDS = 0.25
_HURRIED_MOST = 20
NOISE = b"noise without an end of line"


class LineLostError(Exception):
    """What should be there is not, or went away: it may come back."""


class Line:
    """One open line. Use as a context manager. Every failure of it is a LineLostError."""

    def __init__(self, url: str, what: str) -> None:
        self.what = what
        try:
            self._port = serial.serial_for_url(url, baudrate=_BAUD, timeout=_READ_SECONDS, write_timeout=2)
        except (serial.SerialException, OSError, ValueError) as error:
            raise LineLostError(f"no {what} at {url}: {error}") from error
        self._pending = b""
        self._hurried = 0

    def __enter__(self) -> Self:
        return self

    def __exit__(self, kind: type[BaseException] | None, error: BaseException | None, tb: TracebackType | None) -> None:
        self.close()

    def close(self) -> None:
        sock = getattr(self._port, "_socket", None)  # pyserial leaves it open when the far end is gone already
        self._port.close()
        if sock is not None:
            sock.close()

    def send(self, text: str) -> None:
        try:
            self._port.write(encode(text))
        except (serial.SerialException, OSError) as error:
            raise LineLostError(f"the {self.what} went away: {error}") from error

    def read_line(self) -> bytes | None:
        """The next line as it came, or None when nothing came for a moment. Never takes longer than a moment."""
        end = time.monotonic() + _READ_SECONDS
        while b"\n" not in self._pending:
            begun = time.monotonic()
            try:
                waiting = getattr(self._port, "in_waiting", 1) or 1
                data = self._port.read(min(max(1, waiting), LONGEST_LINE))
            except (serial.SerialException, OSError) as error:
                raise LineLostError(f"the {self.what} went away: {error}") from error
            if not data:
                self._idle(time.monotonic() - begun)
                return None
            self._hurried = 0
            self._pending += data
            if len(self._pending) > 4 * LONGEST_LINE and b"\n" not in self._pending:
                self._pending = b""
                return NOISE
            if time.monotonic() > end:
                return None
        line, self._pending = self._pending.split(b"\n", 1)
        return line

    def _idle(self, seconds: float) -> None:
        """Nothing came. A line that says so at once, again and again, is dead: it must not keep a core busy."""
        self._hurried = self._hurried + 1 if seconds < _READ_SECONDS / 5 else 0
        if self._hurried > _HURRIED_MOST:
            raise LineLostError("the line is open, but dead")
        if self._hurried:
            time.sleep(_READ_SECONDS / 5)
