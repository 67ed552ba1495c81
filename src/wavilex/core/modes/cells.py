"""What a screen stores apart: the cells of input × resolution × rate × range × mode a job needs.

The profile's `remembers` quirks say what settings are kept under. A visit sets one cell; cells that no run uses
need none. The order spares changes: inputs last, standard range before HDR. Common practice.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise, permutations
from typing import get_args

from wavilex.core.chain.carry import run_result
from wavilex.core.chain.paths import Layer
from wavilex.core.gear.quirks import Remembers
from wavilex.core.modes.shapes import Dimension
from wavilex.core.rig.model import Device, Socket
from wavilex.core.ticks import key_of

DIMENSIONS: tuple[Dimension, ...] = get_args(Dimension)
_COST = {"input": 8, "resolution": 4, "rate": 3, "range": 2, "mode": 1}  # how much a change of each disturbs
_MOST_EXACT = 7


@dataclass(frozen=True, slots=True)
class Cell:
    """One set of stored values: what it is stored under, and the runs that meet it. `at` holds only what counts.

    ways: each run's way to the screen.
    """

    device: str
    at: tuple[tuple[str, str], ...]
    runs: tuple[str, ...]
    ways: tuple[tuple[Socket, ...], ...] = ()

    @property
    def key(self) -> str:
        """The key of its visit: what is stored, and who meets it by which way. Another way is another visit."""
        return f"{self.stem}-{key_of('', self.at, self.runs, self.ways)[1:]}"

    @property
    def stem(self) -> str:
        """The socket it is kept for, whoever meets it: the beginning of every key there."""
        return key_of("cell", self.device, self.value("input"))

    def value(self, dimension: str) -> str:
        return dict(self.at).get(dimension, "")


def stored_by(device: Device) -> tuple[Dimension, ...]:
    """Everything any of a screen's settings are stored under."""
    kinds = {b for q in device.profile.quirks if isinstance(q, Remembers) for b in q.by}
    return tuple(d for d in DIMENSIONS if d in kinds)


def cells(layer: Layer, screen: str) -> list[Cell]:
    """The cells a screen's runs need, in an order with the least changing over."""
    device = layer.rig.devices[screen]
    dimensions = stored_by(device)
    if not dimensions:
        return []
    found: dict[tuple[tuple[str, str], ...], list[str]] = {}
    for condition, run in conditions(layer, screen):
        at = tuple((d, condition[d]) for d in dimensions)
        runs = found.setdefault(at, [])
        if run not in runs:
            runs.append(run)
    paths = layer.paths
    ways = {r: tuple(h.inp for h in paths(layer.rig.runs[r])[0]) for runs in found.values() for r in runs}
    return _ordered([Cell(screen, at, tuple(runs), tuple(ways[r] for r in runs)) for at, runs in found.items()])


def conditions(layer: Layer, screen: str) -> list[tuple[dict[str, str], str]]:
    """Every condition in which a run of the job meets the screen, with the run."""
    out = []
    for run in layer.rig.runs.values():
        result = run_result(layer, run)
        if run.sink != screen or not result.path:
            continue
        port = layer.rig.devices[screen].profile.port(result.path[-1].inp.port)
        signal = result.resent or result.asked
        width, height, hz = (signal.timing.mode if signal else run.want.mode).figures
        for dynamic_range in ("standard", "HDR") if run.want.hdr != "off" else ("standard",):
            condition = {
                "input": port.label if port else "", "resolution": f"{width}×{height}",
                "rate": f"{hz} Hz", "range": dynamic_range, "mode": "game" if run.want.low_lag else "as liked",
            }  # fmt: skip
            out.append((condition, run.uid))
    return out


def changing(order: Sequence[Cell]) -> int:
    """What an order costs: every change from one cell to the next, the input's the most."""
    return sum(sum(_COST[d] for d in DIMENSIONS if a.value(d) != b.value(d)) for a, b in pairwise(order))


def _ordered(found: list[Cell]) -> list[Cell]:
    """The cheapest order: exact while there are few, else input by input. Standard range comes before HDR."""
    start = sorted(found, key=lambda c: (c.value("input"), c.value("range") == "HDR", c.at))
    if len(start) > _MOST_EXACT:
        return start
    orders = (list(order) for order in permutations(start))
    return min(orders, key=lambda order: (_hdr_first(order), changing(order)))


def _hdr_first(order: Sequence[Cell]) -> int:
    """How many cells are set in HDR before their standard-range sister."""
    place = {c.at: n for n, c in enumerate(order)}
    bad = 0
    for c in order:
        if c.value("range") == "HDR":
            sister = tuple((d, "standard" if d == "range" else v) for d, v in c.at)
            bad += sister in place and place[sister] > place[c.at]
    return bad
