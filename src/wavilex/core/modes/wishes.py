"""What a title wants of a screen's settings, by house style. Schools and reasons: common practice.

A wish names an effect and how much each value of it is worth. Values are the words options are known by in every
profile: on, off, auto, fast, middle, slow.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from wavilex.core.chain.rig import Title

EFFECTS = ("game_mode", "variable_refresh", "interpolation", "black_frames", "input_speed", "fast_input")
SLOW_TITLE_FPS = 40  # a title that renders no faster is an adventure at 30, not a shooter at 120
STYLES = {
    "balanced": "variable refresh where it helps, nothing added",
    "motion": "30 fps titles interpolated, though it costs lag",
    "clear": "black frames where the screen allows them, though they flicker and darken",
}


@dataclass(frozen=True, slots=True)
class Wish:
    """worth: points by value; a value left out is worth nothing. why: said beside the setting."""

    effect: str
    worth: Mapping[str, int]
    why: str

    @property
    def most(self) -> int:
        return max(self.worth.values(), default=0)


def wishes_of(title: Title | None, style: str = "balanced") -> list[Wish]:
    """The wishes of a title; of games in general without one. Raises KeyError for no such style."""
    STYLES[style]
    slow = title is not None and bool(title.render_rates) and max(title.render_rates) <= SLOW_TITLE_FPS
    competitive = title is not None and title.competitive
    out = [Wish("game_mode", {"on": 100, "auto": 95}, "game mode turns processing off: lag falls several-fold")]
    if competitive:
        out += [
            Wish("interpolation", {"off": 80}, "interpolation costs one to two frames: wrong for competitive play"),
            Wish("input_speed", {"fast": 70, "middle": 30}, "the least lag wins"),
            Wish("variable_refresh", {"on": 60}, "no tearing and no waiting for the next refresh"),
            Wish("black_frames", {"off": 40}, "black frames add lag and exclude variable refresh"),
            Wish("fast_input", {"on": 20}, "a further step down in lag, where it may be on"),
        ]
    elif slow and style == "motion":
        out += [
            Wish("interpolation", {"on": 80}, "a 30 fps adventure moves smoother interpolated"),
            Wish("input_speed", {"middle": 30, "slow": 20, "fast": 10}, "interpolation needs a slower step"),
            Wish("variable_refresh", {"on": 20}, "evenness at odd rates"),
            Wish("black_frames", {"off": 10}, "interpolation does their work"),
        ]
    else:
        out += [
            Wish("variable_refresh", {"on": 30 if style == "clear" else 60}, "evenness at every render rate"),
            Wish("interpolation", {"off": 40}, "nothing added between frames"),
            Wish("input_speed", {"middle": 30, "fast": 25}, "enough for play, without what the fastest gives up"),
            Wish("black_frames", {"on": 90} if style == "clear" else {"off": 20}, "moving edges stay clear"
                 if style == "clear" else "they halve brightness and flicker"),
        ]  # fmt: skip
    return out
