"""A screen's measured curve against the document's: signal to light, where it clips or rolls off."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from wavilex.core.light.transfer import Transfer

_OFF = 0.10  # a share of the light from which a point has left the curve: a tenth, over the error of usual meters
_FLAT = 1.02  # light that grows by less than this from one point to the next has stopped growing
_FAINT = 0.05  # cd/m² below which usual meters tell nothing


@dataclass(frozen=True, slots=True)
class Tracked:
    """points: (signal 0 to 1, measured, by the document), in cd/m², rising. clips_at: signal from which on the light no
    longer grows; rolls_from: signal from which on it stays below the document while it still grows; wide: the mean of
    measured over meant, in the part before either. None: not seen in these points.
    """

    points: tuple[tuple[float, float, float], ...]
    clips_at: float | None
    rolls_from: float | None
    wide: float | None


def tracked(read: Sequence[tuple[float, float]], meant: Transfer) -> Tracked | None:
    """From (signal, cd/m²); None with fewer than three points above faint light."""
    points = tuple((s, light, meant(s)) for s, light in sorted(read))
    seen = [p for p in points if p[1] >= _FAINT]
    if len(seen) < 3:
        return None
    clips = None
    for before, here in zip(reversed(seen[:-1]), reversed(seen), strict=False):
        if here[1] > before[1] * _FLAT:
            break
        clips = before[0]
    growing = [p for p in seen if clips is None or p[0] <= clips]
    rolls = None
    for s, light, doc in reversed(growing):
        if light >= doc * (1 - _OFF):
            break
        rolls = s
    before_all = [light / doc for s, light, doc in growing if doc > 0 and (rolls is None or s < rolls)]
    wide = sum(before_all) / len(before_all) if before_all else None
    return Tracked(points, clips, rolls, wide)
