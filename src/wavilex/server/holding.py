"""An instrument belongs to one process at a time: a file lock by its name, held while the process lives."""

from __future__ import annotations

import fcntl
from typing import IO

from django.conf import settings

from wavilex.server.problems import ProblemError


class Holding:
    """The lock of one instrument, by a name that no other kind of instrument uses."""

    def __init__(self, name: str) -> None:
        self.name = name
        self._file: IO[str] | None = None

    def take(self) -> None:
        """Hold it, if it is not held yet. Raises ProblemError 409 where another process does."""
        if self._file is not None:
            return
        handle = open(settings.DATA / f"{self.name}.lock", "w")  # noqa: SIM115  (held while we live)
        try:
            fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError:
            handle.close()
            raise ProblemError(409, "meter_owned", "Another Wavilex process holds this meter.") from None
        self._file = handle

    def let_go(self) -> None:
        """Others may have it."""
        if self._file is not None:
            self._file.close()
            self._file = None


def named_addresses(setting: str) -> dict[str, str]:
    """Name → address, from an owner's setting (`name=socket://127.0.0.1:5000;name=/dev/ttyUSB0`)."""
    pairs = (part.partition("=") for part in setting.split(";") if "=" in part)
    return {name.strip(): url.strip() for name, _, url in pairs}
