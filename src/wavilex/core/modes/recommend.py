"""The mode to play a title in: the title's own mode, the source's output, the screen's picture mode, and the lag cost.

By house style where rate and detail compete; competitive titles take the rate. Common practice.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from fractions import Fraction
from typing import Any

from wavilex.core.advise.situation import Playing, schools_of
from wavilex.core.chain.carry import run_result
from wavilex.core.chain.paths import Layer
from wavilex.core.chain.results import RunResult
from wavilex.core.modes.outputs import Output, outputs_of
from wavilex.core.modes.refresh import Shown
from wavilex.core.modes.run_refresh import pacing_of
from wavilex.core.modes.shapes import TitleAdvice
from wavilex.core.rig.changes import apply
from wavilex.core.rig.model import Title, TitleMode
from wavilex.core.rig.ops import Change
from wavilex.core.video.signal import DigitalVideo


@dataclass(frozen=True, slots=True)
class Played:
    """A title's mode over an output: how its frames are shown, and how long one takes to be made and scanned, in ms."""

    mode: TitleMode
    output: Output
    shown: Shown

    @property
    def signal(self) -> DigitalVideo:
        return self.output.signal

    @property
    def playing(self) -> Playing:
        return Playing(self.mode.fps, self.signal.timing.mode, self.output.needs)

    @property
    def frame_ms(self) -> Fraction:
        return Fraction(1000, self.mode.fps)

    @property
    def scan_ms(self) -> Fraction:
        """Half a refresh: the time to mid-screen. In a window the picture is scanned at the fastest rate."""
        return Fraction(500, self.signal.timing.nominal_hz)


def plays_of(layer: Layer, result: RunResult, title: Title) -> list[Played]:
    """Every mode of a title over every output worth asking for on the run."""
    out = []
    for mode in title.modes:
        for output in outputs_of(layer, result, title.competitive):
            out.append(Played(mode, output, output.pacing.of(mode.fps)))
    return out


def as_set(layer: Layer, result: RunResult, played: Played, ops: Sequence[Change]) -> Played:
    """The same with a title's settings made: variable refresh may have a window then, or none."""
    view = Layer(apply(layer.rig, list(ops))[0], layer.name, layer.states)
    pacing = pacing_of(view, run_result(view, result.run)).at(played.signal.timing.nominal_hz)
    return replace(played, shown=pacing.of(played.mode.fps))


def recommend(layer: Layer, result: RunResult, title: Title) -> Played | None:
    """The mode to play in; None where nothing is known of the title or the run carries nothing."""
    plays = plays_of(layer, result, title)
    detail = schools_of(layer, result.run, title)["rate_or_detail"] == "detail" and not title.competitive

    counted = all(m.lines for m in title.modes)  # where nobody knows them, the slower mode is the finer one

    def rank(p: Played) -> tuple[Any, ...]:
        area = p.signal.timing.h_active * p.signal.timing.v_active
        lost = p.shown.state == "over"
        if detail:
            lines = min(p.mode.lines or 0, p.signal.timing.frame_height)  # more than the output has are not seen
            return (
                not lost,
                lines,
                p.mode.fps if counted else -p.mode.fps,
                area,
                p.shown.even,
                p.signal.timing.nominal_hz,
            )
        return not lost, p.mode.fps, p.shown.even, p.signal.timing.nominal_hz, area

    return max(plays, key=rank, default=None)


def playing_of(layer: Layer, result: RunResult, title: Title | None) -> Played | None:
    """How a title is to be played; None where that is not known."""
    return recommend(layer, result, title) if title is not None and title.modes else None


def recommend_data(
    layer: Layer, result: RunResult, title: Title | None, best: Played | None, adds_ms: float
) -> TitleAdvice | None:
    """The recommendation as plain data, with what the title's other modes would cost."""
    if best is None or title is None:
        return None
    profile = layer.rig.devices[result.run.sink].profile
    game = next((m for m in profile.pictures if m == "game"), "")
    others = [m for m in title.modes if m != best.mode]
    return {
        "title_mode": best.mode.name or f"{best.mode.fps} fps", "fps": best.mode.fps,
        "source": best.signal.timing.mode.name, "screen": game or "its quickest picture mode",
        "shown": best.shown.words, "even": best.shown.even,
        "frame_ms": round(float(best.frame_ms), 1), "scan_ms": round(float(best.scan_ms), 1), "adds_ms": adds_ms,
        "others": [
            {"title_mode": m.name or f"{m.fps} fps", "fps": m.fps,
             "more_ms": round(float(Fraction(1000, m.fps) - best.frame_ms), 1)} for m in others
        ],
    }  # fmt: skip
