"""The lag that settings add to a box, each with where it is from: measured at this very box, else its profile's claim.

A measured cost replaces every claim on that setting, and holds on the firmware it was taken on; another makes it stale.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from fractions import Fraction

from wavilex.core.fields import PROVENANCE_NAMES
from wavilex.core.gear.conditions import Surroundings, holds
from wavilex.core.gear.profile import Profile
from wavilex.core.gear.quirks import AddsLag
from wavilex.core.gear.stand import Place, Standing, value_at
from wavilex.core.gear.words import condition_words
from wavilex.core.rig.edit_facts import SettingLag
from wavilex.core.rig.learned import setting_lag_words, signed_ms
from wavilex.core.rig.model import SETTING_LAG_FACT, Device, Rig

_Values = Callable[[str], str | None]


@dataclass(frozen=True, slots=True)
class Added:
    """Lag that one setting adds as it stands, in ms; words: which, why: how that is known."""

    ms: Fraction
    words: str
    why: str
    setting: str
    measured: bool


@dataclass(frozen=True, slots=True)
class Held:
    """A cost as it is kept with a box, and where it was measured, in words."""

    cost: SettingLag
    where: str


@dataclass(frozen=True, slots=True)
class Costs:
    """What was measured of a box's settings, by setting; stale: of another firmware than runs now."""

    by_setting: Mapping[str, tuple[Held, ...]]
    stale: tuple[SettingLag, ...] = ()


def measured_costs(rig: Rig, device: Device, firmware: str) -> Costs:
    """Every cost measured of a box, those of another firmware than it runs (in the layer asked about) apart."""
    found: dict[str, list[Held]] = {}
    stale: list[SettingLag] = []
    for path, fact in rig.device_facts(device.uid).items():
        if not path.startswith(f"{SETTING_LAG_FACT}."):
            continue
        seen = SettingLag.model_validate(fact.value)
        if seen.firmware and firmware and seen.firmware != firmware:
            stale.append(seen)
            continue
        found.setdefault(seen.setting, []).append(Held(seen, PROVENANCE_NAMES[fact.provenance]))
    return Costs({k: tuple(v) for k, v in found.items()}, tuple(stale))


def added_lag(
    rig: Rig, device: Device, scope: str, standing: Mapping[Place, Standing], around: Surroundings
) -> tuple[Added, ...]:
    """What the settings of a box add at a socket as they stand, the most first."""
    values = value_at(device.profile, standing, scope, around.shown_input)
    costs = measured_costs(rig, device, around.firmware).by_setting
    near = {name: _nearest(of, device.profile, scope, around) for name, of in costs.items()}
    known = {name for name, of in near.items() if any(values(name) in (x.cost.option, x.cost.against) for x in of)}
    own = _measured(device.profile, values, {name: near[name] for name in known})
    out = [*own, *_claimed(device.profile, scope, values, around, known)]
    return tuple(sorted(out, key=lambda a: -a.ms))


def added_ms(added: tuple[Added, ...]) -> float:
    """The sum, in ms."""
    return float(sum(a.ms for a in added))


def _measured(profile: Profile, values: _Values, costs: Mapping[str, Sequence[Held]]) -> Iterator[Added]:
    """What each setting adds against the quickest of its values that were measured together; costs: of one against."""
    for name, near in costs.items():
        setting, value = profile.setting(name), values(name)
        spans = {x.cost.option: x for x in near}
        base = near[0].cost.against
        if setting is None or value is None:
            continue
        us = {base: 0} | {option: x.cost.cost_us if x.cost.changed else 0 for option, x in spans.items()}
        least = min(us, key=lambda v: us[v])
        if us[value] == us[least]:
            continue
        told = spans[value] if value in spans else spans[least]
        words = f"{setting.label} {setting.option_label(value)}"
        why = f"{told.where}: {setting_lag_words(profile, told.cost)}"
        yield Added(Fraction(us[value] - us[least], 1000), words, why, name, measured=True)


def _nearest(of: Sequence[Held], profile: Profile, scope: str, around: Surroundings) -> list[Held]:
    """The costs of one signal, input and value they are against: the run's own signal and input before those nobody
    noted, before others; then the newest.
    """
    port = profile.port(scope)
    signal = str(around.signal.mode) if around.signal else ""
    label = port.label if port else ""

    def rank(x: SettingLag) -> tuple[int, int, str]:
        return 2 * (x.signal == signal) + (not x.signal), 2 * (x.input == label) + (not x.input), x.day

    best = max((x.cost for x in of), key=rank)
    return [x for x in of if (x.cost.signal, x.cost.input, x.cost.against) == (best.signal, best.input, best.against)]


def _claimed(profile: Profile, scope: str, values: _Values, around: Surroundings, known: set[str]) -> Iterator[Added]:
    """What the profile claims, where nothing of those settings was measured."""
    for q in profile.quirks:
        if not isinstance(q, AddsLag) or (q.firmware is not None and q.firmware.holds(around.firmware) is False):
            continue
        names = q.when.settings() if q.when is not None else set()
        if names & known or (q.when is not None and holds(q.when, values, around, scope) is not True):
            continue
        words = condition_words(profile, q.when) if q.when is not None else "always"
        yield Added(Fraction(str(q.adds_ms)), words, f"claimed: {q.because}", min(names, default=""), measured=False)


@dataclass(frozen=True, slots=True)
class Said:
    """A cost in short, and at length; stale: it was measured on another firmware than runs now."""

    words: str
    why: str
    stale: bool = False


def told_costs(rig: Rig, device: Device, firmware: str) -> dict[str, list[Said]]:
    """What was measured of each setting."""
    out: dict[str, list[Said]] = {}
    costs = measured_costs(rig, device, firmware)
    for of in costs.by_setting.values():
        for x in of:
            why = f"{x.where}: {setting_lag_words(device.profile, x.cost)}"
            out.setdefault(x.cost.setting, []).append(Said(_short(device.profile, x.cost), why))
    for cost in costs.stale:
        words = f"{_short(device.profile, cost)}, on {cost.firmware}: measure again"
        why = f"{setting_lag_words(device.profile, cost)}; with {firmware} measure again"
        out.setdefault(cost.setting, []).append(Said(words, why, stale=True))
    return out


def _short(profile: Profile, cost: SettingLag) -> str:
    """`on +38.2 ms against off`."""
    setting = profile.setting(cost.setting)
    option, against = (setting.option_label(v) if setting else v for v in (cost.option, cost.against))
    sign = "+" if cost.cost_us > 0 else ""
    size = f"{sign}{signed_ms(cost.cost_us)} ms" if cost.changed else "no practical change"
    return f"{option} {size} against {against}"


def no_change(rig: Rig, device: Device, firmware: str, setting: str, value: str) -> SettingLag | None:
    """A proof that a value of a setting makes no practical change against another; None where there is none."""
    of = measured_costs(rig, device, firmware).by_setting.get(setting, ())
    return next((x.cost for x in of if not x.cost.changed and value in (x.cost.option, x.cost.against)), None)
