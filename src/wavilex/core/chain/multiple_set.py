"""What a run's screen makes of the multiple its multiplier is set to; what was tried on site wins."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from wavilex.core.chain.analogue import fed_signal, output_mode
from wavilex.core.chain.paths import Layer, Path
from wavilex.core.gear.conversion import Conversion
from wavilex.core.rig.model import TRIED_FACT, Device, Socket
from wavilex.core.scan.described import Sampling
from wavilex.core.scan.multiples import Answer, Multiple, multiple, offered, taken_by, times_of
from wavilex.core.scan.signals import AnalogueVideo

SAMPLINGS: Mapping[Sampling, str] = {"whole_line": "whole lines", "matched": "matched to the dots"}


@dataclass(frozen=True, slots=True)
class Taken:
    """A multiple at an input: who sends it, what, and what the input says to it."""

    box: Device
    inp: Socket
    multiple: Multiple
    answer: Answer


def taken(layer: Layer, path: Path) -> Taken | None:
    """The multiple as it is set; None where none is on the way, or nobody knows how it is set."""
    first = next((h for h in path if layer.rig.leads[h.lead].digital), None)
    box = layer.rig.devices[first.out.device] if first is not None else None
    c = box.profile.converts if box is not None else None
    if box is None or c is None or not c.multiples:
        return None
    signal = fed_signal(layer, path)
    times = set_times(layer, box, signal)
    if signal is None or times is None or times not in offered(c.multiples, signal):
        return None
    made = multiple(signal, times, set_sampling(layer, box, c))
    return Taken(box, path[-1].inp, made, asked_of(layer, path[-1].inp, made, ceiling_of(layer, box)))


def set_times(layer: Layer, box: Device, signal: AnalogueVideo | None) -> int | None:
    """How many times a multiplier sends each line, as it is set; None: not known."""
    mode = output_mode(layer, box, signal)
    return times_of(*mode.size, signal) if mode is not None else None


def ceiling_of(layer: Layer, box: Device) -> int | None:
    """The fastest pixel clock a multiplier makes, in Hz; None: not known."""
    known = [layer.state(Socket(box.uid, p.id)).tmds_hz for p in box.profile.outputs() if p.kind == "hdmi"]
    return max((hz for hz in known if hz is not None), default=None)


def set_sampling(layer: Layer, box: Device, c: Conversion) -> Sampling:
    """How a multiplier samples, as it is set; without a setting for it, or unknown, as it usually does."""
    setting = box.profile.setting(c.sample) if c.sample else None
    value = layer.value(box, setting, "") if setting else None
    known = next((s for s in SAMPLINGS if s == value), None)
    usual: Sampling = c.sampling[0] if c.sampling else "whole_line"
    return known or usual


def asked_of(layer: Layer, inp: Socket, m: Multiple, most_hz: int | None) -> Answer:
    """What an input says to a multiple, or said when it was tried there. most_hz: the multiplier's ceiling."""
    fact = layer.rig.facts.get((inp.device, tried_path(inp.port, m.times, m.sampling)))
    return taken_by(m, layer.state(inp), fact.value if fact else None, most_hz)


def tried_path(port: str, times: int, sampling: Sampling) -> str:
    """Where it is kept whether a multiple was tried at an input."""
    return f"{TRIED_FACT}.{port}.{times}x_{sampling}"
