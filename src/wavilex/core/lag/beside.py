"""Screens side by side: every cell of every screen of a job against one named baseline, and over days and firmware."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from wavilex.core.lag.difference import DECISIONS, compare, equivalence, ratio
from wavilex.core.lag.groups import Group, ms, ms_if_known, names
from wavilex.core.lag.regression import lags
from wavilex.core.lag.shapes import BesideOut, BesideRow
from wavilex.core.lag.summary import LEVEL, summarise


@dataclass(frozen=True, slots=True)
class Measured:
    """A screen with what was measured at it. equivalence_us: no practical change within; baseline: its own, a
    condition or a cell's name.
    """

    uid: str
    label: str
    kind: str
    groups: Sequence[Group]
    equivalence_us: int
    baseline: str = ""


def beside(screens: Sequence[Measured], baseline: str = "") -> BesideOut:
    """Every cell at mid-screen, or of no stated place. baseline: a row's key, "" for the first one."""
    cells = [
        (f"{s.uid}/{name}", s, name, g)
        for s in screens for name, g in names(s.groups).items() if g.values and g.cell.position in ("", "middle")
    ]  # fmt: skip
    keys = [key for key, *_ in cells]
    own = (key for key, s, name, g in cells if s.baseline in (name, g.cell.condition))
    chosen = baseline if baseline in keys else next(own, next(iter(keys), ""))
    base = next((g for key, _, _, g in cells if key == chosen), None)
    looks = max(1, len(cells) - 1)
    return {
        "baseline": chosen, "rows": [_row(key, s, name, g, base if key != chosen else None, looks)
                                     for key, s, name, g in cells],
        "footing": (
            f"Intervals of differences are widened for {looks} looks (Bonferroni); no distribution assumed. Two "
            "screens measured in different signals or ways differ by these too."
        ),
    }  # fmt: skip


def _row(key: str, screen: Measured, name: str, g: Group, base: Group | None, looks: int) -> BesideRow:
    told = summarise(g.readings)
    assert told is not None
    d = compare(base.readings, g.readings, 1 - (1 - LEVEL) / looks) if base else None
    same = equivalence(base.readings, g.readings, screen.equivalence_us) if base else None
    times = ratio(base.readings, g.readings) if base else None
    apart = []
    if base is not None:
        apart = [w for w, a, b in (("signal", base.cell.signal, g.cell.signal), ("way", base.by, g.by)) if a != b]
    return {
        "key": key, "device": screen.uid, "screen": screen.label, "condition": name, "kind": screen.kind,
        "by": g.by, "n": told.n, "lag_ms": ms(told.lag_us),
        "ci_low_ms": ms_if_known(told.ci_low_us), "ci_high_ms": ms_if_known(told.ci_high_us),
        "against_ms": ms(d.us) if d else None,
        "against_low_ms": ms_if_known(d.ci_low_us) if d else None,
        "against_high_ms": ms_if_known(d.ci_high_us) if d else None,
        "decided": DECISIONS[same.decision] if same else "", "ratio": round(times.ratio, 3) if times else None,
        "not_alike": f"another {' and another '.join(apart)}" if apart else "",
        "over": [{"name": n, "lag_ms": ms(m), "n": k} for n, m, k in lags(g.epochs)] if len(g.epochs) > 1 else [],
    }  # fmt: skip
