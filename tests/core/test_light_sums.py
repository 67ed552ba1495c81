"""Transfer functions, white and levels against colour-science (a library of others), and worked figures."""

from __future__ import annotations

import warnings
from fractions import Fraction

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from wavilex.core.light.codes import code_of, ends, fraction_of, mismatch
from wavilex.core.light.scales import DOCUMENTS, scale_data
from wavilex.core.light.transfer import (
    bt1886_light,
    hlg_gamma,
    hlg_light,
    hlg_signal,
    power_light,
    pq_light,
    pq_signal,
)
from wavilex.core.light.weak import costs, is_weak
from wavilex.core.light.white import D65, daylight, delta_e_2000, temperature, white_of

with warnings.catch_warnings():
    warnings.simplefilter("ignore")  # it warns of drawing packages that are not there
    import colour
    from colour.models import (
        eotf_BT1886,
        eotf_BT2100_HLG,
        eotf_inverse_ST2084,
        eotf_ST2084,
        gamma_function,
        xy_to_UCS_uv,
    )
    from colour.temperature import CCT_to_xy_CIE_D, uv_to_CCT_Ohno2013, uv_to_CCT_Robertson1968

SIGNALS = np.linspace(0, 1, 1001)
TINY = 1e-6  # relative


def near(mine: list[float], theirs: np.ndarray) -> None:
    np.testing.assert_allclose(mine, theirs, rtol=TINY, atol=1e-9)


def test_pq_is_st_2084_both_ways() -> None:
    """Reference: colour-science."""
    near([pq_light(s) for s in SIGNALS], eotf_ST2084(SIGNALS))
    lights = np.geomspace(1e-4, 9999, 1000)
    near([pq_signal(x) for x in lights], eotf_inverse_ST2084(lights))


@pytest.mark.parametrize(("light", "signal"), [(100, 0.5081), (203, 0.5807), (1000, 0.7518), (4000, 0.9026)])
def test_pq_at_the_lights_people_name(light: float, signal: float) -> None:
    """Source: ITU-R BT.2408 and ST 2084, value from memory."""
    assert pq_signal(light) == pytest.approx(signal, abs=6e-5)


@pytest.mark.parametrize("peak", [400, 1000, 1800])
@pytest.mark.parametrize("black", [0.0, 0.05])
def test_hlg_on_the_grey_axis_is_bt_2100(peak: float, black: float) -> None:
    """Reference: colour-science, ITU-R BT.2100-2, on grey."""
    theirs = [eotf_BT2100_HLG(np.array([s, s, s]), L_B=black, L_W=peak)[0] for s in SIGNALS[1:]]
    near([hlg_light(s, peak, black) for s in SIGNALS[1:]], np.array(theirs))


@pytest.mark.parametrize("peak", [250, 3000])
def test_hlg_of_very_dark_and_very_bright_screens_takes_the_wide_gamma(peak: float) -> None:
    """Gamma by note 5f of BT.2100-2 (value from memory); the curve with that gamma by colour-science."""
    gamma = 1.2 * 1.111 ** np.log2(peak / 1000)
    assert hlg_gamma(peak) == pytest.approx(gamma, rel=1e-12)
    theirs = [eotf_BT2100_HLG(np.array([s, s, s]), L_B=0, L_W=peak, gamma=gamma)[0] for s in SIGNALS[1:]]
    near([hlg_light(s, peak) for s in SIGNALS[1:]], np.array(theirs))


@given(st.floats(0, 1), st.floats(150, 4000), st.floats(0, 0.2))
def test_hlg_comes_back(signal: float, peak: float, black: float) -> None:
    assert hlg_signal(hlg_light(signal, peak, black), peak, black) == pytest.approx(signal, abs=1e-6)


@pytest.mark.parametrize(("white", "black"), [(100, 0.0), (120, 0.05), (480, 0.3)])
def test_standard_range_is_bt_1886(white: float, black: float) -> None:
    """Reference: colour-science."""
    near([bt1886_light(s, white, black) for s in SIGNALS], eotf_BT1886(SIGNALS, L_B=black, L_W=white))


def test_the_power_law_is_one() -> None:
    """Reference: colour-science's plain power."""
    near([power_light(s, 200) for s in SIGNALS], 200 * gamma_function(SIGNALS, 2.2))


@pytest.mark.parametrize("wrong", [lambda: pq_light(1.01), lambda: pq_signal(-1), lambda: bt1886_light(0.5, 1, 2)])
def test_what_is_no_signal_is_refused(wrong: object) -> None:
    with pytest.raises(ValueError, match=r"signal|PQ|black"):
        wrong()  # type: ignore[operator]


def grid() -> list[tuple[float, float]]:
    """Whites and near-whites, up to 0.03 away from the daylight locus."""
    return [
        (x, y) for x in np.arange(0.26, 0.44, 0.006) for y in np.arange(0.26, 0.44, 0.006)
        if abs(y - (-3 * x * x + 2.87 * x - 0.275)) < 0.03
    ]  # fmt: skip


def test_temperature_is_robertsons() -> None:
    """Reference: colour-science, the same published method; Ohno 2013 beside it, another method: within 0.4 %."""
    for x, y in grid():
        uv = xy_to_UCS_uv([x, y])
        mine, theirs = temperature(x, y), uv_to_CCT_Robertson1968(uv)[0]
        assert mine is not None
        assert mine == pytest.approx(theirs, rel=TINY)
        if 3000 < mine < 15_000:
            assert mine == pytest.approx(uv_to_CCT_Ohno2013(uv)[0], rel=4e-3)


def test_the_daylight_locus_and_the_distance_from_it() -> None:
    """Reference: colour-science for the locus; the distance by a fine walk along that, a method of its own."""
    for kelvin in range(4000, 25_001, 500):
        near(list(daylight(kelvin)), CCT_to_xy_CIE_D(np.array([kelvin]))[0])
    locus = np.array([CCT_to_xy_CIE_D(np.array([k]))[0] for k in np.geomspace(4000, 25_000, 4000)])
    at = xy_to_UCS_uv(locus) * [1, 1.5]
    for x, y in grid()[::17]:
        here = np.array(xy_to_UCS_uv([x, y])) * [1, 1.5]
        walked = float(np.min(np.hypot(*(at - here).T)))
        assert abs(white_of(x, y).duv) == pytest.approx(walked, abs=2e-5)


@given(*(st.tuples(st.floats(0, 100), st.floats(-110, 110), st.floats(-110, 110)) for _ in range(2)))
def test_delta_e_is_ciede2000(one: tuple[float, float, float], two: tuple[float, float, float]) -> None:
    """Reference: colour-science."""
    theirs = float(colour.delta_E(np.array(one), np.array(two), method="CIE 2000"))
    assert delta_e_2000(one, two) == pytest.approx(theirs, abs=1e-3)


def test_a_white_s_distance_from_d65_is_that_of_its_lab() -> None:
    """Reference: colour-science's own way from x, y to L*a*b* beside D65."""
    for x, y in grid()[::11]:
        lab = colour.XYZ_to_Lab(colour.xy_to_XYZ([x, y]), illuminant=np.array(D65))
        theirs = float(colour.delta_E(lab, np.array([100.0, 0.0, 0.0]), method="CIE 2000"))
        assert white_of(x, y).delta_e == pytest.approx(theirs, abs=1e-3)


def test_a_white_says_which_way_it_leans() -> None:
    assert white_of(*D65).lean == "near D65"
    assert white_of(0.285, 0.295).lean == "too blue"
    assert white_of(0.345, 0.355).lean == "too warm"
    assert white_of(0.31, 0.36).lean == "greenish"
    assert white_of(0.32, 0.30).lean == "pinkish"


def test_levels_by_bits() -> None:
    """CTA-861 and BT.2100 Table 9, value from memory."""
    assert [ends(b, "limited") for b in (8, 10, 12)] == [(16, 235), (64, 940), (256, 3760)]
    assert ends(10, "full") == (0, 1023)
    assert all(code_of(float(fraction_of(c, 10, "limited")), 10, "limited") == c for c in range(64, 941))


def test_what_unlike_levels_look_like() -> None:
    crushed, grey = mismatch("full", "limited"), mismatch("limited", "full")
    assert crushed is not None
    assert grey is not None
    assert (crushed.lost_low, crushed.lost_high) == (16, 20)
    assert "crushed" in crushed.looks
    assert (grey.black, grey.lost_low) == (Fraction(16, 255), 0)
    assert "grey" in grey.looks
    assert mismatch("full", "full") is None


def test_a_table_of_every_document_rises() -> None:
    for document in DOCUMENTS:
        rows = scale_data(document, 10, 500, 0.05)["rows"]
        lights = [r["light"] for r in rows]
        assert lights == sorted(lights)
        assert (rows[0]["limited"], rows[-1]["limited"], rows[-1]["full"]) == (64, 940, 1023)


def test_weak_hdr_in_figures() -> None:
    """8 bits of PQ make coarser steps than 8 bits of standard range at 10 cd/m²: by the codes on both sides of it."""
    rows = {c.what: c for c in costs(350, 280, 8, 0, self_lit=False)}
    step = rows["a step of its 8 bits at 10 cd/m²"]
    low = next(n for n in range(256) if pq_light(n / 255) > 10)
    counted = pq_light(low / 255) / pq_light((low - 1) / 255) - 1
    assert float(step.hdr.split()[0]) == pytest.approx(100 * counted, rel=0.05)
    assert step.worse
    assert rows["black beside highlights"].worse
    assert is_weak(350, None, None, self_lit=False) is True
    assert is_weak(900, 10, None, self_lit=False) is False
    assert is_weak(None, None, None, self_lit=True) is None
