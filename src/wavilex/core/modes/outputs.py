"""The pictures a run's source could send, each with what its own output settings must be for it."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace
from itertools import product

from wavilex.core.advise.situation import boxes_of
from wavilex.core.advise.solve import places
from wavilex.core.advise.table import Best, nearest, nearest_of
from wavilex.core.advise.wishes import OUTPUT_EFFECTS
from wavilex.core.chain.carry import run_result
from wavilex.core.chain.notes import sent_signal
from wavilex.core.chain.paths import Layer
from wavilex.core.chain.results import RunResult
from wavilex.core.modes.refresh import Pacing
from wavilex.core.modes.run_refresh import pacing_of
from wavilex.core.rig.changes import apply
from wavilex.core.rig.ops import to_set
from wavilex.core.video.mode import Mode, parse_mode
from wavilex.core.video.signal import DigitalVideo

OUTPUTS_BYTES = 2_000  # of a run, some ten pictures
_EITHER = ("off", "on")
_MOST_SETTINGS = 4  # of a source's output, each tried both ways
_ANY = parse_mode("10240x4320@480")  # no picture here is larger or faster


@dataclass(frozen=True, slots=True)
class Output:
    """A picture, how frames look over it, and the output settings without which it is not sent, by effect."""

    signal: DigitalVideo
    pacing: Pacing
    needs: Mapping[str, str]


@dataclass(frozen=True, slots=True)
class _Variant:
    """The run with the source's output settings one way; sent: what the source sends of itself, others: what fits."""

    values: Mapping[str, str]
    pacing: Pacing
    sent: DigitalVideo | None
    others: tuple[DigitalVideo, ...]


def outputs_of(layer: Layer, result: RunResult, fastest: bool = False) -> tuple[Output, ...]:
    """Every picture worth asking for, as the source is set first. What the source sends by itself counts before what
    fits but would have to be asked of it otherwise. fastest: beyond what the run wants, too, where the rig can.
    """
    question = f"outputs {fastest}"
    return layer.states.memory.beside(result, question, lambda: _outputs(layer, result, fastest), OUTPUTS_BYTES)


def _outputs(layer: Layer, result: RunResult, fastest: bool) -> tuple[Output, ...]:
    variants = list(_variants(layer, result, fastest))
    by_itself: dict[Mode, list[tuple[_Variant, DigitalVideo]]] = {}
    asked: dict[Mode, list[tuple[_Variant, DigitalVideo]]] = {}
    for v in variants:
        if v.sent is not None:
            by_itself.setdefault(v.sent.timing.mode, []).append((v, v.sent))
        for signal in v.others:
            asked.setdefault(signal.timing.mode, []).append((v, signal))
    first = {**{m: x for m, x in asked.items() if m not in by_itself}, **by_itself}
    made = [(x[0][0], _output(x)) for x in first.values()]
    return tuple(o for _, o in sorted(made, key=lambda x: variants.index(x[0])))


def _output(found: list[tuple[_Variant, DigitalVideo]]) -> Output:
    """One picture. A setting is needed where every way to send it has that same value."""
    variant, signal = found[0]
    needs = {e: v for e, v in variant.values.items() if all(x.values[e] == v for x, _ in found)}
    return Output(signal, variant.pacing.at(signal.timing.nominal_hz), needs)


def _variants(layer: Layer, result: RunResult, fastest: bool) -> Iterator[_Variant]:
    """The run as it is, then with its source's output settings every other way."""
    source = boxes_of(layer, result)[1:]
    found = [
        (box, place, setting) for box in source for place, setting in places(box.device.profile, box.scope)
        if setting.effect in OUTPUT_EFFECTS
    ][:_MOST_SETTINGS]  # fmt: skip
    now = tuple(box.now.get(place) or setting.default for box, place, setting in found)
    known = [[o.id for o in setting.options if o.id in _EITHER] or [was]
             for (_, _, setting), was in zip(found, now, strict=True)]  # fmt: skip
    ways = [now, *(w for w in product(*known) if w != now)]
    for way in ways:
        ops = [
            to_set(box.key(place), value, layer.name)
            for (box, place, _), value, was in zip(found, way, now, strict=True) if value != was
        ]  # fmt: skip
        view = Layer(apply(layer.rig, ops)[0], layer.name, layer.states) if ops else layer
        judged = run_result(view, result.run) if ops else result
        best: tuple[Best | None, ...] = nearest_of(view, judged)
        if fastest:
            best = (*best, nearest(view, result.run, replace(result.run.want, mode=_ANY))[0])
        others = tuple(b.signal for b in best if b is not None)
        values: dict[str, str] = {
            setting.effect or "": value for (_, _, setting), value in zip(found, way, strict=True)
        }
        yield _Variant(values, pacing_of(view, judged), sent_signal(judged), others)
