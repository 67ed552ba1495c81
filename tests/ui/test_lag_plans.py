"""What settings cost, from arrival to Settings and the hand-over: by meter, film, typed; screens side by side."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np
import pytest

from tests.arrivals import s06_arrival
from tests.films import Take, render, truth
from tests.rigs import s18, s20
from tests.ui.conftest import Keys, Person
from tests.ui.test_bench import warn


def only(person: Person, *tried: str) -> None:
    """Of everything that is tried leave these alone; what the baseline bars goes while one looks."""

    def left(_: Any) -> bool:
        boxes = person.driver.find_elements("css selector", "[aria-label='Baseline and what is tried'] input")
        for box in boxes:
            if box.is_selected() != (box.get_attribute("aria-label") in tried):
                box.click()
                return False
        return bool(boxes)

    person.wait(person._steady(left), f"only {tried} tried")


def planned(person: Person, job: str, count: int, *tried: str) -> None:
    """A plan from the quickest baseline, of these values alone."""
    person.sheet("lag", job)
    if job == person.job:
        person.run("Den console")
    person.click("Plan the session", "main button")
    only(person, *tried)
    person.type("#plan-count", str(count))
    person.see(f"Make the plan, {1 + len(tried)} cells", "main form")
    person.click("Make the plan", "main form button")


def next_cell(person: Person) -> str:
    """The cell the sheet asks to set."""
    asked = person.wait(person._steady(lambda _: person.find("[data-test=to-set] h2").text), "a cell is asked for")
    return str(asked).partition("“")[2].rstrip("”")


def used_on_settings_and_paper(person: Person, job: str, words: str, hand: str) -> None:
    """One press keeps the costs; the title page and the hand-over say them."""
    person.see("Put back what was set", "[data-test=put-back]")
    person.click("use what was measured", "main button")
    person.open(f"/jobs/{job}/lag?part=cost")
    person.see("used", "[aria-label='What each setting costs']")
    person.open(f"/jobs/{job}/settings?part=titles")
    person.see(words, "main table")
    person.sheet("handover", job)
    person.see(hand, ".page")


def test_s06_one_setting_at_a_time_by_the_meter(person: Person, bring: Any) -> None:
    """Sports mode on, nothing noted: the baseline frees game mode, nothing is taken before somebody says it is set."""
    job = bring(s06_arrival(), "S06 parlour")
    planned(person, job, 7, "Game mode off", "Noise reduction automatic")
    person.see("Special mode: none", "[data-test=to-set] li")
    cells = []
    for n in range(3):
        cells.append(next_cell(person))
        assert not person.find("section button", "Take").is_enabled()
        person.click("It is set so: take 7", "main button")
        if n == 0:
            warn(person)
        person.wait(
            lambda d, n=n: d.find_elements("css selector", "[data-test=put-back]")
            if n == 2 else d.find_elements("css selector", "[data-test=to-set]") and next_cell(person) != cells[-1],
            "the next cell is asked for",
        )  # fmt: skip
    assert sorted(cells) == ["Game mode off", "Noise reduction automatic", "baseline"]
    person.see("Special mode: sports", "[data-test=put-back]")  # as it was found
    used_on_settings_and_paper(person, job, "measured: off +", "Game mode off instead of on")
    person.see("Noise reduction automatic instead of off", ".page")


@pytest.fixture(scope="module")
def films(tmp_path_factory: pytest.TempPathFactory) -> dict[str, Path]:
    """Two films of the same screen: quick, and 60 ms later."""
    folder = tmp_path_factory.mktemp("films")
    rng, take = np.random.default_rng(8), Take(fps=120, share=0.9)
    out = {}
    for name, lag_s in (("quick", 0.014), ("late", 0.074)):
        out[name] = folder / f"{name}.mp4"
        render(out[name], rng, take, truth(rng, 7, lag_s, take))
    return out


def by_meter(person: Person, job: str, films: dict[str, Path]) -> None:
    for n in range(2):
        cell = next_cell(person)
        person.click("It is set so: take 6", "main button")
        if n == 0:
            warn(person)
            person.wait(lambda _, before=cell: next_cell(person) != before, "the next cell is asked for")


def by_film(person: Person, job: str, films: dict[str, Path]) -> None:
    for n in range(2):
        cell = next_cell(person)
        person.open(f"/jobs/{job}/lag?part=film")
        person.see(f"Set this for “{cell}”", "main")
        person.click("It is set so", "main button")
        person.upload("#film", films["late" if cell == "Game mode off" else "quick"])
        person.see("7 presses read", "main")
        person.see(cell, "main .keep")
        person.click("Keep 7 readings", ".keep button")
        if n == 0:
            warn(person)
        person.see(f"7 readings of {cell} kept, with a strip of each press.", ".keep")
        if n == 0:
            person.see("1 of 2 to go", "main .plan")
            person.click("Another film", ".keep button")


def typed(person: Person, job: str, films: dict[str, Path]) -> None:
    """Reading after reading; full cells make room for the next by themselves."""
    for n in range(12):
        cell = next_cell(person)
        person.type("#typed", f"{(92 if cell == 'Game mode off' else 12) + n % 6 / 10:.1f}" + Keys.ENTER)
        if n == 0:
            warn(person)
        last = n % 6 == 5
        person.see("ms" if last else f"{n % 6 + 1}/6", "main .plan button.slight" if n < 11 else "main .plan")
        if last and n < 11:
            person.wait(lambda _, before=cell: next_cell(person) != before, "the next cell is asked for")


@pytest.mark.parametrize("way", [by_meter, by_film, typed], ids=lambda w: w.__name__)
@pytest.mark.parametrize("scenario", ["S06", "S15", "S18", "S20"])
def test_from_arrival_to_settings_and_paper(
    person: Person, bring: Any, films: dict[str, Path], scenario: str, way: Callable[..., None]
) -> None:
    """What game mode costs: planned, set, waited for, measured each way, used, and undone."""
    rigs = {"S06": s06_arrival, "S18": s18, "S20": s20}
    job = bring(rigs[scenario](), f"{scenario} by {way.__name__}") if scenario in rigs else person.job
    planned(person, job, 6, "Game mode off")
    way(person, job, films)
    used_on_settings_and_paper(person, job, "measured: off +", "Game mode off instead of on")
    if way is by_film:
        person.see("a film", ".page")
        person.open(f"/jobs/{job}/lag?part=readings")
        person.see("film, its strip", "main table a")
    person.open(f"/jobs/{job}/lag?part=cost")
    person.see("used", "[aria-label='What each setting costs']")
    person.click("Undo", "button")  # what was used is not used any more
    person.click("Use this cost", "main button")
    person.see("used", "[aria-label='What each setting costs']")


def test_screens_side_by_side_against_a_named_baseline(person: Person, tmp_path: Path) -> None:
    for run, screen, least in (("Den console", "Den screen", 12), ("Match PC", "Match monitor", 4)):
        rows = [f"{screen},game,{least + k / 10}" for k in range(8)]
        file = tmp_path / f"{least}.csv"
        file.write_text("\n".join(["device,condition,lag_ms", *rows]))
        person.part("lag", "readings")
        person.run(run)
        person.upload("#csv", file)
        person.see("8 readings taken, 0 rows not.", "main")
    person.part("lag", "beside")
    person.choose("#beside-baseline", "Match monitor, game")
    person.see("+8.0 ms", "[aria-label='Lag of every screen']")
    person.see("the baseline", "[aria-label='Lag of every screen'] tr.base")
    row = person.find("[aria-label='Lag of every screen'] tr", "Den screen")
    assert "2." in row.text  # as a multiple


def test_before_and_after_needs_both_to_be_known(person: Person) -> None:
    person.sheet("lag")
    person.run("Den console")
    person.click("Plan the session", "main button")
    person.click("Before and after", "main form button")
    person.click("Make the plan, 2 cells", "main form button")
    person.see("found and plan do not differ", "body")


def test_a_word_is_told_what_it_sets_and_a_new_state_is_made(person: Person) -> None:
    person.sheet("lag")
    person.run("Den console")
    person.type("#new-condition", "late")
    person.press(Keys.ENTER)
    person.click("late", ".conditions button")
    person.see("Only the name of “late” is known.", "main")
    person.click("say what it sets", "main button")
    person.choose("[aria-label='Interpolation of this state']", "on")
    person.choose("[aria-label='Game mode of this state']", "on")
    person.click("Keep", ".says button")
    person.see("game mode shuts interpolation off", "body")  # it cannot stand so
    person.choose("[aria-label='Game mode of this state']", "off")
    person.click("Keep", ".says button")
    person.see("Game mode off, Interpolation on", "main")
    person.click("another state", "main button")
    person.choose("[aria-label='Game mode of this state']", "automatic")
    person.click("Keep", ".says button")
    person.find(".conditions button.on", "Game mode automatic")
