"""The counter page's coded strip read off a film: which frames were shown twice, which were missed, the real rate.

Cells from left to right: white, black, ten of a count in reflected binary code (two counts beside each other differ in
one cell, so a camera frame that holds both is off by one at most), and whether an odd number of them is lit.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

BITS = 10
CELLS = BITS + 3
_LEAST = 0.15  # white over black, of full light: less is no strip
_CLEAR = 0.3  # of white over black: a cell nearer to the middle than this is unread: own figure


@dataclass(frozen=True, slots=True)
class Cadence:
    """frames: counts seen; twice: shown longer than their turn, by how many turns in all; missed: never seen.
    hz: the counter's own rate; unread: share of the film's frames that tell no count.
    """

    frames: int
    twice: int
    missed: int
    hz: float
    unread: float


def cells_of(count: int) -> list[int]:
    """The strip of a count, 0 or 1 a cell."""
    gray = (count ^ (count >> 1)) & ((1 << BITS) - 1)
    bits = [gray >> n & 1 for n in reversed(range(BITS))]
    return [1, 0, *bits, sum(bits) & 1]


def counts(light: NDArray[np.float64]) -> NDArray[np.int64]:
    """Counts of a film's frames, -1: unread. light: (frames, CELLS), linear."""
    white, black = light[:, 0], light[:, 1]
    span = np.maximum(white - black, 1e-9)
    share = (light[:, 2:] - black[:, None]) / span[:, None]
    bits = share > 0.5
    gray = bits[:, :BITS] @ (1 << np.arange(BITS - 1, -1, -1))
    number = gray.astype(np.int64)
    shift = 1
    while shift < BITS:
        number ^= number >> shift
        shift *= 2
    clear = np.all(np.abs(share - 0.5) > 0.5 - _CLEAR, axis=1)
    odd = bits[:, :BITS].sum(axis=1) % 2 == bits[:, BITS]
    return np.where(clear & odd & (white - black > _LEAST * max(float(white.max()), 1e-9)), number, -1)


def cadence(number: NDArray[np.int64], at_ns: NDArray[np.int64]) -> Cadence | None:
    """What a film of the counter tells; None where too little was read. Needs two camera frames to a count and more."""
    seen = np.flatnonzero(number >= 0)
    if len(seen) < CELLS:
        return None
    n, at = number[seen], at_ns[seen]
    turn = np.flatnonzero(np.diff(n) != 0)
    if len(turn) < CELLS:
        return None
    steps = np.diff(n) % (1 << BITS)
    total = np.concatenate(([0], np.cumsum(steps)))
    begins = np.concatenate(([0], turn + 1))
    own, first = total[begins], at[begins]
    stood = np.diff(first)
    twice = int(np.clip(np.round(stood / float(np.median(stood))) - 1, 0, None).sum())
    missed = int((np.diff(own) - 1).sum())
    hz = 1e9 * float(own[-1] - own[1]) / float(first[-1] - first[1])
    return Cadence(len(begins), twice, missed, hz, 1 - len(seen) / len(number))
