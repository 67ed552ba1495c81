"""What one setting costs in time: two cells that differ in nothing but that setting, taken the same way."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from fractions import Fraction

from wavilex.core.gear.profile import Profile
from wavilex.core.gear.setting import Setting
from wavilex.core.lag.difference import DECISIONS, compare, equivalence
from wavilex.core.lag.plan import Cell
from wavilex.core.lag.readings import Readings
from wavilex.core.lag.shapes import SettingCostOut
from wavilex.core.lag.state import NOT_NOTED, State, apart
from wavilex.core.lag.summary import LEVEL
from wavilex.core.rig.edit_facts import SettingLag
from wavilex.core.rig.model import SETTING_LAG_FACT
from wavilex.core.ticks import key_of
from wavilex.core.video.named import shown

_PLACES = ("", "middle")
_PROVED = ("same", "changed")


@dataclass(frozen=True, slots=True)
class Taken:
    """The readings of a cell by one way of measuring. firmware: of the box when they were taken, each once; day: of the
    last of them, ISO 8601.
    """

    cell: Cell
    readings: Readings
    by: str
    firmware: tuple[str, ...] = ()
    day: str = ""


def setting_costs(
    taken: Sequence[Taken], baseline: str, states: Mapping[str, State], profile: Profile, equivalence_us: int
) -> list[SettingCostOut]:
    """For every cell that differs from the baseline's condition in one setting alone, at the same input, signal, place
    and by the same way: what that setting costs. baseline: a condition.
    """
    base = states.get(baseline, NOT_NOTED)
    pairs = list(_pairs(taken, baseline, states, profile))
    level = 1 - (1 - LEVEL) / max(1, len(pairs))  # as many looks find differences by chance (Bonferroni)
    out: list[SettingCostOut] = []
    for one, t, setting in pairs:
        state = states[t.cell.condition]
        found = compare(one.readings, t.readings, level)
        if found is None:
            continue
        same = equivalence(one.readings, t.readings, equivalence_us)
        decision = same.decision if same else "undecided"
        option, against = state[setting.id], base[setting.id]
        running = {*one.firmware, *t.firmware}
        low, high = (None if x is None else _ms(x) for x in (found.ci_low_us, found.ci_high_us))
        place = " at ".join(w for w in (shown(t.cell.signal), t.cell.input) if w)
        words = f"{setting.label} {setting.option_label(option)} instead of {setting.option_label(against)}"
        out.append({
            "setting": setting.id, "option": option, "against": against, "words": words, "at": place,
            "input": t.cell.input, "signal": t.cell.signal, "by": t.by,
            "n": min(len(one.readings.values), len(t.readings.values)), "ms": _ms(found.us),
            "ci_low_ms": low, "ci_high_ms": high, "decision": decision, "decided": DECISIONS[decision],
            "because": same.sentence if same else "", "firmware": next(iter(running)) if len(running) == 1 else "",
            "one_firmware": len(running) < 2, "path": path_of(setting.id, option, t.cell),
            "day": max(one.day, t.day), "proved": decision in _PROVED and low is not None and len(running) < 2,
        })  # fmt: skip
    return out


def _pairs(
    taken: Sequence[Taken], baseline: str, states: Mapping[str, State], profile: Profile
) -> Iterator[tuple[Taken, Taken, Setting]]:
    """Cells with the baseline's that they differ from in one setting alone, and that setting."""
    at = {(t.cell.input, t.cell.signal, t.cell.position, t.by): t for t in taken if t.cell.condition == baseline}
    for t in taken:
        one = at.get((t.cell.input, t.cell.signal, t.cell.position, t.by))
        names = apart(states.get(baseline, NOT_NOTED), states.get(t.cell.condition, NOT_NOTED))
        if one is None or t.cell.position not in _PLACES or names is None or len(names) != 1:
            continue
        setting = profile.setting(names[0])
        if setting is not None:
            yield one, t, setting


def path_of(setting: str, option: str, cell: Cell) -> str:
    """Where such a cost is kept as a fact of its box."""
    return key_of(SETTING_LAG_FACT, setting, option, cell.input, cell.signal).replace("-", ".", 1)


def fact_of(cost: SettingCostOut) -> SettingLag:
    """A proved cost as it is kept with its box."""
    low, high = cost["ci_low_ms"], cost["ci_high_ms"]
    assert low is not None
    assert high is not None
    return SettingLag(
        setting=cost["setting"], option=cost["option"], against=cost["against"], input=cost["input"],
        signal=cost["signal"], cost_us=round(cost["ms"] * 1000), low_us=round(low * 1000),
        high_us=round(high * 1000), readings=cost["n"], changed=cost["decision"] == "changed",
        firmware=cost["firmware"], day=cost["day"],
    )  # fmt: skip


def _ms(us: Fraction) -> float:
    return round(float(us) / 1000, 3)
