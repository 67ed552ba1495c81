"""Where a figure of a socket comes from."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Origin:
    """Where a figure comes from: the port itself, a fact learned here, or a quirk and the setting behind it."""

    kind: str  # port, fact, quirk, rule
    provenance: str
    quirk: str = ""
    because: str = ""
    settings: tuple[tuple[str, str, str], ...] = ()  # (scope, setting id, its value)
    firmware: str = ""  # the version that ends a quirk
