"""Complaints in the words of clients, and how likely each is as a run stands. Likelihoods: common practice, our own."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass

from wavilex.core.advise.lag_cost import added_lag, no_change
from wavilex.core.chain.notes import notes
from wavilex.core.chain.paths import Layer
from wavilex.core.chain.reasons import render
from wavilex.core.chain.results import RunResult, arriving_facts
from wavilex.core.chain.shape import shape_words
from wavilex.core.chain.sound import sound_of
from wavilex.core.gear.conditions import holds
from wavilex.core.gear.own_faults import Complaint
from wavilex.core.gear.quirks import Dims
from wavilex.core.gear.stand import value_at
from wavilex.core.gear.words import condition_words
from wavilex.core.prove.arrival import Arrival
from wavilex.core.rig.model import Device

COMPLAINTS: Mapping[Complaint, str] = {
    "no_picture": "The screen stays black",
    "drops_out": "The picture goes away now and then",
    "black_on_start": "It goes black when the game starts",
    "not_offered": "The fast rate is not offered",
    "no_hdr": "HDR does not come on",
    "no_vrr": "It tears, variable refresh does not come on",
    "coarse": "It looks coarse, not as sharp as it should",
    "greyed": "Game mode is greyed out",
    "lags": "It lags",
    "no_sound": "There is no sound",
    "wrong_shape": "Everything is too wide or cut off",
    "too_dark": "It is too dark",
    "reverted": "It went back by itself after I set it",
}
SELDOM = 0.005  # a complaint that nothing of the set-up brings
OFTEN, MOSTLY, HALF, SOMETIMES = 0.9, 0.75, 0.5, 0.25
_USUAL_HZ = 60
_EXTRA_LAG_MS = 8  # from here on somebody may feel it: our own figure


@dataclass(frozen=True, slots=True)
class Felt:
    """How likely a complaint is, and what of the set-up brings it; "" where nothing does."""

    likely: float
    why: str = ""


NOTHING = Felt(SELDOM)


def felt(layer: Layer, result: RunResult, arrived: Arrival) -> dict[Complaint, Felt]:
    """What a client would complain of on a run as it stands."""
    found = dict.fromkeys(COMPLAINTS, NOTHING)
    for code, likely, why in _felt(layer, result, arrived):
        if likely > found[code].likely:
            found[code] = Felt(likely, why)
    return found


_One = tuple[Complaint, float, str]


def _felt(layer: Layer, result: RunResult, arrived: Arrival) -> Iterator[_One]:
    if not result.path:
        yield "no_picture", OFTEN, "no lead joins source and screen"
        yield "no_sound", HALF, "no lead joins source and screen"
        return
    if arrived.stopped:
        yield "no_picture", OFTEN, arrived.why
        yield "black_on_start", HALF, arrived.why
        yield "reverted", MOSTLY, f"it is tried and given up: {arrived.why}"
        yield "no_sound", HALF, arrived.why
    elif result.verdict == "tight":
        yield "drops_out", 0.12, arrived.why
    yield from _signal(result, arrived)
    yield from _noted(layer, result)
    yield from _screen(layer, result)
    yield from _processing(layer, result)
    sound = sound_of(layer, result)
    if not any(e.certain for e in sound.ends):
        yield "no_sound", HALF if sound.ends else OFTEN, sound.silent or "no way to anything that plays it is certain"
    words = shape_words(layer, result)
    if words and not words.startswith("true shape"):
        yield "wrong_shape", OFTEN, words


def _signal(result: RunResult, arrived: Arrival) -> Iterator[_One]:
    """What arrives, held against what is wanted."""
    want, signal = result.run.want, arrived.signal
    if signal is not None:
        mode = signal.timing.mode
        if mode.hz < want.mode.hz:
            yield "not_offered", OFTEN, f"{mode.name} runs, {want.mode.name} is wanted"
            yield "lags", SOMETIMES, f"{mode.hz} Hz runs where {want.mode.hz} are wanted"
            yield "reverted", SOMETIMES, f"{mode.name} runs where {want.mode.name} was asked"
        if mode.width * mode.height < want.mode.width * want.mode.height:
            yield "coarse", MOSTLY, f"{mode.name} runs, {want.mode.name} is wanted"
    if want.hdr == "off":
        yield "no_hdr", HALF, "this run does not ask for HDR, on Brief"
    if not want.vrr:
        yield "no_vrr", HALF, "this run does not ask for variable refresh, on Brief"
    if want.mode.hz <= _USUAL_HZ:
        yield "not_offered", HALF, f"this run asks for {want.mode.hz} Hz, on Brief"
    if want.hdr != "off" and arrived.hdr is False:
        yield "no_hdr", OFTEN, arrived.why or "HDR is lost on the way"
        yield "too_dark", 0.1, "HDR is wanted and does not come on"
    if want.vrr and arrived.vrr is False:
        yield "no_vrr", OFTEN, "variable refresh is lost on the way"
    if want.mode.hz > _USUAL_HZ and arrived.stopped:
        yield "not_offered", HALF, arrived.why


def _noted(layer: Layer, result: RunResult) -> Iterator[_One]:
    for note in notes(layer, result):
        words = render(note, layer.rig)
        if note.code == "scaled_down":
            yield "lags", HALF, words
            yield "coarse", SOMETIMES, words
        elif note.code == "scaled_up":
            yield "coarse", SOMETIMES, words
        elif note.code == "home_rate":
            yield "black_on_start", HALF, words
    chosen, asked = result.chosen, result.asked
    if chosen is not None and asked is not None and chosen.timing.mode.size != asked.timing.mode.size:
        yield "black_on_start", HALF, f"the source goes over to {chosen.name} when a title starts"


def _screen(layer: Layer, result: RunResult) -> Iterator[_One]:
    """Game mode off, or greyed out."""
    screen = layer.rig.devices[result.run.sink]
    game = next((s for s in screen.profile.settings if s.effect == "game_mode"), None)
    if game is None:
        return
    inp = result.path[-1].inp
    standing = layer.standing(screen, arriving_facts(result)).get((inp.port if game.ports else "", game.id))
    if standing is None:
        return
    if standing.greyed is not None:
        yield "greyed", OFTEN, standing.greyed.because
    proof = no_change(layer.rig, screen, screen.firmware_in(layer.name), game.id, standing.value or "")
    if standing.value == "off" and proof is not None:
        yield "lags", SELDOM * 10, f"{game.label} is off, and was measured to make no practical change"
    elif standing.value == "off":
        yield "lags", 0.85, f"{game.label} stands at {game.option_label('off')}: processing stays on"
    elif standing.value is None:
        yield "lags", SOMETIMES, f"nobody noted {game.label}"


def _processing(layer: Layer, result: RunResult) -> Iterator[_One]:
    """Whatever adds lag or takes light while it is set so."""
    for hop in result.path:
        device = layer.rig.devices[hop.inp.device]
        yield from _of_box(layer, result, device, hop.inp.port)
    sink = layer.rig.devices[result.run.sink]
    facts = arriving_facts(result)
    values = value_at(sink.profile, layer.standing(sink, facts), result.path[-1].inp.port)
    for setting in sink.profile.settings:
        if setting.effect == "room_light" and values(setting.id) == "on":
            yield "too_dark", HALF, f"{setting.label} is on"


def _of_box(layer: Layer, result: RunResult, device: Device, port: str) -> Iterator[_One]:
    facts = arriving_facts(result)
    standing, around = layer.standing(device, facts), layer.around(device, facts)
    values = value_at(device.profile, standing, port)
    for quirk in device.profile.quirks:
        if isinstance(quirk, Dims) and quirk.when is not None and holds(quirk.when, values, around, port) is True:
            words = f"{device.label}: {condition_words(device.profile, quirk.when)}"
            yield "too_dark", MOSTLY if quirk.keeps_percent <= 70 else SOMETIMES, words
    for added in added_lag(layer.rig, device, port, standing, around):
        if added.setting and added.ms >= _EXTRA_LAG_MS:  # what is always so is no fault of a setting
            words = f"{device.label}: {added.words}, {float(added.ms):g} ms, {added.why.partition(':')[0]}"
            yield "lags", OFTEN if added.measured else MOSTLY, words
