"""Patches of a film: their light over time from the reduced frames, and those the program proposes.

A film is kept as frames of `rows` by `cols` cells, each the mean code of its part of the picture, one byte.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from wavilex.core.film.clock import FilmError
from wavilex.core.film.trace import FEWEST_FRAMES, Trace, turns

Stack = NDArray[np.uint8]  # (frames, rows, cols)
Floats = NDArray[np.float64]

_AT_ONCE = 256  # frames of a film in memory at a time
_BUSY_FRAMES, _SEEDS = 1000, 6  # own figures
_ALIKE, _OF_MOST, _LEAST_CODES = 0.8, 0.3, 12
_BLACK, _WHITE = 16.0, 235.0  # codes of television's range (BT.709)


@dataclass(frozen=True, slots=True)
class Rect:
    """A part of the picture, each 0 to 1 of its width or height, from the left and the top."""

    x: float
    y: float
    width: float
    height: float

    def __post_init__(self) -> None:
        inside = 0 <= self.x < self.x + self.width <= 1.0001 and 0 <= self.y < self.y + self.height <= 1.0001
        if not inside:
            raise FilmError("a patch lies within the picture and is wider than nothing", where="patch")

    @property
    def row(self) -> float:
        """Its middle, from the top."""
        return self.y + self.height / 2


def linear(full: bool) -> Floats:
    """Light of every code 0 to 255, white 1: the camera's curve taken for BT.709's (value from memory); phones bend it.
    full: codes go from 0 to 255.
    """
    low, high = (0.0, 255.0) if full else (_BLACK, _WHITE)
    v = np.clip((np.arange(256) - low) / (high - low), 0, None)
    light: Floats = np.where(v < 0.081, v / 4.5, ((v + 0.099) / 1.099) ** (1 / 0.45))
    return light


def light_of(stack: Stack, rect: Rect, full: bool = False) -> Floats:
    """A patch's mean light in every frame, cells at its edge by the share that lies within; (frames,)."""
    rows, cols = _shares(rect.y, rect.height, stack.shape[1]), _shares(rect.x, rect.width, stack.shape[2])
    weight = np.outer(rows[1], cols[1])
    weight /= weight.sum()
    table = linear(full)
    out = np.empty(len(stack))
    for begin, part in _parts(stack):
        cut = np.asarray(part[:, rows[0], cols[0]])
        out[begin : begin + len(part)] = np.tensordot(table[cut], weight, 2)
    return out


def strip_light(stack: Stack, rect: Rect, cells: int, full: bool = False) -> Floats:
    """The light of `cells` equal cells side by side in a patch, the middle half of each; (frames, cells)."""
    wide = rect.width / cells
    return np.stack([
        light_of(stack, Rect(rect.x + (n + 0.25) * wide, rect.y + rect.height / 4, wide / 2, rect.height / 2), full)
        for n in range(cells)
    ], axis=1)  # fmt: skip


def _shares(begin: float, size: float, count: int) -> tuple[slice, Floats]:
    """Cells a span meets, and how much of each lies in it."""
    a, b = begin * count, min((begin + size) * count, float(count))
    first, last = int(a), min(count, max(int(a) + 1, int(np.ceil(b - 1e-9))))
    edges = np.clip(np.arange(first, last + 1), a, b)
    shares = np.diff(edges)
    return slice(first, last), shares if shares.sum() > 0 else np.ones(last - first)


def _parts(stack: Stack, over: int = 0) -> Iterator[tuple[int, Stack]]:
    for begin in range(0, len(stack) - over, _AT_ONCE):
        yield begin, stack[begin : begin + _AT_ONCE + over]


@dataclass(frozen=True, slots=True)
class Proposed:
    """A patch whose light goes up and down; rises: how often; first_ns: when it first did."""

    rect: Rect
    rises: int
    first_ns: float


def propose(stack: Stack, at_ns: NDArray[np.int64], full: bool = False) -> list[Proposed]:
    """Patches that turn most and together, the earliest first: what starts, what answers; [] where nothing turns."""
    if len(stack) < FEWEST_FRAMES:
        return []
    apart = max(1, round(15e6 / float(np.median(np.diff(at_ns)))))  # a change within 15 ms: own figure
    most = np.zeros(stack.shape[1:], np.uint8)
    busy = np.zeros(len(stack) - apart, np.uint8)
    for begin, part in _parts(stack, apart):
        change = np.abs(part[apart:].astype(np.int16) - part[:-apart]).astype(np.uint8)
        np.maximum(most, change.max(axis=0), out=most)
        busy[begin : begin + len(change)] = change.reshape(len(change), -1).max(axis=1)
    if int(most.max()) < _LEAST_CODES:
        return []
    most = _without_edges(most)
    frames = np.sort(np.argsort(busy, kind="stable")[-_BUSY_FRAMES:])
    cells = np.argwhere(most >= max(_LEAST_CODES, _OF_MOST * float(most.max())))
    flat = stack.reshape(len(stack), -1)
    own = cells[:, 0] * stack.shape[2] + cells[:, 1]
    moves = flat[frames + apart][:, own].astype(np.float32) - flat[frames][:, own]
    found = [p for rect in _alike(moves, cells, most) if (p := _tried(stack, at_ns, rect, full)) is not None]
    if not found:
        return []
    found.sort(key=lambda p: -p.rect.width * p.rect.height)
    kept: list[Proposed] = []
    for p in found:  # an edge of a patch that a shaking hand moves is no patch of its own
        if not any(_touch(p.rect, k.rect, 2 / min(stack.shape[1:])) for k in kept):
            kept.append(p)
    often = max(p.rises for p in kept)
    return sorted((p for p in kept if 2 * p.rises >= often), key=lambda p: p.first_ns)


def _touch(a: Rect, b: Rect, near: float) -> bool:
    across = a.x - near <= b.x + b.width and b.x - near <= a.x + a.width
    return across and a.y - near <= b.y + b.height and b.y - near <= a.y + a.height


def _without_edges(most: NDArray[np.uint8]) -> NDArray[np.uint8]:
    """Where a hand shakes, edges change as much as lamps do: only what changes all about, unless nothing does."""
    from scipy.ndimage import grey_opening  # takes a second to load

    broad: NDArray[np.uint8] = grey_opening(most, 5)
    return broad if 2 * int(broad.max()) >= int(most.max()) else most


def _alike(moves: NDArray[np.float32], cells: NDArray[np.int64], most: NDArray[np.uint8]) -> list[Rect]:
    """Cells that change together, gathered about those that change most."""
    rows, cols = most.shape
    left = np.ones(len(cells), bool)
    size = most[cells[:, 0], cells[:, 1]].astype(np.float64)
    norm = np.maximum(np.linalg.norm(moves, axis=0), 1e-6)
    out: list[Rect] = []
    while left.any() and len(out) < _SEEDS:
        seed = int(np.argmax(np.where(left, size, -1)))
        alike = left & (moves.T @ moves[:, seed] / (norm * norm[seed]) > _ALIKE)
        alike[seed] = True
        joined = _joined(cells[alike], cells[seed], (rows, cols))
        left &= ~np.isin(cells @ (cols, 1), joined @ (cols, 1))
        top, leftmost = joined.min(axis=0)
        low, right = joined.max(axis=0) + 1
        box = (leftmost / cols, top / rows, (right - leftmost) / cols, (low - top) / rows)
        out.append(Rect(*(float(v) for v in box)))
    return out


def _joined(cells: NDArray[np.int64], seed: NDArray[np.int64], shape: tuple[int, int]) -> NDArray[np.int64]:
    """Of some cells those that hang together with a seed."""
    from scipy.ndimage import label  # takes a second to load

    mask = np.zeros(shape, bool)
    mask[cells[:, 0], cells[:, 1]] = True
    named, _ = label(mask)
    return np.argwhere(named == named[seed[0], seed[1]])


def _tried(stack: Stack, at_ns: NDArray[np.int64], rect: Rect, full: bool) -> Proposed | None:
    found = turns(Trace(at_ns, light_of(stack, rect, full)), "rise")
    return Proposed(rect, len(found), found[0].at_ns) if found else None
