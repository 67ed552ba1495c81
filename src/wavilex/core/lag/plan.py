"""A plan of a lag session: which cells to measure, how many readings each, in which order.

A cell is a condition (a state of the box), a signal, an input, a place on the glass. Random order keeps drift out of
the comparison; grouping changes seldom what is slow to change, and leaves to chance what is alike.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from itertools import product
from typing import Literal, TypeVar

from wavilex.core.gear.profile import Profile
from wavilex.core.lag.order import blocked, seconds_of
from wavilex.core.lag.shapes import Position
from wavilex.core.lag.state import NOT_NOTED, State, ToSet, to_set
from wavilex.core.video.named import shown

T = TypeVar("T")

MOST_CELLS = 60
# own figures, in s: a change of input takes hands, one of signal a re-sync, one of a setting a walk through menus
_SECONDS_A_READING, _SECONDS_A_CELL, _SECONDS_A_PLACE, _SECONDS_A_SETTING = 1, 5, 5, 10
_SECONDS_A_RESYNC, _SECONDS_AN_INPUT = 20, 30
_PLACES = {"top": "at the top", "middle": "in the middle", "bottom": "at the bottom"}


@dataclass(frozen=True, slots=True, order=True)
class Cell:
    """What readings are of. Empty: as it is, not said."""

    signal: str = ""
    input: str = ""
    condition: str = ""
    position: Position = ""

    @property
    def parts(self) -> tuple[str, str, str, str]:
        return self.condition, self.input, shown(self.signal), self.position

    @property
    def name(self) -> str:
        return ", ".join(w for w in (self.condition, self.input, self.signal, self.position) if w)


def cells(
    conditions: Sequence[str], signals: Sequence[str] = ("",), inputs: Sequence[str] = ("",),
    positions: Sequence[Position] = ("",),
) -> list[Cell]:  # fmt: skip
    """Every combination, in the order given."""
    places: Sequence[Position] = positions or ("",)
    return [Cell(s, i, c, p) for s, i, c, p in product(signals or ("",), inputs or ("",), conditions, places)]


@dataclass(frozen=True, slots=True)
class Bench:
    """What a plan is made for: what every condition sets, and how the box stands now ("" not known)."""

    profile: Profile | None = None
    states: Mapping[str, State] = field(default_factory=dict)
    now: State = field(default_factory=dict)

    def between(self, a: Cell | None, b: Cell) -> int:
        """Seconds from one cell (None: as it is now) to the next: what is set, switched, moved. Own figures."""
        before = self.now if a is None else self.states.get(a.condition, NOT_NOTED)
        after = self.states.get(b.condition, NOT_NOTED)
        s = _SECONDS_A_CELL
        if a is not None:
            s += _SECONDS_A_RESYNC * (a.signal != b.signal) + _SECONDS_AN_INPUT * (a.input != b.input)
            s += _SECONDS_A_PLACE * (a.position != b.position)
        known = {s.id: s for s in self.profile.settings} if self.profile else {}
        changed = [known.get(name) for name, value in after.items() if before.get(name) != value]
        s += sum(_SECONDS_A_SETTING + _SECONDS_A_RESYNC * (x is not None and x.resync) for x in changed)
        if not after and (a is None or a.condition != b.condition):
            s += _SECONDS_A_SETTING  # a mode of which only the name is known
        return s


def ordered(
    wanted: Sequence[Cell], order: Literal["grouped", "random"], shuffle: Callable[[list[int]], None],
    bench: Bench = Bench(),
) -> list[Cell]:  # fmt: skip
    """The cells in the order to measure them. shuffle: puts a list of numbers in random order, in place."""
    if order == "random":
        return _shuffled(list(wanted), shuffle)
    return blocked(wanted, bench.between, shuffle)


def _shuffled(items: list[T], shuffle: Callable[[list[int]], None]) -> list[T]:
    places = list(range(len(items)))
    shuffle(places)
    return [items[n] for n in places]


def seconds(order: Sequence[Cell], count: int, bench: Bench = Bench()) -> int:
    """About how long the plan takes, in s."""
    return seconds_of(order, bench.between) + len(order) * count * _SECONDS_A_READING


def steps_before(bench: Bench, before: Cell | None, cell: Cell, sent: bool = False) -> list[ToSet]:
    """What to do before a cell is measured, coming from another (None: from how the box stands now), in the order to do
    it. sent: the meter puts the signal out by itself.
    """
    out: list[ToSet] = []
    if cell.input and (before is None or before.input != cell.input):
        out.append(ToSet(f"Plug the meter into {cell.input} and show that input"))
    if cell.signal and (before is None or before.signal != cell.signal):
        out.append(ToSet(f"Signal {shown(cell.signal)}" + (": the meter sends it" if sent else ": send it")))
    after = bench.states.get(cell.condition, NOT_NOTED)
    was = bench.now if before is None else bench.states.get(before.condition, NOT_NOTED)
    if bench.profile is not None and after:
        out += to_set(bench.profile, was, after)
    elif cell.condition and (before is None or before.condition != cell.condition):
        out.append(ToSet(f"Screen mode {cell.condition}"))
    if cell.position and (before is None or before.position != cell.position):
        out.append(ToSet(f"Sensor on the patch {_PLACES[cell.position]}"))
    return out


def steps_back(bench: Bench, last: Cell, planned: State) -> list[ToSet]:
    """What to put back when all is taken: to how the box stood, else as it is planned. Of what nobody noted that is
    said: it stands as it was measured last.
    """
    after = bench.states.get(last.condition, NOT_NOTED)
    if bench.profile is None or not after:
        return [ToSet("Nobody noted what was set for these modes", "set the screen as it shall be")]
    known = {**{k: planned[k] for k in after if k in planned}, **bench.now}
    out = to_set(bench.profile, after, known)
    lost = [s.label for s in bench.profile.settings if s.id in after and s.id not in known]
    if lost:
        out.append(ToSet(f"Nobody noted how it stood before: {', '.join(lost)}", "set it as it shall be"))
    return out
