"""Who asks: set where a call is let in, read where jobs are looked up, forgotten when the request ends.

None is the installation itself: its commands, its meters, its start.
"""

from __future__ import annotations

from contextvars import ContextVar
from typing import Any

_asking: ContextVar[Any] = ContextVar("asking", default=None)


def note(user: Any) -> None:
    _asking.set(user)


def who() -> Any:
    """The account that asks, or None."""
    return _asking.get()


def asking_name() -> str:
    """The name of the account that asks; "" of the installation itself."""
    user = who()
    return str(user.get_username()) if user is not None else ""
