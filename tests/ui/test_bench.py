"""S15: a television and a monitor at the simulated meter, standard against game mode."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import pytest

from tests.rigs import s07
from tests.ui.conftest import Keys, Person
from wavilex.core.rig.changes import apply
from wavilex.core.rig.model import Rig


def take(person: Person, mode: str, count: int) -> None:
    person.click(mode, ".conditions button")
    person.choose("#cell-signal", "1920x1080@60")  # a meter goes on sending what it was last asked for
    person.type("#count", str(count))
    person.click("Take", "section button")


def one_screen() -> Rig:
    """A screen and nothing else."""
    rig = s07()
    others = [{"op": "remove_device", "device": uid} for uid in rig.devices if uid != "tv"]
    return apply(rig, others)[0]


def warn(person: Person) -> None:
    """Before the first flash everybody is warned."""
    person.see("photosensitive epilepsy", "[role=dialog]")
    person.click("I have warned everybody", "[role=dialog] button")


def brought(person: Person, tmp_path: Path, **conditions: str) -> None:
    """Readings in ms taken before, by condition, brought in as a table for the den's screen."""
    rows = [f"Den screen,{name},{ms}" for name, each in conditions.items() for ms in each.split()]
    file = tmp_path / "before.csv"
    file.write_text("\n".join(["device,condition,lag_ms", *rows]))
    person.part("lag", "readings")
    person.run("Den console")
    person.upload("#csv", file)
    person.see(f"{len(rows)} readings taken, 0 rows not.", "main")


STANDARD = "19.2 19.6 19.9 20.1 20.3 20.6 20.8 21.4"
GAME = "11.1 11.4 11.6 11.9 12.2 12.3 12.7 13.2"


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
    person.watching(".state")
    take(person, "standard", 8)
    warn(person)
    person.passed("Taking standard")
    person.wait(lambda d: d.find_element("css selector", "[data-test=latest]").text != "–ms", "readings arrive")
    person.see("8 readings taken.", "main")
    take(person, "game", 8)
    person.passed("Taking game")
    person.see("8 readings taken.", "main")
    person.see("less than standard (", "[data-test=difference]")
    person.see(f"{standard} the {bound}", "aside")
    person.see(f"{game} the {bound}", "aside")
    person.see("common practice", "aside")


def test_a_typed_reading_and_the_handover(person: Person) -> None:
    person.sheet("lag")
    person.run("Den console")
    person.click("game", ".conditions button")
    for n, typed in enumerate(("11,4", "11.9", "12.1", "11.6", "12.4", "11.8"), 1):
        person.type("#typed", typed)
        person.click("Keep", "form button")
        if n == 1:
            warn(person)
        person.see(f"median of {n}", "aside")
    person.see("6 readings", "nav")
    person.sheet("handover")
    person.see("Den screen", ".page")
    person.see("under the 40 ms asked of a television", ".page")


def test_s06_no_practical_change_changed_or_undecided(person: Person, tmp_path: Path) -> None:
    brought(person, tmp_path, standard=STANDARD, game=GAME)
    person.part("lag", "cost")
    person.see("changed", "main table")
    person.see("changes by −8", "main table")
    person.choose("#baseline", "game")
    person.see("against game", "main table")
    person.type("#within", "200")
    person.press(Keys.TAB)
    person.see("no practical change", "main table")
    person.type("#within", "2")
    person.press(Keys.TAB)
    person.see("changes by", "main table")


def test_s17_each_titles_setting_measured_with_its_cost(person: Person) -> None:
    person.sheet("lag")
    person.run("Den console")
    person.watching(".state")
    for mode in ("fastest", "interpolated"):
        person.type("#new-condition", mode)
        person.press(Keys.ENTER)
        person.find(".conditions button.on", mode)
        person.type("#count", "8")
        person.click("Take", "section button")
        if mode == "fastest":
            warn(person)
        person.passed(f"Waiting for {mode} to settle")
        person.passed(f"Taking {mode}")
        person.see("8 readings taken.", "main")
    person.part("lag", "cost")
    person.run("Den console")
    person.choose("#baseline", "fastest")
    person.see("interpolated", "main table")
    row = person.find("main table tr", "interpolated")
    assert 24 < float(row.find_elements("css selector", "td")[1].text.split()[0]) < 28
    person.see("Tide Racer", "aside")


def test_s18_signals_by_plan_flag_interlaced_and_low_progressive(person: Person) -> None:
    person.sheet("lag")
    person.run("Museum console")
    person.click("Plan the session", "main button")
    person.click("A table", "main form button")
    person.click("game", "main form fieldset label")
    person.type("#plan-signals", "720x480@60, 1440x480i@60, 1440x240@60")
    person.type("#plan-count", "7")
    person.click("Make the plan, 3 cells", "main form button")
    for left in (3, 2, 1):
        person.see(f"{left} of 3 to go", "main")
        person.see("the meter sends it", "[data-test=to-set]")
        person.click("It is set so: take 7", "main button")
        if left == 3:
            warn(person)
    person.see("All taken", "[data-test=put-back]")
    person.click("It is put back", "main button")
    person.click("Light and signals", "main nav button")
    person.see("it holds 2 fields to weave", "main li")
    person.see("it is probably taken for interlaced", "main li")
    person.see("scan-out to there", "main table")


def test_a_chain_taken_apart_and_its_sound_delayed(person: Person, tmp_path: Path) -> None:
    brought(person, tmp_path, standard=STANDARD, film="98.2 99.1 99.6 100.3 101.7")
    person.part("lag", "chain")
    person.see("from act to light", "main")
    person.see("Den receiver 0.0 to 16.7 ms", "main li")
    person.type("#sound-lag", "20")
    person.press(Keys.TAB)
    person.see("Den receiver may add", "main table")
    person.see("set a delay of", "main table")
    person.press("u")


def test_a_table_with_a_bad_row_is_told_row_by_row(person: Person, tmp_path: Path) -> None:
    file = tmp_path / "readings.csv"
    file.write_text("device,condition,lag_ms\nDen screen,film,104.5\nDen screen,film,soon\n")
    person.part("lag", "readings")
    person.run("Den console")
    person.upload("#csv", file)
    person.see("1 reading taken, 1 row not.", "main")
    person.see("Line 3: Lag_ms is a number of ms, not 'soon'.", "main")
    person.see("film", "main table")
    person.click("discard", "main table button")
    person.see("discarded in the list", "main table")


def test_the_counter_runs_at_the_displays_own_rate(person: Person) -> None:
    person.go("/counter")
    person.see("photosensitive epilepsy", "main")
    person.click("Start the counter")
    person.see(" Hz", "main .foot")
    first = person.find("[data-test=counter]").text
    person.wait(lambda _: person.find("[data-test=counter]").text != first)
    person.click("End")
    person.see("Counter for the camera", "main")


def test_a_screen_is_measured_without_a_run_and_tables_darken(person: Person, bring: Any, tmp_path: Path) -> None:
    """A job of one box is a job: readings of three signals in two modes, as a table brought in."""
    job = bring(one_screen(), "One screen")
    rows = [
        f"TV,{mode},{signal},{ms + step / 10}"
        for mode, least in (("standard", 60), ("game", 10))
        for ms, signal in ((least, "1920x1080@60"), (least + 20, "720x480i@60"), (least + 12, "1440x240@60"))
        for step in range(7)
    ]
    file = tmp_path / "before.csv"
    file.write_text("\n".join(["device,condition,signal,lag_ms", *rows]))
    person.open(f"/jobs/{job}/lag?part=readings")
    person.see("Lag bench: TV", "h1")
    person.upload("#csv", file)
    person.see("42 readings taken, 0 rows not.", "main")
    person.click("What it costs", "main nav button")
    person.see("720x480i@60 interlaced", "table.heat th")
    person.see("1440×240p60 low resolution", "table.heat th")
    person.see("80.3", "table.heat td")
