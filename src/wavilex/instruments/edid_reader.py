"""EDIDs read from this PC's own connectors, where the operating system shows them; a simulated reader beside it."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass
from pathlib import Path
from typing import Protocol

from wavilex.core.errors import WavilexError

DRM_FOLDER = Path("/sys/class/drm")
MOST_BYTES = 256 * 128  # 255 extension blocks and the base block
_NAME = re.compile(r"card\d{1,3}-([A-Za-z0-9-]{1,40})$", re.ASCII)


class ReaderError(WavilexError):
    """No such connector, or it shows no EDID."""


@dataclass(frozen=True, slots=True)
class Connector:
    """A socket of this PC. `connected` is None when the system does not say; `readable`: an EDID is there."""

    name: str
    connected: bool | None
    readable: bool


class EdidReader(Protocol):
    """What a reader of EDIDs does. `simulated` readers say so wherever they are shown."""

    simulated: bool

    def connectors(self) -> list[Connector]:
        """Every connector, by name; none where the system shows none."""

    def read(self, name: str) -> bytes:
        """The EDID at a connector, as it stands now. Raises ReaderError."""


class DrmReader:
    """Connectors as Linux's direct rendering manager shows them below /sys/class/drm."""

    simulated = False

    def __init__(self, folder: Path = DRM_FOLDER) -> None:
        self._folder = folder

    def connectors(self) -> list[Connector]:
        try:
            names = sorted(p.name for p in self._folder.iterdir() if _NAME.match(p.name))
        except OSError:
            return []
        return [Connector(n, self._connected(n), bool(self._bytes(n))) for n in names]

    def _connected(self, name: str) -> bool | None:
        try:
            status = (self._folder / name / "status").read_text(encoding="ascii", errors="replace").strip()
        except OSError:
            return None
        return {"connected": True, "disconnected": False}.get(status)

    def _bytes(self, name: str) -> bytes:
        try:
            with (self._folder / name / "edid").open("rb") as file:
                return file.read(MOST_BYTES)
        except OSError:
            return b""

    def read(self, name: str) -> bytes:
        if not _NAME.match(name):
            raise ReaderError(f"{name[:60]!r} is no connector's name", where="connector")
        data = self._bytes(name)
        if not data:
            raise ReaderError(f"{name} shows no EDID: nothing is plugged in, or it is switched off", where="connector")
        return data


class SimulatedReader:
    """Connectors that are not there, each with given bytes; none for an empty one."""

    simulated = True

    def __init__(self, edids: Mapping[str, bytes]) -> None:
        self._edids = dict(edids)

    def connectors(self) -> list[Connector]:
        return [Connector(name, bool(data), bool(data)) for name, data in sorted(self._edids.items())]

    def read(self, name: str) -> bytes:
        if not self._edids.get(name):
            raise ReaderError(f"{name[:60]} shows no EDID: nothing is plugged in, or it is switched off",
                              where="connector")  # fmt: skip
        return self._edids[name]
