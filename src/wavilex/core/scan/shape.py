"""The picture's shape traced through every stage, and the options that give the true one with the fewest resamplings.

A frame has a shape (width to height) it is thought to be shown at; a stage lays one frame into another:
fill: stretched or squeezed to the whole of it; keep: as it is, with borders; window: as 4:3 of square pixels, with
borders; crop: as it is, over the whole of it, what overhangs is cut. Overscan then lays it larger than the glass.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction
from itertools import product

from wavilex.core.scan.described import Fit

FULL = Fraction(1)
_WINDOW = Fraction(4, 3)
TRUE_PERCENT = Fraction(1)  # nobody sees less: own figure
Part = tuple[Fraction, Fraction]  # across, down


@dataclass(frozen=True, slots=True)
class Stage:
    """Where a picture is laid into another frame. shape: of the frame it goes into; options: fits by name.

    raster: pixels of that frame; None: a tube, which draws what comes and resamples nothing.
    hidden: the share of the frame's width, and of its height, that overscan lays past the edges.
    """

    name: str
    shape: Fraction
    options: tuple[tuple[str, Fit], ...]  # (option, fit)
    chosen: str
    raster: tuple[int, int] | None = None
    hidden: Fraction = Fraction(0)


@dataclass(frozen=True, slots=True)
class Shown:
    """The picture after a stage: the shape of the whole of it, the frame's, and the part of the frame it covers.

    seen: how much of the picture is still there, across and down; the rest was cut here or before.
    """

    stage: str
    option: str
    fit: Fit
    picture: Fraction
    frame: Fraction
    width: Fraction
    height: Fraction
    resampled: bool
    seen: Part = (FULL, FULL)

    def error_percent(self, intended: Fraction) -> Fraction:
        """How much too wide (over 0) or too narrow it is."""
        return (self.picture / intended - 1) * 100

    @property
    def cut_percent(self) -> Fraction:
        """The share of the picture's area nobody sees."""
        return (1 - self.seen[0] * self.seen[1]) * 100


def trace(intended: Fraction, frame: Fraction, stages: Sequence[Stage], covers: Part = (FULL, FULL)) -> list[Shown]:
    """Follow a picture of the intended shape through the stages as chosen; covers: its part of its first frame."""
    return _trace(intended, frame, stages, [s.chosen for s in stages], covers)


def _laid(fit: Fit, frame: Fraction, into: Fraction) -> Part:
    """How much of a frame's width and height another takes when it is laid into it; over 1: it overhangs."""
    if fit == "fill":
        return FULL, FULL
    laid = _WINDOW if fit == "window" else frame
    across = min(FULL, laid / into) if fit != "crop" else max(FULL, laid / into)
    return across, across * into / laid


def _trace(
    intended: Fraction, frame: Fraction, stages: Sequence[Stage], chosen: Sequence[str], covers: Part
) -> list[Shown]:
    out: list[Shown] = []
    picture, seen = intended, (FULL, FULL)
    raster: tuple[int, int] | None = None
    for stage, option in zip(stages, chosen, strict=True):
        fit = dict(stage.options)[option]
        into = stage.shape
        across, down = _laid(fit, frame, into)
        picture = picture * (across * into) / (down * frame)
        larger = 1 / (1 - stage.hidden)
        laid = covers[0] * across * larger, covers[1] * down * larger
        seen = seen[0] * min(FULL, 1 / laid[0]), seen[1] * min(FULL, 1 / laid[1])
        covers = min(FULL, laid[0]), min(FULL, laid[1])
        straight = stage.raster == raster and larger == 1 and (across, down) == (FULL, FULL) and frame == into
        resampled = stage.raster is not None and not straight
        out.append(Shown(stage.name, option, fit, picture, into, *covers, resampled, seen))
        frame, raster = into, stage.raster or raster
    return out


@dataclass(frozen=True, slots=True)
class Best:
    """The combination of options that comes nearest the true shape, cuts least, and resamples least among those."""

    options: tuple[str, ...]
    error_percent: Fraction
    cut_percent: Fraction
    resamplings: int


def truest(intended: Fraction, frame: Fraction, stages: Sequence[Stage], covers: Part = (FULL, FULL)) -> Best | None:
    """Try all combinations; None without stages. Shapes within 1 % count as true, then what is cut, then resampling,
    then the larger picture, then the fewest options to change.
    """
    if not stages:
        return None
    ranked = []
    for chosen in product(*([o for o, _ in s.options] for s in stages)):
        shown = _trace(intended, frame, stages, chosen, covers)
        last = shown[-1]
        error = last.error_percent(intended)
        changes = sum(o != s.chosen for o, s in zip(chosen, stages, strict=True))
        count = sum(s.resampled for s in shown)
        off = abs(error) if abs(error) > TRUE_PERCENT else Fraction(0)
        rank = (off, last.cut_percent, count, -last.width * last.height, changes, chosen)
        ranked.append((rank, Best(tuple(chosen), error, last.cut_percent, count)))
    return min(ranked, key=lambda r: r[0])[1]


@dataclass(frozen=True, slots=True)
class LineScale:
    """How high a panel shows each of a machine's lines, in panel lines. borders: panel lines left over in all.

    cut: machine lines that find no room. words: what that does to scanlines.
    """

    each: Fraction
    borders: int
    cut: Fraction
    words: str

    @property
    def even(self) -> bool:
        return self.each.denominator == 1


def line_scale(lines: int, panel_lines: int, sent: tuple[Fraction | int, int] | None = None) -> LineScale:
    """Scanlines want each line the same number of panel lines; else they are uneven, and fine patterns shimmer.

    sent: (times, lines of the raster it is sent in): a multiplier before the screen, whose raster fills the panel.
    Without, the screen itself lays the lines, by the largest whole number that fits.
    """
    if sent is None:
        whole = panel_lines // lines
        left = panel_lines - whole * lines
        if whole < 1:
            return LineScale(Fraction(panel_lines, lines), 0, Fraction(0), f"{lines} lines do not fit {panel_lines}")
        words = f"each line is {whole} panel lines high: even scanlines"
        if left:
            words = (
                f"at {whole} panel lines each, {left} are left for borders; filling the panel takes "
                f"{panel_lines / lines:.2f} a line: scanlines uneven, fine patterns shimmer (moiré)"
            )
        return LineScale(Fraction(whole), left, Fraction(0), words)
    times, raster = Fraction(sent[0]), sent[1]
    each = times * panel_lines / raster
    cut = max(Fraction(0), lines - raster / times)
    borders = max(0, panel_lines - int(each * lines))
    words = f"each line is {float(each):.4g} panel lines high: "
    words += "even scanlines" if each.denominator == 1 else "scanlines uneven, fine patterns shimmer (moiré)"
    if cut:
        words += f"; {float(cut):g} of {lines} lines are cut off"
    return LineScale(each, borders, cut, words)
