"""An assignment in words: who goes where and why, what moves, the runner-up and what each loses by it."""

from __future__ import annotations

from wavilex.core.advise.assign import Assignment, Plan
from wavilex.core.advise.shapes import AssignmentOut, PlaceOut, RunnerUpOut
from wavilex.core.chain.reasons import render
from wavilex.core.chain.results import RunResult, spare_percent
from wavilex.core.rig.lit import lit
from wavilex.core.rig.model import Rig
from wavilex.core.rig.ops import Change


def assignment_data(rig: Rig, a: Assignment) -> AssignmentOut:
    """Plain data: headline, a row a run, the changes, the runner-up."""
    runs = list(rig.runs)
    placed = a.results
    return {
        "headline": _headline(rig, a),
        "proved": a.proved,
        "settled": a.settled,
        "looked_at": a.looked_at,
        "moves": a.best.moves,
        "satisfied": len(a.satisfied),
        "present_satisfied": len(a.present.satisfied),
        "runs": len(runs),
        "places": [_row(rig, a, uid, placed.get(uid)) for uid in runs],
        "boxes": _boxes(rig, a),
        "effects": [e.words for e in a.effects if e.run in rig.runs],
        "ops": list(a.ops),
        "sockets": lit(rig, a.ops),
        "runner_up": _runner_up(rig, a),
    }


def _headline(rig: Rig, a: Assignment) -> str:
    total, good, now = len(rig.runs), len(a.satisfied), len(a.present.satisfied)
    if not total:
        return "There is no run to place yet."
    all_of = "both" if total == 2 else f"all {total}" if total > 2 else "the only"
    every = f"{all_of} runs get what they want" if total > 1 else f"{all_of} run gets what it wants"
    who = every if good == total else (
        f"{good} of {total} runs get what they want, and no other way gives more"
        if a.proved else f"{good} of {total} runs get what they want"
    )  # fmt: skip
    if not a.ops:
        return f"It hangs as well as it can: {who}."
    plugs = f"{a.best.moves} plug{'s' if a.best.moves != 1 else ''}"
    sets = sum(len(p.settings) for p in a.best.places.values() if p)
    acts = sum(len(way.moves) for _, way in a.more)
    after = [f"moving {plugs}"] if a.best.moves else []
    after += [f"{sets} setting{'s' if sets != 1 else ''}"] if sets else []
    after += [f"{acts} more act{'s' if acts != 1 else ''}"] if acts else []
    verb = "does" if now == 1 else "do"
    return f"{who[0].upper()}{who[1:]} after {' and '.join(after)}; as it hangs {now} of {total} {verb}." + (
        ""
        if a.proved
        else " By the moves known no further one gets it without taking from another."
        if a.settled
        else " It is the most found; that nothing gives more is not proved."
    )


def _input_of(rig: Rig, plan: Plan, uid: str) -> tuple[str, str | None, bool]:
    """The input a run's source gets, its lead, and whether that is a move."""
    for lead, place in plan.places.items():
        if place and any(r.run.uid == uid for r in place.results):
            return rig.socket_name(place.inp), lead, place.moved
    return "", None, False


def _row(rig: Rig, a: Assignment, uid: str, result: RunResult | None) -> PlaceOut:
    name, lead, moved = _input_of(rig, a.best, uid)
    place = a.best.places.get(lead) if lead else None
    here, _, _ = _input_of(rig, a.present, uid)
    sets = [_setting_text(rig, op) for op in (place.settings if place else ())]
    acts = [m.label for other, way in a.more if other == uid for m in way.moves]
    if acts and result is not None and result.path:  # what is done beside the places may lead it elsewhere
        name = rig.socket_name(result.path[0].inp)
        moved = name != here
    return {
        "run": uid, "label": rig.runs[uid].label, "weight": rig.runs[uid].want.weight,
        "input": name, "now": here, "lead": rig.leads[lead].label if lead else "", "moved": moved,
        "verdict": result.verdict if result else "blocked", "good": bool(result and result.good),
        "why": _why(rig, result),
        "settings": [{"text": x} for x in (*sets, *acts)],
    }  # fmt: skip


def _why(rig: Rig, result: RunResult | None) -> str:
    if result is None:
        return "No input is left for it: another source needs each one more."
    if result.limiting is not None:
        return render(result.limiting, rig)
    spare = spare_percent(result)
    left = f", {spare:.1f} % to spare" if spare is not None else ""
    return f"{result.asked.name if result.asked else ''} fits{left}."


def _setting_text(rig: Rig, op: Change) -> str:
    if op["op"] == "set_device":
        return f"{rig.devices[op['device']].label} to firmware {op.get('firmware_plan', '')}"
    if op["op"] != "set_setting":
        return ""
    setting = rig.devices[op["device"]].profile.setting(op["key"])
    return (
        f"{rig.devices[op['device']].label}: {setting.label} → {setting.option_label(op['value'] or '')}"
        if setting
        else ""
    )


def _boxes(rig: Rig, a: Assignment) -> list[str]:
    """Boxes whose own lead moves."""
    return [
        f"Lead {rig.leads[uid].label} to {rig.socket_name(socket)}"
        for uid, socket in a.best.trunks.items() if a.present.trunks.get(uid) != socket
    ]  # fmt: skip


def _runner_up(rig: Rig, a: Assignment) -> RunnerUpOut | None:
    other = a.runner_up
    if other is None:
        return None
    best, then = a.best.results, other.results
    loses = []
    for uid, run in rig.runs.items():
        had, has = best.get(uid), then.get(uid)
        where = _input_of(rig, other, uid)[0]
        if had and had.good and not (has and has.good):
            loses.append(f"{run.label}, in {where}: {_why(rig, has)}" if where else f"{run.label} finds no input.")
        elif has and has.good and not (had and had.good):
            loses.append(f"{run.label} gains by it, in {where}.")
    if not loses:
        more = other.moves - a.best.moves
        loses.append(f"Nobody loses; it moves {more} plug{'s' if more != 1 else ''} more." if more > 0 else
                     "Nobody loses; it differs only in who sits where.")  # fmt: skip
    return {"satisfied": len(other.satisfied), "moves": other.moves, "loses": loses, "ops": list(other.ops)}
