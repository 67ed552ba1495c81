"""S15: a television and a monitor at the simulated meter, standard against game mode."""

from __future__ import annotations

import pytest

from tests.ui.conftest import Person


def take(person: Person, mode: str, count: int) -> None:
    person.click(mode, ".conditions button")
    person.type("#count", str(count))
    person.click("Take", "section button")


@pytest.mark.parametrize(
    ("run", "bound", "standard", "game"),
    [("Den console", "40 ms asked of a television", "over", "under"),
     ("Match PC", "10 ms asked of a monitor", "under", "under")],
)  # fmt: skip
def test_s15_standard_against_game_with_interval(
    person: Person, run: str, bound: str, standard: str, game: str
) -> None:
    person.sheet("lag")
    person.run(run)
    person.see("Meter “bench” is ready.", "main")
    take(person, "standard", 8)
    # the warning comes before the first reading of a screen
    person.see("photosensitive epilepsy", "[role=dialog]")
    person.click("I have warned everybody", "[role=dialog] button")
    person.see("Taking standard", "main")
    person.wait(lambda d: d.find_element("css selector", "[data-test=latest]").text != "–ms", "readings arrive")
    person.see("8 readings taken.", "main")
    take(person, "game", 8)
    person.see("Taking game", "main")
    person.see("8 readings taken.", "main")
    person.see("less than standard (", "[data-test=difference]")
    person.see(f"{standard} the {bound}", "aside")
    person.see(f"{game} the {bound}", "aside")
    person.see("common practice", "aside")


def test_a_typed_reading_and_the_handover(person: Person) -> None:
    person.sheet("lag")
    person.run("Den console")
    person.click("game", ".conditions button")
    person.type("#typed", "11,4")
    person.click("Keep", "form button")
    person.see("median of 9", "aside")
    person.see("33 readings", "nav")
    person.sheet("handover")
    person.see("Den screen", ".page")
    person.see("under the 40 ms asked of a television", ".page")
