"""Where one can see whether settings still stand: menu pages, cell by cell, and read-outs that the model says would
change. Which read-out tells of which setting is worked out, by putting each value back and reading again.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from typing import Literal

from wavilex.core.chain.carry import run_result
from wavilex.core.chain.paths import Layer, States
from wavilex.core.gear.cells import Spot, read_scope, said_by
from wavilex.core.gear.setting import Setting
from wavilex.core.gear.words import cell_words
from wavilex.core.modes.cells import spots
from wavilex.core.prove.line import Card, Kind
from wavilex.core.prove.readouts import readouts
from wavilex.core.rig.changes import apply
from wavilex.core.rig.model import Device, Rig, Run
from wavilex.core.rig.ops import to_set
from wavilex.core.ticks import key_of
from wavilex.core.visits.held import Held

Place = tuple[str, str]  # scope, setting
# seconds, about: common practice
PAGE_S, VALUE_S, CARD_S, CHANGE_S = 40, 5, 20, 20
_LONGER: dict[Kind, int] = {"title": 180, "list": 40, "page": 40}
_BELIEVED = ("reads", "promises", "proves")
_NO_LOOK: tuple[Kind, ...] = ("probe", "label", "home")


@dataclass(frozen=True, slots=True)
class Look:
    """One place to look at. places: the values it tells of; lines: of a read-out, what was to be read there before.

    cell: what the box must show meanwhile, in words; input: the input that is, "" any. run: of a read-out.
    """

    key: str
    kind: Literal["page", "card"]
    device: str
    title: str
    cell: str
    places: frozenset[Place]
    seconds: int
    input: str = ""
    run: str = ""
    card: str = ""
    lines: tuple[tuple[str, str], ...] = ()


def pages(layer: Layer, device: Device, settings: Iterable[tuple[str, Setting]]) -> list[Look]:
    """The menu pages of a box, in every cell that runs meet and every cell values are kept in; settings: what stands
    there, by scope.
    """
    met = dict.fromkeys(spot for spot, _ in spots(layer, device.uid))
    found: dict[tuple[Spot, str], list[tuple[str, Setting]]] = {}
    for scope, setting in settings:
        home = [spot for spot in met if spot.kept(setting.dimensions) == scope] or [read_scope(scope)]
        for spot in home:
            found.setdefault((spot, setting.where or setting.label), []).append((scope, setting))
    return [_page(device, spot, where, here) for (spot, where), here in found.items()]


def _page(device: Device, spot: Spot, where: str, here: Sequence[tuple[str, Setting]]) -> Look:
    places = frozenset((scope, s.id) for scope, s in here)
    by = tuple(dict.fromkeys(d for scope, _ in here for d in said_by(scope)))
    cell = cell_words(device.profile, spot.kept(by))
    key = key_of("look", device.uid, where, spot.kept(by))
    return Look(key, "page", device.uid, where, cell, places, PAGE_S + VALUE_S * len(places),
                read_scope(spot.kept(by)).input)  # fmt: skip


def cards(rig: Rig, device: Device, values: Sequence[Held], states: States | None = None) -> list[Look]:
    """The read-outs that would say something else were one of these values put back, on every run through the box."""
    asked = _asked_about(device)
    telling = [h for h in values if device.profile.role != "screen" or h.setting.id in asked]
    before = Layer(rig, "found", states)
    runs = runs_through(before, device.uid)
    shown = {run.uid: _by_key(readouts(before, run)) for run in runs}
    tells: dict[tuple[str, str], set[Place]] = {}
    for h in telling:
        back = apply(rig, [to_set((device.uid, h.scope, h.setting.id), h.back, "found")])[0]
        after = Layer(back, "found", before.states)
        for run in runs:
            now = _by_key(readouts(after, back.runs[run.uid]))
            for key, card in shown[run.uid].items():
                if _differs(card, now.get(key)):
                    tells.setdefault((run.uid, key), set()).add(h.place)
    return [_card(rig, device, run, shown[run.uid][key], frozenset(places))
            for run in runs for key in shown[run.uid] if (places := tells.get((run.uid, key)))]  # fmt: skip


def runs_through(layer: Layer, uid: str) -> list[Run]:
    """The runs whose way passes a box."""
    out = []
    for run in layer.rig.runs.values():
        path = run_result(layer, run).path
        if any(uid in (h.out.device, h.inp.device) for h in path):
            out.append(run)
    return out


def believed(card: Card) -> bool:
    """Does a read-out tell something of the settings, and not only what it was told?"""
    return card.trust in _BELIEVED and card.kind not in _NO_LOOK


def _by_key(cards: Sequence[Card]) -> dict[str, Card]:
    return {c.key: c for c in cards if believed(c)}


def _differs(before: Card, after: Card | None) -> bool:
    """Is a line sure to read otherwise?"""
    now = {x.key: x for x in after.lines} if after is not None else {}
    return any(
        x.says is not None and x.sure and (y := now.get(x.key)) is not None and y.sure and y.says not in (None, x.says)
        for x in before.lines
    )


def _card(rig: Rig, device: Device, run: Run, card: Card, places: frozenset[Place]) -> Look:
    box = rig.devices[card.device]
    lines = tuple((x.label, x.says) for x in card.lines if x.says is not None)
    return Look(
        key_of("read", run.uid, card.key), "card", device.uid, f"{box.label}: {card.place}", run.label, places,
        CARD_S + _LONGER.get(card.kind, 0), card.port if card.device == device.uid else "", run.uid, card.key, lines,
    )  # fmt: skip


def _asked_about(device: Device) -> set[str]:
    """Settings that any rule of a box asks about: no other can change a signal or what is said of it."""
    named = {name for when in device.profile.conditions for name in when.settings()}
    return named | {q.setting for q in device.profile.setting_quirks}


def every(rig: Rig, device: Device) -> Iterator[str]:
    """A full re-check, by key: every menu page of the box in every cell, and every read-out of every run through it."""
    layer = Layer(rig, "found")
    spots_met = [spot for spot, _ in spots(layer, device.uid)]
    kept = {(scope, key) for (uid, scope, key) in rig.settings if uid == device.uid}
    places = []
    for setting in device.profile.settings:
        scopes = {spot.kept(setting.dimensions) for spot in spots_met if not setting.ports or spot.input}
        scopes |= {scope for scope, key in kept if key == setting.id}
        if not setting.dimensions:
            scopes = {""}
        places += [(scope, setting) for scope in sorted(scopes)]
    yield from (look.key for look in pages(layer, device, places))
    for run in runs_through(layer, device.uid):
        yield from (key_of("read", run.uid, c.key) for c in readouts(layer, run) if c.kind not in _NO_LOOK)
