"""What a film that was read leaves in its folder, and how it is opened; needs nothing that decodes films."""

from __future__ import annotations

import json
from dataclasses import dataclass
from pathlib import Path

import numpy as np

from wavilex.core.film.told import Film

LUMA, TIMES, LOUDNESS, META = "luma.u8", "times.i64", "sound.f32", "film.json"
SOUND_STEP_NS = 250_000
SUFFIXES = (".mp4", ".mov", ".m4v", ".mkv", ".webm", ".avi")


@dataclass(frozen=True, slots=True)
class FilmMeta:
    """What a film is. cols, rows: of its small copies. full: its codes go from 0 to 255. sound_begin_ns: of the first
    step of loudness against the first frame, null: it has no sound.
    """

    width: int
    height: int
    cols: int
    rows: int
    frames: int
    full: bool
    cut: bool
    rotation: int
    sound_begin_ns: int | None
    sound_step_ns: int = SOUND_STEP_NS


def still_name(frame: int) -> str:
    """The file of a still."""
    return f"still-{frame:06}.jpg"


def stills(folder: Path) -> list[int]:
    """Frames there is a still of."""
    return sorted(int(f.stem.split("-")[1]) for f in folder.glob("still-*.jpg"))


def open_meta(folder: Path) -> FilmMeta:
    return FilmMeta(**json.loads((folder / META).read_text()))


def open_film(folder: Path) -> Film:
    """A film that was read: its small copies are not loaded until they are looked at."""
    meta = open_meta(folder)
    luma = np.memmap(folder / LUMA, np.uint8, "r", shape=(meta.frames, meta.rows, meta.cols))
    file = folder / LOUDNESS
    loud = np.fromfile(file, np.float32).astype(np.float64) if file.is_file() else np.zeros(0)
    times = np.fromfile(folder / TIMES, np.int64)
    return Film(luma, times, meta.full, loud, meta.sound_begin_ns or 0, meta.sound_step_ns)
