"""A box of a run as the solver meets it: its socket, what its conditions are held against, how it is set now."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Literal

from wavilex.core.advise.wishes import Where, Wish, wishes_of
from wavilex.core.chain.analogue import first_signal
from wavilex.core.chain.paths import Layer, facts_of_want, kept_of
from wavilex.core.chain.results import RunResult, arriving_facts
from wavilex.core.gear.cells import spot_of
from wavilex.core.gear.conditions import SignalFacts, Surroundings
from wavilex.core.gear.stand import Place, preset_at, stand_in
from wavilex.core.light.aim import hdr_peak
from wavilex.core.light.care import self_lit
from wavilex.core.light.weak import is_weak
from wavilex.core.rig.model import Device, Run, Socket, Title
from wavilex.core.rig.style import Answer, followed
from wavilex.core.rig.visit_facts import Kept, kept_values
from wavilex.core.video.mode import Mode

SignalKind = Literal["standard", "HDR"]
STANDARD: SignalKind = "standard"
HDR: SignalKind = "HDR"


@dataclass(frozen=True)
class Box:
    """scope: the socket the run passes; now: every setting as it is in the layer, in the cell the run is in.
    modes: the picture preset in force, by socket ("" for the whole box). kept: what the client keeps by his own hand.
    """

    device: Device
    scope: str
    around: Surroundings
    now: Mapping[Place, str | None]
    modes: Mapping[str, str] = field(default_factory=dict)
    kept: Mapping[Place, Kept] = field(default_factory=dict)

    def key(self, place: Place) -> tuple[str, str, str]:
        """Device, scope and setting of a place: the cell that the run is in."""
        port, name = place
        setting = self.device.profile.setting(name)
        scope = (
            spot_of(self.around.signal, port, self.modes.get(port, "")).kept(setting.dimensions) if setting else port
        )
        return self.device.uid, scope, name

    def chosen(self, scope: str, key: str) -> str | None:
        """The value a setting is left at."""
        return self.now.get((scope, key))

    def with_set(self, values: Mapping[Place, str]) -> Callable[[str, str], str | None]:
        """The same with some settings otherwise."""
        return lambda scope, key: values.get((scope, key), self.now.get((scope, key)))


@dataclass(frozen=True, slots=True)
class Playing:
    """How a title is played on a run: the render rate of its mode, the picture it goes out as, and what the source's
    output settings must be for that, by effect.
    """

    fps: int
    mode: Mode
    output: Mapping[str, str]


def boxes_of(layer: Layer, result: RunResult, kind: str = STANDARD, playing: Playing | None = None) -> list[Box]:
    """The run's source and screen, shown at the run's own input; none where nothing joins them."""
    if not result.path:
        return []
    first, last = result.path[0].out, result.path[-1].inp
    sent = replace(facts_of_want(result.run.want), mode=playing.mode) if playing else facts_of_want(result.run.want)
    shown = arriving_facts(result) if result.resent is not None else sent
    return [_box_at(layer, s, kind, facts) for s, facts in ((last, shown), (first, sent))]


def _box_at(layer: Layer, socket: Socket, kind: str, facts: SignalFacts) -> Box:
    device, scope = layer.rig.devices[socket.device], socket.port
    facts = replace(facts, hdr="off" if kind == STANDARD else facts.hdr if facts.hdr != "off" else "static")
    around = layer.around(device, facts)
    if device.profile.role == "screen":
        around = replace(around, shown_input=scope)
    profile = device.profile
    standing = stand_in(profile, kept_of(layer.rig, layer.name, device), around) if profile.in_cells else {}
    modes = {port: preset_at(profile, standing, port) for port in ("", scope)} if standing else {}
    box = Box(device, scope, around, {}, modes)
    now = {
        (place, s.id): layer.rig.setting_value(layer.name, device.uid, box.key((place, s.id))[1], s)
        for s in profile.settings for place in (s.ports or ("",))
    }  # fmt: skip
    by_hand = {(x.scope, x.key): x.kept for x in kept_values(layer.rig, device.uid)}
    cells = {p: box.key(p)[1:] for p in now} if by_hand else {}
    return replace(box, now=now, kept={p: by_hand[cell] for p, cell in cells.items() if cell in by_hand})


def calls_game_mode(layer: Layer, result: RunResult) -> bool | None:
    """Does the source call the screen's game mode up by itself, along this path? None: some box is not known."""
    flags = [s.state.low_latency for s in result.stations]
    return False if False in flags else None if None in flags or not flags else True


def where_of(
    layer: Layer, result: RunResult, title: Title | None, kind: str = STANDARD, playing: Playing | None = None
) -> Where:
    """What is played on a run, as the wishes ask."""
    film = layer.rig.devices[result.run.source].profile.kind == "player" and not result.run.want.low_lag
    return Where(
        title, calls_game_mode(layer, result), result.run.want.vrr and not (title and title.competitive),
        kind == HDR, film, _peak(layer, result), low_resolution(layer, result),
        playing.fps if playing else None, playing.output if playing else {}, playing.mode.name if playing else "",
        layer.rig.devices[result.run.sink].profile.kind == "monitor", _weak(layer, result),
    )  # fmt: skip


def _peak(layer: Layer, result: RunResult) -> int | None:
    """The screen's HDR white at the run's input, as measured there, else as it is known."""
    return hdr_peak(layer.rig, result.run.sink, result.path[-1].inp.port if result.path else "")[0]


def _weak(layer: Layer, result: RunResult) -> bool:
    device = layer.rig.devices[result.run.sink]
    known = device.profile
    return bool(is_weak(_peak(layer, result), known.panel_bits, known.zones, self_lit=self_lit(device)))


def low_resolution(layer: Layer, result: RunResult) -> bool:
    """Are an old machine's few lines shown, by analogue or drawn into a digital frame?"""
    if layer.rig.devices[result.run.source].profile.draws is not None:
        return True
    signal = first_signal(layer, result.path, result.asked_timing)
    return signal is not None and signal.system != "vga" and not signal.interlaced


def answers_of(layer: Layer, run: Run, title: Title | None = None) -> dict[str, Answer]:
    """The house style a title follows on a run."""
    return followed(layer.rig.style, run.style, title.style if title else ())


def schools_of(layer: Layer, run: Run, title: Title | None = None) -> dict[str, str]:
    return {key: a.school for key, a in answers_of(layer, run, title).items()}


def wished(
    layer: Layer, result: RunResult, title: Title | None, kind: str = STANDARD, playing: Playing | None = None
) -> Sequence[Wish]:
    """The wishes of a title on a run by its house style."""
    return wishes_of(where_of(layer, result, title, kind, playing), schools_of(layer, result.run, title))


def kinds_of(layer: Layer, result: RunResult) -> tuple[str, ...]:
    """The kinds of signal a run meets its screen with: standard range, and HDR where it is wanted and not given up
    as on a weak screen.
    """
    if result.run.want.hdr == "off" or gives_hdr_up(layer, result):
        return (STANDARD,)
    return STANDARD, HDR


def gives_hdr_up(layer: Layer, result: RunResult) -> bool:
    """Does the house style leave HDR off here, on a weak screen?"""
    weak = where_of(layer, result, None).weak
    return weak and schools_of(layer, result.run)["weak_hdr"] == "off"
