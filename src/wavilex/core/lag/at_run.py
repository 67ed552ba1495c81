"""Which of a screen's readings speak of a run: those of its own signal, input and mode, at mid-screen alone."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from fractions import Fraction

from wavilex.core.advise.lag_cost import Costs
from wavilex.core.gear.profile import Profile
from wavilex.core.lag.groups import Group
from wavilex.core.lag.methods import MEASURED
from wavilex.core.lag.state import NOT_NOTED, State
from wavilex.core.lag.summary import summarise

_MIDDLE = ("", "middle")


@dataclass(frozen=True, slots=True)
class Screen:
    """What was measured at a screen in a mode, at mid-screen, for a run: lag in µs, None: nothing of its signal; with
    which signal ("" not noted). others: the signals that were measured instead. beside: what stands otherwise now than
    when it was measured, in words; lag_us holds what of it was measured.
    """

    lag_us: Fraction | None
    condition: str
    signal: str = ""
    others: tuple[str, ...] = ()
    beside: str = ""


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


def as_it_stands(
    by: Mapping[str, Screen], states: Mapping[str, State], values: Mapping[str, str], costs: Costs, profile: Profile
) -> Screen | None:
    """What was measured in the state nearest to how the screen stands, brought to it by the measured costs of what
    stands otherwise; None where nothing was measured in a state that anybody noted. values: settings as they stand.
    """

    def rank(name: str) -> tuple[int, int]:
        state = states[name]
        return len(_otherwise(state, values)), -sum(k in values for k in state)

    noted = [
        name for name, screen in by.items()
        if screen.lag_us is not None and any(k in values for k in states.get(name, NOT_NOTED))
    ]  # fmt: skip
    if not noted:
        return None
    best = min(noted, key=rank)
    screen, words = by[best], []
    lag_us = screen.lag_us or Fraction(0)
    for name in _otherwise(states[best], values):
        setting = profile.setting(name)
        if setting is None:
            continue
        what = f"{setting.label} {setting.option_label(values[name])}"
        us = _between(costs, name, states[best][name], values[name])
        if us is None:
            words.append(f"{what} not measured with it")
        else:
            lag_us += us
            words.append(f"{what} {'+' if us >= 0 else '−'}{abs(us) / 1000:.1f} ms, measured")
    return replace(screen, lag_us=max(lag_us, Fraction(0)), beside="; ".join(words))


def _otherwise(state: State, values: Mapping[str, str]) -> list[str]:
    return [k for k, v in state.items() if k in values and values[k] != v]


def _between(costs: Costs, name: str, before: str, after: str) -> int | None:
    """What a setting's change costs as it was measured, in µs; None where it was not."""
    for held in costs.by_setting.get(name, ()):
        c = held.cost
        if (c.against, c.option) == (before, after):
            return c.cost_us if c.changed else 0
        if (c.option, c.against) == (before, after):
            return -c.cost_us if c.changed else 0
    return None
