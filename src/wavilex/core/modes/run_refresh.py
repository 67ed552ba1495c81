"""Refresh on a run: which window reaches the source and whose, what each render rate and title will look like."""

from __future__ import annotations

from dataclasses import replace
from fractions import Fraction

from wavilex.core.chain.notes import sent_signal
from wavilex.core.chain.offer import advertise
from wavilex.core.chain.paths import Layer, Station, facts_of_want
from wavilex.core.chain.results import RunResult
from wavilex.core.gear.socket_kinds import family
from wavilex.core.modes.refresh import (
    FIXED_TOLERANCE,
    HIGH_FPS,
    LOW_FPS,
    Pacing,
    Shown,
    Window,
    accepted,
    cadence,
    segments,
)
from wavilex.core.modes.shapes import OddRate, PointOut, RateOut, RefreshOut, TitleRates, VrrStage
from wavilex.core.rig.model import Title
from wavilex.core.video.codes import listed_timing

_KINDS = {"hdmi": "HDMI VRR", "vendor": "a vendor’s adaptive sync", "dp": "adaptive sync by DisplayPort"}
# beside the standard rates: what old machines and odd sources send, in Hz (common practice)
_ODD = (Fraction(60000, 1001), Fraction(6005, 100), Fraction(601, 10), Fraction(61), Fraction(5008, 100), Fraction(50))


def fixed_hz(result: RunResult) -> int:
    """The rate the run's output has when it does not vary."""
    sent = result.resent or sent_signal(result) or result.asked
    return (sent.timing.mode if sent else result.run.want.mode).hz


def kinds_shared(result: RunResult) -> tuple[str, ...]:
    """The kinds of variable refresh every box of the path knows; a box that says nothing is taken to know HDMI's."""
    left = set(_KINDS)
    before = family(result.stations[0].state.port) if result.stations else ""
    for station in result.stations:
        here, own = family(station.state.port), station.state.vrr_kinds
        if here != before and left:  # past a converter it is the other kind
            left, before = set(_KINDS), here
        left &= {"hdmi"} if own is None else set(own)
    return tuple(k for k in _KINDS if k in left)


def pacing_of(layer: Layer, result: RunResult) -> Pacing:
    """What decides how any render rate looks on a run as its boxes are set: the one place that says so."""
    known = layer.rig.devices[result.run.source].profile.repeats_frames
    return Pacing(fixed_hz(result), _offered(layer, result), known)


def window_of(layer: Layer, result: RunResult) -> Window | None:
    """The window a source may use, in Hz, at the output's rate; None without one."""
    return pacing_of(layer, result).window


def _offered(layer: Layer, result: RunResult) -> Window | None:
    """The window as it reaches the source; None where a box of the path has none, or its variable refresh is off."""
    if not result.stations or result.stations[0].state.vrr is False or not kinds_shared(result):
        return None
    facts = facts_of_want(result.run.want)
    if _switched_off(layer, result) is not None:
        return None
    path = layer.digital(result.path)
    seen = advertise(layer, layer.stations(path, facts), layer.beside(path, facts))
    return seen.vrr if isinstance(seen.vrr, tuple) else None


def _switched_off(layer: Layer, result: RunResult) -> Station | None:
    """The first socket of the path at whose box variable refresh is switched off."""
    facts = facts_of_want(result.run.want)
    for station in result.stations:
        device = layer.rig.devices[station.socket.device]
        for setting in device.profile.settings:
            scope = station.socket.port if setting.ports else ""
            if setting.effect != "variable_refresh" or (setting.ports and scope not in setting.ports):
                continue
            standing = layer.standing(device, facts).get((scope, setting.id))
            if standing is not None and standing.value == "off":
                return station
    return None


def refresh_data(layer: Layer, result: RunResult, repeats: bool | None = None) -> RefreshOut | None:
    """Window, plot and titles of a run as plain data; None when it has no digital path.

    repeats: does the source show a frame again below the window? None: as its profile says.
    """
    if not result.stations:
        return None
    pacing = pacing_of(layer, result)
    known = pacing.repeats
    pacing = pacing if repeats is None else replace(pacing, repeats=repeats)
    fixed, window, again = pacing.hz, pacing.window, pacing.repeats is not False
    listed = _rates_listed(result)
    return {
        "run": result.run.uid, "fixed_hz": fixed, "window": list(window) if window else None,
        "kinds": [_KINDS[k] for k in kinds_shared(result)] if window else [],
        "why": _why(layer, result, window, fixed), "stages": [_stage(layer, s) for s in result.stations],
        "repeats": again, "repeats_words": _repeats(layer, result, known, again),
        "points": [_point(pacing.of(fps)) for fps in range(LOW_FPS, HIGH_FPS + 1)],
        "segments": [
            {"from_fps": s.from_fps, "to_fps": s.to_fps, "state": s.state, "words": s.words}
            for s in segments(pacing)
        ],
        "titles": [
            _title(t, pacing) for t in layer.rig.titles.values() if t.render_rates
        ],
        "odd_rates": [_odd(rate, fixed, window, listed) for rate in _ODD if abs(rate - fixed) <= fixed // 4 or window],
    }  # fmt: skip


def _why(layer: Layer, result: RunResult, window: Window | None, fixed: int) -> str:
    """Where the window comes from, or what keeps it away."""
    if window is not None:
        name = layer.rig.devices[result.run.sink].label
        whole = window[1] >= 2 * window[0]
        rest = "below it frames can be repeated" if whole else "narrower than 2:1, so below it they often are not"
        return f"{name} offers {window[0]} to {window[1]} Hz at this signal; {rest}."
    for station in result.stations:
        if station.state.vrr is False:
            origin = station.origin("vrr")
            because = f": {origin.because}" if origin.because else ""
            where = layer.rig.socket_name(station.socket)
            return f"No window: {where} has no variable refresh{because}. Fixed {fixed} Hz."
    off = _switched_off(layer, result)
    if off is not None:
        where = layer.rig.socket_name(off.socket)
        return f"No window: variable refresh is switched off at {where}. Fixed {fixed} Hz."
    offered = _offered(layer, result)
    if offered is not None:
        return f"No window at this output: {offered[0]} to {offered[1]} Hz begins above its {fixed} Hz."
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


def _title(title: Title, pacing: Pacing) -> TitleRates:
    rates: list[RateOut] = []
    for mode in title.modes:
        s = pacing.of(mode.fps)
        pattern = "" if s.even or s.state == "over" else " (" + ":".join(map(str, cadence(mode.fps, pacing.hz))) + ")"
        rates.append({"fps": mode.fps, "name": mode.name, "state": s.state, "even": s.even, "words": s.words + pattern})
    return {"name": title.name, "competitive": title.competitive, "rates": rates}


def _rates_listed(result: RunResult) -> frozenset[int] | None:
    """The whole rates the screen lists in the size that reaches it; None: its list is not known."""
    modes, arriving = result.stations[-1].state.modes, result.asked_timing
    if not isinstance(modes, tuple) or arriving is None:
        return None
    size = arriving.h_active, arriving.frame_height
    timings = [listed_timing(m) for m in modes]
    same = [t for t in timings if (t.h_active, t.frame_height) == size and t.interlaced == arriving.interlaced]
    return frozenset(t.nominal_hz for t in same)


def _odd(rate: Fraction, fixed: int, window: Window | None, listed: frozenset[int] | None) -> OddRate:
    """Is a rate beside the standard one taken, and why."""
    nominal = min((50, 60, fixed), key=lambda n: abs(n - rate))
    there = listed is not None and nominal in listed
    taken = accepted(rate, Fraction(nominal), window, listed=there)
    percent = f"±{float(FIXED_TOLERANCE * 100):g} %"
    close = abs(rate - nominal) <= nominal * FIXED_TOLERANCE
    if close and there:
        words = f"within {percent} of the {nominal} Hz it lists: an input must take it"
    elif taken:
        words = "inside the window, where an input takes odd rates mostly (common practice)"
    elif close and listed is None:
        words = f"beside {nominal} Hz; whether the screen lists that is not known: try it"
    elif close:
        words = f"the screen lists nothing at {nominal} Hz in this size: try it"
    else:
        words = f"more than {percent} from {nominal} Hz: try it"
    return {"hz": f"{float(rate):.3f}".rstrip("0").rstrip("."), "taken": taken, "words": words}
