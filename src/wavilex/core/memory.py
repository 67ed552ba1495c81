"""What was worked out, remembered by key and bounded by size: the least recently used is forgotten first.

Sizes are stated by who puts something in: rough, so many bytes of its own (what it shares with others left out).
"""

from __future__ import annotations

import threading
from collections import OrderedDict
from collections.abc import Callable, Hashable
from dataclasses import dataclass
from typing import Any, TypeVar

T = TypeVar("T")
MOST_BYTES = 32 * 1024 * 1024
_ENTRY_BYTES = 300  # key, tuple and links of one entry


@dataclass(frozen=True, slots=True)
class Standing:
    """How full a memory is: entries and bytes held, bytes allowed; how often it was asked, and knew."""

    entries: int
    held_bytes: int
    most_bytes: int
    asked: int
    known: int


class Memory:
    """Threads may share one: what two work out at once is the same, and either may be kept."""

    def __init__(self, most_bytes: int = MOST_BYTES) -> None:
        self._most = most_bytes
        self._kept: OrderedDict[Hashable, tuple[Any, int]] = OrderedDict()
        self._bytes = self._asked = self._known = 0
        self._lock = threading.Lock()

    def get(self, key: Hashable) -> Any | None:
        """What is remembered under a key; None: nothing. Asking makes it the most recently used."""
        with self._lock:
            self._asked += 1
            entry = self._kept.get(key)
            if entry is None:
                return None
            self._known += 1
            self._kept.move_to_end(key)
            return entry[0]

    def put(self, key: Hashable, value: T, size: int) -> T:
        """Remember a value; forgets the least recently used while over the size. Answers the value."""
        with self._lock:
            old = self._kept.pop(key, None)
            if old is not None:
                self._bytes -= old[1]
            self._kept[key] = (value, size + _ENTRY_BYTES)
            self._bytes += size + _ENTRY_BYTES
            while self._bytes > self._most and len(self._kept) > 1:
                _, (_, gone) = self._kept.popitem(last=False)
                self._bytes -= gone
        return value

    def beside(self, subject: object, question: str, answer: Callable[[], T], size: int | Callable[[T], int]) -> T:
        """An answer remembered beside the very object it is of; worked out where it is not there."""
        key = (question, id(subject))
        entry: tuple[object, T] | None = self.get(key)
        if entry is not None and entry[0] is subject:
            return entry[1]
        found = answer()
        self.put(key, (subject, found), size(found) if callable(size) else size)  # the entry keeps the subject's id
        return found

    def standing(self) -> Standing:
        with self._lock:
            return Standing(len(self._kept), self._bytes, self._most, self._asked, self._known)

    def clear(self) -> None:
        with self._lock:
            self._kept.clear()
            self._bytes = 0
