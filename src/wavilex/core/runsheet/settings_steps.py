"""Steps that set things in menus, that look at what nobody has seen yet, and that look again at what comes back."""

from __future__ import annotations

from collections.abc import Collection, Iterator, Mapping, Sequence
from dataclasses import replace

from wavilex.core.advise.settings_plan import returning, settings_plan
from wavilex.core.chain.paths import Layer
from wavilex.core.gear.cells import read_scope
from wavilex.core.gear.quirks import Excludes, Requires
from wavilex.core.gear.setting import Setting
from wavilex.core.gear.words import condition_words, frees_words
from wavilex.core.rig.model import CAME_BACK_FACT, Device, Rig, SettingValue, Socket
from wavilex.core.rig.ops import Change, to_set
from wavilex.core.runsheet.pages import Page, Placed, ToSet, before_of, pages_of, put_back
from wavilex.core.runsheet.step import Step, hand_of
from wavilex.core.ticks import key_of

_LIMITING = ("tmds_mhz", "frl", "modes", "encodings", "hdr", "vrr", "dsc")
_RESYNC_WAIT_S = 15


def _phase(device: Device, setting: Setting) -> str:
    """Formats of ports first, then what sources send, then everything else."""
    opens = any(
        setting.id in q.when.settings() and any(getattr(q.limits, f) is not None for f in _LIMITING)
        for q in device.profile.limits
        if q.when is not None
    )
    if device.profile.role == "source":
        return "source"
    return "ports" if opens else "range" if setting.in_cells else "screen"


def setting_steps(layer: Layer, before: str, done: Collection[str] = ()) -> list[Step]:
    """A step for every menu page with values to set; what a page puts back is set again after it. done: keys of steps
    that were ticked: what follows one of them stays to be done.
    """
    items, because = _to_set(layer)
    steps: list[Step] = []
    key_at: dict[tuple[str, str, str], str] = {}
    first = before_of(items)
    for page in pages_of(items, first):
        own = {i.place for i in page}
        needs = [key_at[p] for i in page for p in first.get(i.place, ()) if p in key_at and p not in own]
        waits = tuple(dict.fromkeys([*([before] if before else []), *needs]))
        made = _page_step(layer, page, waits, because)
        key_at |= dict.fromkeys(own, made.key)
        steps.append(made)
        if page[0].setting.resync and page[0].phase == "ports":
            steps.append(_resync(page[0], made.key))
    return [*steps, *_resyncs_left(layer, done)]


def _to_set(layer: Layer) -> tuple[list[ToSet], Mapping[Placed, str]]:
    """Every value planned otherwise than found, and those that one of these puts back, with why."""
    rig = layer.rig
    items = {
        place: ToSet(rig.devices[place[0]], place[1], setting, value, _phase(rig.devices[place[0]], setting))
        for place, value in rig.settings.items()
        if (setting := rig.devices[place[0]].profile.setting(place[2])) is not None
        and value.plan is not None and value.plan != value.found
    }  # fmt: skip
    again: dict[Placed, ToSet] = {}
    because: dict[Placed, str] = {}
    for item in items.values():
        for put in put_back(rig, item):
            if put.place not in items:
                again[put.place] = replace(put, phase=_phase(put.device, put.setting))
                because[put.place] = f"{item.setting.label} puts it back"
    return [(items | again)[place] for place in rig.settings if place in items or place in again], because


def _resync(item: ToSet, first: str) -> Step:
    return Step(
        key_of("resync", item.device.uid, item.scope, item.plan),
        item.phase,
        f"Re-sync at {item.device.place(item.scope)}: pull and plug both ends, or power-cycle",
        item.device.room,
        "the picture drops when a port’s format changes",
        "The picture is back",
        "Swap the lead for a known good one before you blame the port",
        1,
        _RESYNC_WAIT_S,
        needs=(first,),
    )


def _resyncs_left(layer: Layer, done: Collection[str]) -> Iterator[Step]:
    """A port whose format was set on this sheet is still to be re-synced."""
    for (uid, scope, key), value in layer.rig.settings.items():
        device = layer.rig.devices[uid]
        setting = device.profile.setting(key)
        if setting is None or not setting.resync or value.plan is None or value.plan != value.found:
            continue
        item = ToSet(device, scope, setting, value, _phase(device, setting))
        set_key = key_of("set", *item.place, item.plan)
        if item.phase == "ports" and set_key in done:
            yield _resync(item, set_key)


def _said(item: ToSet) -> str:
    return f"{item.setting.label} → {item.setting.option_label(item.plan or item.value.found or '')}"


def _page_step(layer: Layer, page: Page, needs: tuple[str, ...], because: Mapping[Placed, str]) -> Step:
    item = page[0]
    device, scope, setting, phase = item.device, item.scope, item.setting, item.phase
    place, one = device.place(scope), len(page) == 1
    key = key_of("set", *item.place, item.plan) if one else key_of("set", *((i.place, i.plan) for i in page))
    found = [
        f"{'' if one else f'{i.setting.label} '}was {i.setting.option_label(i.value.found)}"
        for i in page if i.value.found and i.place not in because
    ]  # fmt: skip
    unseen = [i.setting.label for i in page if not i.value.found]
    nobody = "nobody noted what it was" if one else f"nobody noted {' and '.join(unseen)}"
    back = [i.setting.label for i in page if _came_back(layer.rig, i)]
    again = [f"{' and '.join(back)} reverted at such a box in another job: look again after a while"] if back else []
    where = [setting.where] if setting.where else []
    puts = list(dict.fromkeys(because[i.place] for i in page if i.place in because))
    why = "; ".join([*found, *([nobody] if unseen else []), *puts, *again, *where])
    return Step(
        key,
        phase,
        f"{place}: {'; '.join(_said(i) for i in page)}",
        device.room,
        why,
        "A picture, before you say keep"
        if phase == "source"
        else f"It stays at {setting.option_label(item.plan)}"
        if one
        else "All stay as set",
        _if_not(layer, device, scope, setting, item.plan),
        setting.minutes if one else max(i.setting.minutes for i in page) + (len(page) - 1) // 3,
        keep=phase == "source",
        needs=needs,
        hand=hand_of(device.profile.kind) if phase == "source" else "",
        ops=tuple(op for i in page for op in _ticked(layer.rig, i)),
    )


def _ticked(rig: Rig, item: ToSet) -> Iterator[Change]:
    """What a tick notes: the value stands; what it put back stands no longer, and is planned to come again."""
    yield to_set(item.place, item.plan, "found")
    for put in put_back(rig, item):
        if put.value.found is not None:
            yield to_set(put.place, put.plan)
            yield to_set(put.place, None, "found")


def _came_back(rig: Rig, item: ToSet) -> bool:
    """Did the planned value revert at a box of this kind, in another job?"""
    fact = rig.facts.get((item.device.uid, f"{CAME_BACK_FACT}.{item.setting.id}.{item.plan}"))
    return fact is not None and fact.value == item.scope


def _if_not(layer: Layer, device: Device, scope: str, setting: Setting, plan: str) -> str:
    """What to do where a setting cannot be made: what bars it as found, where that is known; else what may."""
    spot = read_scope(scope)
    stands = Layer(layer.rig, "found", layer.states).standing(device, spot=spot)[spot.input, setting.id]
    known = stands.greyed or next((q for option, q in stands.barred if option == plan), None)
    if known is not None:
        return f"Greyed out as found: {known.because}; {frees_words(device.profile, known)}"
    rules = [
        q for q in device.profile.setting_quirks
        if q.setting == setting.id and isinstance(q, Requires | Excludes) and (not q.options or plan in q.options)
    ]  # fmt: skip
    if not rules:
        return "Leave the menu and look again; some settings come back by themselves"
    return "Greyed out? " + "; or ".join(f"{q.because}: {frees_words(device.profile, q)}" for q in rules[:3])


def unseen_steps(layer: Layer, before: str) -> Iterator[Step]:
    """Settings that matter and stand as they should, as far as anybody knows: nobody has seen them yet."""
    rig = layer.rig
    by_box: dict[tuple[str, str], list[tuple[Setting, str]]] = {}
    for (uid, scope, name), row in settings_plan(layer).rows.items():
        device = rig.devices[uid]
        setting = device.profile.setting(name)
        value = rig.settings.get((uid, scope, name), SettingValue())
        if setting is None or value.found is not None or value.plan is not None:
            continue
        if rig.setting_value(layer.name, uid, scope, setting) == row.value:
            by_box.setdefault((uid, scope), []).append((setting, row.value))
    for (uid, scope), rows in by_box.items():
        device = rig.devices[uid]
        place = device.place(scope)
        words = [f"{s.label} is {s.option_label(v)}" for s, v in rows]
        yield Step(
            key_of("seen", uid, scope, tuple((s.id, v) for s, v in rows)),
            "source" if device.profile.role == "source" else "screen",
            f"{place}: see that {'; '.join(words)}",
            device.room,
            "assumed so far: nobody has looked",
            "All stand as said",
            "Note what it really is on Gear: the plan follows",
            1 + len(rows) // 3,
            needs=(before,) if before else (),
            hand=hand_of(device.profile.kind) if device.profile.role == "source" else "",
            ops=tuple(
                to_set((uid, scope, s.id), v, "found") for s, v in rows
            ),
        )  # fmt: skip


def recheck_steps(rig: Rig, sockets: Sequence[Socket]) -> Iterator[Step]:
    """What boxes on the way put back by themselves: looked at again once the sheet's settings are made."""
    for uid in dict.fromkeys(s.device for s in sockets):
        device = rig.devices[uid]
        for quirk in returning(device):
            setting = device.profile.setting(quirk.setting)
            if setting is None:
                continue
            yield Step(
                key_of("again", uid, quirk.id, device.firmware_in("plan")),
                "prove",
                f"{device.label}: look at {setting.label} again after a start of game mode",
                device.room,
                f"{quirk.because}; with {condition_words(device.profile, quirk.when)}",
                f"It has not gone back to {setting.option_label(quirk.to)}",
                "Set it again, tell the client that it returns, and look for firmware that ends it",
                2,
            )
