"""How a device's settings really stand: what is greyed out, what the device sets itself, what does nothing.

Forced and greyed-out values are followed to a fixed point, bounded; a cycle leaves the setting unknown.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace

from wavilex.core.gear.cells import Spot, spot_of
from wavilex.core.gear.conditions import NOWHERE, Surroundings, holds
from wavilex.core.gear.profile import Profile
from wavilex.core.gear.quirks import Excludes, Forces, Inert, OfSetting, Requires
from wavilex.core.gear.setting import Setting

Place = tuple[str, str]  # scope port id or "", setting id
ChosenOf = Callable[[str, str], str | None]
_MOST_ROUNDS = 16


@dataclass(frozen=True, slots=True)
class Standing:
    """One setting at one scope. value None: not known.

    greyed, forced, inert: the quirk that does it. barred: options that cannot be chosen, with the quirk.
    cycle: the device's own rules chase each other here.
    """

    chosen: str | None
    value: str | None
    greyed: OfSetting | None = None
    forced: Forces | None = None
    inert: Inert | None = None
    barred: tuple[tuple[str, OfSetting], ...] = ()
    cycle: bool = False


def stand(profile: Profile, chosen_of: ChosenOf, around: Surroundings = NOWHERE) -> dict[Place, Standing]:
    """Every setting of a device as it stands, given what was chosen."""
    chosen = {(scope, s.id): chosen_of(scope, s.id) for s in profile.settings for scope in (s.ports or ("",))}
    now = {place: Standing(value, value) for place, value in chosen.items()}
    if not profile.setting_quirks:
        return now
    for _ in range(_MOST_ROUNDS):
        after = {
            place: _one(profile, place, chosen[place], now, around) if place[1] in profile.quirks_of_setting else stands
            for place, stands in now.items()
        }
        if after == now:
            return now
        moving = {place for place in now if after[place].value != now[place].value}
        now = after
    return {
        place: Standing(s.chosen, None, s.greyed, s.forced, s.inert, s.barred, cycle=True) if place in moving else s
        for place, s in now.items()
    }


def stand_in(
    profile: Profile, kept_of: ChosenOf, around: Surroundings = NOWHERE, spot: Spot | None = None
) -> dict[Place, Standing]:
    """Every setting as it stands where a signal meets a box: each is read in the cell of that signal.

    kept_of: what is kept at a scope (gear/cells). spot: the cell asked about, where it is not the signal's. Places are
    sockets: a setting kept by range and preset too stands at its socket as it is kept for this range and preset.
    """
    if not profile.in_cells:
        return stand(profile, kept_of, around)
    modes: dict[str, str] = {}

    def chosen(port: str, key: str) -> str | None:
        setting = profile.setting(key)
        assert setting is not None
        here = met(spot, around, port, modes.get(port, ""))
        return kept_of(here.kept(setting.dimensions), key)

    now = stand(profile, chosen, around)
    for _ in range(_MOST_ROUNDS if profile.preset is not None else 0):  # a preset that the box sets itself counts
        really = {port: mode for port in _ports(profile) if (mode := preset_at(profile, now, port))}
        if really == modes:
            break
        modes = really
        now = stand(profile, chosen, around)
    return now


def _ports(profile: Profile) -> tuple[str, ...]:
    return ("", *(p.id for p in profile.ports))


def met(spot: Spot | None, around: Surroundings, port: str, mode: str) -> Spot:
    """Where a picture meets a socket: as asked, else as its signal says; its preset as said, else as it stands."""
    if spot is None:
        return spot_of(around.signal, port, mode)
    return replace(spot, input=port, mode=spot.mode or mode)


def preset_at(profile: Profile, now: Mapping[Place, Standing], port: str) -> str:
    """The picture preset in force at a socket; "" where nobody knows, or it has none."""
    preset = profile.preset
    if preset is None:
        return ""
    standing = now.get((port if preset.ports else "", preset.id))
    return (standing.value or "") if standing is not None else ""


def scope_at(
    profile: Profile, setting: Setting, now: Mapping[Place, Standing], port: str, around: Surroundings = NOWHERE,
    spot: Spot | None = None,
) -> str:  # fmt: skip
    """The scope a setting is kept at where a signal meets a socket."""
    return met(spot, around, port, preset_at(profile, now, port)).kept(setting.dimensions)


def value_at(
    profile: Profile, now: Mapping[Place, Standing], scope: str, shown: str | None = None
) -> Callable[[str], str | None]:
    """Values of settings as seen at a socket: those stored per socket are read there.

    Seen from a setting of the whole box (scope ""), a per-socket one counts where all sockets agree, else at the
    input shown; where nobody knows which that is, it is not known.
    """

    def value(name: str) -> str | None:
        setting = profile.setting(name)
        if setting is None:
            return None
        if not setting.ports:
            return now["", name].value
        if scope in setting.ports:
            return now[scope, name].value
        values = {now[port, name].value for port in setting.ports}
        if len(values) == 1:
            return values.pop()
        return now[shown, name].value if shown in setting.ports else None

    return value


def _one(
    profile: Profile, place: Place, chosen: str | None, now: Mapping[Place, Standing], around: Surroundings
) -> Standing:
    scope, name = place
    setting = profile.setting(name)
    assert setting is not None
    value, unsure = chosen, False
    greyed: OfSetting | None = None
    forced: Forces | None = None
    inert: Inert | None = None
    barred: list[tuple[str, OfSetting]] = []
    for quirk in profile.quirks_of_setting[name]:
        there = True if quirk.firmware is None else quirk.firmware.holds(around.firmware)
        held = holds(quirk.when, value_at(profile, now, scope, around.shown_input), around, scope)
        acts = _and(there, _not(held) if isinstance(quirk, Requires) else held)
        if acts is False:
            continue
        if isinstance(quirk, Requires | Excludes):
            stopped = _stopped(setting, quirk)
            if acts and set(stopped) == {o.id for o in setting.options}:
                greyed, value = quirk, quirk.reads or setting.default
            elif acts:
                barred += [(o, quirk) for o in stopped]
            if value in stopped and greyed is None:
                value = (quirk.reads or _first_free(setting, stopped)) if acts else None
                unsure = unsure or acts is None
        elif isinstance(quirk, Forces):
            if acts:
                forced, value = quirk, quirk.to
            elif value != quirk.to:
                unsure = True
        elif acts and (not quirk.options or value in quirk.options):
            inert = quirk
    return Standing(chosen, None if unsure else value, greyed, forced, inert, tuple(barred))


def _stopped(setting: Setting, quirk: Requires | Excludes) -> tuple[str, ...]:
    return quirk.options or tuple(o.id for o in setting.options)


def _first_free(setting: Setting, stopped: tuple[str, ...]) -> str:
    if setting.default not in stopped:
        return setting.default
    return next(o.id for o in setting.options if o.id not in stopped)


def _not(a: bool | None) -> bool | None:
    return None if a is None else not a


def _and(a: bool | None, b: bool | None) -> bool | None:
    if a is False or b is False:
        return False
    return None if a is None or b is None else True
