"""A world: the scene with some faults in it, and all that it predicts: every read-out, every complaint, every look.

A read-out that nobody could tell is None, and says nothing for or against. Lines keep the names they have where
nothing is wrong, so that what was seen there can be held against every world.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from types import MappingProxyType

from wavilex.core.chain.carry import run_result
from wavilex.core.chain.paths import Layer
from wavilex.core.chain.results import RunResult
from wavilex.core.errors import WavilexError
from wavilex.core.fault.complaints import COMPLAINTS, HALF, NOTHING, OFTEN, Felt, felt
from wavilex.core.fault.fault import Effect, Fault
from wavilex.core.fault.scene import Scene
from wavilex.core.gear.own_faults import Complaint
from wavilex.core.link.check import check_link
from wavilex.core.prove.arrival import Arrival, arrival
from wavilex.core.prove.line import HELD, NO, Card, line_key
from wavilex.core.prove.pages import MOVES, NO_PICTURE
from wavilex.core.prove.rate import FELL, RateTest, line_of, rate_tests
from wavilex.core.prove.rate import HELD as HELD_AT
from wavilex.core.prove.readouts import readouts
from wavilex.core.rig.changes import apply
from wavilex.core.rig.model import Run, Socket
from wavilex.core.video.mode import Mode, parse_mode
from wavilex.core.video.signal import demand

_SLOW_HZ = 60
_OTHER_SIZE = 0.6  # of clients who say that the fast rate is not offered, where it is at a smaller picture
LAG, OVER = "lag", "over"  # the look that is a measurement, and what it says where it lags
_FIGURES = ("mode", "rate", "in.mode", "out.mode")  # lines that say what arrives


@dataclass(frozen=True)
class World:
    """lines: what each read-out says, by its name in the scene. unsure: those that rest on something not known.

    felt: how likely each complaint is, and why. looks: what a look at a setting, a plug, a version shows, where it
    differs from what was noted.
    """

    faults: tuple[Fault, ...]
    lines: Mapping[str, str | None]
    unsure: frozenset[str]
    felt: Mapping[Complaint, Felt]
    looks: Mapping[str, str]
    result: RunResult


def cards_of(scene: Scene) -> list[Card]:
    """The read-outs of a scene where nothing is wrong, the source's own page among them."""
    return readouts(scene.layer, scene.run, scene.result, probed=True)


@dataclass(frozen=True)
class Asked:
    """What is asked of every world: lines by box, place and their own name, and the modes of a rate test."""

    names: Mapping[tuple[str, str, str], str]
    tests: tuple[RateTest, ...]


def asked_of(scene: Scene, cards: Sequence[Card]) -> Asked:
    """What can be read of a scene."""
    tests = tuple(rate_tests(scene.layer, scene.result)) if scene.result.stations else ()
    return Asked({(c.device, c.kind, x.key): line_key(c, x) for c in cards for x in c.lines}, tests)


def world_of(scene: Scene, asked: Asked, faults: Sequence[Fault]) -> World | None:
    """What a rig with these faults would show; None where they cannot be together."""
    names = asked.names
    ops = [op for f in faults for op in f.ops]
    try:
        rig = apply(scene.layer.rig, ops)[0] if ops else scene.layer.rig
    except WavilexError:
        return None
    layer = Layer(rig, "found", scene.layer.states) if ops else scene.layer
    effects = [f.effect for f in faults if f.effect is not None]
    run = _as_sent(rig.runs[scene.run.uid], effects)
    result = run_result(layer, run)
    arrived = arrival(layer, result) if result.path else None
    lines: dict[str, str | None] = dict.fromkeys(names.values())
    unsure = set(names.values())
    if result.path:
        for card in readouts(layer, run, result, probed=True):
            for x in card.lines:
                name = names.get((card.device, card.kind, x.key))
                if name is not None:
                    lines[name] = x.says
                    if x.sure:
                        unsure.discard(name)
    complaints = felt(layer, result, arrived) if arrived is not None else _unjoined()
    _not_listed(scene, names, lines, complaints)
    _not_shown(scene, layer, lines, unsure, complaints)
    for effect in effects:
        _bring(scene, effect, lines, unsure, complaints)
    if any(e.way == "slow_title" for e in effects):
        _asked_for_more(scene, arrived, lines, complaints)
    lines |= _rates(asked, result)
    looks = {key: value for f in faults for key, value in f.shows}
    if complaints["lags"].likely >= HALF:
        looks[LAG] = OVER
    return World(tuple(faults), MappingProxyType(lines), frozenset(unsure), complaints, looks, result)


def _rates(asked: Asked, result: RunResult) -> dict[str, str | None]:
    """What a rate test would do here: a mode that no link stops holds; where it is not known, None."""
    found: dict[str, str | None] = {}
    for test in asked.tests:
        load = demand(test.signal)
        verdicts = {check_link(load, x.capacity).verdict for x in result.links}
        unsure = not verdicts or verdicts & {"unknown", "compressed"}
        found[line_of(test.over)] = FELL if "blocked" in verdicts else None if unsure else HELD_AT
    return found


def _not_listed(
    scene: Scene, names: Mapping[tuple[str, str, str], str], lines: Mapping[str, str | None],
    complaints: dict[Complaint, Felt],
) -> None:  # fmt: skip
    """What the source's own list lacks altogether is not offered there."""
    want, source = scene.run.want, scene.run.source
    listed = {key: lines.get(name) for (box, place, key), name in names.items() if (box, place) == (source, "list")}
    fast = [v for k, v in listed.items() if k.startswith("mode.") and parse_mode(k[len("mode.") :]).hz >= want.mode.hz]
    bright = [v for k, v in listed.items() if k.startswith("hdr.")]
    wanted: list[tuple[Complaint, list[str | None], bool]] = [
        ("not_offered", fast, want.mode.hz > _SLOW_HZ), ("no_hdr", bright, want.hdr != "off"),
        ("no_vrr", [listed["vrr"]] if "vrr" in listed else [], want.vrr),
    ]  # fmt: skip
    exact = listed.get(f"mode.{want.mode}") == NO
    if exact and want.mode.hz > _SLOW_HZ and complaints["not_offered"].likely < _OTHER_SIZE:
        complaints["not_offered"] = Felt(_OTHER_SIZE, f"the source’s own list lacks {want.mode.name}")
    for code, found, asked in wanted:
        if asked and found and all(v == NO for v in found) and complaints[code].likely < OFTEN:
            complaints[code] = Felt(OFTEN, "the source’s own list lacks it")


def _unjoined() -> dict[Complaint, Felt]:
    found = dict.fromkeys(COMPLAINTS, NOTHING)
    found["no_picture"] = Felt(0.95, "no lead joins source and screen")
    found["no_sound"] = Felt(0.6, "no lead joins source and screen")
    return found


def _as_sent(run: Run, effects: Sequence[Effect]) -> Run:
    """A title that asks for less than the want."""
    mode = run.want.mode
    if any(e.way == "slow_title" for e in effects) and mode.hz > _SLOW_HZ:
        return replace(run, want=replace(run.want, mode=Mode(mode.width, mode.height, _SLOW_HZ)))
    return run


def _asked_for_more(
    scene: Scene, arrived: Arrival | None, lines: dict[str, str | None], complaints: dict[Complaint, Felt]
) -> None:
    complaints["not_offered"] = Felt(0.8, "the title asks for 60 Hz")
    for name in lines:
        if name.endswith(f"/title/{HELD}"):
            lines[name] = NO if arrived is not None else None


def _not_shown(
    scene: Scene, layer: Layer, lines: dict[str, str | None], unsure: set[str], complaints: dict[Complaint, Felt]
) -> None:
    """A box on the way shows another input: what stands behind it is somebody else's picture, or none."""
    for uid, output, _port in scene.shown:
        now = layer.rig.selected_input("found", uid, output)
        here = next((h.inp for h in run_result(layer, scene.run).path if h.inp.device == uid), None)
        if now is None or here is None or now == here.port:
            continue
        other = layer.rig.devices[uid].profile.port(now)
        empty = layer.lead_at(Socket(uid, now)) is None
        why = f"{layer.rig.devices[uid].label} shows {other.label if other else now}"
        at = next(n for n, h in enumerate(scene.path) if h.inp.device == uid)
        for name in _behind(scene, at, lines):
            line = name.rpartition("/")[2]
            says = other.label if other is not None and line == "input" and name.startswith(f"{uid}/") else None
            if says is None and empty and line in _FIGURES:
                says = NO_PICTURE
            lines[name] = NO if line == HELD else says
            unsure.add(name)
        complaints["no_picture"] = Felt(0.95 if empty else 0.6, why)
        complaints["no_sound"] = Felt(0.6, why)
        if uid == scene.run.sink and any(x.effect == "game_mode" for x in layer.rig.devices[uid].profile.settings):
            complaints["greyed"] = Felt(0.75, f"{why}: the game options belong to the console’s input")
        if complaints["lags"].likely < 0.4:
            complaints["lags"] = Felt(0.4, f"{why}: its settings are another box’s")


def _behind(scene: Scene, hop: int, lines: Mapping[str, str | None]) -> list[str]:
    """The lines of the boxes that stand behind a hop, and of a title that runs there."""
    boxes = {h.inp.device for h in scene.path[max(hop, 0) :]}
    return [n for n in lines if n.partition("/")[0] in boxes]


def _bring(
    scene: Scene, effect: Effect, lines: dict[str, str | None], unsure: set[str], complaints: dict[Complaint, Felt]
) -> None:
    """An effect that is no change of the rig."""
    if effect.way in ("dead", "stuck"):
        for name in _behind(scene, effect.hop, lines):
            line = name.rpartition("/")[2]
            lines[name] = NO_PICTURE if line in _FIGURES else NO if line == HELD else None
            if line not in (*_FIGURES, HELD):
                unsure.add(name)
        if effect.hop <= 0:  # the source reads nothing at all
            source = scene.run.source
            for name in lines:
                if name.startswith(f"{source}/") and "/list/" in name and effect.way == "dead":
                    lines[name] = NO
                elif name.startswith(f"{source}/") and "/home/" not in name:
                    lines[name] = None
        complaints["no_picture"] = Felt(0.95, "nothing arrives")
        complaints["no_sound"] = Felt(0.6, "nothing arrives")
        complaints["drops_out"] = NOTHING
    elif effect.way == "drops":
        for name in lines:
            if name.endswith(f"/title/{HELD}"):
                lines[name] = NO
        complaints["drops_out"] = Felt(0.9, "the picture comes and goes")
        complaints["black_on_start"] = Felt(0.35, "the picture comes and goes")
        complaints["no_picture"] = Felt(0.15, "the picture comes and goes")
    elif effect.way == "slow_content":
        for name in lines:
            says = lines[name]
            if (name.endswith("/counter/rate") and says is not None and says.startswith(MOVES)) or name.endswith(
                "/probe/rate"
            ):
                lines[name] = None
    elif effect.way == "lies":
        for name in lines:
            if name.startswith(f"{effect.key}/"):
                lines[name] = f"{_SLOW_HZ} Hz" if name.endswith("/counter/rate") and lines[name] != "60 Hz" else None
                unsure.add(name)
    elif effect.way == "no_sync":
        for name in _behind(scene, effect.hop, lines):
            lines[name] = NO if name.endswith(f"/{HELD}") else None
        complaints["no_picture"] = Felt(0.7, "the picture rolls, or there is none")
    for code, likely in effect.brings:
        if likely > complaints[code].likely:
            complaints[code] = Felt(likely, "by this fault itself")
