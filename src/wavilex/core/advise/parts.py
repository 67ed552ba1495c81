"""A want, part by part: what is had now, what these steps give, what is not to be had and because of which box.

Each part is asked for by itself, at the wanted mode or the largest and fastest below it that both ends list.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from typing import NamedTuple

from wavilex.core.advise.lesser import shared_modes
from wavilex.core.advise.relaxed import barred
from wavilex.core.advise.return_sound import better_sound
from wavilex.core.advise.search import Asked, Way, meets, search
from wavilex.core.advise.shapes import PartAnswer, PartKey
from wavilex.core.chain.carry import run_result
from wavilex.core.chain.paths import Layer
from wavilex.core.chain.reasons import Reason, render
from wavilex.core.chain.results import RunResult
from wavilex.core.chain.sound import FORMAT_NAMES, sound_of
from wavilex.core.rig.model import Rig, Want
from wavilex.core.video.mode import Mode

_MOST_MODES = 12  # modes a part is asked for at
_BUDGET = 80  # rigs looked at for one part by itself
_CHROMA_WORDS = {"444": "4:4:4", "422": "4:2:2 or better", "any": ""}


@dataclass(frozen=True, slots=True)
class Part:
    """One part of a want. mode: at which it is had now or by its own steps, where that is not the wanted one.

    why: a reason, in words. way: the steps to it where they are its own, and not those of the whole want.
    """

    key: PartKey
    wanted: str
    answer: PartAnswer
    mode: Mode | None = None
    why: str = ""
    way: Way | None = None


class _Alone(NamedTuple):
    """A part by itself: its words, its want at a mode, the modes it may be had at, items that must be met."""

    key: PartKey
    words: str
    at: Callable[[Mode], Want]
    modes: Sequence[Mode]
    must: frozenset[str] = frozenset()


def parts_of(start: Layer, asked: Asked, ways: Sequence[Way]) -> tuple[Part, ...]:
    """The parts of a run's want, answered. ways: what was found for the whole of it, the one to show first."""
    whole = run_result(start, asked.run)
    if not ways and not whole.stations:
        return ()  # nothing joins it, or no digital picture is asked for
    after = run_result(ways[0].after, asked.run) if ways else None
    found = [_answer(start, asked, whole, after, alone) for alone in _wanted(start.rig, asked)]
    return (*found, _sound(start, asked, whole, ways[0].after if ways else None))


def _wanted(rig: Rig, asked: Asked) -> list[_Alone]:
    want, mode = asked.want, asked.want.mode
    lean = replace(want, hdr="off", chroma="any", bits=8, vrr=False, low_lag=False, protected=False, audio="2ch")
    modes = shared_modes(rig, asked.run)[:_MOST_MODES]

    def at(**parts: object) -> Callable[[Mode], Want]:
        return lambda m: replace(lean, mode=m, **parts)  # type: ignore[arg-type]

    same_size = [m for m in modes if m.size == mode.size]
    same_rate = [m for m in modes if m.hz == mode.hz]
    out = [
        _Alone("size", mode.size_name, at(), same_size),
        _Alone("rate", f"{mode.hz} Hz", at(), same_rate),
    ]
    if want.hdr != "off":
        words = "HDR" if want.hdr == "static" else "dynamic-metadata HDR"
        out.append(_Alone("hdr", words, at(hdr=want.hdr, bits=10), modes))
    least = 8 if want.hdr == "off" else 10
    if want.chroma != "any" or want.bits > least:
        deep = f"{want.bits} bits" if want.bits > least else ""
        words = ", ".join(w for w in (_CHROMA_WORDS[want.chroma], deep) if w)
        out.append(_Alone("colour", words, at(chroma=want.chroma, bits=want.bits if deep else 8), modes))
    if want.vrr:
        out.append(_Alone("vrr", "variable refresh", at(vrr=True), modes))
    if want.low_lag:
        must = frozenset({"low_lag"})
        out.append(_Alone("low_lag", "automatic low latency", at(low_lag=True), modes, must))
    if want.protected:
        out.append(_Alone("protection", "protected films", at(protected=True), modes))
    return out


def _answer(start: Layer, asked: Asked, whole: RunResult, after: RunResult | None, alone: _Alone) -> Part:
    """One part: had, by the ways of the whole, not to be had, by steps of its own, or not found."""
    now = [(m, run_result(start, asked.run, alone.at(m))) for m in alone.modes]
    mode, there = next(((m, result) for m, result in now if meets(result, alone.must)), (None, whole))
    had = mode is not None
    if had and (mode == asked.want.mode or after is None):
        return Part(alone.key, alone.words, "had", _other(mode, asked), _leaning(start, there))
    if after is not None and meets(after, alone.must):
        return Part(alone.key, alone.words, "by_steps", mode)
    if had:
        return Part(alone.key, alone.words, "had", _other(mode, asked), _leaning(start, there))
    open_modes, stops = _open(start, asked, alone)
    if not open_modes:
        return Part(alone.key, alone.words, "never", why=stops)
    for m in open_modes:
        way = _own_way(start, asked, alone, m)
        if way is not None:
            return Part(alone.key, alone.words, "by_steps", _other(m, asked), way=way)
        if not asked.go_on():
            break
    reason = _reason(dict(now).get(open_modes[0]) or whole, alone)
    said = render(reason, start.rig) if reason else ""
    unknown = reason is not None and reason.verdict == "unknown"
    return Part(alone.key, alone.words, "unknown" if unknown else "not_found", why=said)


def _other(mode: Mode | None, asked: Asked) -> Mode | None:
    return mode if mode != asked.want.mode else None


def _leaning(start: Layer, result: RunResult) -> str:
    """What a part that is had rests on where nobody is sure of it: a print not read, a guess, a long lead."""
    return render(result.limiting, start.rig) if result.verdict == "tight" and result.limiting else ""


def _open(start: Layer, asked: Asked, alone: _Alone) -> tuple[list[Mode], str]:
    """Modes at which nothing proves a part out of reach, in the order given; else what stops it, in words."""
    said, left = "", []
    for mode in alone.modes:
        bar = barred(start.rig, asked.run, alone.at(mode), start.states, alone.must)
        if bar is None:
            left.append(mode)
        elif not said or any(r.item == alone.key for r in bar.reasons):
            reason = next((r for r in bar.reasons if r.item == alone.key), bar.reasons[0])
            said = render(reason, bar.rig)
        if len(left) == 2:  # the best two are tried by steps
            break
    return left, said


def _own_way(start: Layer, asked: Asked, alone: _Alone, mode: Mode) -> Way | None:
    want = alone.at(mode)
    own = replace(asked, want=want, must=alone.must, budget=_BUDGET, spare_ways=1)
    found = search(start.rig, own, start.states)
    return found.ways[0] if found.ways else None


def _reason(result: RunResult, alone: _Alone) -> Reason | None:
    own = next((r for r in result.reasons if r.item in alone.must), None)
    return result.limiting or own


def _sound(start: Layer, asked: Asked, whole: RunResult, after: Layer | None) -> Part:
    """Who plays the run's sound, now or by the steps; and who could better, by the return channel."""
    part, better = _heard(start, whole, after), better_sound(start, asked)
    if better is None:
        return part
    said = f"{part.why}; {better.words}" if part.answer == "had" else better.words
    return replace(part, answer=part.answer if part.answer == "had" else "by_steps", why=said, way=better.way)


def _heard(start: Layer, whole: RunResult, after: Layer | None) -> Part:
    words, answer = "sound", sound_of(start, whole)
    if not answer.silent and answer.best is not None:
        best = answer.best
        return Part("sound", words, "had", why=f"{start.rig.devices[best.device].label} plays it as "
                    f"{FORMAT_NAMES[best.formats[0]]}")  # fmt: skip
    if after is not None:
        then = sound_of(after, run_result(after, whole.run))
        if not then.silent and then.best is not None:
            return Part("sound", words, "by_steps")
    if answer.best is not None:
        return Part("sound", words, "unknown", why=answer.silent)
    helped = "; ".join(w["label"] for w in answer.ways[:1])
    return Part("sound", words, "by_steps" if helped else "not_found", why=helped or answer.silent)
