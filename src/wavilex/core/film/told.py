"""A film told: its clock, the patches, every press with its interval, sound and cadence where they are asked for."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from wavilex.core.film.between import apart
from wavilex.core.film.clock import Clock, FilmError, clock, flicker, said_by_counter, said_by_flicker
from wavilex.core.film.patches import Proposed, Rect, Stack, light_of, strip_light
from wavilex.core.film.press import Camera, Patch, Press, measure
from wavilex.core.film.shapes import (
    ApartOut,
    Borne,
    CadenceOut,
    FilmClockOut,
    FilmPressOut,
    FilmSoundOut,
    FilmSumOut,
    FilmTold,
    LevelsOut,
    ProposedOut,
    RectOut,
)
from wavilex.core.film.sound import clicks, offset
from wavilex.core.film.strip import CELLS, cadence, counts
from wavilex.core.film.trace import Polarity, Trace, turns

_POINTS = 900  # of a drawn patch: own figure
_MOSTLY_SHUT = 0.5  # of a frame: then readings lie on whole frames
_BORNE: dict[bool | None, Borne] = {True: "yes", False: "no", None: ""}
_STILL = 0.1  # the corner that flicker is looked for in, of the picture


@dataclass(frozen=True, slots=True, eq=False)
class Film:
    """A film as it was read. stack: (frames, rows, cols); file_ns: (frames,); sound: loudness by step, empty: none."""

    stack: Stack
    file_ns: NDArray[np.int64]
    full: bool
    sound: NDArray[np.float64]
    sound_begin_ns: int
    sound_step_ns: int


@dataclass(frozen=True, slots=True)
class Marks:
    """What somebody said of a film. None: not said; start and answer: as proposed. metres: from screen to microphone.
    strip: where the counter's coded strip stands; counter_hz: the rate its page says it runs at. second: another screen
    that answers too. ways: do the two patches light up, darken, or either. moved: press, end, frames; dropped: presses.
    """

    taken_fps: float | None = None
    start: Rect | None = None
    answer: Rect | None = None
    readout_ms: float | None = None
    metres: float = 0.0
    strip: Rect | None = None
    counter_hz: float | None = None
    second: Rect | None = None
    ways: tuple[Polarity, Polarity] = ("rise", "rise")
    moved: tuple[tuple[int, str, int], ...] = ()
    dropped: frozenset[int] = frozenset()


def film_told(film: Film, proposed: list[Proposed], marks: Marks) -> FilmTold:
    """Everything a film tells under these marks. Raises FilmError where it tells no time."""
    true = clock(film.file_ns, marks.taken_fps)
    start = marks.start or (proposed[0].rect if proposed else None)
    answer = marks.answer or (proposed[1].rect if len(proposed) > 1 else None)
    traces = [Trace(true.at_ns, light_of(film.stack, r, film.full)) if r else None for r in (start, answer)]
    presses, camera = presses_of(traces, (start, answer), marks)
    step = step_ns(camera) if camera else None
    told = [_press(n, p, true, marks) for n, p in enumerate(presses)]
    counter = _cadence(film, true, marks.strip)
    return {
        "clock": _clock(film, true, counter, marks), "proposed": [_proposed(p, true, film.file_ns) for p in proposed],
        "start": rect_out(start), "answer": rect_out(answer),
        "moves": [{"press": n, "end": end, "frames": k} for n, end, k in marks.moved],
        "presses": told, "sum": _sum(told, counted=step is not None),
        "second": _second(film, true, traces[1], answer, marks),
        "start_levels": _levels(traces[0]), "answer_levels": _levels(traces[1]),
        "step_ms": step / 1e6 if step else None,
        "notes": _notes(camera, (start, answer), marks, film),
        "sound": _sound(film, true, traces[1] or traces[0], marks),
        "cadence": counter,
    }  # fmt: skip


def presses_of(
    traces: list[Trace | None], rects: tuple[Rect | None, Rect | None], marks: Marks
) -> tuple[list[Press], Camera | None]:
    """The presses of two patches; none where one is not marked."""
    if traces[0] is None or traces[1] is None:
        return [], None
    patches = tuple(Patch(r.row, r.height) if r else Patch() for r in rects)
    readout = None if marks.readout_ms is None else marks.readout_ms * 1e6
    own = patches[0], patches[1]
    return measure(traces[0], traces[1], patches=own, readout_ns=readout, ways=marks.ways)


def step_ns(camera: Camera) -> int | None:
    """The frame that readings are counted by; None where parts of it are told."""
    return round(camera.frame_ns) if camera.usual_open_ns < _MOSTLY_SHUT * camera.frame_ns else None


def kept(told: FilmTold) -> list[tuple[int, int, int]]:
    """Presses as they are filed: number, lag and how far it may be off, in µs. Raises FilmError where one would answer
    before it starts.
    """
    out = []
    for p in told["presses"]:
        if not p["kept"] or p["filed_ms"] is None or p["filed_off_ms"] is None:
            continue
        if p["filed_ms"] <= 0:
            raise FilmError(
                f"press {p['n'] + 1} would answer before it starts: move it back, or drop it", where="moved"
            )
        out.append((p["n"], max(1, round(p["filed_ms"] * 1000)), round(p["filed_off_ms"] * 1000)))
    return out


def rect_out(rect: Rect | None) -> RectOut | None:
    return {"x": rect.x, "y": rect.y, "width": rect.width, "height": rect.height} if rect else None


def _proposed(p: Proposed, true: Clock, file_ns: NDArray[np.int64]) -> ProposedOut:
    rect = rect_out(p.rect)
    assert rect is not None
    scale = true.stored_fps / true.taken_fps
    return {"rect": rect, "rises": p.rises, "first_s": (p.first_ns - float(file_ns[0])) * scale / 1e9}


def _press(n: int, p: Press, true: Clock, marks: Marks) -> FilmPressOut:
    """A moment that a hand moved is a frame less sure."""
    frame_ms = 1000 / true.taken_fps
    by = [frames if end == "answer" else -frames for press, end, frames in marks.moved if press == n and frames]
    lag_ms, off_ms = (None if x is None else x / 1e6 for x in (p.lag_ns, p.half_ns))
    return {
        "n": n, "what": p.what,
        "start_s": p.start.at_ns / 1e9 if p.start else None, "answer_s": p.answer.at_ns / 1e9 if p.answer else None,
        "start_frame": p.start.frame if p.start else None, "answer_frame": p.answer.frame if p.answer else None,
        "lag_ms": lag_ms, "off_ms": off_ms,
        "filed_ms": None if lag_ms is None else lag_ms + sum(by) * frame_ms,
        "filed_off_ms": None if off_ms is None else off_ms + (frame_ms if by else 0),
        "moved": bool(by), "kept": p.what == "read" and n not in marks.dropped,
    }  # fmt: skip


def _sum(presses: Sequence[FilmPressOut], *, counted: bool) -> FilmSumOut | None:
    """What the session will give for them: the mean of counts, else the median."""
    values = [p["filed_ms"] for p in presses if p["kept"] and p["filed_ms"] is not None]
    if not values:
        return None
    lag = float(np.mean(values) if counted else np.median(values))
    return {"n": len(values), "lag_ms": lag, "of": "mean" if counted else "median"}


def _second(film: Film, true: Clock, first: Trace | None, answer: Rect | None, marks: Marks) -> ApartOut | None:
    if marks.second is None or first is None or answer is None:
        return None
    rect = rect_out(marks.second)
    assert rect is not None
    other = Trace(true.at_ns, light_of(film.stack, marks.second, film.full))
    slow = (marks.second.row - answer.row) * (marks.readout_ms or 0.0) * 1e6
    told = apart(turns(first, marks.ways[1]), turns(other, marks.ways[1]), slow, first.frame_ns)
    if told is None:
        return {"rect": rect, "events": 0, "ms": 0.0, "low_ms": None, "high_ms": None,
                "words": "The second screen never answered near the first."}  # fmt: skip
    ms, low, high = (None if x is None else x / 1e6 for x in (told.ns, told.low_ns, told.high_ns))
    assert ms is not None
    span = f", {low:.1f} to {high:.1f} ms at 95 %" if low is not None and high is not None else ""
    alone = f" {told.alone} answers of one had none of the other." if told.alone else ""
    unsure = "" if marks.readout_ms is not None else _rows_unsure(marks.second, answer, first.frame_ns)
    return {
        "rect": rect, "events": told.events, "ms": ms, "low_ms": low, "high_ms": high,
        "words": f"The second screen answers {abs(ms):.1f} ms {'after' if ms >= 0 else 'before'} the first "
                 f"({told.events} flashes{span}); each may be off by a frame, {told.grain_ns / 1e6:.1f} ms."
                 f"{alone}{unsure}",
    }  # fmt: skip


def _rows_unsure(one: Rect, other: Rect, frame_ns: float) -> str:
    rows_ms = abs(one.row - other.row) * frame_ns / 1e6
    return f" They stand at different heights: up to {rows_ms:.1f} ms more." if rows_ms > frame_ns / 20e6 else ""


def _levels(trace: Trace | None) -> LevelsOut | None:
    """Least and most of each stretch, so that no flash is thinned away."""
    if trace is None:
        return None
    each = max(1, -(-len(trace.light) // _POINTS))
    at: list[float] = []
    light: list[float] = []
    for begin in range(0, len(trace.light), each):
        part = trace.light[begin : begin + each]
        for k in sorted({int(part.argmin()), int(part.argmax())}):
            at.append(round(float(trace.at_ns[begin + k]) / 1e9, 4))
            light.append(round(float(part[k]), 4))
    return {"at_s": at, "light": light}


def _clock(film: Film, true: Clock, counter: CadenceOut | None, marks: Marks) -> FilmClockOut:
    if counter is not None and counter["frames"] and marks.counter_hz:
        borne: bool | None
        borne, words = said_by_counter(counter["hz"], marks.counter_hz, true.taken_fps)
    else:
        corner = light_of(film.stack, Rect(0, 0, _STILL, _STILL), film.full)
        borne, words = said_by_flicker(flicker(corner), true.taken_fps)
    if not true.even:
        words += "; its frames do not stand at an even rate: their own times are used"
    return {
        "frames": len(true.at_ns), "seconds": float(true.at_ns[-1]) / 1e9, "stored_fps": true.stored_fps,
        "taken_fps": true.taken_fps, "even": true.even, "borne": _BORNE[borne],
        "words": words,
    }  # fmt: skip


def _notes(camera: Camera | None, rects: tuple[Rect | None, Rect | None], marks: Marks, film: Film) -> list[str]:
    out: list[str] = []
    if camera is None:
        return out
    frame = camera.frame_ns / 1e6
    share = round(100 * camera.usual_open_ns / camera.frame_ns)
    out.append(
        f"A frame is {frame:.2f} ms. By how many turns fell within one, the shutter is open about {share} % of it, "
        "if the quicker patch turns at once"
        + ("; readings lie on whole frames, and their mean is given." if step_ns(camera) else ".")
    )
    rows = abs(rects[1].row - rects[0].row) if rects[0] and rects[1] else 0.0
    if marks.readout_ms is not None:
        out.append(f"Corrected for a read-out of {marks.readout_ms:g} ms from the first row to the last.")
    elif rows * frame > frame / 20:
        out.append(
            f"The patches lie {round(100 * rows)} % of the picture’s height apart. Cameras read one row after "
            f"another: unless the read-out time is known, each reading may be off by {rows * frame:.1f} ms more."
        )
    out.append("The moment is the middle of a rise. The camera’s curve is taken for that of BT.709.")
    return out


def _sound(film: Film, true: Clock, flashes: Trace | None, marks: Marks) -> FilmSoundOut | None:
    if not len(film.sound) or flashes is None or abs(true.stored_fps - true.taken_fps) > 1:
        return None
    heard = clicks(film.sound, film.sound_begin_ns, film.sound_step_ns)
    told = offset(turns(flashes, "rise"), heard, marks.metres, flashes.frame_ns)
    if told is None:
        return None
    ms, camera = told.offset_ns / 1e6, told.camera_ns / 1e6
    span = f", {told.low_ns / 1e6:.1f} to {told.high_ns / 1e6:.1f} ms at 95 %" if told.low_ns and told.high_ns else ""
    return {
        "events": told.events, "offset_ms": ms,
        "low_ms": None if told.low_ns is None else told.low_ns / 1e6,
        "high_ms": None if told.high_ns is None else told.high_ns / 1e6,
        "words": f"The sound comes {abs(ms):.1f} ms {'after' if ms >= 0 else 'before'} the flash ({told.events} events"
                 f"{span}); the camera itself may be off by {camera:.1f} ms."
        + (f" The way to the microphone, {marks.metres:g} m, is taken off." if marks.metres else ""),
    }  # fmt: skip


def _cadence(film: Film, true: Clock, strip: Rect | None) -> CadenceOut | None:
    if strip is None:
        return None
    told = cadence(counts(strip_light(film.stack, strip, CELLS, film.full)), true.at_ns)
    if told is None:
        return {
            "frames": 0, "twice": 0, "missed": 0, "hz": 0.0, "unread_percent": 100.0,
            "words": "The strip could not be read: mark it edge to edge, and film it so that it fills a quarter of the "
                     "picture’s width.",
        }  # fmt: skip
    even = "every frame once" if not told.twice and not told.missed else ""
    faults = even or f"{told.twice} shown longer than their turn, {told.missed} never shown"
    return {
        "frames": told.frames, "twice": told.twice, "missed": told.missed, "hz": told.hz,
        "unread_percent": 100 * told.unread,
        "words": f"{told.frames} counts at {told.hz:.2f} a second: {faults}. {100 * told.unread:.0f} % of the film’s "
                 "frames tell no count.",
    }  # fmt: skip
