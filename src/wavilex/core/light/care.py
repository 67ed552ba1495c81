"""Self-lit screens: how much of a still picture they are asked to carry, and what eases it.

A rule of thumb of ours, from common practice, and never a promise: wear is taken to grow with light, with hours, and
with how much of the picture stands still. Load = hours a week × still share × (light / 150 cd/m²).
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from wavilex.core.rig.model import Device

_EASY, _HARD = 3.0, 10.0  # load a week: own figures
_USUAL_LIGHT = 150.0
RULE = (
    "hours a week × share that stands still × light ÷ 150 cd/m²: a rule of thumb, no promise; makers’ warranties differ"
)


@dataclass(frozen=True, slots=True)
class Load:
    """What one title asks a week. light: cd/m² it is seen at, None: not measured, taken for 150."""

    title: str
    hours_week: float
    still_percent: int
    light: float | None

    @property
    def load(self) -> float:
        return self.hours_week * self.still_percent / 100 * (self.light or _USUAL_LIGHT) / _USUAL_LIGHT


def grade(loads: Sequence[Load]) -> str:
    """light, to watch, heavy; "" with nothing noted."""
    total = sum(x.load for x in loads)
    return "" if not loads else "light" if total < _EASY else "to watch" if total < _HARD else "heavy"


def self_lit(device: Device) -> bool:
    """Is every dot of a screen its own lamp? As its profile's caution says."""
    return "burn_in" in device.profile.cautions


@dataclass(frozen=True, slots=True)
class Ease:
    """Something to switch, and what it costs in light."""

    what: str
    costs: str


def eases(device: Device, loads: Sequence[Load]) -> list[Ease]:
    """What to switch on a self-lit screen, the cheapest first; none on another."""
    if not self_lit(device):
        return []
    hardest = max(loads, key=lambda x: x.load, default=None)
    out = [
        Ease("shifting of the picture: on", "no light; a row of dots at the edge"),
        Ease("screen saver of every source after 5 minutes or fewer", "no light"),
        Ease("dimming of logos: low", "a tenth or so of the light of what stands still, after a while (a guess)"),
        Ease("energy saving: off, and the panel light set by meter instead", "none: it is set once, and stays"),
    ]
    if hardest is not None and hardest.light is not None and hardest.light > _USUAL_LIGHT and hardest.load >= _EASY:
        less = hardest.light - _USUAL_LIGHT
        out.append(Ease(f"{hardest.title}: panel light down to {_USUAL_LIGHT:.0f} cd/m²", f"{less:.0f} cd/m² of white"))
    return out
