"""What a screen stores apart: the cells of input × resolution × rate × range × mode a job needs.

The profile's `remembers` quirks say what settings are kept under. A visit sets one cell; cells that no run uses
need none. The order spares changes: inputs last, standard range before HDR. Common practice.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from itertools import pairwise, permutations

from wavilex.core.chain.carry import run_result
from wavilex.core.chain.paths import Layer, facts_of_want
from wavilex.core.chain.results import arriving_facts
from wavilex.core.gear.cells import DIMENSIONS, RANGES, REST, Spot, StoredBy, spot_of
from wavilex.core.gear.quirks import Remembers
from wavilex.core.gear.stand import preset_at
from wavilex.core.gear.words import value_words
from wavilex.core.rig.model import Device, Socket
from wavilex.core.ticks import key_of

_COST = {"input": 8, "resolution": 4, "rate": 3, "range": 2, "mode": 1}  # how much a change of each disturbs
_MOST_EXACT = 7
_PLAIN = ("", RANGES[REST])  # what standard range is called in a cell


@dataclass(frozen=True, slots=True)
class Cell:
    """One set of stored values: what it is stored under, and the runs that meet it. `at` holds only what counts.

    ways: each run's way to the screen. spot: the same as the settings of the box are kept by.
    """

    device: str
    at: tuple[tuple[str, str], ...]
    runs: tuple[str, ...]
    ways: tuple[tuple[Socket, ...], ...] = ()
    spot: Spot = field(default=Spot(), compare=False)

    @property
    def key(self) -> str:
        """The key of its visit: what is stored, and who meets it by which way. Another way is another visit."""
        return f"{self.stem}-{key_of('', self.at, self.runs, self.ways)[1:]}"

    @property
    def stem(self) -> str:
        """The socket it is kept for, whoever meets it: the beginning of every key there."""
        return key_of("cell", self.device, self.value("input"))

    @property
    def hdr(self) -> bool:
        """Is it a cell of some HDR?"""
        return self.value("range") not in _PLAIN

    def value(self, dimension: str) -> str:
        return dict(self.at).get(dimension, "")


def stored_by(device: Device) -> tuple[StoredBy, ...]:
    """Everything any of a screen's settings are stored under."""
    kinds = {b for q in device.profile.quirks if isinstance(q, Remembers) for b in q.by}
    kinds |= {b for s in device.profile.settings if s.in_cells for b in s.dimensions}
    return tuple(d for d in DIMENSIONS if d in kinds)


def cells(layer: Layer, screen: str) -> list[Cell]:
    """The cells a screen's runs need, in an order with the least changing over."""
    device = layer.rig.devices[screen]
    dimensions = stored_by(device)
    if not dimensions:
        return []
    found: dict[tuple[tuple[str, str], ...], list[str]] = {}
    met: dict[tuple[tuple[str, str], ...], Spot] = {}
    for spot, run in spots(layer, screen):
        at = tuple((d, _words(layer, device, spot, run, d)) for d in dimensions)
        runs = found.setdefault(at, [])
        met.setdefault(at, spot)
        if run not in runs:
            runs.append(run)
    paths = layer.paths
    ways = {r: tuple(h.inp for h in paths(layer.rig.runs[r])[0]) for runs in found.values() for r in runs}
    return _ordered(
        [Cell(screen, at, tuple(runs), tuple(ways[r] for r in runs), met[at]) for at, runs in found.items()]
    )


def spots(layer: Layer, uid: str) -> list[tuple[Spot, str]]:
    """Every way in which a run of the job meets a box, with the run: in standard range, and in HDR where it is wanted.

    A screen or a box between is met at its input, a source at the output the run leaves it by.
    """
    device, out = layer.rig.devices[uid], []
    for run in layer.rig.runs.values():
        result = run_result(layer, run)
        sockets = [*(h.out for h in result.path[:1]), *(h.inp for h in result.path)]
        socket = next((s for s in sockets if s.device == uid), None)
        if socket is None:
            continue
        facts = arriving_facts(result) if run.sink == uid else facts_of_want(run.want)
        for hdr in dict.fromkeys(("off", run.want.hdr)):
            signal = replace(facts, hdr=hdr)
            mode = preset_at(device.profile, layer.standing(device, signal), socket.port)
            out.append((spot_of(signal, socket.port, mode), run.uid))
    return out


def _words(layer: Layer, device: Device, spot: Spot, run: str, dimension: StoredBy) -> str:
    """What a cell is told apart by, in words; of a screen whose presets nobody listed, what the run is for."""
    if dimension == "mode" and device.profile.preset is None:
        return "game" if layer.rig.runs[run].want.low_lag else "as liked"
    return value_words(device.profile, dimension, spot.value(dimension))


def changing(order: Sequence[Cell]) -> int:
    """What an order costs: every change from one cell to the next, the input's the most."""
    return sum(sum(_COST[d] for d in DIMENSIONS if a.value(d) != b.value(d)) for a, b in pairwise(order))


def _ordered(found: list[Cell]) -> list[Cell]:
    """The cheapest order: exact while there are few, else input by input. Standard range comes before HDR."""
    start = sorted(found, key=lambda c: (c.value("input"), c.hdr, c.at))
    if len(start) > _MOST_EXACT:
        return start
    orders = (list(order) for order in permutations(start))
    return min(orders, key=lambda order: (_hdr_first(order), changing(order)))


def _hdr_first(order: Sequence[Cell]) -> int:
    """How many cells are set in HDR before their standard-range sister."""
    place = {c.at: n for n, c in enumerate(order)}
    bad = 0
    for c in order:
        if c.hdr:
            sister = tuple((d, RANGES[REST] if d == "range" else v) for d, v in c.at)
            bad += sister in place and place[sister] > place[c.at]
    return bad
