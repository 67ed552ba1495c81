"""How long a film takes against bare decoding of it to luma, side by side; and that memory stays flat with length.

SECONDS=60 for the whole minute; the film is 1920x1080, 240 frames a second.
"""

from __future__ import annotations

import os
import resource
import subprocess
import sys
import tempfile
import time
from pathlib import Path

import av
import numpy as np
from numpy.typing import NDArray

ROOT = Path(__file__).resolve().parent.parent
sys.path[:0] = [str(ROOT), str(ROOT / "src")]

from tests.films import encode  # noqa: E402

from wavilex.instruments.film import Limits, luma, read_film  # noqa: E402

FPS, ROUNDS = 240, 3


def made(file: Path, seconds: float) -> None:
    """A moving, noisy picture with a lamp that flashes."""
    rng = np.random.default_rng(1)
    noise = rng.normal(0, 3, (8, 1080, 1920)).astype(np.int16)
    ground = (np.add.outer(np.arange(1080), np.arange(1920)) // 12 % 160 + 30).astype(np.int16)

    def picture(n: int) -> NDArray[np.uint8]:
        one = np.roll(ground, n, 1) + noise[n % 8]
        if n % 120 < 40:
            one[300:700, 900:1500] = 220
        shown: NDArray[np.uint8] = one.clip(0, 255).astype(np.uint8)
        return shown

    count = round(seconds * FPS)
    encode(file, [n / FPS for n in range(count)], (picture(n) for n in range(count)), codec="libx264")


def bare(file: Path) -> float:
    """Seconds to decode every frame and reach its luma, with every core."""
    begun = time.perf_counter()
    with av.open(str(file)) as film:
        film.streams.video[0].thread_type = "AUTO"
        for frame in film.decode(video=0):
            luma(frame)
    return time.perf_counter() - begun


def ours(file: Path) -> float:
    begun = time.perf_counter()
    with tempfile.TemporaryDirectory() as folder:
        read_film(file, Path(folder), Limits())
    return time.perf_counter() - begun


def peak_mb(file: Path) -> float:
    """Most memory of the process that reads it."""
    with tempfile.TemporaryDirectory() as folder:
        words = [sys.executable, "-m", "wavilex.instruments.film_worker", str(file), folder, "999999", "9999", "8192"]
        process = subprocess.Popen(words, stdout=subprocess.DEVNULL)
        _, _, used = os.wait4(process.pid, 0)
    return used.ru_maxrss / 1024


def main() -> None:
    seconds = float(os.environ.get("SECONDS", "10"))
    with tempfile.TemporaryDirectory() as folder:
        file, third = Path(folder) / "film.mp4", Path(folder) / "third.mp4"
        made(file, seconds)
        made(third, seconds / 3)
        pairs = [(bare(file), ours(file)) for _ in range(ROUNDS)]
        plain, read = (min(p[n] for p in pairs) for n in (0, 1))
        print(f"film of {seconds:g} s, 1080p at {FPS}, {file.stat().st_size / 1e6:.0f} MB")
        print(f"bare decoding {plain:.1f} s, reading {read:.1f} s: {read / plain:.2f} times (asked: 1.3)")
        print(f"memory of the process: {peak_mb(third):.0f} MB for a third of it, {peak_mb(file):.0f} MB for all")
    print(f"this process: {resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024:.0f} MB")


if __name__ == "__main__":
    main()
