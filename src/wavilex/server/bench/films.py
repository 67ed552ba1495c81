"""Films of a lag session: sent part by part, read in a process of their own, measured, and removed again.

A film lies in the data folder under its own name; nothing of it is kept but what is filed as readings.
"""

from __future__ import annotations

import contextlib
import json
import shutil
import subprocess
import sys
import threading
import time
import uuid
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from django.conf import settings

from wavilex.core.film.patches import Proposed, Rect, propose
from wavilex.core.film.told import Film
from wavilex.instruments.film_files import META, SUFFIXES, open_film, open_meta, still_name, stills
from wavilex.server.bench.models import LagSession
from wavilex.server.bench.selectors import session_by_uid
from wavilex.server.config import limits
from wavilex.server.problems import ProblemError

_AT_ONCE = threading.Lock()  # one film is read at a time


@dataclass(slots=True)
class _Reading:
    """left: nobody waits for it any longer; nothing of it is written from then on."""

    process: subprocess.Popen[str] | None = None
    done: int = 0
    of: int = 0
    left: bool = False


_readings: dict[str, _Reading] = {}
_guard = threading.Lock()


def _folder(uid: str) -> Path:
    folder: Path = settings.DATA / "films" / uid
    return folder


def _state(uid: str) -> dict[str, Any]:
    """Raises ProblemError 404."""
    try:
        state: dict[str, Any] = json.loads((_folder(uid) / "state.json").read_text())
    except (OSError, ValueError):
        raise ProblemError(404, "no_such_film", "There is no such film; it may have been removed.", uid[:40]) from None
    return state


def begin(*, session: LagSession, name: str, size: int) -> str:
    """A film that will be sent; an earlier one of the session goes. Raises ProblemError."""
    suffix = Path(name).suffix.lower()
    if suffix not in SUFFIXES:
        raise ProblemError(422, "film_kind", f"Films are read as {', '.join(SUFFIXES)}.", "name")
    if not 0 < size <= limits.FILM_BYTES:
        raise ProblemError(422, "film_large", f"A film is at most {limits.FILM_BYTES // 2**30} GB.", "bytes")
    sweep()
    if shutil.disk_usage(settings.DATA).free < 2 * size + 2**28:
        raise ProblemError(507, "no_room", "There is no room on the server’s disk for this film.", "bytes")
    for uid in _all():
        if _state_or(uid).get("session") == session.uid:
            remove(uid)
    uid = uuid.uuid4().hex[:16]
    folder = _folder(uid)
    folder.mkdir(parents=True, mode=0o700)
    state = {"session": session.uid, "name": name[:120], "bytes": size, "suffix": suffix, "at": time.time()}
    (folder / f"film{suffix}").touch(mode=0o600)
    _write(uid, state)
    return uid


def _write(uid: str, state: dict[str, Any]) -> None:
    half = _folder(uid) / "state.part"
    half.write_text(json.dumps(state))
    half.replace(_folder(uid) / "state.json")


def _all() -> list[str]:
    folder = settings.DATA / "films"
    return [f.name for f in folder.iterdir()] if folder.is_dir() else []


def _state_or(uid: str) -> dict[str, Any]:
    with contextlib.suppress(ProblemError):
        return _state(uid)
    return {}


def sweep() -> None:
    """Films nobody came back to are removed."""
    for uid in _all():
        if _state_or(uid).get("at", 0) < time.time() - limits.FILM_HOURS * 3600:
            remove(uid)


def own(uid: str) -> tuple[LagSession, dict[str, Any]]:
    """A film's session, if whoever asks may see it, and its state. Raises ProblemError 404."""
    if not uid.isalnum():
        raise ProblemError(404, "no_such_film", "There is no such film.", uid[:40])
    state = _state(uid)
    return session_by_uid(state["session"]), state


def add_part(*, uid: str, offset: int, data: bytes) -> None:
    """The next part of a film; the same one again is nothing new. Raises ProblemError 409 where one is left out."""
    _, state = own(uid)
    with _guard:
        file = _folder(uid) / f"film{state['suffix']}"
        if not file.is_file():
            raise ProblemError(409, "film_whole", "This film was read already.")
        have = file.stat().st_size
        if offset > have or have < state["bytes"] < offset + len(data):
            raise ProblemError(409, "film_part", f"The film goes on at byte {have}.", "offset")
        if offset + len(data) > have:
            with file.open("r+b") as out:
                out.seek(offset)
                out.write(data)
        whole = file.stat().st_size >= state["bytes"]
    if whole:
        _start(uid, state)


def _start(uid: str, state: dict[str, Any]) -> None:
    with _guard:
        if uid in _readings:
            return
        held = _readings[uid] = _Reading()
    threading.Thread(target=_read, args=(uid, state, held), daemon=True, name=f"film-{uid}").start()


def _worker(file: Path, folder: Path) -> list[str]:
    return [
        sys.executable, "-m", "wavilex.instruments.film_worker", str(file), str(folder),
        *map(str, (limits.FILM_FRAMES, limits.FILM_CPU_SECONDS, limits.FILM_MEGABYTES)),
    ]  # fmt: skip


def _read(uid: str, state: dict[str, Any], held: _Reading) -> None:
    """Wait for the film's turn, let its process read it, and keep what it said at the end."""
    folder = _folder(uid)
    file = folder / f"film{state['suffix']}"
    last: dict[str, Any] = {}
    with _AT_ONCE:
        with _guard:
            if held.left:
                return
            process = held.process = subprocess.Popen(
                _worker(file, folder),
                stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, text=True, start_new_session=True,
            )  # fmt: skip
        with process:
            assert process.stdout
            for line in process.stdout:
                with contextlib.suppress(ValueError):
                    last = json.loads(line)
                    held.done, held.of = last.get("done", held.done), last.get("of", held.of)
    with _guard:
        if held.left:
            return
        file.unlink(missing_ok=True)
        if not last.get("ready"):
            why = last.get("failed") or "reading it took more time or memory than it may, or its program broke off"
            with contextlib.suppress(OSError):
                _write(uid, {**state, "failed": why})
        _readings.pop(uid, None)


def status(uid: str) -> dict[str, Any]:
    """How far a film is: arriving, reading, ready, failed."""
    held = _readings.get(uid)  # first: what its reading leaves is written before it ends
    _, state = own(uid)
    folder = _folder(uid)
    try:
        have = (folder / f"film{state['suffix']}").stat().st_size
    except FileNotFoundError:  # it goes once it was read
        have = state["bytes"]
    ready = (folder / META).is_file() and held is None
    if state.get("failed"):
        name = "failed"
    elif ready:
        name = "ready"
    elif have < state["bytes"]:
        name = "arriving"
    else:
        name = "reading"
        if held is None:  # the server was started anew meanwhile
            _start(uid, state)
    return {
        "uid": uid, "name": state["name"], "bytes": state["bytes"], "received": have, "state": name,
        "done": held.done if held else 0, "of": held.of if held else 0, "message": state.get("failed", ""),
        "stills": stills(folder) if ready else [],
        "width": 0, "height": 0, "frames": 0, "rotation": 0, "sound": False, "cut": False,
        **(_figures(folder) if ready else {}),
    }  # fmt: skip


def _figures(folder: Path) -> dict[str, Any]:
    meta = open_meta(folder)
    return {
        "width": meta.width, "height": meta.height, "frames": meta.frames, "rotation": meta.rotation, "cut": meta.cut,
        "sound": meta.sound_begin_ns is not None,
    }  # fmt: skip


def remove(uid: str) -> None:
    """A film goes, whether it is being read or not."""
    with _guard:
        held = _readings.pop(uid, None)
        if held:
            held.left = True
    if held and held.process:
        held.process.kill()
        held.process.wait()  # it may write until it has ended
    shutil.rmtree(_folder(uid), ignore_errors=True)


def load(uid: str) -> Film:
    """A film that was read. Raises ProblemError 409 where it is not ready."""
    if status(uid)["state"] != "ready":
        raise ProblemError(409, "film_not_ready", "This film has not been read yet.")
    return open_film(_folder(uid))


def proposed(uid: str, film: Film) -> list[Proposed]:
    """Patches of a film, looked for once."""
    file = _folder(uid) / "patches.json"
    if file.is_file():
        return [Proposed(Rect(*p["rect"]), p["rises"], p["first_ns"]) for p in json.loads(file.read_text())]
    found = propose(film.stack, film.file_ns, film.full)
    file.write_text(json.dumps([
        {"rect": [p.rect.x, p.rect.y, p.rect.width, p.rect.height], "rises": p.rises, "first_ns": p.first_ns}
        for p in found
    ]))  # fmt: skip
    return found


def still(uid: str, frame: int) -> bytes:
    """A still as the page shows it. Raises ProblemError 404."""
    own(uid)
    file = _folder(uid) / still_name(frame)
    if not file.is_file():
        raise ProblemError(404, "no_such_still", "There is no such still of this film.", str(frame))
    return file.read_bytes()
