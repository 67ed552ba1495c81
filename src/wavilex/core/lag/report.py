"""A lag session's answers as plain data: every cell, differences from a baseline, scan-out, kinds of signal, changes.

A cell's name is its screen mode with whatever else differs between the cells. Guesses are told beside, never mixed in.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from fractions import Fraction
from typing import Literal

from wavilex.core.gear.profile import Profile
from wavilex.core.lag.difference import DECISIONS, EQUIVALENCE_LEVEL, Difference, compare, costs, equivalence, ratio
from wavilex.core.lag.enough import enough
from wavilex.core.lag.groups import Group, ms, ms_if_known, names
from wavilex.core.lag.plan import Cell
from wavilex.core.lag.recognise import buffers, interlaced, low_progressive
from wavilex.core.lag.regression import changes, lags
from wavilex.core.lag.scanout import POSITIONS, parts, scan_out, slope
from wavilex.core.lag.setting_cost import Taken, setting_costs
from wavilex.core.lag.shapes import (
    ConditionOut,
    CostOut,
    DifferenceOut,
    HandlingOut,
    LagChange,
    LagDifference,
    LagReport,
    LightOut,
    PartsOut,
    SettingCostOut,
    SummaryOut,
    TitleVerdict,
)
from wavilex.core.lag.state import NOT_NOTED, State, state_words
from wavilex.core.lag.steps import late_words
from wavilex.core.lag.summary import (
    BOUNDS_MS,
    FEWEST_FOR_INTERVAL,
    UNHURRIED,
    LagSummary,
    bounds_data,
    judge,
    outliers,
    summarise,
)
from wavilex.core.rig.model import Title
from wavilex.core.video.named import is_interlaced, shown, timing_of
from wavilex.core.video.timing import Timing

SignalKind = Literal["progressive", "interlaced", "low"]
_KINDS: Mapping[SignalKind, Literal["", "interlaced", "low resolution"]] = {
    "progressive": "", "interlaced": "interlaced", "low": "low resolution",
}  # fmt: skip
_LOW_LINES = 400  # fewer lines of a progressive frame are an old machine's
_NAMED = 6  # so many of the readings that stand out are named


@dataclass(frozen=True)
class Asked:
    """What a report is held against. kind: of the screen; bound_ms: the client's own, None: common practice.

    baseline: the cell's name others are compared with, "" for the first; equivalence_us: no practical change within.
    strobes: black frames or a flashing light are on. played: the signals a title is played in, by its uid, as far as
    that is known. states: what every condition sets the box to, as far as that was noted; profile: the box's;
    firmware: that runs on it now, "" not known.
    """

    kind: str = "television"
    bound_ms: int | None = None
    baseline: str = ""
    equivalence_us: int = 2000
    strobes: bool = False
    titles: Sequence[Title] = field(default=())
    played: Mapping[str, tuple[str, ...]] = field(default_factory=dict)
    states: Mapping[str, State] = field(default_factory=dict)
    profile: Profile | None = None
    firmware: str = ""

    @property
    def bound(self) -> int:
        own = self.profile.lag_bound_ms if self.profile else None
        return self.bound_ms or own or BOUNDS_MS.get(self.kind, 40)

    @property
    def bound_source(self) -> str:
        if self.bound_ms:
            return "asked here"
        own = self.profile.lag_bound_ms if self.profile else None
        return "common practice" if own in (None, BOUNDS_MS.get(self.kind, 40)) else "by its profile"


def summary_data(s: LagSummary | None) -> SummaryOut | None:
    """In ms, to a µs."""
    if s is None:
        return None
    return {
        "n": s.n, "lag_ms": ms(s.lag_us), "of": s.of, "median_ms": ms(s.median_us), "mean_ms": ms(s.mean_us),
        "counted_ms": ms_if_known(s.counted_us), "steps_words": _steps(s),
        "sd_ms": ms_if_known(s.sd_us),
        "low_ms": ms(s.low_us), "high_ms": ms(s.high_us),
        "ci_words": _interval(s), "ci_low_ms": ms_if_known(s.ci_low_us), "ci_high_ms": ms_if_known(s.ci_high_us),
        "quartile_low_ms": ms(s.quartiles_us[0]), "quartile_high_ms": ms(s.quartiles_us[1]), "outliers": s.outliers,
    }  # fmt: skip


def _interval(s: LagSummary) -> str:
    """The interval in words; of too few readings how many it needs."""
    if s.ci_low_us is None or s.ci_high_us is None:
        return f"from {FEWEST_FOR_INTERVAL} readings"
    return f"{float(s.ci_low_us) / 1000:.1f} – {float(s.ci_high_us) / 1000:.1f} ms"


def _steps(s: LagSummary) -> str:
    """How the readings lie, where on steps."""
    if s.counted_us is not None:
        return f"counted in frames of {float(s.counted_us) / 1000:.1f} ms: the mean tells more than any of them"
    return f"on frame steps: {late_words(s.late)} a frame late or more" if s.late is not None else ""


def _outliers(g: Group, s: LagSummary | None) -> str:
    """Readings that stand out, a few of them named; empty where none does."""
    found = _standing_out(g, s)
    if not found:
        return ""
    said = "1 stands out, and still counts" if len(found) == 1 else f"{len(found)} stand out, and still count"
    named = ", ".join(f"{us / 1000:.1f}" for us in found[:_NAMED])
    return f"{said}: {named} ms{' …' if len(found) > _NAMED else ''}"


def _standing_out(g: Group, s: LagSummary | None) -> list[int]:
    return [g.values[n] for n in outliers(g.values)] if s and s.outliers else []


def _footing(asked: Asked) -> str:
    """What the judgement rests on: bounds and methods."""
    usual = ", ".join(f"{kind} {bound}" for kind, bound in BOUNDS_MS.items())
    return (
        f"Bound {asked.bound} ms for a {asked.kind}: {asked.bound_source} (common practice: {usual}; titles without "
        f"competition bear {UNHURRIED} times that, our own figure). Interval of the median by order statistics, of a "
        "shift by ranks: no distribution assumed. Readings counted in frames, or on frame steps, by their means, with "
        "what so many counts can tell. A sister model’s result is a hope, not a reading."
    )


def _costs_footing(looks: int, asked: Asked) -> str:
    """What the costs rest on: correction for many looks, and when a change is none."""
    many = (
        f"Looking at {looks} at once finds differences by chance: intervals of costs are widened for that "
        "(Bonferroni), and p-values corrected by Holm’s rule. " if looks > 1 else ""
    )  # fmt: skip
    within = f"{asked.equivalence_us / 1000:g}"
    level = f"{float(EQUIVALENCE_LEVEL * 100):g}"
    return (
        f"{many}“{DECISIONS['same'].capitalize()}” needs the {level} % interval wholly within ±{within} ms; dashed "
        "bars are undecided."
    )


def lag_report(groups: Sequence[Group], asked: Asked = Asked()) -> LagReport:
    """Everything the readings of a screen say."""
    named = names(groups)
    taken = {n: g for n, g in named.items() if g.values}
    sums = {n: summarise(g.readings) for n, g in named.items()}
    of_mode = next((n for n, g in taken.items() if g.cell.condition == asked.baseline), next(iter(taken), ""))
    baseline = asked.baseline if asked.baseline in taken else of_mode
    return {
        "bound_ms": asked.bound, "bound_source": asked.bound_source,
        "kind": asked.kind, "level_percent": 95,
        "conditions": [_condition(n, g, sums[n], asked) for n, g in named.items()],
        "baseline": baseline, "difference": _first_two(taken),
        "costs": _costs(taken, baseline, asked), "setting_costs": _setting_costs(taken, baseline, asked),
        "bounds": bounds_data(),
        "places": _places(taken, asked), "handling": _handling(taken),
        "changes": _changes(taken, asked), "titles": _titles(named, sums, asked),
        "footing": _footing(asked), "costs_footing": _costs_footing(len(taken) - 1, asked),
    }  # fmt: skip


def _condition(name: str, g: Group, s: LagSummary | None, asked: Asked) -> ConditionOut:
    verdict = judge(s, asked.bound, asked.kind) if s else None
    told = enough(s)
    guess = summarise(g.guesses)
    timing = timing_of(g.cell.signal)
    apart: PartsOut | None = None
    if s is not None and timing is not None:
        p = parts(s.lag_us, timing, POSITIONS.get(g.cell.position, POSITIONS["middle"]))
        held = buffers(p.processing_us, scan_out(timing).frame_us)
        apart = {"scan_ms": ms(p.scan_us), "processing_ms": ms(p.processing_us), "words": held.words}
    return {
        "condition": name, "mode": g.cell.condition, "input": g.cell.input, "signal": g.cell.signal,
        "position": g.cell.position, "methods": sorted(set(g.methods)),
        "summary": summary_data(s), "verdict": verdict.verdict if verdict else None,
        "sentence": verdict.sentence if verdict else "No reading yet.",
        "enough": told.enough, "more": told.more, "enough_words": told.sentence,
        "outliers_ms": [ms(us) for us in _standing_out(g, s)[:20]],
        "outliers_words": _outliers(g, s),
        "guess_ms": ms(guess.median_us) if guess else None, "parts": apart,
        "set_to": state_words(asked.profile, asked.states.get(g.cell.condition, NOT_NOTED)) if asked.profile else "",
        "kind": _kind_words(g.cell.signal), "older": _older(g, asked.firmware),
    }  # fmt: skip


def _first_two(taken: Mapping[str, Group]) -> LagDifference | None:
    """The first cell against the next one, taken the same way if there is one: two ways of measuring one cell differ by
    the ways.
    """
    (first, a), *others = taken.items() if taken else [("", Group(Cell()))]
    apart = [(name, g) for name, g in others if g.cell != a.cell]
    if not apart:
        return None
    second, b = next(((name, g) for name, g in apart if g.by == a.by), apart[0])
    d = compare(a.readings, b.readings)
    return {"from_": first, "to": second, **difference_data(first, second, d)} if d else None


def difference_data(first: str, second: str, d: Difference) -> DifferenceOut:
    """A difference with its interval, in ms, and as a sentence."""
    amount = float(d.us) / 1000
    word = "less" if amount < 0 else "more"
    span = ""
    if d.ci_low_us is not None and d.ci_high_us is not None:
        edges = sorted(abs(float(x)) / 1000 for x in (d.ci_low_us, d.ci_high_us))
        crosses = d.ci_low_us < 0 < d.ci_high_us
        low, high = float(d.ci_low_us) / 1000, float(d.ci_high_us) / 1000
        span = f" ({low:+.1f} to {high:+.1f})".replace("-", "−") if crosses else f" ({edges[0]:.1f} to {edges[1]:.1f})"
    return {
        "ms": round(amount, 3), "ci_low_ms": ms_if_known(d.ci_low_us), "ci_high_ms": ms_if_known(d.ci_high_us),
        "sentence": f"{second[:1].upper()}{second[1:]} takes {abs(amount):.1f} ms {word} than {first}{span}.",
        "of": d.of, "medians_ms": ms(d.medians_us),
        "note": _difference_note(d) if span else "Fewer than six readings in a condition: no interval yet.",
    }  # fmt: skip


def _difference_note(d: Difference) -> str:
    """Which difference it is, and the one of medians beside it."""
    what = "Difference of means" if d.of == "means" else "Shift: the median of all pairwise differences"
    steps = f"; {d.steps}" if d.steps else ""
    return f"{what}{steps}. The medians differ by {float(d.medians_us) / 1000:+.1f} ms.".replace("-", "−")


def _costs(taken: Mapping[str, Group], baseline: str, asked: Asked) -> list[CostOut]:
    """Every other cell against the baseline: what it costs, whether that is a change, and as a multiple."""
    if not baseline:
        return []
    base = taken[baseline].readings
    others = {n: g.readings for n, g in taken.items() if g.cell != taken[baseline].cell}
    out: list[CostOut] = []
    for c in costs(base, others):
        same = equivalence(base, others[c.name], asked.equivalence_us)
        times = ratio(base, others[c.name])
        out.append({
            "condition": c.name, "ms": ms(c.difference.us),
            "ci_low_ms": ms_if_known(c.difference.ci_low_us),
            "ci_high_ms": ms_if_known(c.difference.ci_high_us),
            "p_corrected": round(c.p_corrected, 6), "different": c.different,
            "decision": same.decision if same else "undecided",
            "decided": DECISIONS[same.decision if same else "undecided"],
            "because": same.sentence if same else "",
            "more": same.more if same else None,
            "sentence": f"{c.name}: {same.sentence}" if same else "",
            "ratio": round(times.ratio, 3) if times else None,
            "ratio_low": round(times.ci_low, 3) if times and times.ci_low is not None else None,
            "ratio_high": round(times.ci_high, 3) if times and times.ci_high is not None else None,
        })  # fmt: skip
    return out


def _setting_costs(taken: Mapping[str, Group], baseline: str, asked: Asked) -> list[SettingCostOut]:
    """What each setting costs, where two cells differ in it alone."""
    if not baseline or asked.profile is None:
        return []
    cells = [
        Taken(g.cell, g.readings, g.by, tuple(dict.fromkeys(e.firmware for e in g.epochs)),
              max((e.day for e in g.epochs), default=""))
        for g in taken.values()
    ]  # fmt: skip
    of = taken[baseline].cell.condition
    return setting_costs(cells, of, asked.states, asked.profile, asked.equivalence_us)


def _places(taken: Mapping[str, Group], asked: Asked) -> list[LightOut]:
    """Top to bottom, for every mode and signal measured at two places or more."""
    by: dict[tuple[str, str, str, str], dict[str, Fraction]] = {}
    for g in taken.values():
        s = summarise(g.readings)
        if g.cell.position and s is not None:
            by.setdefault((g.cell.condition, g.cell.input, g.cell.signal, g.by), {})[g.cell.position] = s.lag_us
    out: list[LightOut] = []
    for (condition, socket, signal, _), values in by.items():
        timing = timing_of(signal)
        found = slope(values, timing, strobes=asked.strobes) if timing else None
        if found is None:
            continue
        out.append({
            "condition": ", ".join(w for w in (condition, socket, shown(signal)) if w), "kind": found.kind,
            "measured_ms": ms(found.measured_us), "expected_ms": ms(found.expected_us), "words": found.words,
        })  # fmt: skip
    return out


def _handling(taken: Mapping[str, Group]) -> list[HandlingOut]:
    """Interlaced and low-resolution progressive against progressive of the same mode, input and place: of the same size
    and rate, the low-resolution one with half the lines.
    """
    by: dict[tuple[str, str, str, str], dict[tuple[SignalKind, int, int], Group]] = {}
    for g in taken.values():
        timing = timing_of(g.cell.signal)
        if timing is not None:
            kind = _kind_of(timing)
            size = timing.frame_height * (2 if kind == "low" else 1), timing.nominal_hz
            by.setdefault((g.cell.condition, g.cell.input, g.cell.position, g.by), {}).setdefault((kind, *size), g)
    out: list[HandlingOut] = []
    for (condition, socket, *_), kinds in by.items():
        for (kind, lines, hz), weave in kinds.items():
            plain, low = kinds.get(("progressive", lines, hz)), kinds.get(("low", lines, hz))
            timing = timing_of(weave.cell.signal)
            if kind != "interlaced" or plain is None or timing is None:
                continue
            field_us = 1_000_000 / timing.refresh
            place = ", ".join(w for w in (condition, socket, shown(weave.cell.signal)) if w)
            found = [interlaced(plain.readings, weave.readings, field_us)]
            if low is not None:
                found.append(low_progressive(plain.readings, weave.readings, low.readings, field_us))
            out += [{"condition": place, "kind": f.kind, "fields": round(f.fields, 2), "words": f.words}
                    for f in found if f]  # fmt: skip
    return out


def _kind_of(timing: Timing) -> SignalKind:
    return "interlaced" if timing.interlaced else "low" if timing.frame_height < _LOW_LINES else "progressive"


def _kind_words(signal: str) -> Literal["", "interlaced", "low resolution"]:
    timing = timing_of(signal)
    return _KINDS[_kind_of(timing)] if timing else "interlaced" if is_interlaced(signal) else ""


def _older(g: Group, firmware: str) -> str:
    """Was all of it taken on another firmware than runs now? "" where not, or where nobody knows."""
    of = {e.firmware for e in g.epochs}
    if not firmware or not of or "" in of or firmware in of:
        return ""
    return f"taken on firmware {' and '.join(sorted(of))}; {firmware} runs now: measure again"


def _changes(taken: Mapping[str, Group], asked: Asked) -> list[LagChange]:
    """Cells measured on more than one day or firmware: what changed, and when."""
    out: list[LagChange] = []
    for name, g in taken.items():
        if len(g.epochs) < 2:
            continue
        found = changes(g.epochs, asked.equivalence_us)
        out.append({
            "condition": name, "alert": any(c.alert for c in found),
            "epochs": [{"name": n, "lag_ms": ms(m), "n": k} for n, m, k in lags(g.epochs)],
            "sentences": [f"{c.after.name} against {c.before.name}: {c.result.sentence}" for c in found],
        })  # fmt: skip
    return out


def _titles(named: Mapping[str, Group], sums: Mapping[str, LagSummary | None], asked: Asked) -> list[TitleVerdict]:
    """Every title's quickest cell at mid-screen of the signal it is played in, against what its kind bears: the bound,
    or twice it where nobody competes.
    """
    known = {n: s for n, s in sums.items() if s is not None and named[n].cell.position in ("", "middle")}
    if not known:
        return []
    out: list[TitleVerdict] = []
    for title in asked.titles:
        bound = asked.bound * (1 if title.competitive else UNHURRIED)
        signals = asked.played.get(title.uid, ())
        own = {n: s for n, s in known.items() if not signals or named[n].cell.signal in (*signals, "")}
        if not own:
            names_ = " or ".join(shown(x) for x in signals)
            out.append({"title": title.name, "bound_ms": bound, "condition": "", "verdict": "not_measured",
                        "sentence": f"not measured for this signal: it is played at {names_}"})  # fmt: skip
            continue
        name = min(own, key=lambda n: (named[n].cell.signal not in signals, own[n].lag_us))
        verdict = judge(own[name], bound, "competitive title" if title.competitive else "title")
        unsaid = "" if not signals or named[name].cell.signal else " Its signal was not noted."
        out.append({"title": title.name, "bound_ms": bound, "condition": name, "verdict": verdict.verdict,
                    "sentence": verdict.sentence + unsaid})  # fmt: skip
    return out
