"""Ways to give a run its want, as plain data: what each does, what was proved, and the best instead."""

from __future__ import annotations

from wavilex.core.advise.fixes import Fix, Fixes
from wavilex.core.advise.shapes import FixesOut, FixOut
from wavilex.core.rig.model import Rig, Want

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


def fixes_data(fixes: Fixes, rig: Rig) -> FixesOut:
    """Ways in order of cost, each with all that it does; what was proved; where there is none, the best instead."""
    out_of_reach = fixes.barred
    return {
        "proved": fixes.proved,
        "said": _proof(fixes),
        "needs": fixes.needs,
        "not_to_be_had": [ITEM_NAMES[key] for key in out_of_reach.items] if out_of_reach else [],
        "tried": fixes.tried,
        "ways": [_fix_data(f, rig) for f in fixes.ways],
        "instead": [
            {
                "name": want_words(i.lesser.want),
                "goes_without": list(i.lesser.goes_without),
                "way": _fix_data(i.way, rig) if i.way else None,
            }
            for i in fixes.instead
        ],
    }


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
    }
