"""The least time in which every thing at risk is seen at least once: a covering, solved exactly."""

from __future__ import annotations

from collections.abc import Collection, Hashable, Sequence


def cheapest(costs: Sequence[int], tells: Sequence[Collection[Hashable]], needed: Collection[Hashable]) -> list[int]:
    """Which of several looks see everything needed in the least time together, by number; of the same time, the fewest.

    costs: of each look, more than 0; tells: what each sees. What no look sees is left out. Proved the least by a
    branch-and-bound solver of whole numbers (scipy's HiGHS).
    """
    seen = [n for n in dict.fromkeys(needed) if any(n in t for t in tells)]
    if not seen:
        return []
    import numpy as np
    from scipy.optimize import Bounds, LinearConstraint, milp

    rows = np.array([[1 if need in t else 0 for t in tells] for need in seen])
    count = len(tells)
    weights = np.array([cost * (count + 1) + 1 for cost in costs], dtype=float)
    solved = milp(
        weights, constraints=LinearConstraint(rows, lb=1), integrality=np.ones(count), bounds=Bounds(0, 1),
        options={"mip_rel_gap": 0},
    )  # fmt: skip
    return [n for n in range(count) if round(solved.x[n])]
