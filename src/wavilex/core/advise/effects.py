"""All that a change does to the runs of a job: verdicts, signals, ways, sound; nothing is lost without a word."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from wavilex.core.chain.carry import run_result
from wavilex.core.chain.paths import Layer
from wavilex.core.chain.results import RunResult
from wavilex.core.chain.sound import FORMAT_NAMES, SoundAnswer, sound_of
from wavilex.core.gear.ports import SOUND_FORMATS

_VERDICTS = ("blocked", "unknown", "tight", "compressed", "fits")  # the worst first


@dataclass(frozen=True, slots=True)
class Effect:
    """What becomes of a run. worse: it has less than before; silent: it has no sound any more."""

    run: str
    words: str
    worse: bool = False
    silent: bool = False


def effects(before: Layer, after: Layer, but_for: str = "") -> tuple[Effect, ...]:
    """Everything that differs, run by run; of the run `but_for` its sound only: what it carries is said elsewhere."""
    out: list[Effect] = []
    for uid, run in before.rig.runs.items():
        if uid not in after.rig.runs:
            continue
        old, new = run_result(before, run), run_result(after, after.rig.runs[uid])
        if uid != but_for:
            out += _picture(run.label, old, new)
        out += _sound(before, after, old, new)
    return tuple(out)


def _picture(label: str, old: RunResult, new: RunResult) -> Iterator[Effect]:
    uid = old.run.uid
    if old.verdict != new.verdict:
        worse = _VERDICTS.index(new.verdict) < _VERDICTS.index(old.verdict)
        yield Effect(uid, f"{label}: {old.verdict} before, {new.verdict} then", worse)
    elif old.asked != new.asked and old.asked is not None and new.asked is not None:
        yield Effect(uid, f"{label}: {new.asked.name} instead of {old.asked.name}")
    elif old.path != new.path:
        yield Effect(uid, f"{label} goes another way")
    elif old.resent != new.resent:
        yield Effect(uid, f"{label}: sent on as another picture")


def _sound(before: Layer, after: Layer, old: RunResult, new: RunResult) -> Iterator[Effect]:
    was, now = sound_of(before, old), sound_of(after, new)
    first, then = _best(was), _best(now)
    if first == then:
        return
    run = old.run
    if then is None:
        device = before.rig.devices[first[0]].label if first else ""
        yield Effect(run.uid, f"{run.label} falls silent: {device} played it", worse=True, silent=True)
    elif first is None:
        yield Effect(run.uid, f"{run.label}: {after.rig.devices[then[0]].label} plays its sound then")
    else:
        worse = SOUND_FORMATS.index(then[1]) > SOUND_FORMATS.index(first[1])
        there = f"{FORMAT_NAMES[then[1]]} at {after.rig.devices[then[0]].label}"
        here = f"{FORMAT_NAMES[first[1]]} at {before.rig.devices[first[0]].label}"
        yield Effect(run.uid, f"{run.label}: sound as {there}, before as {here}", worse)


def _best(answer: SoundAnswer) -> tuple[str, str] | None:
    """Who plays a run's sound and as what at best; None where nobody surely does."""
    best = answer.best
    return None if answer.silent or best is None else (best.device, best.formats[0])
