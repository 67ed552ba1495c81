"""Films read: every frame's time and a small copy of it, the loudness of the sound, some stills; nothing else is kept.

Frames are decoded to luma by PyAV (BSD; its wheel carries FFmpeg with encoders under the GPL, which are not used here)
and reduced at once, so memory does not grow with the film.
"""

from __future__ import annotations

import json
from collections import deque
from collections.abc import Callable, Iterator
from concurrent.futures import Future, ThreadPoolExecutor
from dataclasses import asdict, dataclass
from pathlib import Path
from typing import IO, Any

import av
import numpy as np
from numpy.typing import NDArray

from wavilex.core.film.clock import FilmError
from wavilex.instruments.film_files import LOUDNESS, LUMA, META, SOUND_STEP_NS, SUFFIXES, TIMES, FilmMeta, still_name

MOST_COLS = 192
_STILLS, _STILL_WIDTH = 12, 960
_TOLD_EVERY = 50
_AHEAD = 6  # frames that may wait to be reduced
_FORMATS = ("mov,mp4", "matroska", "avi")


@dataclass(frozen=True, slots=True)
class Limits:
    """Of a film: frames that are read, pixels of one."""

    frames: int = 120_000
    pixels: int = 3840 * 2160


def read_film(
    file: Path, folder: Path, limits: Limits, told: Callable[[int, int], None] = lambda _done, _of: None
) -> FilmMeta:
    """Read a film into a folder: the files of `film_files`. told(frames done, of about).

    Raises FilmError where the file is no film this program reads.
    """
    try:
        with av.open(str(file), metadata_errors="ignore", format=None) as film:
            if not any(film.format.name.startswith(f) for f in _FORMATS):
                raise FilmError(f"{film.format.name} is no kind of film this program reads: {', '.join(SUFFIXES)}")
            if not film.streams.video:
                raise FilmError("the file holds no picture")
            meta = _picture(film, folder, limits, told)
        sound = _sound(file, folder, meta[1])
    except FilmError:
        raise
    except (av.FFmpegError, OSError, ValueError, MemoryError, OverflowError) as problem:
        raise FilmError(f"the film cannot be read: {type(problem).__name__}; bring the camera’s own file") from None
    told_meta = FilmMeta(**{**meta[0], "sound_begin_ns": sound})
    (folder / META).write_text(json.dumps(asdict(told_meta)))
    return told_meta


def _picture(film: Any, folder: Path, limits: Limits, told: Callable[[int, int], None]) -> tuple[dict[str, Any], int]:
    """Every frame reduced and its time; the film's figures, and the first frame's time in ns."""
    stream = film.streams.video[0]
    if stream.width * stream.height > limits.pixels or stream.width < 16 or stream.height < 16:
        raise FilmError(f"its pictures of {stream.width} by {stream.height} pixels are not of a size that is read")
    stream.thread_type = "AUTO"
    about = stream.frames or round(float((stream.duration or 0) * (stream.time_base or 0) * (stream.average_rate or 0)))
    shrink = Shrink(stream.width, stream.height)
    stills = max(1, min(about, limits.frames) // _STILLS)
    times: list[int] = []
    full, cut, rotation = False, False, 0
    with (folder / LUMA).open("wb") as out, Beside(shrink, out) as small:
        for n, frame in enumerate(film.decode(stream)):
            if n >= limits.frames:
                cut = True
                break
            if frame.pts is None or (frame.width, frame.height) != (stream.width, stream.height):
                raise FilmError(f"frame {n + 1} tells no time, or is of another size than the first")
            if n == 0:
                full, rotation = frame.format.name.startswith("yuvj") or frame.color_range == 2, int(frame.rotation)
            times.append(round(frame.pts * frame.time_base * 1_000_000_000))
            small.put(frame)
            if n % stills == stills // 2:
                _still(frame, folder / still_name(n))
            if n % _TOLD_EVERY == 0:
                told(n, max(about, n))
    if len(times) < 2:
        raise FilmError("the film holds fewer than two frames")
    np.asarray(times, np.int64).tofile(folder / TIMES)
    told(len(times), len(times))
    figures = {
        "width": stream.width, "height": stream.height, "cols": shrink.cols, "rows": shrink.rows, "frames": len(times),
        "full": full, "cut": cut, "rotation": rotation,
    }  # fmt: skip
    return figures, times[0]


class Beside:
    """Frames reduced in a thread of their own and written in their order, while the next ones are decoded."""

    def __init__(self, shrink: Shrink, out: IO[bytes]) -> None:
        self._shrink, self._out = shrink, out
        self._waiting: deque[Future[bytes]] = deque()
        self._pool = ThreadPoolExecutor(1, "shrink")

    def __enter__(self) -> Beside:
        return self

    def __exit__(self, kind: object, *_: object) -> None:
        if kind is None:
            self._write(0)
        self._pool.shutdown(cancel_futures=True)

    def put(self, frame: Any) -> None:
        """One more frame; waits where too many are waiting already, so that memory stays flat."""
        self._waiting.append(self._pool.submit(self._reduced, frame))
        self._write(_AHEAD)

    def _reduced(self, frame: Any) -> bytes:
        return self._shrink(luma(frame)).tobytes()

    def _write(self, most: int) -> None:
        while len(self._waiting) > most:
            self._out.write(self._waiting.popleft().result())


def luma(frame: Any) -> NDArray[np.uint8]:
    """A frame's luma in 8 bits, (height, width), without conversion where its format has a plane of it."""
    name = frame.format.name
    plane = frame.planes[0]
    if name.startswith(("yuv", "nv", "gray")) and "le" not in name and "be" not in name and "yuyv" not in name:
        rows = np.frombuffer(plane, np.uint8).reshape(-1, plane.line_size)
        narrow: NDArray[np.uint8] = rows[: frame.height, : frame.width]
        return narrow
    if name.startswith(("yuv", "gray")) and name.endswith("le"):
        bits = frame.format.components[0].bits
        wide = np.frombuffer(plane, np.uint16).reshape(-1, plane.line_size // 2)[: frame.height, : frame.width]
        deep: NDArray[np.uint8] = (wide >> (bits - 8)).astype(np.uint8)
        return deep
    grey: NDArray[np.uint8] = frame.to_ndarray(format="gray")
    return grey


class Shrink:
    """A picture's means over square cells, at most MOST_COLS across; what is left over at the right and below is not
    looked at. Of large cells every other row, or every third, is enough.
    """

    def __init__(self, width: int, height: int) -> None:
        self.cell = -(-max(width, height) // MOST_COLS)
        self.cols, self.rows = width // self.cell, height // self.cell
        self._skip = max(1, self.cell // 4)

    def __call__(self, picture: NDArray[np.uint8]) -> NDArray[np.uint8]:
        cell, cols, rows = self.cell, self.cols, self.rows
        cut = picture[: rows * cell, : cols * cell].reshape(rows, cell, cols * cell)
        some = cut[:, :: self._skip]
        down = np.zeros((rows, cols * cell), np.uint16)
        for n in range(some.shape[1]):
            down += some[:, n]
        total = np.zeros((rows, cols), np.uint32)
        for n in range(cell):
            total += down[:, n::cell]
        count = some.shape[1] * cell
        small: NDArray[np.uint8] = ((total + count // 2) // count).astype(np.uint8)
        return small


def _still(frame: Any, file: Path) -> None:
    width = min(_STILL_WIDTH, frame.width)
    image = frame.to_image(width=width, height=max(1, round(frame.height * width / frame.width)))
    image.save(file, "JPEG", quality=85)


def _sound(file: Path, folder: Path, first_frame_ns: int) -> int | None:
    """Loudness in steps, the loudest sample of each; when it begins against the first frame, in ns."""
    with av.open(str(file), metadata_errors="ignore") as film:
        if not film.streams.audio:
            return None
        begin, rest = None, np.zeros(0, np.float32)
        with (folder / LOUDNESS).open("wb") as out:
            for samples, rate, at_ns in _samples(film):
                step = max(1, rate * SOUND_STEP_NS // 1_000_000_000)
                if begin is None:
                    begin = at_ns
                rest = np.concatenate((rest, np.abs(samples)))
                whole = len(rest) // step * step
                rest[:whole].reshape(-1, step).max(axis=1).astype(np.float32).tofile(out)
                rest = rest[whole:]
    return None if begin is None else begin - first_frame_ns


def _samples(film: Any) -> Iterator[tuple[NDArray[np.float32], int, int]]:
    """Sound as one channel at a rate that steps divide."""
    rate = 48_000
    resample = av.AudioResampler("fltp", "mono", rate)
    first = None
    for frame in film.decode(film.streams.audio[0]):
        if first is None:
            first = round((frame.pts or 0) * frame.time_base * 1_000_000_000) if frame.time_base else 0
        for out in resample.resample(frame):
            yield out.to_ndarray()[0], rate, first
