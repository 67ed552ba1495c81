"""Readings of one condition by one method, with what each can tell: whole frames of a camera, or any value."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction

from wavilex.core.lag.methods import METHOD_NAMES

COUNTED = ("camera", "reference", "film")  # methods that count frames; of a film only where its shutter was mostly shut
_US_NS = 1000


@dataclass(frozen=True, slots=True)
class Readings:
    """values in µs. step_us: the frame they were counted by, None: not counted. off_us: how far all of them may be off
    together, to each side (a camera's rate). frame_us: of the signal, None: not known.
    """

    values: tuple[int, ...]
    step_us: Fraction | None = None
    off_us: int = 0
    frame_us: Fraction | None = None


def as_readings(given: Readings | Sequence[int]) -> Readings:
    """Bare values in µs are readings of which nothing else is known."""
    return given if isinstance(given, Readings) else Readings(tuple(given))


def step_of(method: str, step_ns: int | None, uncertainty_us: int | None) -> Fraction | None:
    """The frame a reading was counted by, in µs; None where it was not counted, or nobody kept by what.

    Readings kept before steps were hold the frame in their uncertainty.
    """
    if method not in COUNTED:
        return None
    ns = step_ns or (0 if method == "film" else (uncertainty_us or 0) * _US_NS)
    return Fraction(ns, _US_NS) if ns else None


@dataclass(frozen=True, slots=True)
class Way:
    """How readings were taken: the method, and the frame they were counted by in µs, None: not counted."""

    method: str
    step_us: Fraction | None

    @property
    def words(self) -> str:
        """`camera frames, 240 a second`."""
        name = METHOD_NAMES[self.method]
        return f"{name}, {float(1_000_000 / self.step_us):.6g} a second" if self.step_us else name


def way_of(method: str, step_ns: int | None, uncertainty_us: int | None) -> Way:
    """The way of a reading as it is kept."""
    return Way(method, step_of(method, step_ns, uncertainty_us))


def off_of(step_us: Fraction | None, uncertainty_us: int | None) -> int:
    """What of a counted reading's uncertainty is not the frame itself, in µs."""
    return max(0, (uncertainty_us or 0) - round(step_us)) if step_us else 0
