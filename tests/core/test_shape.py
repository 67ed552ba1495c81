"""The picture's shape through every stage, whole-number scales, against brute force."""

from __future__ import annotations

import itertools
import random
from dataclasses import replace
from fractions import Fraction

import pytest

from tests.core.retro_rigs import data_of
from tests.rigs import analogue_lead, device, rig, run, s01, s21, setting
from wavilex.core.chain.paths import Layer
from wavilex.core.chain.shape import _hidden
from wavilex.core.gear.conversion import ShownAs
from wavilex.core.rig.changes import apply
from wavilex.core.scan.shape import Stage, line_scale, trace, truest


def test_s21_source_stretches_scaler_and_tube_make_it_true() -> None:
    """True at 640×480 as at 1280×1024; a square-pixel window inside 1280×1024 is 6.7 % too wide on a 4:3 tube."""
    for output in ("vga", "sxga"):
        shape = data_of(s21(output))["shape"]
        assert (shape["error_percent"], shape["words"]) == (0, "true shape")
        assert shape["stages"][1]["error_percent"] == 33.3
    window = data_of(s21("sxga", "window"))["shape"]
    assert (window["error_percent"], window["words"]) == (6.7, "6.7 % too wide")
    assert window["best"] == ["SC, 1280×1024p60: fills the frame"]


def test_s01_four_to_three_or_a_third_too_wide() -> None:
    shape = data_of(s01())["shape"]
    assert shape["words"] == "33.3 % too wide"
    assert shape["best"] == ["MONITOR: 4:3 with borders"]
    assert data_of(apply(s01(), shape["ops"])[0])["shape"]["words"] == "true shape"
    narrow, _ = apply(s01(), [setting("monitor", "", "shape", "narrow")])
    assert data_of(narrow)["shape"]["words"] == "true shape"


def by_corners(
    intended: Fraction, stages: list[Stage], covers: tuple[Fraction, Fraction]
) -> tuple[Fraction, Fraction, Fraction, int]:
    """The same by the picture's corners in lengths, one frame after the other, without the core's sums.

    Frames are 1 high. Gives the shape as shown, the share seen, the part of the last frame covered, resamplings.
    """
    right, bottom = Fraction(2, 3) * covers[0], Fraction(1, 2) * covers[1]
    left, top = -right, -bottom
    wide = Fraction(4, 3)  # of the frame it lies in
    first = full = right - left, bottom - top
    before = None
    count = 0
    for s in stages:
        fit = dict(s.options)[s.chosen]
        held = Fraction(4, 3) if fit == "window" else wide
        if fit == "fill":
            across, down = s.shape / wide, Fraction(1)
        else:
            by = [s.shape / held, Fraction(1)]
            size = max(by) if fit == "crop" else min(by)
            across, down = size * held / wide, size
        grown = 1 / (1 - s.hidden)
        left, right, top, bottom = (left * across * grown, right * across * grown, top * down * grown,
                                    bottom * down * grown)  # fmt: skip
        full = full[0] * across * grown, full[1] * down * grown
        moved = (across, down, grown) != (1, 1, 1) or wide != s.shape
        if s.raster is not None and (moved or before != s.raster):
            count += 1
        before = s.raster or before
        edge = s.shape / 2
        left, right = max(left, -edge), min(right, edge)
        top, bottom = max(top, -Fraction(1, 2)), min(bottom, Fraction(1, 2))
        wide = s.shape
    shape = full[0] / full[1] * intended / (first[0] / first[1])
    seen = (right - left) * (bottom - top) / (full[0] * full[1])
    return shape, seen, (right - left) * (bottom - top) / wide, count


@pytest.mark.parametrize("seed", range(80))
def test_the_search_for_the_true_shape_agrees_with_brute_force(seed: int) -> None:
    """Every combination by corners; the nearest shape (1 % counts as true), least cut, fewest resamplings, largest."""
    rnd = random.Random(seed)
    shapes = [Fraction(4, 3), Fraction(16, 9), Fraction(5, 4), Fraction(3, 2)]
    stages = []
    for n in range(rnd.randint(1, 4)):
        fits = rnd.sample(["fill", "keep", "window", "crop"], rnd.randint(1, 4))
        options = tuple((f"o{k}", f) for k, f in enumerate(fits))
        raster = rnd.choice([(640, 480), (1920, 1080), None])
        hidden = rnd.choice([Fraction(0), Fraction(0), Fraction(1, 20)])
        stages.append(Stage(f"s{n}", rnd.choice(shapes), options, options[0][0], raster, hidden))
    intended = rnd.choice([Fraction(4, 3), Fraction(64, 49)])
    covers = (Fraction(rnd.choice([10, 9, 7]), 10), Fraction(rnd.choice([15, 14, 10]), 15))
    best = truest(intended, Fraction(4, 3), stages, covers)
    assert best is not None
    found = []
    for chosen in itertools.product(*([o for o, _ in s.options] for s in stages)):
        as_chosen = [replace(s, chosen=c) for s, c in zip(stages, chosen, strict=True)]
        shape, seen, covered, count = by_corners(intended, as_chosen, covers)
        last = trace(intended, Fraction(4, 3), as_chosen, covers)[-1]
        assert (last.picture, last.cut_percent, last.width * last.height) == (shape, (1 - seen) * 100, covered)
        error = abs(shape / intended - 1) * 100
        found.append(((error if error > 1 else Fraction(0), (1 - seen) * 100, count, -covered), chosen))
    error = abs(best.error_percent)
    rank = min(found)[0]
    assert (error if error > 1 else Fraction(0), best.cut_percent, best.resamplings) == rank[:3]
    assert best.options in [chosen for r, chosen in found if r == rank]


def test_zoom_cuts_and_overscan_hides() -> None:
    """4:3 laid over 16:9 keeps its shape and loses a quarter of its height; 5 % overscan hides 9.75 % of the area."""
    (zoom,) = trace(Fraction(4, 3), Fraction(4, 3), [Stage("tv", Fraction(16, 9), (("z", "crop"),), "z")])
    assert (zoom.picture, zoom.seen) == (Fraction(4, 3), (1, Fraction(3, 4)))
    wide = Stage("tv", Fraction(4, 3), (("f", "fill"),), "f", hidden=Fraction(1, 20))
    assert trace(Fraction(4, 3), Fraction(4, 3), [wide])[-1].cut_percent == Fraction("9.75")


def test_overscan_follows_its_setting() -> None:
    r = rig(device("c32", "brindlo-c32"), device("tv", "ostavar-43p"),
            analogue_lead("V1", "c32/cvbs", "tv/cvbs"), run("main", "c32", "tv", mode="640x480@60"))  # fmt: skip
    narrow, _ = apply(r, [setting("tv", "", "shape", "narrow")])
    assert data_of(narrow)["shape"]["cut_percent"] == 5  # top and bottom; the sides are border
    whole, _ = apply(narrow, [setting("tv", "", "edges", "off")])
    assert data_of(whole)["shape"]["cut_percent"] == 0
    assert data_of(whole)["shape"]["words"] == "true shape"
    ops = data_of(r)["shape"]["ops"]
    assert [(o["key"], o["value"]) for o in ops] == [("shape", "narrow"), ("edges", "off")]  # never the zoom that cuts
    assert data_of(apply(r, ops)[0])["shape"]["words"] == "true shape"


def test_a_machines_own_border_takes_what_overscan_hides() -> None:
    """256 × 224 dots lie in 240 lines: 5 % past the edges is border only. 256 × 192 on 625 lines: 2/3 of 288 high."""
    r = rig(device("c20", "brindlo-c20"), device("tv", "ostavar-43p"),
            analogue_lead("V1", "c20/scart", "tv/scart"), run("main", "c20", "tv", mode="640x480@60"))  # fmt: skip
    shape = data_of(r)["shape"]
    assert (shape["cut_percent"], shape["stages"][0]["height"]) == (0, 0.9333)
    home = data_of(s01())["shape"]
    assert (home["stages"][0]["width"], home["stages"][0]["height"]) == (0.7024, 0.6667)
    assert Fraction(59, 56) * Fraction(256, 192) * Fraction(2, 3) / Fraction(4, 3) == Fraction(59, 84)  # 0.7024


@pytest.mark.parametrize(
    ("lines", "panel", "each", "border", "even"),
    [(224, 1080, 4, 184, True), (240, 1440, 6, 0, True), (240, 2160, 9, 0, True),
     (256, 240, Fraction(15, 16), 0, False)],
)  # fmt: skip
def test_whole_number_scales_and_borders(lines: int, panel: int, each: Fraction, border: int, even: bool) -> None:
    found = line_scale(lines, panel)
    assert (found.each, found.borders, found.even) == (each, border, even)


@pytest.mark.parametrize(
    ("times", "raster", "panel", "each", "cut", "said"),
    [(3, 720, 2160, 9, 0, "each line is 9 panel lines high: even"),
     (3, 720, 1080, Fraction(9, 2), 0, "each line is 4.5 panel lines high: scanlines uneven"),
     (5, 1080, 1080, 5, 8, "8 of 224 lines are cut off"), (6, 1440, 1440, 6, 0, "even scanlines")],
)  # fmt: skip
def test_evenness_through_a_multiplier(
    times: int, raster: int, panel: int, each: Fraction, cut: int, said: str
) -> None:
    """By hand: a line is `times` lines of the raster, and each of those panel ÷ raster lines of the panel."""
    found = line_scale(224, panel, (times, raster))
    assert (found.each, found.cut) == (each, cut)
    assert said in found.words


@pytest.mark.parametrize(("percent", "hidden"), [(None, Fraction(5, 100)), (3.5, Fraction(35, 1000))])
def test_overscan_nobody_measured_is_taken_as_5_percent(percent: float | None, hidden: Fraction) -> None:
    """Common practice: where a screen overscans and nobody says how much, a twentieth of each side is assumed."""
    r = rig(device("tv", "ostavar-43p"), setting("tv", "", "edges", "on"))
    tv = r.devices["tv"]
    shown = (tv.profile.shown_as or ShownAs()).model_copy(update={"overscan_percent": percent})
    assert _hidden(Layer(r), tv, shown, "scart", None) == hidden
