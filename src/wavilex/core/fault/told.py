"""A search for a fault told: complaints, ranked causes with what speaks for them, the next best check. Plain data."""

from __future__ import annotations

from collections.abc import Callable, Collection, Mapping, Sequence

from wavilex.core.fault.ask import Asked, ask, thing
from wavilex.core.fault.case import Case, trail_of
from wavilex.core.fault.complaints import COMPLAINTS
from wavilex.core.fault.evidence import (
    CANNOT,
    CHECK,
    COMPLAINT,
    CURE,
    HELPED,
    Answer,
    answers_of,
    likelihood,
    predicted,
)
from wavilex.core.fault.rank import Bench, Hypothesis, Ranking, rank
from wavilex.core.fault.shapes import (
    AskedOut,
    CauseOut,
    ComplaintOut,
    CureOut,
    ForOut,
    LeavesOut,
    SearchOut,
    TrailOut,
)
from wavilex.core.fault.trials import alike
from wavilex.core.fields import PROVENANCE_NAMES
from wavilex.core.gear.own_faults import Complaint
from wavilex.core.prove.line import NO
from wavilex.core.rig.grounds import changed_since
from wavilex.core.rig.model import Observation, Rig, Run

MOST_CAUSES, MOST_MORE, MOST_REASONS = 6, 6, 5
_LEAST_SHARE = 0.005
NOTHING_NOTED: Mapping[Complaint, str] = {}


def fault_data(
    case: Case | None, run: Run, path: str, seen: Sequence[Observation],
    go_on: Callable[[], bool] = lambda: True, noted: Mapping[Complaint, str] = NOTHING_NOTED,
) -> SearchOut:  # fmt: skip
    """A run's search. case: None where the run is not joined. seen: what was seen on it since the last was closed.

    noted: complaints that something noted elsewhere amounts to, with what it is.
    """
    told: SearchOut = {
        "run": run.uid, "label": run.label, "path": path, "joined": case is not None,
        "complaints": _complaints(seen, noted),
        "causes": [], "nothing": 1.0, "nothing_why": "", "unknown": 0.0, "next": None, "more": [], "trail": [],
        "assumed": [], "singles": 0, "pairs_tried": 0, "pairs": 0, "helped": "", "refined": True,
    }  # fmt: skip
    if case is None:
        return told
    bench = case.bench
    latest = {o.line: o for o in seen}
    fresh = {k: o for k, o in latest.items() if not changed_since(bench.scene.noted, o.grounds)}
    answers = answers_of(fresh, bench.cards)
    told["trail"] = [_trail(case, o, stale=o.line not in fresh) for o in trail_of(seen)]
    told["assumed"] = [
        f"{k.setting.label} of {k.device.place(k.scope)}: {k.setting.option_label(k.value)}"
        for k in bench.scene.knobs if k.noted is None and k.value
    ]  # fmt: skip
    told["singles"] = len(bench.faults)
    told["helped"] = next((o.label for o in reversed(seen) if _helped(o) and o.line in fresh), "")
    if not answers:
        return told
    ranking = rank(bench, answers, go_on)
    told["pairs_tried"], told["pairs"], told["refined"] = ranking.tried, ranking.of_pairs, ranking.whole
    told["nothing"] = sum(h.share for h in ranking.hypotheses if h.world is not None and not h.faults)
    told["unknown"] = sum(h.share for h in ranking.hypotheses if h.world is None)
    told["nothing_why"] = _why_so(bench, answers)
    told["causes"] = _causes(case, ranking, answers)
    done = {o.line for o in fresh.values()} | {o.line for o in latest.values() if o.observed == CANNOT}
    last = next((o for o in reversed(seen) if not o.line.startswith(COMPLAINT)), None)
    near = next((c.near for c in case.checks if last is not None and c.key == last.line), "")
    room = bench.scene.layer.rig.devices[last.device].room if last and last.device in bench.scene.noted.devices else ""
    asked = ask(bench, case.checks, case.tables, ranking, done=done, near=near, room=room)
    told["next"] = _asked(bench, asked[0]) if asked else None
    told["more"] = [_asked(bench, x) for x in asked[1 : 1 + MOST_MORE]]
    return told


def _helped(seen: Observation) -> bool:
    return seen.line.startswith(CURE) and seen.observed == HELPED


def reverted_of(rig: Rig, boxes: Collection[str]) -> dict[Complaint, str]:
    """Steps of the run sheet that did not stay, at one of these boxes."""
    back = [o for o in rig.observations.values() if o.line.startswith("reverted/") and o.device in boxes]
    return {"reverted": f"{back[-1].label} at {back[-1].place}: {back[-1].observed}"} if back else {}


def _complaints(seen: Sequence[Observation], noted: Mapping[Complaint, str]) -> list[ComplaintOut]:
    by = {o.line: o.uid for o in seen if o.observed != NO}
    return [
        {"code": code, "key": f"{COMPLAINT}{code}", "words": words, "picked": by.get(f"{COMPLAINT}{code}"),
         "suggested": noted.get(code, "")}
        for code, words in COMPLAINTS.items()
    ]  # fmt: skip


def _trail(case: Case, seen: Observation, *, stale: bool) -> TrailOut:
    kind = case.kind_of(seen)
    return {
        "uid": seen.uid, "key": seen.line, "kind": kind, "words": case.words_of(seen),
        "value": case.value_words(seen), "at": seen.at, "by": seen.by, "stale": stale,
    }  # fmt: skip


def _why_so(bench: Bench, answers: Sequence[Answer]) -> str:
    """Why what is complained of is to be expected as everything is noted; "" where it is not."""
    for code in COMPLAINTS:
        felt = bench.base.felt[code]
        if felt.why and any(a.key == f"{COMPLAINT}{code}" and a.value != NO for a in answers):
            return felt.why
    return ""


def _causes(case: Case, ranking: Ranking, answers: Sequence[Answer]) -> list[CauseOut]:
    classes: dict[tuple[str, ...], list[Hypothesis]] = {}
    for h in ranking.hypotheses:
        if h.faults:
            classes.setdefault(thing(h), []).append(h)
    ranked = sorted(classes.values(), key=lambda hs: -sum(h.share for h in hs))
    shown = [hs for hs in ranked if sum(h.share for h in hs) >= _LEAST_SHARE][:MOST_CAUSES]
    return [_cause(case, n, hs, shown, answers) for n, hs in enumerate(shown, 1)]


def _cause(
    case: Case, number: int, members: Sequence[Hypothesis], shown: Sequence[Sequence[Hypothesis]],
    answers: Sequence[Answer],
) -> CauseOut:  # fmt: skip
    bench, first = case.bench, members[0]
    rig = bench.scene.layer.rig
    also = [f.what for h in members[1:3] for f in h.faults if f not in first.faults]
    for others in shown:
        other = others[0]
        if other is not first and other.world and first.world and alike(other.world, first.world):
            also.append(f"nothing here tells it from: {'; '.join(f.what for f in other.faults)}")
    device = first.faults[0].device
    return {
        "id": "+".join(sorted(f.id for f in first.faults)), "rank": number, "share": sum(h.share for h in members),
        "kinds": [f.kind for f in first.faults], "device": device,
        "label": ", ".join(dict.fromkeys(rig.devices[f.device].label for f in first.faults)),
        "what": [f.what for f in first.faults], "also": also, "reasons": _reasons(case, first, answers),
        "cures": _cures(case, first), "note_ops": [op for f in first.faults for op in f.ops],
        "source": first.faults[0].source, "source_words": PROVENANCE_NAMES[first.faults[0].source],
    }  # fmt: skip


def _reasons(case: Case, h: Hypothesis, answers: Sequence[Answer]) -> list[ForOut]:
    """What was seen that speaks for or against, the weightiest first."""
    assert h.world is not None
    base = case.bench.base
    weighed = []
    for a in answers:
        ratio = likelihood(a, h.world) / likelihood(a, base)
        if not 0.83 < ratio < 1.2:
            weighed.append((max(ratio, 1 / ratio), ratio > 1, a))
    weighed.sort(key=lambda x: -x[0])
    return [{"text": _said(case, h, a), "speaks_for": good} for _, good, a in weighed[:MOST_REASONS]]


def _said(case: Case, h: Hypothesis, answer: Answer) -> str:
    """`If the input’s format had fallen back, the list would lack HDR; it does.`"""
    assert h.world is not None
    so = " and ".join(f.if_so for f in h.faults)
    if answer.key.startswith(COMPLAINT):
        code = next(c for c in COMPLAINTS if answer.key == f"{COMPLAINT}{c}")
        felt = h.world.felt[code]
        how = "often" if felt.likely >= 0.8 else "mostly" if felt.likely >= 0.5 else "sometimes"
        if felt.likely < 0.1:
            how = "seldom"
        return f"If {so}, “{COMPLAINTS[code]}” would {how} be heard; it is."
    check = case.by_key.get(answer.key)
    words = check.words if check is not None else answer.key
    named = {o.value: o.words for o in check.outcomes} if check is not None else {}
    seen = named.get(answer.value or "", answer.value or "otherwise")
    if answer.key.startswith(CURE):
        helps = any(name == answer.key[len(CURE) :] for f in h.faults for name, _ in f.cures)
        would = "would help" if helps else "would not help"
        return f"If {so}, “{words}” {would}; {'it did' if answer.value == HELPED else 'it did not'}."
    says = predicted(answer.key, h.world)
    if says is None:
        return f"If {so}, nobody could tell of “{words}”; {seen} was seen."
    would = named.get(says, says)
    verb = "be found" if answer.key.startswith(CHECK) else "read"
    return f"If {so}, {words} would {verb} {would}; {'it does' if would == seen else f'it is {seen}'}."


def _cures(case: Case, h: Hypothesis) -> list[CureOut]:
    found: dict[str, CureOut] = {}
    for fault in h.faults:
        for name, likely in fault.cures:
            act = case.bench.acts[name]
            found.setdefault(
                name,
                {"key": f"{CURE}{name}", "words": act.words, "seconds": act.seconds, "caution": act.caution,
                 "likely": likely, "ops": list(act.ops)},
            )  # fmt: skip
    return list(found.values())


def _asked(bench: Bench, asked: Asked) -> AskedOut:
    check = asked.check
    outcomes: list[LeavesOut] = []
    for leaf in asked.leaves:
        first = leaf.first
        words = "; ".join(f.what for f in first.faults) if first is not None and first.faults else "all as noted"
        if check.kind == "cure" and leaf.outcome.value == HELPED:
            words = "done"
        share = 1.0 if words == "done" else leaf.share
        outcomes.append({"value": leaf.outcome.value, "words": leaf.outcome.words, "probable": leaf.probable,
                         "leaves": words, "share": share})  # fmt: skip
    minutes = f"{asked.seconds} s" if asked.seconds < 90 else f"{round(asked.seconds / 60)} min"
    act = "trying it is as cheap as knowing: " if check.kind == "cure" else ""
    clears = min(1.0, asked.bits / asked.open_bits) if asked.open_bits else 0.0
    outcomes.sort(key=lambda o: -o["probable"])
    return {
        "key": check.key, "kind": check.kind, "words": check.words,
        "label": bench.scene.layer.rig.devices[check.device].label, "seconds": asked.seconds,
        "disturbs": check.disturbs, "caution": check.caution,
        "why": f"{act}clears up {clears * 100:.0f} % of the doubt in {minutes}", "clears": clears, "outcomes": outcomes,
    }  # fmt: skip
