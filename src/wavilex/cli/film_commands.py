"""`wavilex lag film`: a film read and measured at once, with nothing kept of it."""

from __future__ import annotations

import argparse
import sys
import tempfile
from pathlib import Path
from typing import TYPE_CHECKING

from wavilex.cli.commands import say

if TYPE_CHECKING:
    from collections.abc import Iterator

    from wavilex.core.film.patches import Rect
    from wavilex.core.film.shapes import FilmTold
    from wavilex.core.lag.table import Row


def _rect(text: str | None, where: str) -> Rect | None:
    """Four shares of the picture. Raises FilmError."""
    from wavilex.core.film.clock import FilmError
    from wavilex.core.film.patches import Rect

    if text is None:
        return None
    try:
        x, y, width, height = (float(part) for part in text.split(","))
    except ValueError:
        raise FilmError(f"four numbers 0 to 1, as 0.1,0.6,0.2,0.1, not {text!r}", where=where) from None
    return Rect(x, y, width, height)


def film(a: argparse.Namespace) -> int:
    """Every press with its lag and interval; the rate borne out or not; sound and cadence where the film has them."""
    from wavilex.core.film.clock import FilmError
    from wavilex.core.film.patches import propose
    from wavilex.core.film.told import Marks, film_told

    marks = Marks(
        a.taken_rate, _rect(a.start, "--start"), _rect(a.answer, "--answer"), a.readout, a.metres,
        _rect(a.strip, "--strip"), a.counter_hz, _rect(a.second, "--second"), (a.starts, a.answers),
    )  # fmt: skip
    if (a.taken_rate is not None and a.taken_rate <= 0) or (a.readout is not None and a.readout < 0) or a.metres < 0:
        raise FilmError("a rate is over 0; a read-out and a distance are not under it")
    file = Path(a.file)
    if not file.is_file():
        raise FilmError("there is no such file", where=a.file)
    try:
        from wavilex.instruments.film import Limits, read_film
        from wavilex.instruments.film_files import open_film
    except ImportError:
        raise FilmError("films need the package av (PyAV): install wavilex[film]") from None
    with tempfile.TemporaryDirectory() as folder:
        read_film(
            file, Path(folder), Limits(), _told if sys.stderr.isatty() and not a.json else lambda _done, _of: None
        )
        read = open_film(Path(folder))
        told = film_told(read, propose(read.stack, read.file_ns, read.full), marks)
    if a.csv:
        from wavilex.core.lag.table import table_parts

        print("".join(table_parts(_rows(told, a.csv[0], a.csv[1], file.name))), end="")
        return 0
    say(dict(told), "\n".join(_lines(told)), a.json)
    return 0 if any(p["what"] == "read" for p in told["presses"]) or told["cadence"] else 1


def _rows(told: FilmTold, device: str, condition: str, name: str) -> Iterator[Row]:
    """The presses that were read, as a table of readings has them."""
    from wavilex.core.lag.table import Row

    step = told["step_ms"]
    for p in told["presses"]:
        if p["lag_ms"] is not None and p["off_ms"] is not None:
            note = f"{name}: press {p['n'] + 1} at {p['start_s']:.2f} s"
            yield Row("", device, "", condition, "", "", "film", round(p["lag_ms"] * 1000), False, note,
                      round(p["off_ms"] * 1000), round(step * 1_000_000) if step else None)  # fmt: skip


def _told(done: int, of: int) -> None:
    if sys.stderr.isatty():
        print(f"\r{done} of about {of} frames", end="\n" if done == of else "", file=sys.stderr, flush=True)


def _lines(told: FilmTold) -> list[str]:
    clock = told["clock"]
    out = [f"{clock['frames']} frames in {clock['seconds']:.2f} s, {clock['taken_fps']:.2f} a second; {clock['words']}"]
    words = {"missed": "nothing answered", "unasked": "nothing started it", "read": ""}
    for p in told["presses"]:
        at = p["start_s"] if p["start_s"] is not None else p["answer_s"]
        lag = f"{p['lag_ms']:.1f} ms ± {p['off_ms']:.1f}" if p["lag_ms"] is not None else words[p["what"]]
        out.append(f"{p['n'] + 1:3d}  {at:7.2f} s  {lag}")
    if not told["presses"]:
        out.append("no press: say where what starts and what answers stand (--start, --answer)")
    out += told["notes"]
    out += [part["words"] for part in (told["second"], told["sound"], told["cadence"]) if part]
    return out
