"""The light meter's line protocol: our own, plain text, documented in docs/formats/light-meter.md."""

from __future__ import annotations

from dataclasses import dataclass

from wavilex.core.rig.light_notes import MOST_UCD
from wavilex.instruments.framing import body

VERSION = 1
_FOOT_LAMBERT = 3.4262591  # cd/m² of one: NIST SP 811, appendix B.8
_UNITS = {"ucd/m2": 1.0, "mfL": _FOOT_LAMBERT * 1000}  # to µcd/m²


@dataclass(frozen=True, slots=True)
class LightHello:
    """The meter introduces itself. boot changes at each power-on; error_e4: its standard error, a share in 1/10 000."""

    name: str
    boot: str
    error_e4: int


@dataclass(frozen=True, slots=True)
class Sample:
    """One look at the patch: its number, light in µcd/m², x and y in 1/100 000 where it sees colour."""

    number: int
    light_ucd_m2: int
    xy_e5: tuple[int, int] | None = None


@dataclass(frozen=True, slots=True)
class Saturated:
    """More light than it can tell."""

    number: int


@dataclass(frozen=True, slots=True)
class WrongUnit:
    """It measures something else than light of a surface: lux falls on one."""

    unit: str


@dataclass(frozen=True, slots=True)
class NoLine:
    """Noise, a torn line, a wrong sum, what is not understood."""

    line: str


LightMessage = LightHello | Sample | Saturated | WrongUnit | NoLine


def decode(line: bytes) -> LightMessage:
    """What the meter said. Never raises, whatever the bytes."""
    text = body(line)
    shown = line.decode("ascii", "replace").strip()[:60]
    if text is None:
        return NoLine(shown)
    words = text.split(" ")
    if words[0] == "HI" and len(words) == 5 and words[1] == f"LIGHT{VERSION}" and _whole(words[4]) and words[3]:
        error = int(words[4])
        return LightHello(words[2][:60], words[3][:24], error) if 1 <= error <= 10_000 else NoLine(shown)
    if words[0] == "SAT" and len(words) == 2 and _whole(words[1]):
        return Saturated(int(words[1]))
    if words[0] == "L" and len(words) in (4, 6) and all(_whole(w) for w in (*words[1:3], *words[4:])):
        if words[3] not in _UNITS:
            return WrongUnit(words[3][:12])
        light = round(int(words[2]) * _UNITS[words[3]])
        xy = (int(words[4]), int(words[5])) if len(words) == 6 else None
        good = light <= MOST_UCD and (xy is None or (xy[0] > 0 and xy[1] > 0 and sum(xy) <= 100_000))
        return Sample(int(words[1]), light, xy) if good else NoLine(shown)
    return NoLine(shown)


def _whole(word: str) -> bool:
    return word.isascii() and word.isdigit() and len(word) < 12
