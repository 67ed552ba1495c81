"""Everything that can be asked to find a fault: read-outs, looks, cures tried; each with what it costs. Costs: our own.

A check has outcomes; every world says how probable each is. One look at a card is paid once: its next line is cheap
for who still stands there.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np
import numpy.typing as npt

from wavilex.core.fault.evidence import (
    AS_NOTED,
    CHECK,
    CURE,
    HELPED,
    RATE,
    STAYED,
    WRONG,
    WRONG_LOOK,
    Answer,
    likelihood,
)
from wavilex.core.fault.fault import Fault
from wavilex.core.fault.rank import Bench
from wavilex.core.fault.world import LAG, OVER, World
from wavilex.core.prove.line import NO, YES, Card, Kind, line_key
from wavilex.core.prove.rate import FELL, HELD, line_of

CheckKind = Literal["read", "look", "cure"]
READ_SECONDS: Mapping[Kind, int] = {
    "list": 60, "page": 45, "in_out": 40, "notice": 20, "banner": 15, "counter": 25, "label": 15, "home": 15,
    "title": 300, "probe": 120,
}  # fmt: skip
NEXT_LINE_SECONDS, RATE_SECONDS = 5, 75
LOOK_SECONDS = {
    "setting": 45, "input": 10, "plug": 60, "firmware": 60, "awake": 10, "supply": 60, "sync": 60, "title": 60,
    "other_title": 120, "sound": 45, "whole": 60, "bypass": 240, "socket": 120, "pattern": 75, "lag": 240,
}  # fmt: skip
OTHER_ROOM_SECONDS = 40
_DISTURBS = {"title": True, "other_title": True, "bypass": True, "socket": True, "pattern": True, "lag": True}
_FLASHES = "The picture flashes: photosensitive epilepsy. Look away, stop on discomfort."
_MOST_OUTCOMES = 5


@dataclass(frozen=True, slots=True)
class Outcome:
    """value: as it is kept; words: as it is tapped."""

    value: str
    words: str


@dataclass(frozen=True, slots=True)
class Check:
    """A question. key: the line, `check/<look>` or `check/cure/<act>`. seconds: it takes; near: the card it is on."""

    key: str
    kind: CheckKind
    device: str
    words: str
    seconds: int
    outcomes: tuple[Outcome, ...]
    wrong: float
    near: str = ""
    disturbs: bool = False
    caution: str = ""

    def answer(self, value: str) -> Answer:
        return Answer(self.key, value, self.wrong, among=max(2, len(self.outcomes)))


def checks_of(bench: Bench) -> list[Check]:
    """All checks that could tell some world from another, cheapest first."""
    found = [*_reads(bench), *_rates(bench), *_looks(bench), *_cures(bench)]
    return sorted(found, key=lambda c: (c.seconds, c.key))


def _reads(bench: Bench) -> Iterator[Check]:
    devices = bench.scene.layer.rig.devices
    for card in bench.cards:
        if card.kind == "probe":
            continue  # the source’s own page sends what it measures by itself
        for line in card.lines:
            key = line_key(card, line)
            values = dict.fromkeys(v for w in (bench.base, *bench.singles) if (v := w.lines.get(key)) is not None)
            if len(values) < 2:
                continue
            known = list(values)[:_MOST_OUTCOMES]
            outcomes = tuple(Outcome(v, _said(card, line.label, v)) for v in known)
            part = f" ({line.part.lower()})" if line.part else ""
            words = f"{devices[card.device].label}, {card.place}: {line.label}{part}"
            yield Check(
                key, "read", card.device, words, READ_SECONDS[card.kind], outcomes, WRONG[card.trust], card.key,
                card.kind == "title",
            )  # fmt: skip


def _rates(bench: Bench) -> Iterator[Check]:
    """A mode to set that needs so much: does it stay?"""
    source = bench.scene.layer.rig.devices[bench.scene.run.source]
    for test in bench.asked.tests:
        key = line_of(test.over)
        if len({w.lines.get(key) for w in (bench.base, *bench.singles)} - {None}) > 1:
            words = f"Set {test.signal.name} at {source.label}, which needs {test.rate}: does it stay?"
            outcomes = (Outcome(HELD, "it stays"), Outcome(FELL, "it falls back"))
            yield Check(key, "read", source.uid, words, RATE_SECONDS, outcomes, WRONG["proves"], RATE, disturbs=True)


def _said(card: Card, label: str, value: str) -> str:
    if card.kind == "list":
        return {YES: "it is listed", NO: "it is not"}.get(value, value)
    if card.kind == "title":
        return {YES: "it holds", NO: "it does not"}.get(value, value)
    return value


def _looks(bench: Bench) -> Iterator[Check]:
    values: dict[str, dict[str, None]] = {}
    by: dict[str, Fault] = {}
    for fault in bench.faults:
        for key, value in fault.shows:
            values.setdefault(key, {AS_NOTED: None})[value] = None
            by.setdefault(key, fault)
    for key, seen in values.items():
        kind = key.partition("/")[0]
        words, named = _look_words(bench, key, by[key])
        outcomes = tuple(Outcome(v, named.get(v, v)) for v in seen)
        yield Check(
            f"{CHECK}{key}", "look", by[key].device, words, LOOK_SECONDS[kind], outcomes, WRONG_LOOK,
            disturbs=_DISTURBS.get(kind, False), caution=_FLASHES if kind == "pattern" else "",
        )  # fmt: skip
    yield _measured(bench)


def _measured(bench: Bench) -> Check:
    """Lag measured at the screen, against its bound."""
    screen = bench.scene.layer.rig.devices[bench.scene.run.sink]
    outcomes = (Outcome(AS_NOTED, "within its bound"), Outcome(OVER, "over it"))
    words = f"Measure lag at {screen.label} (sheet Lag): is it within its bound?"
    return Check(f"{CHECK}{LAG}", "look", screen.uid, words, LOOK_SECONDS["lag"], outcomes, WRONG_LOOK,
                 disturbs=True, caution=_FLASHES)  # fmt: skip


def _look_words(bench: Bench, key: str, fault: Fault) -> tuple[str, dict[str, str]]:
    """A look in words, and its outcomes in words."""
    rig = bench.scene.layer.rig
    kind, _, rest = key.partition("/")
    label = rig.devices[rest if kind in ("bypass", "socket") else fault.device].label
    if kind == "setting":
        knob = next(k for k in bench.scene.knobs if "/".join(k.place) == rest)
        named = {o.id: o.label for o in knob.setting.options}
        now = knob.setting.option_label(knob.value) if knob.value else "as noted"
        where = f" ({knob.setting.where})" if knob.setting.where else ""
        how = f"{now}, as noted" if knob.noted else now
        words = f"How does {knob.setting.label} of {knob.device.place(knob.scope)} stand{where}?"
        return words, {**named, AS_NOTED: how}
    if kind == "input":
        uid, _, output = rest.partition("/")
        device = rig.devices[uid]
        port = next(p for d, o, p in bench.scene.shown if (d, o) == (uid, output))
        named = {p.id: p.label for p in device.profile.inputs()}
        return f"Which input does {device.label} show?", {**named, AS_NOTED: named.get(port, port)}
    if kind == "plug":
        lead = rig.leads[rest]
        inp = next(h.inp for h in bench.scene.path if h.lead == rest)
        device = rig.devices[inp.device]
        named = {p.id: p.label for p in device.profile.inputs()}
        words = f"Follow lead {lead.label}: where does it go into {device.label}?"
        return words, {**named, "out": "nowhere: it is out", AS_NOTED: f"{named.get(inp.port, inp.port)}, as noted"}
    lead_name = rig.leads[rest].label if kind == "whole" and rest in rig.leads else ""
    asked, well, ill = {
        "firmware": (f"Which firmware does {label} have?", "as noted, or newer", "older"),
        "awake": (f"Is {label} awake?", "it is on", "it sleeps, or is off"),
        "supply": (f"What feeds {label}?", "its own supply", "a socket of the screen, or a weak supply"),
        "sync": (f"Which sync and line standard reaches {label}?", "what it takes", "another"),
        "title": ("Does the title’s own menu allow the fast rate?", "it does", "it does not"),
        "other_title": ("Start another title that is known to run fast: is it right then?", "no, the same", "yes"),
        "sound": (f"Where does {label} send its sound?", "where it belongs", "elsewhere, or it is mute"),
        "bypass": (f"Plug the source past {label}, straight on: is it still so?", "still so", "gone"),
        "socket": (f"Plug the lead into another input of {label} and call it up: is it right there?", "no", "yes"),
        "pattern": ("Show a moving pattern of the source’s own page for a minute", "it stays", "it flashes or goes"),
        "whole": (f"Are plugs and jacket of lead {lead_name} whole?", "nothing to be seen", "damaged"),
    }[kind]
    return asked, {AS_NOTED: well, **{v: ill for k, v in fault.shows if k == key}}


def _cures(bench: Bench) -> Iterator[Check]:
    outcomes = (Outcome(HELPED, "that helped"), Outcome(STAYED, "no change"))
    device = {name: f.device for f in reversed(bench.faults) for name, _ in f.cures}
    for name, act in bench.acts.items():
        yield Check(
            f"{CURE}{name}", "cure", device[name], act.words, act.seconds + NEXT_LINE_SECONDS, outcomes, 0.06,
            disturbs=act.disturbs, caution=act.caution,
        )  # fmt: skip


class Tables:
    """How probable each outcome of a check is in each world: worked out once for both, and remembered."""

    def __init__(self) -> None:
        self._rows: dict[tuple[str, tuple[str, ...]], npt.NDArray[np.float64]] = {}

    def of(self, check: Check, worlds: Sequence[World]) -> npt.NDArray[np.float64]:
        """Worlds × outcomes; each row sums to one."""
        return np.stack([self._row(check, w) for w in worlds])

    def _row(self, check: Check, world: World) -> npt.NDArray[np.float64]:
        key = (check.key, tuple(f.id for f in world.faults))
        row = self._rows.get(key)
        if row is None:
            row = np.array([likelihood(check.answer(o.value), world) for o in check.outcomes])
            row = self._rows[key] = row / row.sum()
        return row


def seconds_of(bench: Bench, check: Check, near: str, room: str) -> int:
    """What a check takes now: little on the card one stands at, more in another room."""
    if check.near and check.near == near:
        return RATE_SECONDS // 2 if near == RATE else NEXT_LINE_SECONDS
    own = bench.scene.layer.rig.devices[check.device].room
    return check.seconds + (OTHER_ROOM_SECONDS if room and own and own != room else 0)
