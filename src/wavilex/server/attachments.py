"""Photographs beside the backups: each kept once, whichever backups have it; copied, read back, and put back.

A photograph's name is made of its content, so that the copy is known to be whole when its content makes its name.
"""

from __future__ import annotations

import hashlib
import json
import os
import shutil
from collections.abc import Iterator
from pathlib import Path

PHOTOGRAPHS = "photographs"  # in the data folder by job, in the backups folder all together
_LIST = ".photographs.json"
_NAME_SIGNS = 24


def listing_of(backup: Path) -> Path:
    """Where a backup's photographs are listed."""
    return backup.with_name(backup.name.removesuffix(".sqlite3") + _LIST)


def whole(file: Path) -> bool:
    """Does a photograph's content make its name?"""
    return file.is_file() and hashlib.sha256(file.read_bytes()).hexdigest()[:_NAME_SIGNS] == file.stem


def copy_photographs(data: Path, folder: Path, backup: Path) -> int:
    """Copy what is new, read it back, and list all there is beside the backup; how many. Raises OSError."""
    store, listed = folder / PHOTOGRAPHS, dict[str, int]()
    for file in _files(data / PHOTOGRAPHS):
        there = store / file.name
        if not there.is_file() or there.stat().st_size != file.stat().st_size:
            store.mkdir(parents=True, exist_ok=True, mode=0o700)
            _copied(file, there)
        listed[f"{file.parent.name}/{file.name}"] = file.stat().st_size
    if not listed:
        return 0
    text = json.dumps({"photographs": listed}, indent=0)
    listing = listing_of(backup)
    part = listing.with_name(f"{listing.name}.part")
    part.write_text(text, encoding="utf-8")
    part.replace(listing)
    return len(listed)


def _files(folder: Path) -> Iterator[Path]:
    yield from (f for job in sorted(folder.glob("*")) if job.is_dir() for f in sorted(job.glob("*.jpg")))


def _copied(file: Path, target: Path) -> None:
    part = target.with_name(f"{target.name}.part")
    shutil.copyfile(file, part)
    same = hashlib.sha256(part.read_bytes()).digest() == hashlib.sha256(file.read_bytes()).digest()
    if not same:
        part.unlink()
        raise OSError(f"{file} cannot be copied to {target}: what was written is not what was read")
    os.chmod(part, 0o600)
    part.replace(target)


def listed_in(backup: Path) -> dict[str, int]:
    """A backup's photographs with their sizes, by job and name; of a backup from before they were kept, none."""
    listing = listing_of(backup)
    if not listing.is_file():
        return {}
    found: dict[str, int] = json.loads(listing.read_text(encoding="utf-8"))["photographs"]
    return {k: n for k, n in found.items() if k.count("/") == 1 and ".." not in k and not k.startswith("/")}


def missing_of(backup: Path) -> list[str]:
    """Photographs that a backup lists and that are not whole beside it."""
    store = backup.parent / PHOTOGRAPHS
    return [name for name in listed_in(backup) if not whole(store / Path(name).name)]


def put_back(backup: Path, data: Path) -> int:
    """Copy a backup's photographs to where they were, those there already excepted; how many. Raises OSError."""
    store, done = backup.parent / PHOTOGRAPHS, 0
    for name in listed_in(backup):
        target, source = data / PHOTOGRAPHS / name, store / Path(name).name
        if target.is_file() or not source.is_file():
            continue
        target.parent.mkdir(parents=True, exist_ok=True, mode=0o700)
        _copied(source, target)
        done += 1
    return done


def forget_unlisted(folder: Path) -> int:
    """Photographs that no backup lists any more go; how many."""
    kept = {Path(name).name for backup in folder.glob("*.sqlite3") for name in listed_in(backup)}
    for listing in folder.glob(f"*{_LIST}"):
        if not listing.with_name(listing.name.removesuffix(_LIST) + ".sqlite3").is_file():
            listing.unlink()
    gone = [f for f in (folder / PHOTOGRAPHS).glob("*.jpg") if f.name not in kept]
    for file in gone:
        file.unlink()
    return len(gone)
