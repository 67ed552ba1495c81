"""Overdrive by rate: trails and seams seen with our moving edge, and the setting that suits the rates played.

A setting good at 144 Hz may ghost at 60; variable refresh goes through all rates of its window on one setting. Common
practice. Trail and seam: 0 none, 1 faint, 2 clear, 3 strong.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from wavilex.core.rig.light_notes import LightNote

_SEAM_WEIGHS = 1.2  # a bright seam is seen more than a trail of the same strength: a figure of our own


@dataclass(frozen=True, slots=True)
class Suited:
    """The setting that suits the rates. worst: of its grades; unseen: rates at which nobody looked with it."""

    value: str
    worst: float
    mean: float
    unseen: tuple[int, ...]


def grades(notes: Sequence[LightNote]) -> dict[str, dict[int, float]]:
    """The last grade seen, by setting and rate: 0 clean, more is worse."""
    out: dict[str, dict[int, float]] = {}
    for n in notes:
        out.setdefault(n.value, {})[n.must("hz")] = max(n.must("trail"), _SEAM_WEIGHS * n.must("seam"))
    return out


def best_for(seen: Mapping[str, Mapping[int, float]], rates: Sequence[int]) -> list[Suited]:
    """Settings by how they suit the rates played, the best first: all rates seen before some unseen, then the least
    worst, then the mean. Empty where nothing was seen at any of them.
    """
    out = []
    for value, at in seen.items():
        known = [at[r] for r in rates if r in at]
        if known:
            missing = tuple(r for r in rates if r not in at)
            out.append(Suited(value, max(known), sum(known) / len(known), missing))
    return sorted(out, key=lambda s: (len(s.unseen), s.worst, s.mean, s.value))
