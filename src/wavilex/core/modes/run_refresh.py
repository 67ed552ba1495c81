"""Refresh on a run: which window reaches the source and whose, what each render rate and title will look like."""

from __future__ import annotations

from fractions import Fraction

from wavilex.core.chain.notes import sent_signal
from wavilex.core.chain.offer import advertise
from wavilex.core.chain.paths import Layer, Station, facts_of_want
from wavilex.core.chain.results import RunResult
from wavilex.core.modes.refresh import (
    FIXED_TOLERANCE,
    HIGH_FPS,
    LOW_FPS,
    Shown,
    accepted,
    cadence,
    segments,
    shown,
)
from wavilex.core.modes.shapes import OddRate, PointOut, RateOut, RefreshOut, TitleRates, VrrStage
from wavilex.core.rig.model import Title

Window = tuple[int, int]
_KINDS = {"hdmi": "HDMI VRR", "vendor": "a vendor’s adaptive sync"}
# beside the standard rates: what old machines and odd sources send, in Hz (common practice)
_ODD = (Fraction(60000, 1001), Fraction(6005, 100), Fraction(601, 10), Fraction(61), Fraction(5008, 100), Fraction(50))


def fixed_hz(result: RunResult) -> int:
    """The rate the run's output has when it does not vary."""
    sent = result.resent or sent_signal(result) or result.asked
    return (sent.timing.mode if sent else result.run.want.mode).hz


def kinds_shared(result: RunResult) -> tuple[str, ...]:
    """The kinds of variable refresh every box of the path knows; a box that says nothing is taken to know HDMI's."""
    left = {"hdmi", "vendor"}
    for station in result.stations:
        own = station.state.vrr_kinds
        left &= {"hdmi"} if own is None else set(own)
    return tuple(k for k in _KINDS if k in left)


def window_of(layer: Layer, result: RunResult) -> Window | None:
    """The window a source may use, in Hz; its upper end not over the output's rate."""
    if not result.stations or result.stations[0].state.vrr is False or not kinds_shared(result):
        return None
    facts = facts_of_want(result.run.want)
    path = layer.digital(result.path)
    seen = advertise(layer, layer.stations(path, facts), layer.beside(path, facts))
    if not isinstance(seen.vrr, tuple):
        return None
    low, high = seen.vrr
    return low, min(high, max(fixed_hz(result), low + 1))


def refresh_data(layer: Layer, result: RunResult, repeats: bool | None = None) -> RefreshOut | None:
    """Window, plot and titles of a run as plain data; None when it has no digital path.

    repeats: does the source show a frame again below the window? None: as its profile says.
    """
    if not result.stations:
        return None
    fixed, window = fixed_hz(result), window_of(layer, result)
    known = layer.rig.devices[result.run.source].profile.repeats_frames
    again = repeats if repeats is not None else known is not False
    return {
        "run": result.run.uid, "fixed_hz": fixed, "window": list(window) if window else None,
        "kinds": [_KINDS[k] for k in kinds_shared(result)] if window else [],
        "why": _why(layer, result, window, fixed), "stages": [_stage(layer, s) for s in result.stations],
        "repeats": again, "repeats_words": _repeats(layer, result, known, again),
        "points": [_point(shown(fps, fixed, window, repeats=again)) for fps in range(LOW_FPS, HIGH_FPS + 1)],
        "segments": [
            {"from_fps": s.from_fps, "to_fps": s.to_fps, "state": s.state, "words": s.words}
            for s in segments(fixed, window, repeats=again)
        ],
        "titles": [
            _title(t, fixed, window, again) for t in layer.rig.titles.values() if t.render_rates
        ],
        "odd_rates": [_odd(rate, fixed, window) for rate in _ODD if abs(rate - fixed) <= fixed // 4 or window],
    }  # fmt: skip


def _why(layer: Layer, result: RunResult, window: Window | None, fixed: int) -> str:
    """Where the window comes from, or what keeps it away."""
    if window is not None:
        name = layer.rig.devices[result.run.sink].label
        whole = window[1] >= 2 * window[0]
        rest = "below it frames are repeated" if whole else "too narrow to repeat frames at every rate below it"
        return f"{name} offers {window[0]} to {window[1]} Hz at this signal; {rest}."
    for station in result.stations:
        if station.state.vrr is False:
            origin = station.origin("vrr")
            because = f": {origin.because}" if origin.because else ""
            where = layer.rig.socket_name(station.socket)
            return f"No window: {where} has no variable refresh{because}. Fixed {fixed} Hz."
    if not kinds_shared(result):
        return f"No window: the boxes of the path do not mean the same kind of variable refresh. Fixed {fixed} Hz."
    return f"No window known on this path: fixed {fixed} Hz."


def _stage(layer: Layer, station: Station) -> VrrStage:
    """One socket of the path: does it pass variable refresh, of which kind, since when."""
    state = station.state
    vrr = state.vrr
    says = (
        "not known" if vrr is None else "no" if vrr is False else "yes" if vrr is True else f"{vrr[0]} to {vrr[1]} Hz"
    )
    kinds = " and ".join(_KINDS[k] for k in state.vrr_kinds) if state.vrr_kinds else "kind not said: HDMI VRR assumed"
    return {
        "where": layer.rig.socket_name(station.socket), "says": says,
        "kinds": kinds if vrr not in (None, False) else "", "because": station.origin("vrr").because,
    }  # fmt: skip


def _repeats(layer: Layer, result: RunResult, known: bool | None, again: bool) -> str:
    name = layer.rig.devices[result.run.source].label
    if known is None:
        said = f"Whether {name} repeats frames is not known"
    else:
        said = f"{name} {'repeats frames' if known else 'does not repeat frames'}"
    return f"{said}; shown here {'with' if again else 'without'} repetition below the window."


def _point(s: Shown) -> PointOut:
    low, high = s.hold_ms
    return {
        "fps": int(s.fps), "state": s.state, "refresh_hz": round(float(s.refresh_hz), 2), "words": s.words,
        "shortest_ms": round(float(low), 2), "longest_ms": round(float(high), 2),
    }  # fmt: skip


def _title(title: Title, fixed: int, window: Window | None, repeats: bool) -> TitleRates:
    rates: list[RateOut] = []
    for mode in title.modes:
        s = shown(mode.fps, fixed, window, repeats=repeats)
        pattern = "" if s.even or s.state == "over" else " (" + ":".join(map(str, cadence(mode.fps, fixed))) + ")"
        rates.append({"fps": mode.fps, "name": mode.name, "state": s.state, "even": s.even, "words": s.words + pattern})
    return {"name": title.name, "competitive": title.competitive, "rates": rates}


def _odd(rate: Fraction, fixed: int, window: Window | None) -> OddRate:
    """Is a rate beside the standard one taken, and why."""
    nominal = min((50, 60, fixed), key=lambda n: abs(n - rate))
    taken = accepted(rate, Fraction(nominal), window)
    percent = f"within ±{float(FIXED_TOLERANCE * 100):g} % of {nominal} Hz: every input must take it"
    if taken and abs(rate - nominal) > nominal * FIXED_TOLERANCE:
        percent = "inside the window, where an input takes odd rates mostly (common practice)"
    return {
        "hz": f"{float(rate):.3f}".rstrip("0").rstrip("."), "taken": taken,
        "words": percent if taken else f"more than ±{float(FIXED_TOLERANCE * 100):g} % from {nominal} Hz: try it",
    }  # fmt: skip
