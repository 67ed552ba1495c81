"""White by meter: temperature, distance from the daylight locus, and how far it is from D65.

Temperature: Robertson 1968, the table of 31 lines (Wyszecki and Stiles, Color Science, Table 1(3.11)). Daylight locus:
CIE 15, section 4.1.2, 4000 to 25 000 K. ΔE: CIEDE2000 (CIE 142, ISO/CIE 11664-6). Checked against colour-science.
"""

from __future__ import annotations

import itertools
from dataclasses import dataclass
from math import atan2, cos, degrees, exp, hypot, log, radians, sin, sqrt

from scipy.optimize import minimize_scalar

D65 = (0.3127, 0.3290)  # as BT.709 and BT.2020 give it
# reciprocal megakelvin, u, v, slope of the line
_LINES = (
    (0, 0.18006, 0.26352, -0.24341), (10, 0.18066, 0.26589, -0.25479), (20, 0.18133, 0.26846, -0.26876),
    (30, 0.18208, 0.27119, -0.28539), (40, 0.18293, 0.27407, -0.30470), (50, 0.18388, 0.27709, -0.32675),
    (60, 0.18494, 0.28021, -0.35156), (70, 0.18611, 0.28342, -0.37915), (80, 0.18740, 0.28668, -0.40955),
    (90, 0.18880, 0.28997, -0.44278), (100, 0.19032, 0.29326, -0.47888), (125, 0.19462, 0.30141, -0.58204),
    (150, 0.19962, 0.30921, -0.70471), (175, 0.20525, 0.31647, -0.84901), (200, 0.21142, 0.32312, -1.0182),
    (225, 0.21807, 0.32909, -1.2168), (250, 0.22511, 0.33439, -1.4512), (275, 0.23247, 0.33904, -1.7298),
    (300, 0.24010, 0.34308, -2.0637), (325, 0.24792, 0.34655, -2.4681), (350, 0.25591, 0.34951, -2.9641),
    (375, 0.26400, 0.35200, -3.5814), (400, 0.27218, 0.35407, -4.3633), (425, 0.28039, 0.35577, -5.3762),
    (450, 0.28863, 0.35714, -6.7262), (475, 0.29685, 0.35823, -8.5955), (500, 0.30505, 0.35907, -11.324),
    (525, 0.31320, 0.35968, -15.628), (550, 0.32129, 0.36011, -23.325), (575, 0.32931, 0.36038, -40.770),
    (600, 0.33724, 0.36051, -116.45),
)  # fmt: skip
_WARMEST, _COOLEST = 4000.0, 25_000.0  # of the daylight locus


@dataclass(frozen=True, slots=True)
class White:
    """A measured white. kelvin None: no temperature says it (too far from the locus, or beyond the table).

    duv: distance from the daylight locus in CIE 1976 u′v′, above it (greenish) positive, below (pinkish) negative.
    delta_e: CIEDE2000 to D65 of the same light.
    """

    x: float
    y: float
    kelvin: float | None
    duv: float
    delta_e: float

    @property
    def lean(self) -> str:
        """Which way it leans, in a word: too blue, too warm, greenish, pinkish, or near D65."""
        if self.delta_e < 3:
            return "near D65"
        if abs(self.duv) > 0.006:
            return "greenish" if self.duv > 0 else "pinkish"
        if self.kelvin is None:
            return "off any white"
        return "too blue" if self.kelvin > 6504 else "too warm"


def white_of(x: float, y: float) -> White:
    """All that a chromaticity says. Raises ValueError where x and y are none."""
    if not (0 < x < 1 and 0 < y < 1 and x + y <= 1):
        raise ValueError(f"x {x:g}, y {y:g} is no colour")
    return White(x, y, temperature(x, y), _from_daylight(x, y), delta_e_2000(_lab(x, y), _lab(*D65)))


def temperature(x: float, y: float) -> float | None:
    """Correlated colour temperature in K by Robertson; None beyond the table (below 1667 K) or with nothing near."""
    u, v = _uv1960(x, y)
    before: float | None = None
    for (r0, *_), line in itertools.pairwise(_LINES):
        if before is None:
            before = _off(_LINES[0], u, v)
        here = _off(line, u, v)
        if here <= 0 <= before and before != here:
            mired = r0 + before / (before - here) * (line[0] - r0)
            return 1e6 / mired if mired > 0 else None
        before = here
    return None


def _off(line: tuple[float, float, float, float], u: float, v: float) -> float:
    """Signed distance of a point from an isotemperature line."""
    _, at_u, at_v, slope = line
    length = sqrt(1 + slope * slope)
    return ((v - at_v) - slope * (u - at_u)) / length


def _uv1960(x: float, y: float) -> tuple[float, float]:
    down = -2 * x + 12 * y + 3
    return 4 * x / down, 6 * y / down


def _uv1976(x: float, y: float) -> tuple[float, float]:
    u, v = _uv1960(x, y)
    return u, 1.5 * v


def daylight(kelvin: float) -> tuple[float, float]:
    """x, y of the daylight locus. Raises ValueError outside 4000 to 25 000 K."""
    if not _WARMEST <= kelvin <= _COOLEST:
        raise ValueError("the daylight locus runs from 4000 to 25 000 K")
    t = 1e3 / kelvin
    if kelvin <= 7000:
        x = -4.6070 * t**3 + 2.9678 * t**2 + 0.09911 * t + 0.244063
    else:
        x = -2.0064 * t**3 + 1.9018 * t**2 + 0.24748 * t + 0.237040
    return x, -3 * x * x + 2.870 * x - 0.275


def _from_daylight(x: float, y: float) -> float:
    u, v = _uv1976(x, y)

    def far(log_kelvin: float) -> float:
        at = _uv1976(*daylight(min(max(exp(log_kelvin), _WARMEST), _COOLEST)))
        return hypot(u - at[0], v - at[1])

    found = minimize_scalar(far, bounds=(log(_WARMEST), log(_COOLEST)), method="bounded", options={"xatol": 1e-7})
    at = _uv1976(*daylight(min(max(exp(found.x), _WARMEST), _COOLEST)))
    return float(found.fun) if v >= at[1] else -float(found.fun)


def _lab(x: float, y: float) -> tuple[float, float, float]:
    """CIE L*a*b* of a colour of white's light, beside D65."""
    white = (D65[0] / D65[1], 1.0, (1 - sum(D65)) / D65[1])
    fx, fy, fz = (_f(c / w) for c, w in zip((x / y, 1.0, (1 - x - y) / y), white, strict=True))
    return 116 * fy - 16, 500 * (fx - fy), 200 * (fy - fz)


def _f(t: float) -> float:
    return float(t ** (1 / 3)) if t > (24 / 116) ** 3 else 841 / 108 * t + 16 / 116


def _turn(hues: float) -> float:
    """The shorter way round from one hue to another; opposite ones as the standard has them, not turned."""
    return hues if abs(hues) <= 180 else hues - 360 if hues > 0 else hues + 360


def delta_e_2000(one: tuple[float, float, float], two: tuple[float, float, float]) -> float:
    """CIEDE2000 between two L*a*b*, its three weights 1 (ISO/CIE 11664-6)."""
    (l1, a1, b1), (l2, a2, b2) = one, two
    mean7 = ((hypot(a1, b1) + hypot(a2, b2)) / 2) ** 7
    g = 0.5 * (1 - sqrt(mean7 / (mean7 + 25.0**7)))
    a1, a2 = (1 + g) * a1, (1 + g) * a2
    c1, c2 = hypot(a1, b1), hypot(a2, b2)
    h1, h2 = (degrees(atan2(b, a)) % 360 if a or b else 0.0 for a, b in ((a1, b1), (a2, b2)))
    dl, dc, gray = l2 - l1, c2 - c1, c1 * c2 == 0
    turn = 0.0 if gray else _turn(h2 - h1)
    dh = 2 * sqrt(c1 * c2) * sin(radians(turn / 2))
    ml, mc = (l1 + l2) / 2, (c1 + c2) / 2
    mh = h1 + h2 if gray else (h1 + turn / 2) % 360
    t = (1 - 0.17 * cos(radians(mh - 30)) + 0.24 * cos(radians(2 * mh)) + 0.32 * cos(radians(3 * mh + 6))
         - 0.20 * cos(radians(4 * mh - 63)))  # fmt: skip
    sl = 1 + 0.015 * (ml - 50) ** 2 / sqrt(20 + (ml - 50) ** 2)
    sc, sh = 1 + 0.045 * mc, 1 + 0.015 * mc * t
    rc = 2 * sqrt(mc**7 / (mc**7 + 25.0**7))
    rt = -sin(radians(60 * exp(-(((mh - 275) / 25) ** 2)))) * rc
    return sqrt((dl / sl) ** 2 + (dc / sc) ** 2 + (dh / sh) ** 2 + rt * (dc / sc) * (dh / sh))
