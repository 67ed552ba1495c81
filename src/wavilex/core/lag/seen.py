"""What readings teach of a screen itself, to be kept across jobs: its lag in each cell, and what modes cost."""

from __future__ import annotations

from wavilex.core.lag.shapes import CostOut, LagReport
from wavilex.core.rig.edit_facts import LagSeen
from wavilex.core.rig.learned import Seen
from wavilex.core.rig.model import LAG_FACT
from wavilex.core.ticks import key_of


def seen_lag(report: LagReport) -> list[Seen]:
    """Every cell that was measured, guesses apart; with its cost where that is proved to be a change."""
    costs: dict[str, CostOut] = {c["condition"]: c for c in report["costs"] if c["decision"] == "changed"}
    out: list[Seen] = []
    for c in report["conditions"]:
        told = c["summary"]
        if told is None or c["position"] not in ("", "middle"):
            continue
        cost = costs.get(c["condition"])
        seen = LagSeen(
            condition=c["mode"], input=c["input"], signal=c["signal"], lag_us=round(told["lag_ms"] * 1000),
            readings=told["n"], against=report["baseline"] if cost else "",
            cost_us=round(cost["ms"] * 1000) if cost else None,
        )  # fmt: skip
        path = key_of(LAG_FACT, *c["methods"], c["mode"], c["input"], c["signal"]).replace("-", ".", 1)
        out.append(Seen(path, seen.model_dump(exclude_defaults=True)))
    return out
