"""Refresh and cadence, and what a screen stores apart."""

from __future__ import annotations

import itertools
from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.rigs import s04, s05, s07, setting
from wavilex.core.chain.carry import run_result
from wavilex.core.chain.paths import Layer
from wavilex.core.gear.quirks import Remembers
from wavilex.core.modes.cells import cells, changing
from wavilex.core.modes.coverage import coverage_data
from wavilex.core.modes.refresh import Pacing, accepted, cadence, segments, shown
from wavilex.core.modes.run_refresh import refresh_data
from wavilex.core.rig.changes import apply
from wavilex.core.runsheet.plan import plan_steps

WINDOW = (48, 120)


@pytest.mark.parametrize(
    ("fps", "state", "refresh", "times"),
    [(48, "window", 48, 1), (47, "repeated", 94, 2), (24, "repeated", 48, 2), (20, "repeated", 60, 3),
     (120, "window", 120, 1), (121, "over", 120, 0)],
)  # fmt: skip
def test_a_window_of_48_to_120(fps: int, state: str, refresh: int, times: int) -> None:
    """Values worked by hand from the rule: the smallest n with n·f at or over the lower end."""
    s = shown(fps, 120, WINDOW)
    assert (s.state, s.refresh_hz, s.low) == (state, refresh, times)


def test_a_narrow_window_leaves_gaps() -> None:
    """48 to 60: 40 doubled is 80, over the window: the screen falls to its fixed rate and judders."""
    s = shown(40, 60, (48, 60))
    assert (s.state, s.low, s.high) == ("uneven", 1, 2)
    assert shown(29, 60, (48, 60)).state == "uneven"  # doubled it would fit: in a window under 2:1 it often is not
    assert shown(29, 60, (48, 60)).words.startswith("below a window narrower than 2:1")
    assert shown(29, 96, (48, 96)).state == "repeated"
    assert shown(29, 95, (48, 95)).state == "uneven"


def test_without_repetition_low_rates_fall_out() -> None:
    assert shown(30, 120, WINDOW, repeats=False).state == "even"
    assert shown(35, 120, WINDOW, repeats=False).state == "uneven"


@pytest.mark.parametrize(
    ("fps", "hz", "pattern"),
    [(24, 60, (2, 3)), (30, 60, (2,)), (40, 60, (1, 2)), (40, 120, (3,)), (60, 144, (2, 2, 2, 3, 3)), (25, 50, (2,))],
)
def test_cadence_at_fixed_rates(fps: int, hz: int, pattern: tuple[int, ...]) -> None:
    """24 in 60 is 2:3, the film cadence; the others by hand."""
    assert sorted(cadence(fps, hz)) == sorted(pattern)


@given(st.integers(20, 240), st.integers(24, 240))
def test_a_cadence_shows_every_refresh_once(fps: int, hz: int) -> None:
    """Over one cycle the refreshes add up, and no frame stays more than one refresh longer than another."""
    if fps > hz:
        return
    ratio = Fraction(hz, fps)
    pattern = cadence(fps, hz, most=10**6)
    assert sum(pattern) == ratio * ratio.denominator
    assert max(pattern) - min(pattern) <= 1
    s = shown(fps, hz)
    assert (min(pattern), max(pattern)) == (s.low, s.high)


@given(st.integers(20, 240), st.integers(30, 100), st.integers(1, 200))
def test_a_wide_window_always_repeats(fps: int, low: int, more: int) -> None:
    """When the upper end is at least twice the lower, every rate below is shown evenly (HDMI 2.1)."""
    window = (low, 2 * low + more)
    s = shown(fps, window[1], window)
    assert s.even or fps > window[1]
    if fps < low:
        assert low <= s.refresh_hz <= window[1]
        assert (s.low - 1) * fps < low


def test_segments_tile_the_scale() -> None:
    found = segments(Pacing(120, WINDOW, True))
    assert (found[0].from_fps, found[-1].to_fps) == (20, 240)
    assert all(b.from_fps == a.to_fps + 1 for a, b in itertools.pairwise(found))


def test_rates_beside_the_standard() -> None:
    """60.1 Hz is within ±0.5 %; 61 is not, but lies in a window; without one nobody must take it."""
    assert accepted(Fraction(601, 10), Fraction(60), None) is True
    assert accepted(Fraction(61), Fraction(60), WINDOW) is True
    assert accepted(Fraction(61), Fraction(60), None) is None


def test_a_runs_window_and_what_keeps_it_away() -> None:
    fixed, _ = apply(s04(), [setting("monitor", "", "adaptive_sync", "off"), setting("console", "", "uhd", "off")])
    layer = Layer(fixed)
    data = refresh_data(layer, run_result(layer, fixed.runs["main"]))
    assert data is not None
    assert data["window"] is None
    assert "the monitor offers no window while adaptive sync is off" in data["why"]
    opened, _ = apply(fixed, [setting("monitor", "", "adaptive_sync", "on")])
    layer = Layer(opened)
    data = refresh_data(layer, run_result(layer, opened.runs["main"]))
    assert data is not None
    assert data["window"] == [48, 120]  # of 48 to 144, at the 120 Hz that is sent
    assert data["points"][47 - 20]["refresh_hz"] == 94


def test_titles_on_a_run() -> None:
    r, _ = apply(s05(), [{"op": "add_title", "title": {"uid": "t", "name": "Lantern Keep", "render_rates": [24, 60]}}])
    layer = Layer(r)
    data = refresh_data(layer, run_result(layer, r.runs["main"]))
    assert data is not None
    assert [x["state"] for x in data["titles"][0]["rates"]] == ["repeated", "window"]


@pytest.mark.parametrize("through", [False, True])
def test_s07_required_cells_as_brute_force_from_remembers_says(through: bool) -> None:
    """Reference: every run in each range it is played in, at the socket its lead ends in, projected on the quirk."""
    r = s07(through)
    layer = Layer(r)
    quirk = next(q for q in r.devices["tv"].profile.quirks if isinstance(q, Remembers))
    expected = set()
    for one in r.runs.values():
        leads = [x for x in r.leads.values() if x.plan[1] and x.plan[1].device == "tv"]
        via = {x.plan[0].device: x.plan[1].port for x in leads if x.plan[0]}
        socket = r.devices["tv"].profile.port(via.get(one.source) or via["av"])
        for dynamic_range in ("standard range", "HDR") if one.want.hdr != "off" else ("standard range",):
            all_of_it = {"input": socket.label, "range": dynamic_range,
                         "mode": "standard",  # as it comes from its maker

                         "resolution": one.want.mode.name.split(" ")[0], "rate": f"{one.want.mode.hz} Hz"}  # fmt: skip
            expected.add(tuple(v for d, v in all_of_it.items() if d in quirk.by))
    found = cells(layer, "tv")
    assert {tuple(v for _, v in c.at) for c in found} == expected
    assert len(found) == len(expected)


def test_s07_a_receiver_makes_all_consoles_share_one_sockets_settings() -> None:
    straight, through = (coverage_data(Layer(s07(t)), {})[0] for t in (False, True))
    assert straight["shared"] == []
    assert any("k1 and one share one set of settings" in text for text in through["shared"])


def test_s07_standard_before_hdr_and_the_cheapest_order() -> None:
    """Reference: every order tried."""
    found = cells(Layer(s07()), "tv")
    place = {c.at: n for n, c in enumerate(found)}
    for c in found:
        if c.value("range") == "HDR":
            sister = tuple((d, "standard range" if d == "range" else v) for d, v in c.at)
            assert place.get(sister, -1) < place[c.at]
    assert changing(found) == min(
        changing(order) for order in itertools.permutations(found)
        if all(
            [x.at for x in order].index(tuple((d, "standard range" if d == "range" else v) for d, v in c.at)) < n
            for n, c in enumerate(order) if c.value("range") == "HDR"
        )
    )  # fmt: skip


def test_a_swap_makes_the_right_cells_stale() -> None:
    """Another console at a socket meets its stored values: those visits do not count any more."""
    r = s07()
    before = {c.key: "done" for c in cells(Layer(r), "tv")}
    swapped, _ = apply(r, [{"op": "swap_leads", "end": "b", "leads": ["L0", "L2"], "select": []}])
    data = coverage_data(Layer(swapped), before)[0]
    states = {(c["at"][0], c["state"]) for c in data["cells"]}
    assert states == {("HDMI 1", "stale"), ("HDMI 3", "set"), ("HDMI 4", "stale")}


def test_cells_are_steps_of_the_run_sheet() -> None:
    r = s07()
    titles = [s.title for s in plan_steps(r) if s.phase == "range" and s.title.startswith("TV:")]
    assert len(titles) == len(cells(Layer(r), "tv"))
    assert titles[0].startswith("TV: look over the picture of HDMI ")
