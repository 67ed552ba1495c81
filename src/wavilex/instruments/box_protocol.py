"""Boxes that answer what they show: our own line protocol, documented in docs/formats/box-answers.md.

The host says ASK; the box introduces itself, gives one line for each thing that can be read on it, and END.
"""

from __future__ import annotations

import re
from dataclasses import dataclass

from wavilex.instruments.framing import body

VERSION = 1
PLACES = ("list", "page", "in_out", "notice", "banner", "counter", "home")
_KEY = re.compile(r"[a-z0-9_.@:x-]{1,40}$", re.ASCII)


@dataclass(frozen=True, slots=True)
class Introduced:
    """Who answers. change: another word whenever anything it shows has changed."""

    name: str
    change: str


@dataclass(frozen=True, slots=True)
class Shown:
    """What one line of a place says: place and key as cards of Prove have them."""

    place: str
    key: str
    words: str


@dataclass(frozen=True, slots=True)
class Done:
    """All was said. count: how many lines there were, so that a lost one is noticed."""

    count: int


@dataclass(frozen=True, slots=True)
class Busy:
    """Not now."""

    text: str


@dataclass(frozen=True, slots=True)
class Damaged:
    """A line that is none."""

    line: str


Message = Introduced | Shown | Done | Busy | Damaged


def decode(line: bytes) -> Message:
    """What the box said. Never raises, whatever the bytes."""
    text = body(line)
    if text is None:
        return Damaged(line.decode("ascii", "replace").strip()[:60])
    word, _, rest = text.partition(" ")
    words = rest.split(" ")
    if word == f"BOX{VERSION}" and len(words) == 2 and all(0 < len(w) <= 40 for w in words):
        return Introduced(words[0], words[1])
    if word == "L" and len(words) >= 3 and words[0] in PLACES and _KEY.match(words[1]):
        return Shown(words[0], words[1], " ".join(words[2:])[:120])
    if word == "END" and rest.isascii() and rest.isdigit() and len(rest) < 4:
        return Done(int(rest))
    if word == "ERR":
        return Busy(rest[:80])
    return Damaged(text[:60])
