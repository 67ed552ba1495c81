"""The lag meter's line protocol: our own, plain text, documented in docs/formats/lag-meter.md."""

from __future__ import annotations

from dataclasses import dataclass

from wavilex.instruments.framing import body

VERSION = 2  # 1: without the mark of a take
LONGEST_MARK = 16
MOST_LAG_US = 60_000_000


@dataclass(frozen=True, slots=True)
class Hello:
    """The meter introduces itself. `boot` changes at each power-on; numbers start anew with it.

    marks: it gives the mark of a take back with each of its readings (protocol 2).
    """

    name: str
    boot: str
    marks: bool = True


@dataclass(frozen=True, slots=True)
class MeterReading:
    """One reading: the meter's own number, the lag in µs, the mark of the take it belongs to ("": none said)."""

    number: int
    lag_us: int
    mark: str = ""


@dataclass(frozen=True, slots=True)
class End:
    """The asked readings are all taken."""


@dataclass(frozen=True, slots=True)
class Offered:
    """A picture the meter can send: a mode's name (`1920x1080i@60`)."""

    name: str


@dataclass(frozen=True, slots=True)
class Chosen:
    """The meter sends this signal from now on."""

    name: str


@dataclass(frozen=True, slots=True)
class Refused:
    """The meter did not understand, or cannot."""

    text: str


@dataclass(frozen=True, slots=True)
class Garbage:
    """A line that is none: noise, a torn line, a wrong checksum. Skipped; an unacknowledged reading comes again."""

    line: str


Message = Hello | MeterReading | Offered | Chosen | End | Refused | Garbage


def decode(line: bytes) -> Message:
    """What the meter said. Never raises, whatever the bytes."""
    text = body(line)
    shown = line.decode("ascii", "replace").strip()[:60]
    if text is None:
        return Garbage(shown)
    words = text.split(" ")
    if words[0] == "HI" and len(words) == 4 and words[1] in ("LAG1", f"LAG{VERSION}") and len(words[3]) <= 24:
        return Hello(words[2][:60], words[3], words[1] != "LAG1")
    if (
        words[0] == "R"
        and len(words) in (3, 4)
        and all(w.isascii() and w.isdigit() and len(w) < 10 for w in words[1:3])
    ):
        number, lag = int(words[1]), int(words[2])
        mark = words[3] if len(words) == 4 and len(words[3]) <= LONGEST_MARK else ""
        return MeterReading(number, lag, mark) if 0 < lag < MOST_LAG_US else Garbage(shown)
    if words[0] in ("S", "OK") and len(words) == 2 and len(words[1]) <= 24:
        return (Offered if words[0] == "S" else Chosen)(words[1])
    if words == ["END"]:
        return End()
    if words[0] == "ERR":
        return Refused(text[4:])
    return Garbage(shown)
