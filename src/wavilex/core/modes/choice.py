"""A choice between ways that exclude each other: what each gains and loses, and which is followed."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from wavilex.core.rig.ops import Change
from wavilex.core.rig.style import Level


@dataclass(frozen=True)
class Way:
    """One side of a choice. ops: what takes it. school: the answer of the house style it stands for."""

    label: str
    school: str
    gains: tuple[str, ...]
    losses: tuple[str, ...]
    figures: Mapping[str, str]
    ops: tuple[Change, ...]
    picked: bool


@dataclass(frozen=True)
class Choice:
    """A question answered by more than one way; level: who answers it (title, run, job, default)."""

    id: str
    title: str
    question: str
    because: str
    level: Level
    ways: tuple[Way, ...]

    @property
    def weighty(self) -> bool:
        """Do the ways differ in figures, not in taste alone?"""
        return len({tuple(w.figures.values()) for w in self.ways}) > 1
