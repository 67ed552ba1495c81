"""Which backups are kept: the daily ones of a fortnight, then by weeks, then by months; of other kinds the last."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date
from pathlib import Path

from wavilex.server.config import limits

DAYS, WEEKS, MONTHS = 14, 8, 12


def to_go(files: Sequence[Path], reason: str) -> list[Path]:
    """Those of one kind that are not kept; files in the order they were made."""
    if reason != "daily":
        return list(files[: max(0, len(files) - limits.BACKUPS_KEPT)])
    seen: dict[str, set[object]] = {"day": set(), "week": set(), "month": set()}
    gone = []
    for file in reversed(files):
        if not _kept(day_of(file), seen):
            gone.append(file)
    return gone[::-1]


def day_of(file: Path) -> date | None:
    """The day a backup was made, by its name; None for names of earlier versions."""
    stamp = file.name.split("-")[1] if file.name.count("-") > 1 else ""
    try:
        return date(int(stamp[:4]), int(stamp[4:6]), int(stamp[6:8]))
    except ValueError:
        return None


def _kept(day: date | None, seen: dict[str, set[object]]) -> bool:
    """Is it the latest of a day, a week or a month that is still kept?"""
    if day is None:
        return False
    marks = {"day": day, "week": day.isocalendar()[:2], "month": (day.year, day.month)}
    most = {"day": DAYS, "week": WEEKS, "month": MONTHS}
    kept = False
    for kind, mark in marks.items():
        if mark not in seen[kind] and len(seen[kind]) < most[kind]:
            kept = True
            seen[kind].add(mark)
    return kept
