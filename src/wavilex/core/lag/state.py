"""A condition as a state of the box under test: what its settings stand at while readings are taken.

A state names settings by their ids; a setting that is not in it is not known to have stood anywhere.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from types import MappingProxyType

from wavilex.core.bounds import CONDITION_LETTERS
from wavilex.core.errors import WavilexError
from wavilex.core.gear.conditions import Surroundings
from wavilex.core.gear.profile import Profile
from wavilex.core.gear.quirks import AddsLag
from wavilex.core.gear.setting import Effect, Setting
from wavilex.core.gear.stand import Place, Standing, stand

State = Mapping[str, str]
NOT_NOTED: State = MappingProxyType({})
BASELINE = "baseline"

# effects that may cost time, with the values that are quickest first; any enhancement may add lag (common practice)
QUICKEST: Mapping[Effect, tuple[str, ...]] = MappingProxyType({
    "game_mode": ("on", "auto"), "preset": ("game", "computer", "standard"), "input_speed": ("fast", "middle"),
    "fast_input": ("on",), "interpolation": ("off",), "processing": ("off", "low"), "black_frames": ("off",),
    "dimming": ("off", "low"), "sharpening": ("off",), "tone_mapping": ("source", "off"), "variable_refresh": ("on",),
    "overdrive": ("off",),
})  # fmt: skip
# of these a cost is expected; the others are offered and not chosen (common practice, own order)
LIKELY: tuple[Effect, ...] = (
    "game_mode", "preset", "input_speed", "fast_input", "interpolation", "processing", "black_frames",
)  # fmt: skip


class StateError(WavilexError):
    """A state the box cannot be in, or a setting it does not have."""

    code = "lag_state"


@dataclass(frozen=True, slots=True)
class ToSet:
    """One thing to do before readings are taken: what, and where in the menus, "" where nobody knows."""

    words: str
    where: str = ""


def lag_settings(profile: Profile, port: str) -> list[Setting]:
    """The settings of a box at a socket ("" any) on which lag may hang, and those that stand in the way of one, in the
    order of its profile.
    """
    names = _claimed(profile) | {s.id for s in profile.settings if s.effect in QUICKEST}
    waiting = sorted(names)
    while waiting:
        gates = {g for q in profile.quirks_of_setting.get(waiting.pop(), ()) for g in q.when.settings()} - names
        names |= gates
        waiting += sorted(gates)
    here = (s for s in profile.settings if not s.ports or not port or port in s.ports)
    return [s for s in here if s.options and s.id in names]


def is_likely(profile: Profile, setting: Setting) -> bool:
    """Is a cost of it expected: by its effect, or as its profile claims one?"""
    return setting.effect in LIKELY or setting.id in _claimed(profile)


def _claimed(profile: Profile) -> set[str]:
    """The settings a claim of lag hangs on."""
    whens = (q.when for q in profile.quirks if isinstance(q, AddsLag) and q.when is not None)
    return {name for when in whens for name in when.settings()}


def quickest(setting: Setting) -> str:
    """The value expected to be the quickest; the factory's where nobody knows."""
    wanted = QUICKEST.get(setting.effect, ()) if setting.effect else ()
    ids = [o.id for o in setting.options]
    return next((v for v in wanted if v in ids), setting.default)


def standing(profile: Profile, port: str, state: State, around: Surroundings) -> Mapping[Place, Standing]:
    """How the box then really stands; what the state does not name is not known."""
    return stand(profile, lambda scope, name: state.get(name), around)


def barred(profile: Profile, port: str, state: State, around: Surroundings) -> str:
    """Why a box does not stand in a state when it is set so: the first setting that ends up elsewhere; "" it does."""
    now = standing(profile, port, state, around)
    for name, value in state.items():
        setting = profile.setting(name)
        if setting is None:
            continue
        at = now[(port if port in setting.ports else setting.ports[0]) if setting.ports else "", name]
        really = at.value
        quirk = at.greyed or at.forced or next((q for o, q in at.barred if o == value), None) or at.inert
        if quirk is not None and (really != value or at.inert is not None):
            return f"{setting.label} {setting.option_label(value)} cannot be had so: {quirk.because}"
    return ""


def checked(profile: Profile, port: str, state: State, around: Surroundings) -> State:
    """The same state, known to be one the box has. Raises StateError."""
    for name, value in state.items():
        setting = profile.setting(name)
        if setting is None:
            raise StateError(f"{profile.model} has no setting {name!r}", where="baseline")
        if setting.read(value) is None:
            raise StateError(f"{setting.label} is {setting.choice_words}, not {value!r}", where=f"baseline.{name}")
    if why := barred(profile, port, state, around):
        raise StateError(why, where="baseline")
    return state


def of_names(profile: Profile, names: Sequence[str]) -> dict[str, State]:
    """What conditions that were only named mean, where the box's own words tell: a picture preset, or game mode."""
    preset = profile.preset
    game = next((s for s in profile.settings if s.effect == "game_mode"), None)
    out: dict[str, State] = {}
    for name in names:
        option = next((o.id for o in preset.options if name in (o.id, o.label)), None) if preset else None
        if preset is not None and option is not None:
            out[name] = {preset.id: option}
        elif game is not None and preset is None and name in ("game", "standard"):
            out[name] = {game.id: "on" if name == "game" else "off"}
    return out


def name_of(profile: Profile, base: State, state: State) -> str:
    """What a state differs in from the baseline, as the name of a condition: `Interpolation on`."""
    words = [f"{s.label} {s.option_label(state[s.id])}" for s in profile.settings
             if s.id in state and state[s.id] != base.get(s.id)]  # fmt: skip
    return (", ".join(words) or BASELINE)[:CONDITION_LETTERS]


def full_name(profile: Profile, state: State) -> str:
    """Everything a state sets, as the name of a condition."""
    words = state_words(profile, state)
    return words if len(words) <= CONDITION_LETTERS else f"{words[: CONDITION_LETTERS - 2].rstrip(' ,')} …"


def state_words(profile: Profile, state: State) -> str:
    """Every setting of a state: `Game mode on, Interpolation off`; "" where nothing was noted."""
    return ", ".join(f"{s.label} {s.option_label(state[s.id])}" for s in profile.settings if s.id in state)


def apart(a: State, b: State) -> tuple[str, ...] | None:
    """The settings two states differ in; None where one of them does not say what the other does."""
    if not a or not b or set(a) != set(b):
        return None
    return tuple(name for name in a if a[name] != b[name])


def to_set(profile: Profile, before: State, after: State) -> list[ToSet]:
    """What to set to come from one state to another, in the order of the menus; what was not known is set anew."""
    return [
        ToSet(f"{s.label}: {s.option_label(after[s.id])}", s.where)
        for s in profile.settings if s.id in after and before.get(s.id) != after[s.id]
    ]  # fmt: skip
