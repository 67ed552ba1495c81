"""After an update: the shortest list of looks that finds every setting that came back, and what an answer leads to.

Each setting is looked at in one cell at least, and each cell at one setting at least: an update puts a setting back in
every cell, or a cell as a whole (common practice). Where one came back, its other cells are taken to have come back
too, unseen, and are set again from the run sheet; all else of that cell is doubted, unless something of it was seen to
have stayed. A read-out that says something else makes every value it tells of doubtful. What is in doubt is looked at
in its menu.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from fractions import Fraction

from wavilex.core.chain.paths import Layer, States
from wavilex.core.errors import ChangeError
from wavilex.core.rig.model import AFTER_UPDATE_FACT, Device, Rig
from wavilex.core.rig.ops import Change, SetFact, to_set
from wavilex.core.rig.visit_facts import AfterUpdate, after_path, after_updates
from wavilex.core.runsheet.pages import meet
from wavilex.core.visits.cover import cheapest
from wavilex.core.visits.held import MAYBE_PERCENT, Held, Odds, as_it_stood, held, odds_of, put_back_at_once
from wavilex.core.visits.looks import CHANGE_S, Look, Place, cards, every, pages

Unit = tuple[str, ...]  # ("setting", id), ("cell", scope), ("value", scope, id)


@dataclass(frozen=True, slots=True)
class Step:
    """A look with the share of all risk that is covered once it is done, in percent of that at the start."""

    look: Look
    covered_percent: int


@dataclass(frozen=True, slots=True)
class Recheck:
    """values: all at risk; odds by setting; steps: still to do, in order; full: how many a full re-check takes; looked:
    of how many values something is known.
    """

    device: Device
    version: str
    values: tuple[Held, ...]
    odds: Mapping[str, Odds]
    steps: tuple[Step, ...]
    full: int
    looked: int

    def outcomes(self, outcome: str) -> list[Held]:
        return [h for h in self.values if h.outcome == outcome]


def recheck(
    rig: Rig, uid: str, version: str, states: States | None = None, elsewhere: Sequence[AfterUpdate] = ()
) -> Recheck:
    """What is still to be looked at on a box that was brought to a version. Raises ChangeError for no such box.

    elsewhere: how settings stood after updates at others of its kind, beside what the job has of that.
    """
    device = rig.devices.get(uid)
    if device is None:
        raise ChangeError(f"there is no device {uid!r}", where="device")
    values = held(rig, device, version)
    stood = as_it_stood(rig, device, values)
    others = [*after_updates(rig, uid, here=False), *elsewhere]
    odds = {key: odds_of(rig, device, key, version, others) for key in dict.fromkeys(h.setting.id for h in values)}
    looks = pages(Layer(stood, "found", states), device, [(h.scope, h.setting) for h in values])
    if any(h.outcome == "open" for h in values):
        looks += cards(stood, device, [h for h in values if h.outcome == "open"], states)
    needed = _units(values)
    tells = [_tells(look, values) for look in looks]
    chosen = cheapest([look.seconds for look in looks], tells, needed)
    steps = _ordered([(looks[n], tells[n] & needed) for n in chosen], _weights(values, odds), needed)
    return Recheck(device, version, tuple(values), odds, tuple(steps), len(set(every(stood, device))),
                   sum(h.outcome != "open" for h in values))  # fmt: skip


def still_open(rig: Rig, device: Device, version: str) -> bool:
    """Is anything left to look at after an update?"""
    return bool(_units(held(rig, device, version)))


def _units(values: Sequence[Held]) -> set[Unit]:
    """What is still to be seen: settings and cells that nobody looked at, and values in doubt."""
    settled = {h.setting.id for h in values if h.outcome in ("stayed", "came_back", "presumed")}
    looked = {h.scope for h in values if h.outcome not in ("open", "doubted")}
    needed: set[Unit] = {("setting", h.setting.id) for h in values if h.setting.id not in settled}
    needed |= {("cell", h.scope) for h in values if h.scope and h.scope not in looked}
    return needed | {("value", *h.place) for h in values if h.outcome == "doubted"}


def _tells(look: Look, values: Sequence[Held]) -> set[Unit]:
    """What a look settles; of what is in doubt, only the menu itself does."""
    found: set[Unit] = set()
    for h in values:
        if h.place in look.places and (look.kind == "page" or h.outcome == "open"):
            found |= {("cell", h.scope), ("setting", h.setting.id), ("value", *h.place)}
    return found


def _weights(values: Sequence[Held], odds: Mapping[str, Odds]) -> dict[Unit, int]:
    """How much risk lies in a setting, in a value in doubt; little in a cell beside the settings it holds."""
    weights: dict[Unit, int] = {("setting", key): o.percent for key, o in odds.items()}
    return weights | {("value", *h.place): MAYBE_PERCENT for h in values if h.outcome == "doubted"}


def _ordered(chosen: Sequence[tuple[Look, set[Unit]]], weights: Mapping[Unit, int], needed: set[Unit]) -> list[Step]:
    """The most risk for the time first; changing over to another input takes time too."""
    left, out = list(chosen), []
    total = sum(weights.get(u, 1) for u in needed) or 1
    seen: set[Unit] = set()
    shown = ""

    def worth(look: Look, tells: set[Unit]) -> Fraction:
        change = CHANGE_S if look.input not in ("", shown) else 0
        return Fraction(sum(weights.get(u, 1) for u in tells - seen), look.seconds + change)

    while left:
        best = max(left, key=lambda x: (worth(*x), x[0].key))
        left.remove(best)
        shown = best[0].input or shown
        seen |= best[1]
        out.append(Step(best[0], 100 * sum(weights.get(u, 1) for u in seen) // total))
    return out


def stays(rig: Rig, found: Recheck, look: Look, day: str) -> list[Change]:
    """Everything is as it was at a look."""
    return _noted(rig, found, dict.fromkeys(look.places, "stayed"), {}, day)


def differs(rig: Rig, found: Recheck, look: Look, day: str) -> list[Change]:
    """A read-out says something else: which of its settings did it nobody knows yet."""
    return _noted(rig, found, dict.fromkeys(look.places, "doubted"), {}, day)


def came_back(rig: Rig, found: Recheck, look: Look, back: Mapping[Place, str], day: str) -> list[Change]:
    """At a menu page some settings stand otherwise: at which value. The others stayed. Raises ChangeError for a value
    that is none of that page's, or that it had before.
    """
    by_place = {h.place: h for h in found.values}
    for place, value in back.items():
        if place not in look.places or place not in by_place:
            raise ChangeError(f"{place[1]} is not on that page", where="back")
        if value == by_place[place].value or by_place[place].setting.read(value) != value:
            raise ChangeError(f"{by_place[place].setting.label} cannot have come back to {value!r}", where="back")
    said = {p: "came_back" if p in back else "stayed" for p in look.places}
    keys = {key for _, key in back}
    stayed = {h.scope for h in found.values if said.get(h.place, h.outcome) == "stayed" and h.scope}
    cells = {scope for scope, _ in back if scope and not any(meet(scope, other) for other in stayed)}
    together = set(keys)
    for _, group, acts in put_back_at_once(found.device, found.version):
        if acts and group & keys:
            together |= group
    for h in found.values:
        if h.place in said or h.outcome not in ("open", "doubted"):
            continue
        if h.setting.id in together:
            said[h.place] = "presumed"
        elif h.scope and any(meet(h.scope, scope) for scope in cells):
            said[h.place] = "doubted"
    return _noted(rig, found, said, back, day)


def _noted(
    rig: Rig, found: Recheck, said: Mapping[Place, str], back: Mapping[Place, str], day: str
) -> list[Change]:  # fmt: skip
    """The changes that keep what was seen: of each setting, and where it came back the value found, the one planned."""
    uid, ops = found.device.uid, list[Change]()
    before = {a.setting: a for a in after_updates(rig, uid, here=True) if a.version == found.version}
    by_place = {h.place: h for h in found.values}
    for key in dict.fromkeys(key for _, key in said):
        own = {scope: outcome for (scope, k), outcome in said.items() if k == key}
        old = before.get(key) or AfterUpdate(setting=key, version=found.version)
        came = {s: v for s, v in old.came_back.items() if s not in own}
        came |= {s: back[s, key] for s, outcome in own.items() if outcome == "came_back"}
        kept = {
            name: tuple(sorted({s for s in getattr(old, name) if s not in own} | {s for s in own if own[s] == name}))
            for name in ("stayed", "doubted", "presumed")
        }
        fact = AfterUpdate(setting=key, version=found.version, day=day, came_back=came, **kept)
        change: SetFact = {
            "op": "set_fact", "device": uid, "path": after_path(found.version, key),
            "value": fact.model_dump(mode="json", exclude_defaults=True),
        }  # fmt: skip
        ops.append(change)
    for place, outcome in said.items():
        if outcome in ("came_back", "presumed") and by_place[place].outcome not in ("came_back", "presumed"):
            scope, key = place
            ops.append(to_set((uid, scope, key), by_place[place].value))
            ops.append(to_set((uid, scope, key), back.get(place), "found"))
    return ops


def forgotten(rig: Rig, uid: str) -> list[Change]:
    """The changes that take back all that was noted of a box after its last update."""
    return [
        {"op": "set_fact", "device": uid, "path": path, "value": None}
        for path in rig.device_facts(uid) if path.startswith(f"{AFTER_UPDATE_FACT}.")
    ]  # fmt: skip
