"""The one error family of the core. Errors carry data; the sentence is made late."""

from __future__ import annotations


class WavilexError(Exception):
    """Base of everything the core raises on purpose.

    Attributes:
        code: stable machine-readable code, snake_case.
        where: place of the fault (a JSON-like path, a line, an argument), or "".
    """

    code = "error"

    def __init__(self, message: str, *, where: str = "", code: str | None = None) -> None:
        super().__init__(message)
        self.message = message
        self.where = where
        if code is not None:
            self.code = code

    def __str__(self) -> str:
        return f"{self.where}: {self.message}" if self.where else self.message


class TimingError(WavilexError):
    """A timing address that names no timing."""

    code = "timing_unknown"


class SignalError(WavilexError):
    """An encoding, depth, link or audio word that is not one of ours."""

    code = "signal_malformed"


class ProfileError(WavilexError):
    """A gear profile that breaks the schema. `line` counts from 1; None when not known."""

    code = "profile_invalid"

    def __init__(self, message: str, *, where: str = "", line: int | None = None) -> None:
        super().__init__(message, where=where)
        self.line = line

    def __str__(self) -> str:
        place = f"line {self.line}" if self.line else ""
        head = ", ".join(p for p in (place, self.where) if p)
        return f"{head}: {self.message}" if head else self.message


class ChangeError(WavilexError):
    """A change that cannot be applied to this rig."""

    code = "change_impossible"


class JobFileError(WavilexError):
    """A job file that cannot be read."""

    code = "job_file_invalid"


class PackError(WavilexError):
    """A pack of gear that cannot be read."""

    code = "pack_invalid"


class LightError(WavilexError):
    """Readings of light, or questions about it, that cannot be answered."""

    code = "light_malformed"
