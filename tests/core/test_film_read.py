"""Films read from files: made by another program's encoders (PyAV's FFmpeg), with light added up in small steps."""

from __future__ import annotations

import json
import subprocess
import sys
from pathlib import Path

import numpy as np
import pytest

from tests.films import Take, clicks, encode, frames, render, truth
from wavilex.cli import main
from wavilex.core.film.clock import FilmError
from wavilex.core.film.patches import propose
from wavilex.core.film.shapes import FilmTold
from wavilex.core.film.told import Marks, film_told
from wavilex.core.lag.table import read_table
from wavilex.instruments.film import Limits, Shrink, read_film
from wavilex.instruments.film_files import SUFFIXES, open_film


def _told(folder: Path, marks: Marks) -> FilmTold:
    """As the application does it: read, propose, measure."""
    read_film(next(f for f in folder.glob("film.*") if f.suffix in SUFFIXES), folder, Limits())
    film = open_film(folder)
    return film_told(film, propose(film.stack, film.file_ns, film.full), marks)


@pytest.mark.parametrize(
    ("suffix", "codec", "take", "lag_s"),
    [
        ("mp4", "mpeg4", Take(), 0.040), ("mov", "mpeg4", Take(fps=120, drop=0.05, noise=3), 0.021),
        ("avi", "mjpeg", Take(fps=60, share=0.3, rise_s=0), 0.120), ("mkv", "libx264", Take(fps=480), 0.003),
        ("webm", "libvpx", Take(fps=120, mains_hz=100, rise_s=0.008), 0.065),
        ("mp4", "mpeg4", Take(shake=1, drift=0.5, blur=1, missed=(3,), unasked=(5,)), 0.050),
        ("mp4", "mpeg4", Take(readout_s=0.004, gamma=2.0, missed=(2,)), 0.030),
    ],
)  # fmt: skip
def test_films_give_back_what_was_rendered(tmp_path: Path, suffix: str, codec: str, take: Take, lag_s: float) -> None:
    rng = np.random.default_rng(7)
    true = truth(rng, 7, lag_s, take)
    render(tmp_path / f"film.{suffix}", rng, take, true, codec=codec)
    found = _told(tmp_path, Marks(readout_ms=take.readout_s * 1000))["presses"]
    assert [p["what"] for p in found].count("missed") == len(take.missed)
    assert [p["what"] for p in found].count("unasked") == len(take.unasked)
    read = [p["lag_ms"] for p in found if p["lag_ms"] is not None]
    off = [ms / 1000 - lag for ms, lag in zip(read, true.lags, strict=True)]
    assert len(off) == 7 - len(take.missed)
    # frames that were left out make a longer frame at their place
    assert max(abs(x) for x in off) <= (3 if take.drop else 1) / take.fps
    assert abs(float(np.mean(off))) < 0.25 / take.fps  # seven presses: their mean is off by chance too


def test_a_film_stored_slow_tells_the_true_lag_once_its_rate_is_said(tmp_path: Path) -> None:
    rng = np.random.default_rng(8)
    true = truth(rng, 6, 0.03, Take())
    render(tmp_path / "film.mp4", rng, Take(), true, stored_fps=30)
    told = _told(tmp_path, Marks(taken_fps=240))
    assert told["clock"]["stored_fps"] == pytest.approx(30, abs=0.1)
    got = [p["lag_ms"] for p in told["presses"] if p["lag_ms"]]
    assert float(np.mean(got)) / 1000 == pytest.approx(float(true.lags.mean()), abs=0.25 / 240)


def test_sound_stands_where_it_was_put(tmp_path: Path) -> None:
    rng = np.random.default_rng(3)
    take = Take(fps=120, rise_s=0)
    true = truth(rng, 7, 0.02, take)
    sound = clicks(rng, true.answers, 0.055)
    at, pictures = frames(rng, take, true)
    encode(tmp_path / "film.mp4", at, pictures, sound=sound)
    told = _told(tmp_path, Marks())["sound"]
    assert told is not None
    assert told["events"] == 7
    assert told["offset_ms"] == pytest.approx(55, abs=1 + 500 / 120)
    assert "after the flash" in told["words"]


def test_means_over_cells_are_means() -> None:
    rng = np.random.default_rng(1)
    picture = rng.integers(0, 256, (270, 480)).astype(np.uint8)
    small = Shrink(480, 270)
    assert (small.cell, small.cols, small.rows) == (3, 160, 90)
    plain = picture.reshape(90, 3, 160, 3).mean(axis=(1, 3))
    assert np.abs(small(picture) - plain).max() <= 0.5


@pytest.mark.parametrize("what", ["empty", "noise", "cut", "text", "sound", "playlist"])
def test_a_file_that_is_no_film_is_refused_in_its_own_process(tmp_path: Path, what: str) -> None:
    file = tmp_path / "film.mp4"
    rng = np.random.default_rng(5)
    if what == "cut":
        true = truth(rng, 2, 0.03, Take(fps=60))
        render(file, rng, Take(fps=60), true)
        file.write_bytes(file.read_bytes()[:900])
    elif what == "sound":
        import av

        with av.open(str(file), "w") as out:
            out.add_stream("aac", rate=48_000, layout="mono")
    else:
        text = b"#EXTM3U\n#EXTINF:1,\nfile:///etc/passwd\n"
        file.write_bytes({"empty": b"", "noise": rng.bytes(5000), "text": b"not a film " * 99, "playlist": text}[what])
    words = [sys.executable, "-m", "wavilex.instruments.film_worker", str(file), str(tmp_path), "1000", "20", "2000"]
    done = subprocess.run(words, capture_output=True, text=True, timeout=60)
    assert done.returncode == 1
    last = json.loads(done.stdout.splitlines()[-1])
    assert "Traceback" not in last["failed"] + done.stderr
    assert last["failed"]


def test_a_film_longer_than_is_read_is_cut_and_says_so(tmp_path: Path) -> None:
    rng = np.random.default_rng(5)
    render(tmp_path / "film.mp4", rng, Take(fps=60), truth(rng, 2, 0.03, Take(fps=60)))
    meta = read_film(tmp_path / "film.mp4", tmp_path, Limits(frames=40))
    assert (meta.frames, meta.cut) == (40, True)
    with pytest.raises(FilmError, match="pixels"):
        read_film(tmp_path / "film.mp4", tmp_path, Limits(pixels=100))


def test_the_command_line_asks_the_same(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    rng = np.random.default_rng(12)
    take = Take(fps=60)
    true = truth(rng, 3, 0.05, take)
    file = tmp_path / "den.mp4"
    render(file, rng, take, true)
    assert main(["lag", "film", str(file), "--json"]) == 0
    told = json.loads(capsys.readouterr().out)
    assert [p["what"] for p in told["presses"]] == ["read"] * 3
    assert main(["lag", "film", str(file)]) == 0
    assert "shutter is open about" in capsys.readouterr().out
    assert main(["lag", "film", str(file), "--csv", "Den screen", "game"]) == 0
    rows, refused = read_table(capsys.readouterr().out)
    assert [(r.device, r.condition, r.method) for r in rows] == [("Den screen", "game", "film")] * 3
    assert not refused
    for words in (["--start", "1,2"], ["--start", "0.5,0.5,0.9,0.9"], ["--taken-rate", "0"]):
        assert main(["lag", "film", str(file), *words]) == 2
    assert main(["lag", "film", str(tmp_path / "none.mp4")]) == 2
