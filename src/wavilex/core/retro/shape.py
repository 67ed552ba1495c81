"""The picture's shape traced through every stage, and the options that give the true one with the fewest resamplings.

A frame has a shape (width to height) it is thought to be shown at; a stage lays one frame into another:
fill: stretched to the whole of it; keep: as it is, with borders; window: as 4:3 of square pixels, with borders.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction
from itertools import product

FULL = Fraction(1)
_WINDOW = Fraction(4, 3)
TRUE_PERCENT = Fraction(1)  # nobody sees less: own figure


@dataclass(frozen=True, slots=True)
class Stage:
    """Where a picture is laid into another frame. shape: of the frame it goes into; options: fits by name.

    raster: pixels of that frame, None: glass. The same raster and fit as before resamples nothing.
    """

    name: str
    shape: Fraction
    options: tuple[tuple[str, str], ...]  # (option, fit)
    chosen: str
    raster: tuple[int, int] | None = None


@dataclass(frozen=True, slots=True)
class Shown:
    """The picture after a stage: its own shape, the frame's, and the part of the frame it covers."""

    stage: str
    option: str
    fit: str
    picture: Fraction
    frame: Fraction
    width: Fraction
    height: Fraction
    resampled: bool

    def error_percent(self, intended: Fraction) -> Fraction:
        """How much too wide (over 0) or too narrow it is."""
        return (self.picture / intended - 1) * 100


def trace(intended: Fraction, frame: Fraction, stages: Sequence[Stage]) -> list[Shown]:
    """Follow a picture of the intended shape that fills its first frame through the stages as chosen."""
    return _trace(intended, frame, stages, [s.chosen for s in stages])


def _trace(intended: Fraction, frame: Fraction, stages: Sequence[Stage], chosen: Sequence[str]) -> list[Shown]:
    out: list[Shown] = []
    picture, width, height = intended, FULL, FULL
    for stage, option in zip(stages, chosen, strict=True):
        fit = dict(stage.options)[option]
        into = stage.shape
        laid = {"fill": into, "keep": frame, "window": _WINDOW}[fit]
        picture = picture * laid / frame
        if laid < into:
            width = width * laid / into
        elif laid > into:
            height = height * into / laid
        resampled = stage.raster is not None or fit != "keep" or laid != into
        out.append(Shown(stage.name, option, fit, picture, into, width, height, resampled))
        frame = into
    return out


@dataclass(frozen=True, slots=True)
class Best:
    """The combination of options that comes nearest the true shape, with the fewest resamplings among those."""

    options: tuple[str, ...]
    error_percent: Fraction
    resamplings: int


def truest(intended: Fraction, frame: Fraction, stages: Sequence[Stage]) -> Best | None:
    """Search all combinations, dropping what cannot win; None without stages. Shapes within 1 % count as true."""
    if not stages:
        return None
    best: tuple[tuple[object, ...], Best] | None = None
    for chosen in product(*([o for o, _ in s.options] for s in stages)):
        shown = _trace(intended, frame, stages, chosen)
        error = shown[-1].error_percent(intended)
        covered = shown[-1].width * shown[-1].height
        changes = sum(o != s.chosen for o, s in zip(chosen, stages, strict=True))
        count = sum(s.resampled for s in shown)
        off = abs(error) if abs(error) > TRUE_PERCENT else Fraction(0)
        rank = (off, count, -covered, changes, chosen)
        if best is None or rank < best[0]:
            best = (rank, Best(tuple(chosen), error, count))
    return best[1] if best else None


@dataclass(frozen=True, slots=True)
class WholeScale:
    """The largest whole number of panel lines a picture's line fits, with the borders left over, in panel lines."""

    times: int
    border: int
    even: bool
    words: str


def whole_scale(lines: int, panel_lines: int) -> WholeScale:
    """Scanlines want each line the same number of panel lines; else they are uneven, and fine patterns shimmer."""
    times = panel_lines // lines
    left = panel_lines - times * lines
    if times < 1:
        return WholeScale(0, 0, False, f"{lines} lines do not fit {panel_lines}: they are scaled down")
    if left == 0:
        return WholeScale(times, 0, True, f"each line is {times} panel lines high: even scanlines")
    exact = panel_lines / lines
    words = (
        f"{times} panel lines each leave {left} for borders; filling the panel takes {exact:.2f} a line: scanlines "
        "uneven, fine patterns shimmer (moiré)"
    )
    return WholeScale(times, left, False, words)
