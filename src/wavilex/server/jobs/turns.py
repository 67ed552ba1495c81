"""Whose turn it is: a search that takes seconds stands still while somebody's change is worked out."""

from __future__ import annotations

import threading
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager

_YIELD_SECONDS = 0.0002  # lets whoever waits for the interpreter go first
_MOST_WAIT_SECONDS = 2.0  # all that one search stands still; then it shares the machine with changes
_changes = 0
_turn = threading.Condition()


@contextmanager
def change_first() -> Iterator[None]:
    """Searches give way for as long as this lasts."""
    global _changes
    with _turn:
        _changes += 1
    try:
        yield
    finally:
        with _turn:
            _changes -= 1
            _turn.notify_all()


def _give_way(most_seconds: float) -> float:
    """Wait until no change is being worked out, or so long. Gives the seconds stood still."""
    time.sleep(_YIELD_SECONDS)
    if not _changes or most_seconds <= 0:
        return 0
    began = time.monotonic()
    with _turn:
        _turn.wait_for(lambda: not _changes, most_seconds)
    return time.monotonic() - began


def search_for(seconds: float) -> Callable[[], bool]:
    """May a search begun now go on? Asked between two steps: it gives way to changes, and ends after so many seconds of
    its own.
    """
    end, stood = time.monotonic() + seconds, 0.0

    def go_on() -> bool:
        nonlocal stood
        stood += _give_way(_MOST_WAIT_SECONDS - stood)
        return time.monotonic() < end + stood

    return go_on
