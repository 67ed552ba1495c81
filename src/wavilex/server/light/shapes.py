"""What the API adds to the core's answers about light."""

from __future__ import annotations

from typing_extensions import TypedDict

from wavilex.core.light.shapes import ScreenLightOut


class LightAnswer(TypedDict):
    """screen null: the job has none yet. meters: light meters of this installation."""

    mark: str
    meters: list[str]
    screen: ScreenLightOut | None


class LightMoment(TypedDict):
    """What a meter sees now. state: idle, connecting, looking, settled, lost, failed."""

    meter: str
    state: str
    message: str
    light: float | None
    error_percent: float | None
    x: float | None
    y: float | None
    settled: bool
    ref: str
