"""A source's pages on a screen's HDR cell: how many clicks by what was measured there, what a count found means."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from wavilex.core.gear.hdr_pages import HdrPage
from wavilex.core.light.pages import FEWEST_TO_FIT, Clicks, Counted, Fitted, clicks_for, fitted, light_of, lights
from wavilex.core.light.readings import TYPED_ERROR_E4, Cell, error_of, light_cd_m2, notes_of, patches, stale
from wavilex.core.light.shapes import HdrClicksOut
from wavilex.core.light.words import cd
from wavilex.core.rig.light_notes import UCD, LightNote
from wavilex.core.rig.model import Device, Rig
from wavilex.core.rig.ops import SetFact
from wavilex.core.rig.room_light import PAGE_FACT

SURE = 3.3  # standard errors each way: a count that is said alone is right, or it is not said alone
_SMALL = 10  # percent: a window of a peak page's patch at most
_SETS = {"peak": "peak", "full": "full picture", "black": "black"}


@dataclass(frozen=True, slots=True)
class Known:
    """A light of an HDR cell: least and most it can be, and what was measured, in cd/m²."""

    least: float
    most: float
    light: float


def known_light(rig: Rig, cell: Cell, sets: str) -> Known | None:
    """What was measured in an HDR cell for a page: the brightest small patch, a full picture, or black."""
    if sets == "black":
        notes = patches(rig, cell, signal_e4=0)
        best = min(notes, key=light_cd_m2, default=None)
    elif sets == "full":
        best = next(iter(reversed(patches(rig, cell, window=100))), None)
    else:
        small = [n for n in patches(rig, cell) if n.must("window_percent") <= _SMALL]
        best = max(small, key=light_cd_m2, default=None)
    if best is None:
        return None
    light, off = light_cd_m2(best), SURE * error_of(best)
    return Known(max(light - off, 0.0), light + off, light)


def pages_of(rig: Rig, source: Device) -> list[HdrPage]:
    """A source's pages: its profile's, each with the steps found here where those are known."""
    here = {
        path.partition(".")[2]: HdrPage.model_validate(fact.value)
        for path, fact in rig.device_facts(source.uid).items() if path.startswith(f"{PAGE_FACT}.")
    }  # fmt: skip
    own = {p.id: p for p in source.profile.hdr_pages}
    return list({**own, **here}.values())


def counts_of(rig: Rig, source: Device, page: HdrPage) -> list[LightNote]:
    """What was counted on a page, as it was noted."""
    return [n for n in notes_of(rig, source.uid, "clicks") if n.value == page.id]


def source_peak(rig: Rig, source: Device, cell: Cell) -> float | None:
    """The peak a source was calibrated to on this cell, by the last count there; None: nobody counted."""
    for page in pages_of(rig, source):
        if page.sets == "peak":
            table = lights(page)
            for n in reversed(counts_of(rig, source, page)):
                if n.scope == cell.scope and n.must("count") < len(table):
                    return light_of(table, n.must("count"))[1]
    return None


def clicks_data(rig: Rig, source: Device, page: HdrPage, cell: Cell) -> HdrClicksOut:
    """How many clicks on a page, or why that is not said; what was counted there, and what it means."""
    table, known, notes = lights(page), known_light(rig, cell, page.sets), counts_of(rig, source, page)
    answer, said, fit_words = _answer(rig, page, table, known, notes, cell)
    if page.sets == "black":
        said += "; most leave this page at its bottom (common practice)"
    here = [n for n in notes if n.scope == cell.scope]
    last = here[-1] if here else None
    old = stale(rig, last) if last else []
    found = None if page.known else fitted(_counted(notes))
    op: SetFact | None = None
    if found is not None and len(found.fits) == 1:
        value = found.fits[0].page(page.id, page.label, page.sets).model_dump(mode="json", exclude_defaults=True)
        op = {"op": "set_fact", "device": source.uid, "path": f"{PAGE_FACT}.{page.id}", "value": value}
    return {
        "page": page.id, "label": page.label, "sets": page.sets, "number": page.number, "known": bool(table),
        "low": answer.low if answer else None, "high": answer.high if answer else None, "said": said,
        "meaning": _meaning(table, last), "fit": fit_words,
        "counted": [{"count": str(n.must("count")), "light": _on_light(n), "at": n.at, "uid": n.uid} for n in notes],
        "stale": "; ".join(f"{c.what}: was {c.was}, is {c.now}" for c in old), "ops": [op] if op else [],
    }  # fmt: skip


def _on_light(n: LightNote) -> str:
    """The light a count was made on; "" where it was not measured then."""
    light = n.figure("light_ucd_m2")
    return "" if light is None else f"{cd(light / UCD)} cd/m²"


def _counted(notes: Sequence[LightNote]) -> list[Counted]:
    """Counts whose light was measured, with what it can be; the others tell nothing of the page's steps."""
    out = []
    for n in notes:
        light = n.figure("light_ucd_m2")
        if light is not None:
            at, share = light / UCD, SURE * (n.figure("error_e4") or TYPED_ERROR_E4) / 10_000
            out.append((n.must("count"), max(at * (1 - share), 0.0), at * (1 + share)))
    return out


def light_figures(rig: Rig, source: Device, page: str, cell: Cell) -> dict[str, int]:
    """What a count noted now was made on: the light measured in the cell for its page; nothing where it was not."""
    sets = next((p.sets for p in pages_of(rig, source) if p.id == page), None)
    known = known_light(rig, cell, sets) if sets else None
    if known is None:
        return {}
    error = (known.most - known.light) / SURE / known.light if known.light else 1.0
    return {"light_ucd_m2": round(known.light * UCD), "error_e4": min(max(round(error * 10_000), 1), 10_000)}


def _answer(
    rig: Rig, page: HdrPage, table: list[float], known: Known | None, notes: list[LightNote], cell: Cell
) -> tuple[Clicks | None, str, str]:
    what, fit = _SETS[page.sets], ""
    counts = None
    found_here = page.source == "measured_here"  # a table told by counts is good to a click or so
    if not table or found_here:
        held = _counted(notes)
        found = fitted(held)
        counts = found if found and found.fits else None
        fit = _fit_words(len(held), found is not None, counts)
    if known is None:
        guess = ""
        peak = rig.peak_cd_m2(cell.device) if page.sets == "peak" else None
        if table and peak:
            c = clicks_for(table, peak, peak)
            guess = f"; by its profile’s {peak} cd/m² it would be {c.low}: a guess"
        return None, f"not said: the {what} was not measured in this cell{guess}", fit
    if counts is not None:
        answer = counts.clicks_for(known.least, known.most)
    elif table:
        answer = clicks_for(table, known.least, known.most)
        if found_here:
            answer = replace(answer, low=max(0, answer.low - 1), high=min(answer.high + 1, len(table) - 1))
    else:
        return None, "not said: nobody knows what a click is on this page; count on three screens of known light", fit
    of = f"for the {cd(known.light)} cd/m² measured"
    if answer.beyond == "above" and answer.low == answer.high:
        return answer, f"its last count, {answer.high} ({cd(answer.at)} cd/m²): the page ends below it, {of}", fit
    if answer.beyond == "below":
        return answer, f"count 0: the page begins at {cd(answer.at)} cd/m², over it, {of}", fit
    if answer.sure:
        clicks = "click" if answer.low == 1 else "clicks"
        return answer, f"{answer.low} {clicks} ({cd(answer.at)} cd/m²), {of}", fit
    return answer, f"{answer.low} to {answer.high}, {of} within its error: stop where the pattern just vanishes", fit


def _fit_words(held: int, enough: bool, found: Fitted | None) -> str:
    if not enough:
        return f"{held} of {FEWEST_TO_FIT} counts on screens of measured light: no table yet"
    if found is None:
        return (
            "no equal steps, of light or to the eye, explain these counts: one of them is a slip, or its steps differ"
        )
    parts = []
    for f in found.fits:
        unit = "cd/m²" if f.scale == "light" else "ten-thousandths of a PQ signal"
        off = ", ".join(f"{r:+.2f}" for r in f.residuals)
        parts.append(f"{f.first:.4g} and {f.step:.4g} a click in {unit}; off the middle of a click by {off}")
    return "fitted: " + "; or ".join(parts)


def _meaning(table: list[float], last: LightNote | None) -> str:
    if last is None or not table:
        return ""
    count = last.must("count")
    if count >= len(table):
        return f"{count} is more than this page counts ({len(table) - 1})"
    low, high = light_of(table, count)
    return f"{count} found means {cd(low)} to {cd(high)} cd/m²"
