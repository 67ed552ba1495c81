"""The table of an evaluation: run over rigs, told as plain data and as the page kept in docs."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from typing_extensions import TypedDict

from wavilex.core.draw import Draw
from wavilex.core.fault.checks import Tables, checks_of
from wavilex.core.fault.evaluate import (
    ORDERS,
    Order,
    Tally,
    few_answers,
    full_answers,
    mean_within,
    pairs_of,
    reliability,
    search,
    spoiled,
    worlds_of,
)
from wavilex.core.fault.rank import rank
from wavilex.core.fault.trials import Rigged, alike, names, visible

RIGS, PAIRS_A_RIG, SEARCHES_A_RIG = 30, 8, 6
_BRIER_NOTE = "0 is certain and right, 2 certain and wrong"


class TallyOut(TypedDict):
    """first, three: shares of trials in which the truth was named first, among the first three. brier: mean score.

    reliability: share given, how often it came true, how many.
    """

    trials: int
    first: float
    three: float
    brier: float
    reliability: list[tuple[float, float, int]]


class AskingOut(TypedDict):
    """Mean checks and minutes to the truth by an order of asking, with their 95 % intervals."""

    order: Order
    searches: int
    found: int
    checks: tuple[float, float, float]
    minutes: tuple[float, float, float]


class EvaluationOut(TypedDict):
    """An evaluation told. hidden: faults nobody would notice, or that nothing tells from none; not tried."""

    rigs: list[str]
    faults: int
    hidden: list[str]
    full: TallyOut
    three_seen: TallyOut
    tenth_wrong: TallyOut
    pairs: TallyOut
    orders: list[AskingOut]
    minutes_share: float


def evaluation(
    rigs: Sequence[Rigged], progress: Callable[[str], None] = lambda _: None, *, pairs: int = PAIRS_A_RIG,
    searches: int = SEARCHES_A_RIG,
) -> EvaluationOut:  # fmt: skip
    """Try every noticed single fault of the rigs, so many pairs and searches of each. Takes minutes for thirty."""
    full, few, wrong, both = Tally(), Tally(), Tally(), Tally()
    by_order: dict[Order, list[tuple[int, float, bool]]] = {o: [] for o in ORDERS}
    told, hidden, faults = [], [], 0
    for number, rigged in enumerate(rigs, 1):
        bench = rigged.bench()
        if bench is None:
            continue
        told.append(rigged.name)
        checks, tables, draw = checks_of(bench), Tables(), Draw(f"evaluation {rigged.name}")
        worlds = worlds_of(bench)
        faults += len(worlds)
        hidden += [
            f"{rigged.name}: {names(w.faults)}" for w in bench.singles
            if not visible(bench, w) or alike(w, bench.base)
        ]  # fmt: skip
        for world in worlds:
            given = full_answers(bench, checks, world)
            full.add(rank(bench, [a for _, a in given]), world)
            few.add(rank(bench, few_answers(bench, checks, world, tables)), world)
            wrong.add(rank(bench, spoiled(given, draw)), world)
        for world in pairs_of(bench, pairs, draw):
            both.add(rank(bench, [a for _, a in full_answers(bench, checks, world)]), world)
        for n, world in enumerate(draw.sample(worlds, searches)):
            for order in ORDERS:
                s = search(bench, checks, tables, world, order, n)
                by_order[order].append((s.checks, s.minutes, s.found))
        progress(f"{number} of {len(rigs)}: {rigged.name}, {len(worlds)} faults")
    orders: list[AskingOut] = [_order(o, rows) for o, rows in by_order.items()]
    minutes = {o["order"]: o["minutes"][0] for o in orders}
    return {
        "rigs": told, "faults": faults, "hidden": hidden, "full": _tally(full), "three_seen": _tally(few),
        "tenth_wrong": _tally(wrong), "pairs": _tally(both), "orders": orders,
        "minutes_share": minutes["next best"] / minutes["fixed list"],
    }  # fmt: skip


def _tally(tally: Tally) -> TallyOut:
    n = max(1, tally.trials)
    return {
        "trials": tally.trials, "first": tally.first / n, "three": tally.three / n, "brier": tally.brier / n,
        "reliability": reliability(tally.said),
    }  # fmt: skip


def _order(order: Order, rows: Sequence[tuple[int, float, bool]]) -> AskingOut:
    return {
        "order": order, "searches": len(rows), "found": sum(f for _, _, f in rows),
        "checks": mean_within([float(c) for c, _, _ in rows]), "minutes": mean_within([m for _, m, _ in rows]),
    }  # fmt: skip


_ROWS = (
    ("full", "every check honestly answered", "≥ 95 % first, ≥ 99 % in three"),
    ("three_seen", "the complaint and the three observations that tell most", "≥ 80 % in three"),
    ("tenth_wrong", "every check, a tenth of the answers wrong", "≥ 80 % first"),
    ("pairs", "two faults at once, every check", "≥ 80 % in three"),
)


def evaluation_text(e: EvaluationOut) -> str:
    """The page kept in docs."""
    lines = [
        "# How well faults are found", "",
        "Made by `wavilex evaluate diagnosis`; the same figures come again on every machine.", "",
        f"{len(e['rigs'])} rigs: {', '.join(e['rigs'])}.", "",
        f"{e['faults']} single faults that a client would notice, each planted and searched for; "
        f"{len(e['hidden'])} more bring no complaint, or nothing tells them from none, and are not tried (they stand "
        "in `--json`). The truth answers as this model says it would: the figures tell how well faults are told "
        "apart, not how true the model is of real boxes; `tests/core/test_fault.py` tries boxes simulated otherwise. "
        "What comes down to the same thing to mend counts as one; so does what nothing that is read, looked at or "
        "felt could tell apart.", "",
        "| answers | trials | truth first | in the first three | wanted | Brier |",
        "| --- | ---: | ---: | ---: | --- | ---: |",
    ]  # fmt: skip
    for key, words, wanted in _ROWS:
        t: TallyOut = e[key]  # type: ignore[literal-required]
        lines.append(f"| {words} | {t['trials']} | {t['first']:.1%} | {t['three']:.1%} | {wanted} | {t['brier']:.3f} |")
    lines += ["", f"Brier: the mean score over causes; {_BRIER_NOTE}.", "", "## Are the shares true?", ""]
    lines += ["Of causes given a share within these bounds, how many were it.", ""]
    lines += ["| answers | share given | came true | causes |", "| --- | ---: | ---: | ---: |"]
    for key, words, _ in _ROWS:
        tally: TallyOut = e[key]  # type: ignore[literal-required]
        for share, true, count in tally["reliability"]:
            lines.append(f"| {words} | {share:.0%} | {true:.0%} | {count} |")
    lines += ["", "## Which order of asking", ""]
    lines += [
        "From the complaint until the truth is 90 % sure or a cure helped; means with 95 % intervals (bootstrap).",
        "",
    ]
    lines += ["| order | searches | found | checks | minutes |", "| --- | ---: | ---: | ---: | ---: |"]
    for o in e["orders"]:
        c, m = o["checks"], o["minutes"]
        lines.append(
            f"| {o['order']} | {o['searches']} | {o['found']} | {c[0]:.1f} ({c[1]:.1f} to {c[2]:.1f}) | "
            f"{m[0]:.1f} ({m[1]:.1f} to {m[2]:.1f}) |"
        )
    lines += [
        "",
        f"The next best check needs {e['minutes_share']:.0%} of the fixed list's minutes (wanted: 60 % at most).",
    ]
    return "\n".join(lines) + "\n"
