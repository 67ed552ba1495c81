"""What an update may have put back: values that stood otherwise than the factory has them, and how likely each is.

A value that stood at its default cannot come back to it: there is nothing to look at.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Literal

from wavilex.core.fields import Provenance
from wavilex.core.gear.quirks import UpdateResets
from wavilex.core.gear.setting import Setting
from wavilex.core.rig.changes import apply
from wavilex.core.rig.model import CAME_BACK_FACT, Device, Rig
from wavilex.core.rig.ops import INPUT_KEY, Change, to_set
from wavilex.core.rig.visit_facts import AfterUpdate, after_updates

# in percent; a guess where nothing is known of the box: common practice says only that some come back
KNOWN_PERCENT = 95
MAYBE_PERCENT = 50
REVERTED_PERCENT = 40
USUAL_PERCENT = 15
_USUAL_WEIGHT = 2  # updates that the guess counts as much as
SAME_VERSION_COUNTS = 4  # what was seen of this very version at another box counts as so many updates
Outcome = Literal["open", "stayed", "came_back", "doubted", "presumed"]


@dataclass(frozen=True, slots=True)
class Held:
    """A value as it stood before the update. back: what the factory has. outcome: as it was seen since."""

    scope: str
    setting: Setting
    value: str
    back: str
    outcome: Outcome = "open"

    @property
    def place(self) -> tuple[str, str]:
        return self.scope, self.setting.id


@dataclass(frozen=True, slots=True)
class Odds:
    """How likely a setting was put back, in percent, why, and how that is known."""

    percent: int
    why: str
    source: Provenance


def held(rig: Rig, device: Device, version: str) -> list[Held]:
    """Every value of a box that an update to `version` may have put back. Values nobody has seen are none of them: the
    run sheet has them as not seen.
    """
    since = {a.setting: a for a in after_updates(rig, device.uid, here=True) if a.version == version}
    out = []
    for (uid, scope, key), value in rig.settings.items():
        setting = device.profile.setting(key)
        if uid != device.uid or key == INPUT_KEY or setting is None:
            continue
        outcome = outcome_at(since.get(key), scope)
        stood = value.plan if outcome in ("came_back", "presumed") else value.found
        if stood is not None and stood != setting.default:
            out.append(Held(scope, setting, stood, setting.default, outcome))
    return out


def outcome_at(seen: AfterUpdate | None, scope: str) -> Outcome:
    """What was seen of a cell after the update."""
    if seen is None:
        return "open"
    if scope in seen.came_back:
        return "came_back"
    if scope in seen.presumed:
        return "presumed"
    if scope in seen.stayed:
        return "stayed"
    return "doubted" if scope in seen.doubted else "open"


def as_it_stood(rig: Rig, device: Device, values: Sequence[Held]) -> Rig:
    """The rig as found with every value as it stood before the update."""
    ops: list[Change] = [
        to_set((device.uid, h.scope, h.setting.id), h.value, "found")
        for h in values if h.outcome in ("came_back", "presumed")
    ]  # fmt: skip
    return apply(rig, ops)[0] if ops else rig


def put_back_at_once(device: Device, version: str) -> Iterator[tuple[UpdateResets, frozenset[str], bool | None]]:
    """The rules of a box's profile that act when a version is installed: which settings they put back together, and
    whether it is surely that version (None: nobody can tell).
    """
    for quirk in device.profile.quirks:
        if isinstance(quirk, UpdateResets):
            acts = True if quirk.firmware is None else quirk.firmware.holds(version)
            if acts is not False:
                yield quirk, frozenset(quirk.settings or (s.id for s in device.profile.settings)), acts


def odds_of(rig: Rig, device: Device, key: str, version: str, elsewhere: Sequence[AfterUpdate] = ()) -> Odds:
    """How likely an update to `version` put a setting back. elsewhere: what was seen at others of its kind."""
    rules = [(q, acts) for q, keys, acts in put_back_at_once(device, version) if key in keys]
    sure = next((q for q, acts in rules if acts and not q.comes_and_goes), None)
    if sure is not None:
        return Odds(KNOWN_PERCENT, sure.because, sure.source)
    if rules:
        return Odds(MAYBE_PERCENT, rules[0][0].because, rules[0][0].source)
    here = [a for a in after_updates(rig, device.uid, here=True) if a.setting == key and a.version != version]
    others = [a for a in elsewhere if a.setting == key]
    weighed = [(a, 1 if a.version != version else SAME_VERSION_COUNTS) for a in (*here, *others)]
    came = sum(n for a, n in weighed if a.came_back)
    stayed = sum(n for a, n in weighed if a.stayed and not a.came_back)
    if came or stayed:
        percent = (USUAL_PERCENT * _USUAL_WEIGHT + 100 * came) // (_USUAL_WEIGHT + came + stayed)
        return Odds(percent, _told(here, others), "measured_here" if here else "measured_elsewhere")
    if any(path.startswith(f"{CAME_BACK_FACT}.{key}.") for path in rig.device_facts(device.uid)):
        return Odds(REVERTED_PERCENT, "it reverted once, by the box itself or by its path", "measured_here")
    return Odds(USUAL_PERCENT, "nothing is known of it; settings come back by themselves after updates", "guess")


def _told(here: Sequence[AfterUpdate], others: Sequence[AfterUpdate]) -> str:
    """`came back here with 3.3, stayed at another with 3.4`."""
    seen = [(a, "here") for a in here] + [(a, "at another of these") for a in others]
    words = {f"{'came back' if a.came_back else 'stayed'} {where} with {a.version}": None for a, where in seen}
    return ", ".join(words)
