"""Films rendered with known truth, by adding up light in small steps of time: not by the sums that are tested.

A finger lamp lights at each press; a screen answers a lag later, row by row of the camera's read-out, in its own rise.
"""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path
from typing import Any

import av
import numpy as np
from numpy.typing import NDArray

WIDTH, HEIGHT = 96, 54
LAMP, SCREEN = (0.08, 0.62, 0.12, 0.2), (0.45, 0.12, 0.45, 0.6)  # x, y, width, height of the picture
_WITHIN = 16  # looks within one exposure


@dataclass(frozen=True)
class Take:
    """How a film is taken. share: of a frame the shutter is open; rise_s: of the screen; readout_s: first row to last;
    drop: chance that a frame is left out; shake: px (of 96); drift: of the room's light, in its own size; missed:
    presses that nothing answers; unasked: presses after which, 0.6 s later, something answers nothing.
    """

    fps: int = 240
    share: float = 0.6
    rise_s: float = 0.003
    readout_s: float = 0.0
    noise: float = 2.0
    drop: float = 0.0
    shake: float = 0.0
    drift: float = 0.0
    blur: int = 0
    gamma: float = 2.2
    missed: tuple[int, ...] = ()
    unasked: tuple[int, ...] = ()
    mains_hz: float = 0.0
    hold_s: float = 0.25


@dataclass(frozen=True)
class Truth:
    """Times in s of what was pressed and what answered, nan where nothing did."""

    presses: NDArray[np.float64]
    answers: NDArray[np.float64]

    @property
    def lags(self) -> NDArray[np.float64]:
        return (self.answers - self.presses)[~np.isnan(self.answers)]


def truth(rng: np.random.Generator, count: int, lag_s: float, take: Take, spread_s: float = 0.001) -> Truth:
    presses = 0.6 + np.cumsum(rng.uniform(0.95, 1.2, count))
    lags = np.maximum(0.001, lag_s + rng.uniform(-spread_s, spread_s, count))
    lags[list(take.missed)] = np.nan
    return Truth(presses, presses + lags)


def lit(t: NDArray[np.float64], begins: NDArray[np.float64], hold: float, rise: float) -> NDArray[np.float64]:
    """How far a lamp is lit at each time: rising evenly about each begin, falling the same way."""
    out = np.zeros_like(t)
    for begin in begins[~np.isnan(begins)]:
        near = (t > begin - rise - 0.01) & (t < begin + hold + rise + 0.01)
        u = t[near]
        if rise:
            up = np.clip((u - begin) / rise + 0.5, 0, 1) - np.clip((u - begin - hold) / rise + 0.5, 0, 1)
        else:
            up = ((u >= begin) & (u < begin + hold)).astype(float)
        out[near] = np.maximum(out[near], up)
    return out


def frames(rng: np.random.Generator, take: Take, what: Truth) -> tuple[NDArray[np.float64], Any]:
    """Times of the frames in s, and the pictures one after another."""
    end = float(what.presses[-1]) + 1.2
    at = np.arange(round(end * take.fps)) / take.fps
    if take.drop:
        at = at[(rng.random(len(at)) >= take.drop) | (np.arange(len(at)) == 0)]
    answers = np.concatenate((what.answers, what.presses[list(take.unasked)] + 0.6))
    shutter = take.share / take.fps
    sub = (np.arange(_WITHIN) + 0.5) / _WITHIN * shutter
    rows = np.arange(HEIGHT) / HEIGHT * take.readout_s

    def pictures() -> Any:
        yy, xx = np.mgrid[0:HEIGHT, 0:WIDTH]
        room = 0.05 + 0.04 * np.sin(xx / 23.0) * np.cos(yy / 17.0)
        for t0 in at:
            when = t0 + rows[:, None] + sub[None, :]
            lamp = lit(when, what.presses, take.hold_s, 0.0).mean(axis=1)
            screen = lit(when, answers, take.hold_s, take.rise_s).mean(axis=1)
            about = 1 + take.drift * np.sin(0.9 * t0)
            if take.mains_hz:
                about = about * (1 + 0.2 * np.cos(2 * np.pi * take.mains_hz * when).mean(axis=1))[:, None]
            light = room * about
            dx, dy = (take.shake * np.sin(2 * np.pi * f * t0) for f in (1.3, 1.7))
            for (x, y, w, h), level, bright in ((LAMP, lamp, 0.5), (SCREEN, screen, 0.7)):
                inside = (
                    (xx >= x * WIDTH + dx) & (xx < (x + w) * WIDTH + dx)
                    & (yy >= y * HEIGHT + dy) & (yy < (y + h) * HEIGHT + dy)
                )  # fmt: skip
                light = np.where(inside, 0.02 + bright * level[:, None], light)
            code = 16 + 219 * np.clip(light, 0, 1) ** (1 / take.gamma)
            if take.blur:
                for axis in (0, 1):
                    code = sum(np.roll(code, n, axis) for n in range(-take.blur, take.blur + 1)) / (2 * take.blur + 1)
            yield np.clip(code + rng.normal(0, take.noise, code.shape), 0, 255).round().astype(np.uint8)

    return at, pictures()


def render(
    file: Path,
    rng: np.random.Generator,
    take: Take,
    what: Truth,
    *,
    codec: str = "mpeg4",
    stored_fps: float | None = None,
) -> NDArray[np.float64]:
    """Write the film; gives its frames' true times in s. stored_fps: it is stored slower than it was taken."""
    at, pictures = frames(rng, take, what)
    slow = take.fps / stored_fps if stored_fps else 1.0
    encode(file, [t * slow for t in at], pictures, codec=codec)
    return at


def clicks(rng: np.random.Generator, flashes: NDArray[np.float64], late_s: float) -> NDArray[np.float32]:
    """Sound of a click so long after each flash, at 48 kHz."""
    sound: NDArray[np.float32] = rng.normal(0, 0.002, round((float(flashes[-1]) + 1.3) * 48_000)).astype(np.float32)
    for flash in flashes:
        begin = round((flash + late_s) * 48_000)
        sound[begin : begin + 480] += np.sin(np.arange(480) * 0.25).astype(np.float32) * 0.5
    return sound


def encode(
    file: Path, at: Any, pictures: Any, *, codec: str = "mpeg4", sound: NDArray[np.float32] | None = None
) -> None:
    """Pictures of luma at their times in s into a file, with a sound track of 48,000 samples a second."""
    with av.open(str(file), "w") as out:
        stream: Any = None
        track: Any = out.add_stream("aac", rate=48_000, layout="mono") if sound is not None else None
        for t, picture in zip(at, pictures, strict=True):
            if stream is None:
                avi = file.suffix == ".avi"  # keeps an even rate only
                base = Fraction(1, round(1 / (at[1] - at[0]))) if avi else Fraction(1, 60_000)
                fast = {"preset": "ultrafast"} if codec == "libx264" else {"cpu-used": "8"} if codec == "libvpx" else {}
                stream = out.add_stream(codec, rate=1 / base if avi else 1000, options=fast)
                stream.width, stream.height = picture.shape[1], picture.shape[0]
                stream.pix_fmt = "yuvj420p" if codec == "mjpeg" else "yuv420p"
                stream.bit_rate = 6_000_000
                stream.codec_context.time_base = base
            h, w = picture.shape
            frame = av.VideoFrame.from_ndarray(
                np.concatenate((picture, np.full((h // 2, w), 128, np.uint8))), format=stream.pix_fmt
            )
            frame.pts, frame.time_base = round(t / base), base
            out.mux(stream.encode(frame))
        out.mux(stream.encode())
        if track is not None and sound is not None:
            wave = av.AudioFrame.from_ndarray(sound[None, :].astype(np.float32), format="fltp", layout="mono")
            wave.sample_rate, wave.pts, wave.time_base = 48_000, 0, Fraction(1, 48_000)
            fifo = av.AudioFifo()
            fifo.write(wave)
            while (part := fifo.read(1024, partial=True)) is not None:
                out.mux(track.encode(part))
            out.mux(track.encode())
