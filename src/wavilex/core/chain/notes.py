"""What else will happen on a run that no verdict turns on: scaling, blackouts, home screens, films, read-outs."""

from __future__ import annotations

from collections.abc import Iterator

from wavilex.core.chain.choice import delivers
from wavilex.core.chain.control import addresses
from wavilex.core.chain.paths import Layer, facts_of_want
from wavilex.core.chain.reasons import Code, Reason
from wavilex.core.chain.results import RunResult
from wavilex.core.gear.conditions import SignalFacts, holds
from wavilex.core.gear.profile import HomeRate
from wavilex.core.gear.quirks import Shows
from wavilex.core.gear.stand import value_at
from wavilex.core.rig.model import Device, Socket
from wavilex.core.video.mode import Mode
from wavilex.core.video.signal import DigitalVideo


def sent_signal(result: RunResult) -> DigitalVideo | None:
    """What will really run: the source's own choice where it falls short of the want, else the want if it fits."""
    chosen = result.chosen
    if chosen is not None and not delivers(chosen.timing.mode, result.run.want.mode):
        return chosen
    return result.asked if result.good else chosen


def notes(layer: Layer, result: RunResult) -> list[Reason]:
    """Notes on a joined run, the gravest first. What boxes show is said of what will arrive, never of the wish."""
    if not result.path or result.asked is None:
        return []
    found: list[Reason] = []
    sent = sent_signal(result)
    if sent is not None:
        mode = sent.timing.mode
        found += _scaled(layer, result, result.resent.timing.mode if result.resent else mode)
        found += _home(layer, result, mode)
        found += _read_outs(layer, result, mode, sent.bits)
    return [*found, *_films(layer, result), *_control(layer, result)]


def _note(code: Code, socket: Socket | None, **data: object) -> Reason:
    return Reason(code, "note", "fits", socket, data=data)


def _scaled(layer: Layer, result: RunResult, mode: Mode) -> list[Reason]:
    """The glass shows fewer dots than arrive: something scales, mostly the screen, and that costs lag and sharpness."""
    sink = layer.rig.devices[result.run.sink].profile
    panel = sink.panel_size
    if panel is None:
        return []
    width, height = mode.size
    if (width, height) == panel:
        return []
    code: Code = "scaled_down" if width > panel[0] or height > panel[1] else "scaled_up"
    words = {"mode": mode.name, "panel": f"{panel[0]}×{panel[1]}"}
    return [_note(code, result.path[-1].inp, **words)]


def _home(layer: Layer, result: RunResult, mode: Mode) -> list[Reason]:
    """A home screen at another rate: the picture goes black when a title starts, and the home screen proves nothing."""
    device = layer.rig.devices[result.run.source]
    home, hz = device.profile.home_hz, mode.hz
    if isinstance(home, HomeRate):
        setting = device.profile.setting(home.setting)
        assert setting is not None
        scope = layer.scope(device, setting, result.path[0].out.port, facts_of_want(result.run.want))
        home = home.hz.get(layer.rig.setting_value(layer.name, device.uid, scope, setting) or "")
    if home is None:
        return []
    return [_note("home_rate" if home != hz else "home_same", result.path[0].out, home=home, hz=hz)]


def _films(layer: Layer, result: RunResult) -> list[Reason]:
    """HDR in films may need other modes than HDR in games."""
    profile = layer.rig.devices[result.run.source].profile
    modes = profile.video_hdr_modes
    if modes is None or result.run.want.hdr == "off" or result.run.want.mode in modes:
        return []
    words = ", ".join(m.name for m in modes)
    return [_note("film_hdr", result.path[0].out, modes=words)]


def _read_outs(layer: Layer, result: RunResult, mode: Mode, bits: int) -> list[Reason]:
    """What boxes of the path will say, and whether to believe it."""
    found = []
    facts = facts_of_want(result.run.want)
    onward = {x.hop.inp.device: x.signal for x in result.links} if result.resent else {}
    sockets = {h.out.device: h.out for h in result.path} | {h.inp.device: h.inp for h in result.path}
    for uid, socket in sockets.items():
        here, depth = (onward[uid].timing.mode, onward[uid].bits) if uid in onward else (mode, bits)
        for quirk in shown_by(layer, layer.rig.devices[uid], socket, facts):
            words = as_said(quirk.says, here, depth)
            code: Code = "read_out" if quirk.trust else "false_read_out"
            found.append(_note(code, socket, place=quirk.place, says=words, because=quirk.because))
    return found


def as_said(words: str, mode: Mode, bits: int) -> str:
    """A read-out's words with the signal's figures in them."""
    for figure, value in {"{mode}": mode.name, "{hz}": str(mode.hz), "{bits}": str(bits)}.items():
        words = words.replace(figure, value)
    return words


def shown_by(layer: Layer, device: Device, socket: Socket, facts: SignalFacts) -> Iterator[Shows]:
    """The read-outs of a box that are on now, as far as is known."""
    for quirk in device.profile.quirks:
        if isinstance(quirk, Shows):
            values = value_at(device.profile, layer.standing(device, facts), socket.port)
            if quirk.when is None or holds(quirk.when, values, layer.around(device, facts), socket.port) is not False:
                yield quirk


def _control(layer: Layer, result: RunResult) -> list[Reason]:
    faults = [a for a in addresses(layer, result.run.sink) if a.fault]
    on_path = {h.out.device for h in result.path}
    return [_note("no_address", None, box=layer.rig.devices[a.device].label, fault=a.fault)
            for a in faults if a.device in on_path]  # fmt: skip
