"""What waits on each sheet, in words, from the model."""

from __future__ import annotations

from collections.abc import Mapping

from wavilex.core.chain.paths import Layer
from wavilex.core.chain.results import RunResult
from wavilex.core.fault.case import is_complaint, of_search, seen_since
from wavilex.core.gear.quirks import Remembers
from wavilex.core.rig.ahead import ahead
from wavilex.core.rig.model import SURVEY_KEYS, Rig
from wavilex.core.rig.visit_facts import newer, updated
from wavilex.core.tell.shapes import RailOut
from wavilex.core.visits.recheck import still_open


def count_of(number: int, one: str, many: str | None = None) -> str:
    """`1 box`, `3 boxes`."""
    return f"{number} {one if number == 1 else many or one + 's'}"


def _stored(rig: Rig) -> str:
    """How many screens keep their picture apart by input, range or mode: each of their cells wants a visit."""
    apart = sum(any(isinstance(q, Remembers) for q in d.profile.quirks) for d in rig.devices.values())
    return f"{count_of(apart, 'screen')} to cover" if apart else "nothing stored apart"


def _proved(rig: Rig) -> RailOut:
    """How much was looked at, and how much of that was otherwise than predicted."""
    counts = {(o.run, o.line): o for o in rig.observations.values() if not of_search(o)}
    otherwise = sum(o.answer == "differs" for o in counts.values())
    text = f"{len(counts)} seen" if counts else "nothing seen yet"
    return {"text": f"{text}, {otherwise} otherwise" if otherwise else text, "attn": bool(otherwise)}


def rail_notes(layer: Layer, results: Mapping[str, RunResult], readings: int) -> dict[str, RailOut]:
    """What waits on each sheet, in words, from the model."""
    rig = layer.rig
    by = {v: sum(r.verdict == v for r in results.values()) for v in ("blocked", "unknown", "tight")}
    unjoined = sum(not r.path for r in results.values())
    rates = by["blocked"] - unjoined
    wants = sum(1 + (r.run.want.hdr != "off") + r.run.want.vrr + r.run.want.low_lag for r in results.values())
    missing = sum(not rig.survey.get(k) for k in SURVEY_KEYS)
    guessed = sum(x.digital and not x.cable.known for x in rig.leads.values())
    brief = count_of(wants, "want") if results else "no run yet"
    if results and missing:
        brief += f", {missing} open"
    if unjoined:
        wiring = f"{count_of(unjoined, 'run')} not joined"
    elif guessed:
        wiring = f"{count_of(guessed, 'lead')} not known"
    else:
        wiring = count_of(len(rig.leads), "lead")
    signal = "nothing to judge"
    if results:
        worst_two = [f"{by[v]} {v}" for v in ("blocked", "unknown", "tight") if by[v]]
        signal = ", ".join(worst_two) or "all fit"
    todo = ahead(rig)
    checks = "checks, no change" if results else "nothing yet"
    return {
        "brief": {"text": brief, "attn": not results},
        "gear": {"text": count_of(len(rig.devices), "box", "boxes") if rig.devices else "empty", "attn": False},
        "wiring": {"text": wiring, "attn": bool(unjoined)},
        "signal": {"text": signal, "attn": rates > 0},
        "light": _lit(rig),
        "lag": {"text": count_of(readings, "reading") if readings else "none taken", "attn": False},
        "settings": {"text": _stored(rig), "attn": False},
        "runsheet": {"text": count_of(todo, "planned change") if todo else checks, "attn": False},
        "prove": _proved(rig),
        "fault": _searched(rig),
        "handover": {"text": "plan ahead of found" if todo else "as found", "attn": False},
        "visits": _versions(rig),
    }


def _versions(rig: Rig) -> RailOut:
    """Boxes that were updated and are still to be looked over; else how many could be."""
    to_look = [d.label for d in rig.devices.values() if (u := updated(rig, d.uid)) and still_open(rig, d, u.now)]
    if to_look:
        return {"text": f"updated: {to_look[0]}" if len(to_look) == 1 else f"{len(to_look)} updated", "attn": True}
    newest = sum(bool(newer(d)) for d in rig.devices.values())
    return {"text": f"{count_of(newest, 'newer version')} known" if newest else "nothing updated", "attn": False}


def _lit(rig: Rig) -> RailOut:
    """How many readings of light there are, and on how many screens."""
    read = [n.device for n in rig.light.values() if n.kind == "patch"]
    if not read:
        return {"text": "nothing measured", "attn": False}
    screens = len(set(read))
    return {"text": count_of(len(read), "reading") + (f", {screens} screens" if screens > 1 else ""), "attn": False}


def _searched(rig: Rig) -> RailOut:
    """Runs that somebody complains of, or where a search is open."""
    open_ = [r.label for r in rig.runs.values() if any(is_complaint(o) for o in seen_since(rig, r.uid))]
    return {"text": f"open: {', '.join(open_)}" if open_ else "no complaint", "attn": bool(open_)}
