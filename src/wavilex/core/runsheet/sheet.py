"""The run sheet as it stands: what is still to do, what was done, and how long the rest takes."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass

from wavilex.core.cautions import CAUTION_NAMES, CAUTIONS
from wavilex.core.chain.paths import Layer
from wavilex.core.prove.grounds import grounds_of
from wavilex.core.rig.ahead import ahead
from wavilex.core.rig.grounds import Changed, Grounds, changed_since, ends_text
from wavilex.core.rig.lit import lit
from wavilex.core.rig.model import Rig
from wavilex.core.runsheet.plan import minutes_of, plan_steps
from wavilex.core.runsheet.shapes import CautionOut, SheetTold, StepOut
from wavilex.core.runsheet.step import PHASES, POWER_OFF, POWER_ON, Step
from wavilex.core.ticks import DONE, REVERTED, UNDONE, TickState

_NOT_NOTED = ends_text((None, None))


@dataclass(frozen=True, slots=True)
class Event:
    """Something ticked, reverted by the box, or taken back; in the order it happened. at: ISO 8601, UTC."""

    key: str
    state: TickState
    title: str
    phase: str
    at: str
    by: str = ""
    grounds: Grounds = ()


def step_grounds(rig: Rig, step: Step) -> dict[str, str]:
    """What a step that records nothing rests on once it is done: the version of every box it is about; of a run's proof
    also the leads and settings of its way, as found. What nobody noted then is no ground.
    """
    found = {f"firmware/{uid}": v for uid in step.rests if uid in rig.devices and (v := rig.devices[uid].firmware)}
    if step.run is None:
        return found
    run, path = step.run
    return found | {k: v for k, v in grounds_of(Layer(rig, "found"), run, path).items() if v != _NOT_NOTED}


def standing(rig: Rig, events: Sequence[Event]) -> dict[str, str]:
    """Steps that were ticked and hold: when, by key."""
    last = {e.key: e for e in events}
    return {k: e.at for k, e in last.items() if e.state == DONE and not changed_since(rig, e.grounds)}


def is_off(events: Sequence[Event]) -> bool:
    """Has everything been switched off, and not on again?"""
    last = ""
    for e in events:
        if e.key in (POWER_OFF, POWER_ON) and e.state == DONE:
            last = e.key
        elif e.key == POWER_OFF and e.state == UNDONE:
            last = ""
    return last == POWER_OFF


def steps_now(rig: Rig, events: Sequence[Event]) -> list[Step]:
    """The steps of the plan as things stand."""
    last = {e.key: e for e in events}
    return plan_steps(rig, off=is_off(events), done={k for k, e in last.items() if e.state == DONE})


def sheet_data(rig: Rig, events: Sequence[Event]) -> SheetTold:
    """The sheet as plain data. A step that records something is open while what it records is not so; any other is done
    once it was ticked and not taken back since, as long as what it rests on stands.
    """
    steps = steps_now(rig, events)
    last = {e.key: e for e in events}
    gone = {s.key: changed_since(rig, last[s.key].grounds) for s in steps if s.key in last}
    open_keys = {s.key for s in steps if s.ops or not _ticked(last.get(s.key)) or gone[s.key]}
    rows: dict[str, list[StepOut]] = {phase: [] for phase in PHASES}
    for e in last.values():
        if e.key not in {s.key for s in steps} and _ticked(e):
            rows[e.phase].append(_past(e))
    said: set[str] = set()
    for step in steps:
        rows[step.phase].append(_row(rig, step, last.get(step.key), open_keys, steps, said, gone.get(step.key, ())))
    usual = {p: _usual(rows[p]) for p in PHASES}
    for phase, (see, if_not) in usual.items():
        for row in rows[phase]:
            row["usual"] = row["open"] and bool(see) and (row["see"], row["if_not"]) == (see, if_not)
    left = [s for s in steps if s.key in open_keys]
    return {
        "phases": [
            {"id": p, "title": PHASES[p], "see": usual[p][0], "if_not": usual[p][1], "steps": rows[p]}
            for p in PHASES
            if rows[p]
        ],
        "minutes_left": minutes_of(left),
        "open": len(left),
        "ahead": ahead(rig),
        "done": sum(not r["open"] for group in rows.values() for r in group),
        "next": left[0].key if left else None,
    }


def _ticked(event: Event | None) -> bool:
    return event is not None and event.state in (DONE, REVERTED)


def _usual(rows: Sequence[StepOut]) -> tuple[str, str]:
    """What to see, and what if not, that most of a phase's open steps have alike; "" where no two do."""
    count = Counter((r["see"], r["if_not"]) for r in rows if r["open"] and r["see"])
    words, times = max(count.items(), key=lambda x: x[1], default=(("", ""), 0))
    return words if times > 1 else ("", "")


def _row(
    rig: Rig, step: Step, event: Event | None, open_keys: set[str], steps: Sequence[Step], said: set[str],
    gone: Sequence[Changed],
) -> StepOut:  # fmt: skip
    """said: cautions that stood at open steps before; this one's are added. gone: what changed since it was done."""
    is_open = step.key in open_keys
    first = [s.title for s in steps if s.key in step.needs and s.key in open_keys]
    reverted = event is not None and event.state == REVERTED
    cautions: list[CautionOut] = [
        {"text": CAUTIONS[c], "name": CAUTION_NAMES[c], "again": c in said} for c in step.cautions
    ]
    said |= set(step.cautions) if is_open else set()
    return {
        "key": step.key, "title": step.title, "where": step.where, "stands": step.stands,
        "why": "; ".join([*(again_words(event, c) for c in gone if event), *([step.why] if step.why else [])]),
        "see": step.see, "if_not": step.if_not, "minutes": step.minutes, "wait_s": step.wait_s, "keep": step.keep,
        "first": first, "cautions": cautions, "usual": False, "open": is_open,
        "state": event.state if event and (not is_open or reverted) else "",
        "at": event.at if event else None, "by": event.by if event else "", "sockets": lit(rig, step.ops),
    }  # fmt: skip


def again_words(event: Event, changed: Changed) -> str:
    """`done on 2026-05-03; since then firmware of Television went from 3.2 to 3.4`."""
    return f"done on {event.at[:10]}; since then {changed.what} went from {changed.was} to {changed.now}"


def _past(e: Event) -> StepOut:
    return {
        "key": e.key, "title": e.title, "where": "", "stands": "", "why": "", "see": "", "if_not": "", "minutes": 0,
        "wait_s": 0, "keep": False, "first": [], "cautions": [], "usual": False, "open": False, "state": e.state,
        "at": e.at, "by": e.by, "sockets": [],
    }  # fmt: skip
