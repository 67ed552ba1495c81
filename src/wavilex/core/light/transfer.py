"""Transfer functions: a signal's fraction of full (0 to 1) to light in cd/m², and back.

PQ: SMPTE ST 2084. HLG: ITU-R BT.2100-2, on the grey axis. BT.1886: its Annex 1. The power law has no document: it is
what many screens are set to. Checked against colour-science.
"""

from __future__ import annotations

from collections.abc import Callable
from math import exp, log, log2, sqrt

PQ_MOST = 10_000.0
_M1, _M2 = 2610 / 16384, 2523 / 4096 * 128
_C1, _C2, _C3 = 3424 / 4096, 2413 / 4096 * 32, 2392 / 4096 * 32
_HLG_A = 0.17883277
_HLG_B = 1 - 4 * _HLG_A
_HLG_C = 0.5 - _HLG_A * log(4 * _HLG_A)
_HLG_USUAL = 1000.0  # BT.2100: gamma 1.2 at this peak
_GAMMA_1886 = 2.4

Transfer = Callable[[float], float]


def _signal(value: float) -> float:
    if not 0 <= value <= 1:
        raise ValueError(f"a signal is 0 to 1, not {value:g}")
    return value


def pq_light(signal: float) -> float:
    """cd/m² of a PQ signal. Raises ValueError outside 0 to 1."""
    root = _signal(signal) ** (1 / _M2)
    return PQ_MOST * float((max(root - _C1, 0) / (_C2 - _C3 * root)) ** (1 / _M1))


def pq_signal(light: float) -> float:
    """PQ signal of so many cd/m². Raises ValueError outside 0 to 10 000."""
    if not 0 <= light <= PQ_MOST:
        raise ValueError(f"PQ reaches 0 to {PQ_MOST:.0f} cd/m², not {light:g}")
    y = (light / PQ_MOST) ** _M1
    return float(((_C1 + _C2 * y) / (1 + _C3 * y)) ** _M2)


def hlg_gamma(peak: float) -> float:
    """System gamma for a peak in cd/m² (BT.2100-2, note 5f; its wide form outside 400 to 2000)."""
    if 400 <= peak <= 2000:
        return 1.2 + 0.42 * log(peak / _HLG_USUAL, 10)
    return float(1.2 * 1.111 ** log2(peak / _HLG_USUAL))


def hlg_light(signal: float, peak: float, black: float = 0.0) -> float:
    """cd/m² of a grey HLG signal on a screen of a peak and a black in cd/m²."""
    gamma = hlg_gamma(peak)
    lift = sqrt(3 * (black / peak) ** (1 / gamma))
    x = max(0.0, (1 - lift) * _signal(signal) + lift)
    scene = x * x / 3 if x <= 0.5 else (exp((x - _HLG_C) / _HLG_A) + _HLG_B) / 12
    return float(peak * scene**gamma)


def hlg_signal(light: float, peak: float, black: float = 0.0) -> float:
    """The grey HLG signal that lights a screen so."""
    if not 0 <= light <= peak * (1 + 1e-7):
        raise ValueError(f"this screen lights {black:g} to {peak:g} cd/m², not {light:g}")
    gamma = hlg_gamma(peak)
    lift = sqrt(3 * (black / peak) ** (1 / gamma))
    scene = min(light / peak, 1.0) ** (1 / gamma)
    x = sqrt(3 * scene) if scene <= 1 / 12 else _HLG_A * log(12 * scene - _HLG_B) + _HLG_C
    return min(max((x - lift) / (1 - lift), 0.0), 1.0)


def bt1886_light(signal: float, white: float, black: float = 0.0) -> float:
    """cd/m² of a standard-range signal on a screen of a white and a black in cd/m² (BT.1886 Annex 1)."""
    if not 0 <= black < white:
        raise ValueError("black is darker than white")
    top, low = white ** (1 / _GAMMA_1886), black ** (1 / _GAMMA_1886)
    gain, lift = (top - low) ** _GAMMA_1886, low / (top - low)
    return float(gain * max(_signal(signal) + lift, 0.0) ** _GAMMA_1886)


def power_light(signal: float, white: float, gamma: float = 2.2, black: float = 0.0) -> float:
    """cd/m² by a plain power law."""
    return float(black + (white - black) * _signal(signal) ** gamma)
