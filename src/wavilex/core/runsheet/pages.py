"""Settings to be made, gathered into menu pages in an order that holds: what resets or frees others goes first."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace

from wavilex.core.gear.cells import read_scope, said_by
from wavilex.core.gear.quirks import Forces, Resets
from wavilex.core.gear.setting import Setting
from wavilex.core.rig.model import Device, Rig, SettingValue

MOST_ON_A_PAGE = 6
Placed = tuple[str, str, str]  # device, scope, setting


@dataclass(frozen=True, slots=True)
class ToSet:
    """One value to set: the setting at its cell, as found and as planned. phase: of the run sheet."""

    device: Device
    scope: str
    setting: Setting
    value: SettingValue
    phase: str

    @property
    def plan(self) -> str:
        return self.value.plan or ""

    @property
    def place(self) -> Placed:
        return self.device.uid, self.scope, self.setting.id


Page = tuple[ToSet, ...]


def meet(a: str, b: str) -> bool:
    """Can two cells be met by one picture: do they differ in nothing that both tell apart?"""
    one, other = read_scope(a), read_scope(b)
    return all(one.value(d) == other.value(d) for d in said_by(a) if d in said_by(b))


def resets(device: Device, setting: Setting, to: str) -> Iterator[tuple[Resets, Sequence[Setting]]]:
    """What setting something puts back: each rule that acts, with the settings it puts back."""
    for quirk in device.profile.quirks:
        if not isinstance(quirk, Resets) or quirk.setting != setting.id or (quirk.options and to not in quirk.options):
            continue
        if quirk.firmware is not None and quirk.firmware.holds(device.firmware_in("plan")) is False:
            continue
        others = [s for s in device.profile.settings if s.id != setting.id]
        yield quirk, [s for s in others if (s.id in quirk.resets if quirk.resets else s.in_cells)]


Before = Mapping[Placed, set[Placed]]


def before_of(items: Sequence[ToSet]) -> Before:
    """For each value, those that are set before it: what it hangs on, and what would put it back."""
    out: dict[Placed, set[Placed]] = {}
    undone = {o.place: {s.id for _, put in resets(o.device, o.setting, o.plan) for s in put} for o in items}
    of_box: dict[str, list[ToSet]] = {}
    for item in items:
        of_box.setdefault(item.device.uid, []).append(item)
    for item in items:
        hangs = set[str]()
        for quirk in item.device.profile.quirks_of_setting.get(item.setting.id, ()):
            if not isinstance(quirk, Forces):
                hangs |= quirk.when.settings()
        for other in of_box[item.device.uid]:
            first = other.setting.id in hangs or item.setting.id in undone[other.place]
            if first and other.place != item.place and meet(other.scope, item.scope):
                out.setdefault(item.place, set()).add(other.place)
    return out


def pages_of(items: Sequence[ToSet], before: Before) -> list[Page]:
    """Values in an order that holds, neighbours on one menu page together. before: of `before_of`.

    What hangs on each other both ways is done as listed. A source asks after every change whether to keep it, and a
    port’s format makes the picture drop: each of these is a page of its own.
    """
    left = list(items)
    pages: list[list[ToSet]] = []
    waiting = {i.place for i in items}
    while left:
        free = [i for i in left if not (before.get(i.place, set()) & waiting) - {i.place}] or left[:1]
        last = pages[-1][-1] if pages else None
        same = [i for i in free if last is not None and _page(i) == _page(last)]
        item = same[0] if same else next((i for i in free if last is not None and _near(i, last)), free[0])
        if same and len(pages[-1]) < MOST_ON_A_PAGE and _shared(item):
            pages[-1].append(item)
        else:
            pages.append([item])
        left.remove(item)
        waiting.discard(item.place)
    return [tuple(p) for p in pages]


def _near(item: ToSet, last: ToSet) -> bool:
    """Is it set without leaving the box and the cell in hand?"""
    return item.device.uid == last.device.uid and meet(item.scope, last.scope)


def _page(item: ToSet) -> tuple[str, str, str, str]:
    return item.device.uid, item.scope, item.phase, item.setting.where


def _shared(item: ToSet) -> bool:
    return item.phase != "source" and not item.setting.resync and bool(item.setting.where)


def put_back(rig: Rig, item: ToSet) -> Iterator[ToSet]:
    """Values that stand as planned and that setting something puts back: they are to be set again after it."""
    for _, settings in resets(item.device, item.setting, item.plan):
        names = {s.id: s for s in settings}
        for (uid, scope, key), value in rig.settings.items():
            if uid != item.device.uid or key not in names or not meet(scope, item.scope):
                continue
            stands, planned = value.found or value.plan, value.plan or value.found
            if planned is not None and stands == planned and planned != names[key].default:
                yield ToSet(item.device, scope, names[key], replace(value, plan=planned), item.phase)
