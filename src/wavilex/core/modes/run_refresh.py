"""Refresh on a run: which window reaches the source, what each render rate and each title will look like."""

from __future__ import annotations

from typing import Any

from wavilex.core.chain.carry import RunResult
from wavilex.core.chain.notes import sent_signal
from wavilex.core.chain.offer import advertise
from wavilex.core.chain.paths import Layer, facts_of_want
from wavilex.core.chain.rig import Title
from wavilex.core.modes.refresh import HIGH_FPS, LOW_FPS, Shown, cadence, segments, shown
from wavilex.core.video.codes import parse_mode


def refresh_data(layer: Layer, result: RunResult) -> dict[str, Any] | None:
    """Window, plot and titles of a run as plain data; None when it has no digital path."""
    if not result.stations:
        return None
    sent = sent_signal(result) or result.asked
    fixed = parse_mode(sent.timing.mode if sent else result.run.want.mode)[2]
    facts = facts_of_want(result.run.want)
    path = layer.digital(result.path)
    seen = advertise(layer, layer.stations(path, facts), layer.beside(path, facts))
    source = result.stations[0].state.vrr
    window = seen.vrr if isinstance(seen.vrr, tuple) and source is not False else None
    if window is not None:
        window = (window[0], min(window[1], max(fixed, window[0] + 1)))
    return {
        "run": result.run.uid, "fixed_hz": fixed, "window": list(window) if window else None,
        "why": _why(layer, result, window, fixed),
        "points": [_point(shown(fps, fixed, window)) for fps in range(LOW_FPS, HIGH_FPS + 1)],
        "segments": [
            {"from_fps": s.from_fps, "to_fps": s.to_fps, "state": s.state, "words": s.words}
            for s in segments(fixed, window)
        ],
        "titles": [_title(t, fixed, window) for t in layer.rig.titles.values() if t.render_rates],
    }  # fmt: skip


def _why(layer: Layer, result: RunResult, window: tuple[int, int] | None, fixed: int) -> str:
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
    return f"No window known on this path: fixed {fixed} Hz."


def _point(s: Shown) -> dict[str, Any]:
    low, high = s.hold_ms
    return {
        "fps": int(s.fps), "state": s.state, "refresh_hz": round(float(s.refresh_hz), 2), "words": s.words,
        "shortest_ms": round(float(low), 2), "longest_ms": round(float(high), 2),
    }  # fmt: skip


def _title(title: Title, fixed: int, window: tuple[int, int] | None) -> dict[str, Any]:
    rates = []
    for fps in title.render_rates:
        s = shown(fps, fixed, window)
        pattern = "" if s.even or s.state == "over" else " (" + ":".join(map(str, cadence(fps, fixed))) + ")"
        rates.append({"fps": fps, "state": s.state, "even": s.even, "words": s.words + pattern})
    return {"name": title.name, "competitive": title.competitive, "rates": rates}
