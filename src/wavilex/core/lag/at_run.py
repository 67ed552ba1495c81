"""Which of a screen's readings speak of a run: those of its own signal, input and mode, at mid-screen alone."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from fractions import Fraction

from wavilex.core.lag.methods import MEASURED
from wavilex.core.lag.report import Group
from wavilex.core.lag.summary import summarise

_MIDDLE = ("", "middle")


@dataclass(frozen=True, slots=True)
class Screen:
    """What was measured at a screen in a mode, at mid-screen, for a run: lag in µs, None: nothing of its signal; with
    which signal ("" not noted). others: the signals that were measured instead.
    """

    lag_us: Fraction | None
    condition: str
    signal: str = ""
    others: tuple[str, ...] = ()


def at_screen(groups: Sequence[Group], socket: str, signal: str) -> Mapping[str, Screen]:
    """By screen mode, in the order of the session. socket: the run's input by its label; signal: as it arrives there.

    A reading whose input or signal nobody noted is taken where there is none of the run's own. Of several ways of
    measuring the surest counts: meter, film, two counters, typed.
    """
    found: dict[str, list[Group]] = {}
    for g in groups:
        if g.values and g.cell.position in _MIDDLE and g.cell.input in ("", socket):
            found.setdefault(g.cell.condition, []).append(g)
    return {condition: _best(condition, own, signal) for condition, own in found.items()}


def _best(condition: str, groups: Sequence[Group], signal: str) -> Screen:
    own = [g for g in groups if g.cell.signal in (signal, "")]
    if not own:
        return Screen(None, condition, others=tuple(dict.fromkeys(g.cell.signal for g in groups)))

    def rank(g: Group) -> tuple[bool, bool, int, bool]:
        way = MEASURED.index(g.way.method) if g.way else len(MEASURED)
        return not g.cell.signal, not g.cell.input, way, not g.cell.position

    best = min(own, key=rank)
    told = summarise(best.readings)
    assert told is not None
    return Screen(told.lag_us, condition, best.cell.signal)
