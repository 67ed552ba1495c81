"""“It lags”: what may be behind it on a run, ranked by what the model knows and what was seen on the screen.

The one question that divides the causes is whether the game options can be chosen. If they can, game mode is off;
if they are greyed out, the screen mostly shows another input than the console's. Common practice. Weights are whole
numbers of our own: they say an order, not a probability, and what is known from the rig goes over them.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

from wavilex.core.advise.situation import boxes_of
from wavilex.core.advise.solve import solve
from wavilex.core.advise.wishes import Wish
from wavilex.core.chain.notes import notes
from wavilex.core.chain.paths import Layer, facts_of_want
from wavilex.core.chain.reasons import render
from wavilex.core.chain.results import RunResult
from wavilex.core.fault.shapes import CauseOut
from wavilex.core.gear.quirks import AddsLag, Excludes, Requires
from wavilex.core.gear.setting import Setting
from wavilex.core.gear.words import condition_words
from wavilex.core.rig.model import Socket
from wavilex.core.rig.ops import Change, SelectInput, to_set

SEEN = ("available", "greyed", "not_looked")


@dataclass(frozen=True, slots=True)
class Cause:
    """weight: the greater the likelier. check: what decides it. ops: what mends it in the plan, if the model can."""

    id: str
    title: str
    why: str
    check: str
    weight: int
    ops: tuple[Change, ...] = ()


def causes(layer: Layer, result: RunResult, seen: str = "not_looked") -> list[Cause]:
    """The causes of lag on a run, likeliest first. seen: are the game options available, greyed, or not looked at?

    Raises ValueError for another word.
    """
    if seen not in SEEN:
        raise ValueError(f"game options are {', '.join(SEEN)}, not {seen!r}")
    found = list(_not_joined(layer, result))
    if result.path:
        found += [*_game_off(layer, result, seen), *_wrong_input(layer, result, seen),
                  *_greyed_by(layer, result, seen), *_processing(layer, result), *_signal(layer, result)]  # fmt: skip
        found.append(Cause("title", "The title or its own settings", "a title may wait for frames of its own",
                           "Another title on the same input: quick there?", 5))  # fmt: skip
    return sorted(found, key=lambda c: -c.weight)


def _not_joined(layer: Layer, result: RunResult) -> Iterator[Cause]:
    if not result.path:
        yield Cause("not_joined", "The run is not plugged in", "no lead joins source and screen in this model",
                    "Follow the lead from the source", 100)  # fmt: skip


def _game_setting(layer: Layer, result: RunResult) -> tuple[Setting, str] | None:
    profile, inp = layer.rig.devices[result.run.sink].profile, result.path[-1].inp
    own = (s for s in profile.settings if s.effect == "game_mode" and (not s.ports or inp.port in s.ports))
    setting = next(own, None)
    return (setting, inp.port if setting.ports else "") if setting else None


def _game_off(layer: Layer, result: RunResult, seen: str) -> Iterator[Cause]:
    game = _game_setting(layer, result)
    screen = layer.rig.devices[result.run.sink]
    weight = {"available": 80, "greyed": 10, "not_looked": 50}[seen]
    title, why = "Game mode is off", "processing stays on: lag is several times as long"
    if game is None:
        yield Cause("game_off", title, f"{why}; {screen.label}’s profile names no game mode",
                    "Look for it with the finder on Gear", weight // 2)  # fmt: skip
        return
    setting, port = game
    scope = layer.scope(screen, setting, port, facts_of_want(result.run.want))
    found = layer.rig.setting_value("found", screen.uid, scope, setting)
    if found == "off":
        weight, why = weight + 15, f"{why}; it was found at {setting.option_label(found)}"
    elif found is not None:
        weight, why = weight // 10, f"it was found at {setting.option_label(found)}, unless it went back"
    inert = [q for q in screen.profile.setting_quirks if q.kind == "inert" and q.setting == setting.id]
    if inert:
        why = f"{why}. But: {inert[0].because}"
    where = f" ({setting.where})" if setting.where else ""
    yield Cause("game_off", title, why, f"Open {setting.label}{where} on the console’s input", weight,
                () if found == "on" else _cure(layer, result))  # fmt: skip


def _cure(layer: Layer, result: RunResult) -> tuple[Change, ...]:
    """Game mode on, with whatever of the screen's own stands in its way put out of it first."""
    box = boxes_of(layer, result)[0]
    wish = Wish("game_mode", {"on": 2 * len(box.now) + 2}, "")  # more than leaving every other setting as it is
    solution = solve(box.device.profile, box.scope, [wish], box.now, box.around)
    gates = [p for p in solution.chosen if p in solution.gates]
    game = [p for p in solution.chosen if p not in solution.gates]
    return tuple(to_set(box.key(p), solution.chosen[p]) for p in (*gates, *game))


def _wrong_input(layer: Layer, result: RunResult, seen: str) -> Iterator[Cause]:
    inp = result.path[-1].inp
    shown = layer.rig.selected_input("found", inp.device)
    weight = {"available": 10, "greyed": 80, "not_looked": 25}[seen]
    why = "settings belong to the socket: on another input the game options are greyed out or somebody else’s"
    if shown is not None:
        name = layer.rig.socket_name(Socket(inp.device, shown))
        right = shown == inp.port
        weight = weight // 8 if right else weight + 15
        why = f"{why}; {name} was seen selected"
    op: SelectInput = {"op": "select_input", "device": inp.device, "value": inp.port}
    ops = () if shown == inp.port else (op,)
    yield Cause("wrong_input", f"Another input than {layer.rig.socket_name(inp)} is shown", why,
                f"Does the banner name {layer.rig.socket_name(inp)}?", weight, ops)  # fmt: skip


def _greyed_by(layer: Layer, result: RunResult, seen: str) -> Iterator[Cause]:
    """What else of the screen's own rules would grey game mode out."""
    game = _game_setting(layer, result)
    screen = layer.rig.devices[result.run.sink]
    if game is None:
        return
    setting, scope = game
    standing = layer.standing(screen, facts_of_want(result.run.want))
    for quirk in screen.profile.setting_quirks:
        others = quirk.when.settings() - {setting.id}
        if quirk.setting != setting.id or not isinstance(quirk, Requires | Excludes) or not others:
            continue
        words = condition_words(screen.profile, quirk.when)
        weight = {"available": 4, "greyed": 55, "not_looked": 15}[seen]
        known = [layer.rig.settings.get((screen.uid, s, k)) for (s, k) in standing if k in others and s in ("", scope)]
        if any(v is not None and v.found is not None for v in known):
            holds = standing[scope, setting.id].greyed is quirk or any(
                q is quirk for _, q in standing[scope, setting.id].barred
            )
            weight = weight + 30 if holds else weight // 8
        needs = f"needs {words}" if isinstance(quirk, Requires) else f"not while {words}"
        look = f"Look at {' and '.join(_labels(screen.profile, others))}"
        yield Cause(f"greyed_{quirk.id}", f"Something greys game mode out: {needs}", quirk.because, look, weight,
                    _cure(layer, result))  # fmt: skip


def _labels(profile: Any, keys: set[str]) -> list[str]:
    return [s.label for s in profile.settings if s.id in keys]


def _processing(layer: Layer, result: RunResult) -> Iterator[Cause]:
    """Anything a box adds while it is set as found."""
    for uid in dict.fromkeys(h.inp.device for h in result.path):
        device = layer.rig.devices[uid]
        for quirk in device.profile.quirks:
            if not isinstance(quirk, AddsLag) or quirk.when is None:
                continue
            keys = quirk.when.settings()
            if keys & {s.id for s in device.profile.settings if s.effect == "game_mode"}:
                continue  # that is game mode being off
            words = condition_words(device.profile, quirk.when)
            yield Cause(f"lag_{uid}_{quirk.id}", f"{device.label}: {words}",
                        f"{quirk.because}: {quirk.adds_ms:g} ms", f"Look at {', '.join(_labels(device.profile, keys))}",
                        30)  # fmt: skip


_SCALING = {"scaled_down": 35, "scaled_up": 15}


_SLOWER = ("source_prefers", "panel_rate", "link_rate", "no_compression")


def _signal(layer: Layer, result: RunResult) -> Iterator[Cause]:
    """A signal that costs lag: scaled on the way, or slower than wanted."""
    for note in notes(layer, result):
        if note.code in _SCALING:
            yield Cause(note.code, "The picture is scaled on its way", render(note, layer.rig),
                        "What does the screen’s banner say it receives?", _SCALING[note.code])  # fmt: skip
    reason = result.limiting
    if reason is not None and not result.good and reason.code in _SLOWER:
        yield Cause("slower", "The signal is not the one wanted", render(reason, layer.rig),
                    "Read the rate off the banner while a title runs", 30)  # fmt: skip


def causes_data(layer: Layer, result: RunResult, seen: str = "not_looked") -> list[CauseOut]:
    """The causes as plain data, ranked from 1."""
    return [
        {"rank": n, "id": c.id, "title": c.title, "why": c.why, "check": c.check, "ops": list(c.ops)}
        for n, c in enumerate(causes(layer, result, seen), 1)
    ]
