"""Where this installation keeps its data, and its secret key, made on first use."""

from __future__ import annotations

import contextlib
import os
import secrets
from pathlib import Path

DATABASE = "wavilex.sqlite3"


def data_folder() -> Path:
    """The folder named by WAVILEX_DATA, else one in the user's own data folder. Made when missing."""
    named = os.environ.get("WAVILEX_DATA")
    home = Path(os.environ.get("XDG_DATA_HOME") or Path.home() / ".local" / "share")
    folder = Path(named) if named else home / "wavilex"
    folder.mkdir(parents=True, exist_ok=True, mode=0o700)
    return folder


def keep_private(folder: Path) -> None:
    """What is made from now on, and what an earlier version made, is for the owner of the process only."""
    os.umask(0o077)
    for file in (*folder.glob("wavilex*"), *folder.glob("backups/*")):
        with contextlib.suppress(OSError):  # on a disk that can only be read it stays as it is
            file.chmod(0o600)


def secret_key(folder: Path) -> str:
    """The installation's own key, readable by its owner only."""
    file = folder / "secret_key"
    try:
        handle = os.open(file, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600)
    except FileExistsError:
        return file.read_text(encoding="ascii").strip()
    key = secrets.token_urlsafe(64)
    with os.fdopen(handle, "w", encoding="ascii") as out:
        out.write(key)
    return key
