"""All that a change does to the runs of a job: verdicts, signals, ways, sound; nothing is lost without a word."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from wavilex.core.chain.carry import run_result
from wavilex.core.chain.paths import Layer
from wavilex.core.chain.results import RunResult
from wavilex.core.chain.sound import FORMAT_NAMES, SoundAnswer, sound_of
from wavilex.core.gear.ports import SOUND_FORMATS
from wavilex.core.rig.ops import Change

_Heard = tuple[str, str]  # who plays a run's sound, and as what at best
_REWIRES = ("move_lead", "swap_leads", "add_lead", "remove_lead", "replace_lead")
_VERDICTS = ("blocked", "unknown", "tight", "compressed", "fits")  # the worst first


@dataclass(frozen=True, slots=True)
class Effect:
    """What becomes of a run. worse: it has less than before; silent: it has no sound any more."""

    run: str
    words: str
    worse: bool = False
    silent: bool = False


class Standing:
    """How every run of a layer stands, worked out when asked for."""

    def __init__(self, layer: Layer) -> None:
        self.layer = layer
        self._sounds: dict[str, _Heard | None] = {}

    def result(self, uid: str) -> RunResult:
        return run_result(self.layer, self.layer.rig.runs[uid])

    def sound(self, uid: str) -> _Heard | None:
        if uid not in self._sounds:
            self._sounds[uid] = _best(sound_of(self.layer, self.result(uid)))
        return self._sounds[uid]

    def label(self, device: str) -> str:
        return self.layer.rig.devices[device].label


def effects(before: Standing, after: Standing, ops: Sequence[Change], but_for: str = "") -> tuple[Effect, ...]:
    """Everything that the changes `ops` lead to, run by run; of the run `but_for` its sound only."""
    out: list[Effect] = []
    wired = any(op["op"] in _REWIRES for op in ops)
    for uid, run in before.layer.rig.runs.items():
        if uid not in after.layer.rig.runs:
            continue
        old, new = before.result(uid), after.result(uid)
        if old is new and not wired:
            continue  # the same boxes in the same states on the same way
        if uid != but_for:
            out += _picture(run.label, old, new)
        out += _sound(before, after, uid)
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


def sound_lost(before: Standing, after: Standing, uid: str) -> int:
    """How much worse a run sounds: 0 no worse, 1 a worse format, 2 nobody plays it any more."""
    first, then = before.sound(uid), after.sound(uid)
    if first is None or then is None:
        return 2 if first is not None else 0
    return int(SOUND_FORMATS.index(then[1]) > SOUND_FORMATS.index(first[1]))


def _sound(before: Standing, after: Standing, uid: str) -> Iterator[Effect]:
    first, then = before.sound(uid), after.sound(uid)
    if first == then:
        return
    label = before.layer.rig.runs[uid].label
    if then is None:
        device = before.label(first[0]) if first else ""
        yield Effect(uid, f"{label} falls silent: {device} played it", worse=True, silent=True)
    elif first is None:
        yield Effect(uid, f"{label}: {after.label(then[0])} plays its sound then")
    else:
        there = f"{FORMAT_NAMES[then[1]]} at {after.label(then[0])}"
        here = f"{FORMAT_NAMES[first[1]]} at {before.label(first[0])}"
        yield Effect(uid, f"{label}: sound as {there}, before as {here}", sound_lost(before, after, uid) > 0)


def _best(answer: SoundAnswer) -> _Heard | None:
    """Who plays a run's sound and as what at best; None where nobody surely does."""
    best = answer.best
    return None if answer.silent or best is None else (best.device, best.formats[0])
