"""Prove told: cards with what was seen at them, what contradicts, what it says of the stages. Plain data."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence

from wavilex.core.chain.carry import run_result
from wavilex.core.chain.paths import Layer
from wavilex.core.chain.results import RunResult
from wavilex.core.fields import PROVENANCE_NAMES
from wavilex.core.prove.differ import differs, said_lines
from wavilex.core.prove.doubts import doubts
from wavilex.core.prove.grounds import latest
from wavilex.core.prove.line import NO, TRUST_WORDS, YES, Card, Line, line_key, photo_line
from wavilex.core.prove.rate import line_of, rate_proof, rate_tests
from wavilex.core.prove.readouts import readouts
from wavilex.core.prove.shapes import (
    CardOut,
    ChangedOut,
    MomentOut,
    ProveOut,
    RateProofOut,
    RateTestOut,
    ReadOutLine,
    SeenOut,
)
from wavilex.core.rig.grounds import Changed, changed_since, rests_on
from wavilex.core.rig.model import Observation, Rig, Run

Since = Callable[[Observation, tuple[str, ...]], str | None]
MOST_STALE = 6
_APART = ("rate/", "complaint/", "check/", "fault/")


def nowhere(_seen: Observation, _paths: tuple[str, ...]) -> str | None:
    """Without a history nobody knows since when."""
    return None


def prove_data(
    layer: Layer, now: Layer, run: Run, stage: str, stages: Sequence[MomentOut], since: Since = nowhere
) -> ProveOut:
    """A run's read-outs at a stage. layer: the boxes at that stage; now: as found, which is what was looked at."""
    result = run_result(layer, run)
    every = latest(now.rig.observations, run.uid)
    seen = every if stage == "" else {}  # what was seen was seen as things stand now
    cards = readouts(layer, run, result, probed=any("/probe/" in k for k in every))
    stale = {k: changed_since(now.rig, o.grounds) for k, o in seen.items()}
    said = said_lines(cards)
    told = [_card(layer, c, seen, said, stale, since, now.rig, run.uid) for c in cards]
    lines = [x for c in told for x in c["lines"]]
    differ = [x for x in lines if x["seen"] is not None and x["seen"]["differs"]]
    also = [_seen(o, None, stale[k], since, now.rig) for k, o in seen.items() if k not in said and not _apart(k)]
    boxes = {s.device for h in result.path for s in (h.out, h.inp)}
    of_boxes = latest(now.rig.observations, "") if stage == "" else {}  # of no run: a setting that reverted
    also += [_seen(o, None, (), since, now.rig) for o in of_boxes.values() if o.device in boxes]
    return {
        "run": run.uid, "label": run.label, "want": result.asked.name if result.asked else run.want.mode,
        "path": " → ".join([layer.rig.devices[run.source].label, *(layer.rig.socket_name(h.inp) for h in result.path)]),
        "stage": stage, "stages": list(stages), "cards": told,
        "first_differs": _first(told),
        "doubts": [
            {"about": d.about, "either": d.either, "other": d.other, "check": d.check, "told": list(d.told)}
            for d in doubts(now.rig, cards, {x["key"]: seen[x["key"]] for x in differ})
        ] if stage == "" else [],
        "proof": proof_data(now, run, since),
        "as_predicted": sum(_counts(x) and not _seen_of(x)["differs"] for x in lines),
        "differ": len(differ),
        "stale": sum(x["seen"] is not None and bool(x["seen"]["stale"]) for x in lines),
        "open": sum(x["seen"] is None and x["says"] is not None for x in lines),
        "also": also,
    }  # fmt: skip


def _apart(line: str) -> bool:
    """Is it told elsewhere: a rate test, a search for a fault, a photograph?"""
    return line.startswith(_APART) or line.endswith("/photo") or "/probe/" in line


def _counts(line: ReadOutLine) -> bool:
    return line["seen"] is not None and not line["seen"]["stale"]


def _seen_of(line: ReadOutLine) -> SeenOut:
    seen = line["seen"]
    assert seen is not None
    return seen


def _first(cards: Sequence[CardOut]) -> str:
    """The first box on the way at which something differs, and what; "" where nothing does."""
    for card in cards:
        for line in card["lines"]:
            if line["seen"] is not None and line["seen"]["differs"]:
                return f"{card['label']}, {card['place']}: {line['label']}"
    return ""


def _card(
    layer: Layer, card: Card, seen: Mapping[str, Observation], said: Mapping[str, str | None],
    stale: Mapping[str, list[Changed]], since: Since, rig: Rig,
    run: str,
) -> CardOut:  # fmt: skip
    device = layer.rig.devices[card.device]
    port = device.profile.port(card.port)
    lines: list[ReadOutLine] = []
    for x in card.lines:
        key = line_key(card, x)
        old = seen.get(key)
        told = _seen(old, said[key], stale[key], since, rig) if old is not None else None
        lines.append(_line(key, x, told))
    if card.kind == "probe":  # what it measures beyond what can be predicted
        more = [o for k, o in seen.items() if k.startswith(f"{card.key}/") and k not in said]
        lines += [
            _line(o.line, Line("", o.label, o.predicted), _seen(o, o.predicted, stale[o.line], since, rig))
            for o in more
        ]
    shots = (o for o in rig.observations.values() if (o.run, o.line) == (run, photo_line(card)))
    photos = [_seen(o, None, (), since, rig) for o in shots]
    return {
        "key": card.key, "device": card.device, "label": device.label, "room": device.room,
        "socket": port.label if port else card.port, "kind": card.kind, "place": card.place, "trust": card.trust,
        "trust_words": TRUST_WORDS[card.trust], "because": card.because, "source": card.source,
        "source_words": PROVENANCE_NAMES[card.source], "lines": lines, "photos": photos,
    }  # fmt: skip


def _line(key: str, line: Line, seen: SeenOut | None) -> ReadOutLine:
    return {
        "key": key, "label": line.label, "part": line.part, "says": line.says, "why": line.why, "sure": line.sure,
        "listed": line.says in (YES, NO, None) and bool(line.part), "seen": seen,
    }  # fmt: skip


def _seen(seen: Observation, says: str | None, changed: Sequence[Changed], since: Since, rig: Rig) -> SeenOut:
    before = sum((o.run, o.line) == (seen.run, seen.line) for o in rig.observations.values()) - 1
    return {
        "uid": seen.uid, "line": seen.line, "place": seen.place, "label": seen.label, "answer": seen.answer,
        "predicted": seen.predicted, "observed": seen.observed, "at": seen.at, "by": seen.by,
        "firmware": seen.firmware, "photo": seen.photo, "differs": not changed and differs(seen, says),
        "stale": [_changed(seen, c, since) for c in changed], "before": before,
    }  # fmt: skip


def _changed(seen: Observation, changed: Changed, since: Since) -> ChangedOut:
    return {
        "what": changed.what, "was": changed.was, "now": changed.now, "since": since(seen, rests_on(changed.path)),
    }  # fmt: skip


def proof_data(now: Layer, run: Run, since: Since = nowhere, result: RunResult | None = None) -> RateProofOut:
    """Where the proof of a run's rate stands, by what was tried and still holds."""
    result = result or run_result(now, run)
    tried = {k: o for k, o in latest(now.rig.observations, run.uid).items() if k.startswith("rate/")}
    stale = {k: changed_since(now.rig, o.grounds) for k, o in tried.items()}
    keys = {line_of(t.over): t.over for t in rate_tests(now, result)}
    outcomes = {keys[k]: o.observed or "" for k, o in tried.items() if k in keys and not stale[k]}
    proof = rate_proof(now, result, outcomes)
    tests: list[RateTestOut] = [
        {"signal": t.signal.name, "over": t.over, "rate": t.rate, "outcome": proof.outcomes.get(t.over, ""),
         "next": proof.next is not None and t.over == proof.next.over}
        for t in proof.tests
    ]  # fmt: skip
    asked = f"Set {proof.next.signal.name}: does it stay?" if proof.next else ""
    return {
        "tests": tests, "at_most": proof.at_most, "said": proof.said, "swap": proof.swap,
        "determined": proof.determined, "contradicts": proof.contradicts, "compressed": proof.compressed,
        "asked": asked,
        "stale": [_changed(tried[k], c, since) for k in sorted(stale) for c in stale[k]][:MOST_STALE],
    }  # fmt: skip
