"""What every part of a gear profile shares: strict frozen models, identifiers, where a figure comes from."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

IDENT_PATTERN = r"^[a-z0-9][a-z0-9_-]{0,39}$"
VERSION_PATTERN = r"^[0-9]{1,6}(\.[0-9]{1,6}){0,3}$"  # firmware: numbers and dots
Ident = Annotated[str, Field(pattern=IDENT_PATTERN)]
UID_PATTERN = r"^[^/\s]{1,40}$"  # of boxes, leads, runs, titles
Provenance = Literal[
    "document", "common_practice", "measured_here", "measured_elsewhere", "makers_claim", "guess", "contradiction",
]  # fmt: skip
PROVENANCE_NAMES: dict[str, str] = {
    "document": "published document",
    "common_practice": "common practice",
    "measured_here": "measured here",
    "measured_elsewhere": "measured in another job",
    "makers_claim": "maker’s claim",
    "guess": "a guess",
    "contradiction": "an EDID that contradicts itself: the larger figure believed",
}
Version = Annotated[str, Field(pattern=VERSION_PATTERN)]


class Model(BaseModel):
    model_config = ConfigDict(frozen=True, extra="forbid", populate_by_name=True)


def version_key(version: str) -> tuple[int, ...] | None:
    """A firmware version as numbers to compare, trailing zeros dropped; None when it is not numbers and dots."""
    parts = version.split(".")
    if not all(p.isdigit() and p.isascii() and len(p) <= 6 for p in parts):
        return None
    numbers = [int(p) for p in parts]
    while numbers and numbers[-1] == 0:
        numbers.pop()
    return tuple(numbers)
