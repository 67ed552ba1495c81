"""A phone's film as a meter, by clicking: sent, read, marked, looked at, kept; and what is no film."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest

from tests.films import Take, render, truth
from tests.ui.conftest import Keys, Person
from tests.ui.test_bench import warn
from wavilex.core.film.strip import cells_of

TAKE = Take(fps=120, missed=(3,))


@pytest.fixture(scope="module")
def film(tmp_path_factory: pytest.TempPathFactory) -> tuple[Path, float]:
    """A film with eight presses, the fourth not answered, and the mean of its true lags in ms."""
    rng = np.random.default_rng(21)
    true = truth(rng, 8, 0.052, TAKE)
    file = tmp_path_factory.mktemp("film") / "den.mp4"
    render(file, rng, TAKE, true)
    return file, 1000 * float(true.lags.mean())


def test_s15_by_a_film_from_sending_to_the_hand_over(person: Person, film: tuple[Path, float]) -> None:
    file, lag_ms = film
    person.part("lag", "film")
    person.run("Den console")
    person.upload("#film", file)
    person.see("7 presses read, 1 not answered", "main")
    shown = float(person.find("[data-test=film-lag]").text.split("ms")[0])
    assert abs(shown - lag_ms) < 250 / TAKE.fps
    person.see("nothing answered", ".presses")
    person.press(Keys.ARROW_DOWN)
    person.find(".presses li.now img")
    person.press("x")
    person.see("Keep 6 readings", "main .keep")
    person.press("x")
    person.see("Keep 7 readings", "main .keep")
    person.press(Keys.ARROW_RIGHT)
    person.see("moved by hand", ".presses li.now")
    person.choose("#film-rate", "240 a second")
    person.wait(
        lambda _: abs(float(person.find("[data-test=film-lag]").text.split("ms")[0]) - lag_ms / 2) < 2, "half the lag"
    )
    person.choose("#film-rate", "120.00 a second, as stored")
    person.see("7 presses read", "main")
    person.click("game", ".conditions button")
    person.click("Keep 7 readings", ".keep button")
    warn(person)
    person.see("7 readings of game kept, with a strip of each press.", ".keep")
    person.see("game", "aside")
    person.part("lag", "readings")
    person.see("film", "main table")
    person.sheet("handover")
    person.see("a film", ".page")


def test_what_is_no_film_says_so_and_another_can_be_sent(person: Person, tmp_path: Path) -> None:
    file = tmp_path / "notes.mp4"
    file.write_bytes(b"this is no film" * 400)
    person.part("lag", "film")
    person.run("Den console")
    person.upload("#film", file)
    person.see("notes.mp4: the film cannot be read", "main [role=alert]")
    person.click("Another film", "main button")
    person.see("Drop a film here", "main")


def test_the_counters_strip_is_the_count(person: Person) -> None:
    """What the page shows against the reader's own table, at whatever frame it stands."""
    person.go("/counter")
    person.click("Start the counter")
    person.find(".strip")
    for _ in range(5):
        frame, lit = person.driver.execute_script(
            "const s = document.querySelector('.strip');"
            "return [+s.dataset.frame, [...s.children].map((i) => +i.classList.contains('on'))]"
        )
        assert lit == cells_of(frame % 1024)
