"""What was seen of each run and what was not, for the hand-over: nothing that nobody saw is said to be so."""

from __future__ import annotations

from wavilex.core.chain.paths import Layer
from wavilex.core.chain.results import RunResult
from wavilex.core.prove.differ import differs
from wavilex.core.prove.grounds import latest
from wavilex.core.prove.line import Card, line_key
from wavilex.core.prove.rate import HELD, line_of, rate_tests
from wavilex.core.prove.readouts import readouts
from wavilex.core.rig.grounds import changed_since
from wavilex.core.tell.hand_shapes import HandSeen


def hand_seen(now: Layer, result: RunResult) -> HandSeen:
    """A run as found: lines seen as predicted, those that read otherwise, those seen before something changed, and the
    places where nobody looked. result: of the layer as found.
    """
    cards = readouts(now, result.run, result)
    counts = latest(now.rig.observations, result.run.uid)
    told: HandSeen = {"run": result.run.label, "seen": 0, "of": 0, "otherwise": [], "stale": [], "not_seen": [],
                      "rate": _rate(now, result)}  # fmt: skip
    for card in cards:
        here = 0
        for line in card.lines:
            if line.says is None:
                continue
            told["of"] += 1
            seen = counts.get(line_key(card, line))
            if seen is None:
                continue
            here += 1
            changed = changed_since(now.rig, seen.grounds)
            name = f"{_place(now, card)}, {line.label}"
            if changed:
                told["stale"].append(f"{name}: seen before {changed[0].what} changed")
            elif differs(seen, line.says):
                told["otherwise"].append(f"{name}: {seen.observed or 'something else'}, not {line.says}")
            else:
                told["seen"] += 1
        if not here and any(x.says is not None for x in card.lines):
            told["not_seen"].append(_place(now, card))
    return told


def _place(now: Layer, card: Card) -> str:
    return f"{now.rig.devices[card.device].label}, {card.place}"


def _rate(now: Layer, result: RunResult) -> str:
    """The fastest test that held and still counts, in words; "" without one."""
    counts = latest(now.rig.observations, result.run.uid)
    held = ""
    for test in rate_tests(now, result):
        seen = counts.get(line_of(test.over))
        if seen is not None and seen.observed == HELD and not changed_since(now.rig, seen.grounds):
            held = f"{test.signal.name} held ({test.rate})"
    return held
