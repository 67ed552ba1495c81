"""A light meter on a serial port, or behind a `socket://` address: looks until the light has settled."""

from __future__ import annotations

import itertools
import time
from collections import deque
from collections.abc import Callable
from dataclasses import dataclass
from math import hypot, sqrt
from statistics import fmean

from wavilex.instruments.light_protocol import LightHello, Sample, Saturated, WrongUnit, decode
from wavilex.instruments.line import Line, LineLostError

_HELLO_SECONDS = 2.0
WATCHED = 10  # samples that must agree
_SPREAD = 0.04  # more spread than this, as a share, is no reading
_DRIFT = 3.0  # halves that differ by more than this many of their errors are on the way somewhere
_ALIKE = 0.002  # halves nearer than this, as a share, are alike however small their errors
_FAINT_UCD = 20_000  # light so small that spread as a share says nothing


class LightMeterFaultError(Exception):
    """Something is connected that cannot measure this: trying again changes nothing until a person does something."""


@dataclass(frozen=True, slots=True)
class LightNow:
    """What is seen at the moment. settled: it may be kept; why: else what is wanting; ref: names it, kept once."""

    light_ucd_m2: int
    error_e4: int
    xy_e5: tuple[int, int] | None
    samples: int
    settled: bool
    why: str
    ref: str


class LightMeter(Line):
    """One open meter. Use as a context manager. Every failure of the line is a LineLostError."""

    def __init__(self, url: str) -> None:
        super().__init__(url, "light meter")

    def hello(self) -> LightHello:
        """Ask who is there. Raises LineLostError: nobody answers; LightMeterFaultError: it is no light meter."""
        self.send("HELLO")
        end, other = time.monotonic() + _HELLO_SECONDS, False
        while time.monotonic() < end:
            line = self.read_line()
            message = None if line is None else decode(line)
            if isinstance(message, LightHello):
                return message
            other = other or message is not None
        if other:
            raise LightMeterFaultError("something is connected and talks, but does not answer as a light meter")
        raise LineLostError("something is connected, but it does not answer as a light meter")

    def watch(
        self,
        hello: LightHello,
        tell: Callable[[LightNow, str], bool],
        label: Callable[[], str],
        silence_seconds: float = 3.0,
    ) -> None:
        """Look, and tell each moment with the label it is of, until `tell` says to stop.

        label: what stands before it; where that changes, the samples so far are of something else. Raises LineLostError
        when it goes silent, LightMeterFaultError where it measures another thing or has too much light.
        """
        self.send("WATCH")
        labelled = ""
        seen: deque[Sample] = deque(maxlen=WATCHED)
        heard, blinded = time.monotonic(), 0
        while True:
            if label() != labelled:
                labelled = label()
                self.send(f"LABEL {labelled}")
                seen.clear()
            line = self.read_line()
            message = None if line is None else decode(line)
            if isinstance(message, WrongUnit):
                raise LightMeterFaultError(
                    f"it measures in {message.unit}: set it to luminance, cd/m² or foot-lamberts; lux is light that "
                    "falls on a surface, not what a screen gives"
                )
            if isinstance(message, Saturated):
                blinded += 1
                seen.clear()
                if blinded >= WATCHED:
                    raise LightMeterFaultError("more light than it can tell: choose its higher range or a filter")
                heard = time.monotonic()
            elif isinstance(message, Sample):
                blinded, heard = 0, time.monotonic()
                if seen and message.number <= seen[-1].number:
                    continue  # one sent twice
                seen.append(message)
                if not tell(now_of(hello, list(seen)), labelled):
                    self.send("STOP")
                    return
            elif time.monotonic() - heard > silence_seconds:
                raise LineLostError("connected, but no reading comes")


def now_of(hello: LightHello, seen: list[Sample]) -> LightNow:
    """The mean of the last samples, its error, and whether they have settled."""
    lights = [float(s.light_ucd_m2) for s in seen]
    mean = fmean(lights)
    spread = _noise(lights)
    own = spread / sqrt(len(lights))
    error = max(1, round(10_000 * hypot(own / mean if mean else 0.0, hello.error_e4 / 10_000)))
    colours = [s.xy_e5 for s in seen if s.xy_e5 is not None]
    xy = None
    if colours and len(colours) == len(seen):
        xy = round(fmean(c[0] for c in colours)), round(fmean(c[1] for c in colours))
    why = _wanting(lights, mean, spread)
    return LightNow(round(mean), min(error, 10_000), xy, len(lights), not why, why, f"{hello.boot}:{seen[-1].number}")


def _noise(lights: list[float]) -> float:
    """Spread of one sample by steps from each to the next (von Neumann): a drift hardly widens it."""
    steps = [(b - a) ** 2 for a, b in itertools.pairwise(lights)]
    return sqrt(fmean(steps) / 2) if steps else 0.0


def _wanting(lights: list[float], mean: float, spread: float) -> str:
    if len(lights) < WATCHED:
        return f"looking: {len(lights)} of {WATCHED}"
    half = len(lights) // 2
    first, last = fmean(lights[:half]), fmean(lights[half:])
    allowed = max(_DRIFT * spread * sqrt(2 / half), _ALIKE * mean, 1.0)
    if mean > _FAINT_UCD and spread > _SPREAD * mean:
        return "it flickers or is moved: the samples do not agree"
    if abs(last - first) > allowed or _runs(lights):
        return "still rising" if last > first else "still falling"
    return ""


def _runs(lights: list[float]) -> bool:
    """All on the way one way, each a step further: a drift that the spread would hide."""
    steps = [b - a for a, b in itertools.pairwise(lights)]
    return all(s > 0 for s in steps) or all(s < 0 for s in steps)
