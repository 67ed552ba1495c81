"""Ways to give a run its want, as plain data: what each does, what was proved, and the best instead."""

from __future__ import annotations

from wavilex.core.advise.fixes import Fix, Fixes
from wavilex.core.advise.parts import Part
from wavilex.core.advise.shapes import FixesOut, FixOut, PartOut
from wavilex.core.rig.lit import lit
from wavilex.core.rig.model import Rig, Run, Want
from wavilex.core.rig.ops import Change, SetWant

ITEM_NAMES = {
    "joined": "Joined",
    "source": "Source sends it",
    "picture": "Screen shows it",
    "chroma": "Chroma and depth",
    "link": "Links carry it",
    "hdr": "HDR",
    "vrr": "Variable refresh",
    "low_lag": "Automatic low latency",
    "protection": "Copy protection",
}


def fixes_data(fixes: Fixes, rig: Rig, run: Run) -> FixesOut:
    """Ways in order of cost, each with all that it does; what was proved; where there is none, the best instead."""
    out_of_reach = fixes.barred
    return {
        "proved": fixes.proved,
        "said": _proof(fixes),
        "needs": fixes.needs,
        "proof": fixes.proof,
        "parts": [_part_data(p, way, rig, bool(fixes.ways)) for p, way in fixes.parts],
        "not_to_be_had": [ITEM_NAMES[key] for key in out_of_reach.items] if out_of_reach else [],
        "tried": fixes.tried,
        "ways": [_fix_data(f, rig) for f in fixes.ways],
        "instead": [
            {
                "name": want_words(i.lesser.want),
                "goes_without": list(i.lesser.goes_without),
                "way": _fix_data(i.way, rig) if i.way else None,
                "settle": [*(i.way.ops if i.way else ()), *_settled(run, i.lesser.want)],
            }
            for i in fixes.instead
        ],
    }


_ANSWERS = {
    "had": "had now",
    "by_steps": "had by the first way",
    "unknown": "not known yet",
    "not_found": "no way found",
    "never": "not to be had",
}


def _part_data(part: Part, way: Fix | None, rig: Rig, whole: bool) -> PartOut:
    says = _ANSWERS[part.answer]
    if part.answer == "by_steps" and (way is not None or part.why or not whole):
        says = "had by steps of its own"
    if part.answer == "had" and part.key != "sound" and part.why:
        says = "had now, not yet sure"
    if part.answer == "had" and way is not None:
        says = "had now, better by steps of its own"
    if part.mode is not None and part.answer == "by_steps" and way is None:
        says = f"now at {part.mode.name}, as wanted by the first way"
    elif part.mode is not None:
        says += f", at {part.mode.name}"
    return {
        "key": part.key, "wanted": part.wanted, "answer": part.answer, "says": says, "why": part.why,
        "way": _fix_data(way, rig) if way else None,
    }  # fmt: skip


def _settled(run: Run, less: Want) -> list[Change]:
    """The changes that bring a run's want down to a lesser one."""
    ops: list[Change] = []
    for key in ("mode", "hdr", "chroma", "bits", "vrr", "protected"):
        value = getattr(less, key)
        if value != getattr(run.want, key):
            op: SetWant = {"op": "set_want", "run": run.uid, "key": key, "value": value}
            ops.append(op)
    return ops


def _proof(fixes: Fixes) -> str:
    """What was proved, and no more."""
    looked = f"{fixes.tried} rigs looked at"
    if fixes.barred is not None:
        return "Proved: blocked even with the two ends joined directly by the best lead."
    if not fixes.ways:
        return f"Every set of the moves known was looked at: {looked}." if fixes.proved else f"Not all: {looked}."
    if not fixes.proved and not fixes.ways[0].loses:
        return f"Cheapest found; a cheaper one may exist: {looked}."
    if fixes.ways[0].loses:
        return f"Every way found takes something from another run or from sound: {looked}."
    return f"Cheapest, proved, and nothing is lost by it: {looked}."


def want_words(want: Want) -> str:
    """A want in short: mode, HDR, variable refresh."""
    hdr = {"off": "", "static": "HDR", "dynamic": "dynamic HDR"}[want.hdr]
    return ", ".join(w for w in (want.mode.name, hdr, "variable refresh" if want.vrr else "") if w)


def _fix_data(f: Fix, rig: Rig) -> FixOut:
    return {
        "label": f.label,
        "kinds": [m.kind for m in f.moves],
        "cost": f.cost,
        "cost_text": f.cost_text,
        "minutes": f.minutes,
        "notes": list(dict.fromkeys(m.note for m in f.moves if m.note)),
        "gives": f.result.asked.name if f.result.asked else "the machine’s own picture",
        "verdict": f.result.verdict,
        "disturbs": [rig.runs[uid].label for uid in f.disturbs],
        "effects": [e.words for e in f.effects],
        "loses": f.loses,
        "ops": f.ops,
        "sockets": lit(rig, f.ops),
    }
