"""Short codes of leads and boxes, for labels, schedule and drawings: made of what they are, so that they stay.

A code is a letter and three signs that are not mistaken for each other; two alike in one job get a fourth.
"""

from __future__ import annotations

import hashlib
from collections.abc import Iterable, Mapping
from dataclasses import dataclass

from wavilex.core.rig.model import Rig

SIGNS = "23456789ACDEFHJKLMNPRTUVWXY"  # without signs that a small label mixes up
_USUAL = 3


@dataclass(frozen=True)
class Codes:
    """By uid."""

    leads: Mapping[str, str]
    boxes: Mapping[str, str]


def codes_of(rig: Rig) -> Codes:
    """The codes of a job's leads (L…) and boxes (B…)."""
    return Codes(_coded("L", rig.leads), _coded("B", rig.devices))


def _coded(letter: str, uids: Iterable[str]) -> dict[str, str]:
    out: dict[str, str] = {}
    for uid in uids:
        signs = _signs(f"{letter}/{uid}")
        size = _USUAL
        while f"{letter}{signs[:size]}" in out.values():
            size += 1
        out[uid] = f"{letter}{signs[:size]}"
    return out


def _signs(text: str) -> str:
    number = int.from_bytes(hashlib.sha256(text.encode()).digest(), "big")
    out = ""
    while number:
        number, place = divmod(number, len(SIGNS))
        out += SIGNS[place]
    return out
