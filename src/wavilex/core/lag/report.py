"""A lag session's answers as plain data: per condition, between the first two, against the bound."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from wavilex.core.lag.summary import BOUNDS_MS, Difference, LagSummary, compare, judge, summarise


def _ms(us: Any) -> float | None:
    return None if us is None else round(float(us) / 1000, 3)


def summary_data(s: LagSummary | None) -> dict[str, Any] | None:
    """In ms, to a µs."""
    if s is None:
        return None
    return {
        "n": s.n, "median_ms": _ms(s.median_us), "mean_ms": _ms(s.mean_us), "sd_ms": _ms(s.sd_us),
        "low_ms": _ms(s.low_us), "high_ms": _ms(s.high_us), "ci_low_ms": _ms(s.ci_low_us),
        "ci_high_ms": _ms(s.ci_high_us),
    }  # fmt: skip


def lag_report(readings: Mapping[str, Sequence[int]], kind: str, bound_ms: int | None) -> dict[str, Any]:
    """Conditions in order, each with readings in µs (those discarded left out)."""
    bound = bound_ms or BOUNDS_MS.get(kind, 40)
    conditions = []
    for name, values in readings.items():
        s = summarise(values)
        verdict = judge(s, bound, kind) if s else None
        conditions.append({
            "condition": name,
            "summary": summary_data(s),
            "verdict": verdict.verdict if verdict else None,
            "sentence": verdict.sentence if verdict else "No reading yet.",
        })  # fmt: skip
    taken = [(n, v) for n, v in readings.items() if v]
    difference = None
    if len(taken) >= 2:
        (first, a), (second, b) = taken[0], taken[1]
        d = compare(a, b)
        if d is not None:
            difference = {"from": first, "to": second, **_difference_data(first, second, d)}
    return {
        "bound_ms": bound,
        "bound_source": "common practice",
        "kind": kind,
        "level_percent": 95,
        "conditions": conditions,
        "difference": difference,
    }


def _difference_data(first: str, second: str, d: Difference) -> dict[str, Any]:
    amount = float(d.medians_us) / 1000
    word = "less" if amount < 0 else "more"
    span = ""
    if d.ci_low_us is not None and d.ci_high_us is not None:
        edges = sorted(abs(float(x)) / 1000 for x in (d.ci_low_us, d.ci_high_us))
        crosses = d.ci_low_us < 0 < d.ci_high_us
        low, high = float(d.ci_low_us) / 1000, float(d.ci_high_us) / 1000
        span = f" ({low:+.1f} to {high:+.1f})" if crosses else f" ({edges[0]:.1f} to {edges[1]:.1f})"
    return {
        "ms": round(amount, 3),
        "ci_low_ms": _ms(d.ci_low_us),
        "ci_high_ms": _ms(d.ci_high_us),
        "sentence": f"{second.capitalize()} takes {abs(amount):.1f} ms {word} than {first}{span}.",
        "note": "" if span else "Fewer than six readings in a condition: no interval yet.",
    }
