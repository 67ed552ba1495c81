"""Coming back by clicking: S07, S10 and S14 after a planted update, found with at most 40 % of a full re-check; visits,
what changed, the logbook, the hand-over with its link, a pack read in.
"""

from __future__ import annotations

import re
from collections.abc import Callable
from pathlib import Path
from typing import Any

import pytest

from tests.arrivals import settled
from tests.rigs import s07, s10, s14
from tests.ui.conftest import Person, words
from wavilex.core.rig.changes import apply
from wavilex.core.rig.model import Rig

WAS, NOW = "3.2", "9.9"


def at(rig: Rig) -> Rig:
    """The job at its end, its screen on a version that was read."""
    done = apply(settled(rig), [{"op": "set_device", "device": "tv", "firmware": WAS}])[0]
    return apply(done, [{"op": "set_fact", "device": "tv", "path": "updated", "value": None}])[0]


def truth(rig: Rig, reset: set[str]) -> dict[str, str]:
    """Labels of the settings that the planted update puts back, with what they come back to, in words."""
    out = {}
    for (device, _scope, key), value in rig.settings.items():
        setting = rig.devices["tv"].profile.setting(key) if device == "tv" else None
        if setting is not None and key in reset and value.found not in (None, setting.default):
            out[setting.label] = setting.option_label(setting.default)
    return out


@pytest.mark.parametrize(
    ("title", "rig", "reset"),
    [
        ("S07 lounge", lambda: at(s07()), {"warmth", "sharpness", "light"}),
        ("S10 hall", lambda: at(s10(WAS, "full")), {"warmth", "contrast"}),
        ("S14 salon", lambda: at(s14()), {"game", "preset", "warmth"}),
    ],
)  # fmt: skip
def test_what_a_planted_update_put_back_is_found_by_looking(
    person: Person, bring: Any, title: str, rig: Callable[[], Rig], reset: set[str]
) -> None:
    """Somebody says the new version, makes the looks of the list in its order, and says what is there. The box answers
    as its planted rule says: these settings stand at the factory's values, all others as before.
    """
    job = rig()
    back = truth(job, reset)
    uid = bring(job, title)
    person.job = uid
    person.part("visits", "update")
    person.choose("#up-box", "TV")
    person.type("#up-version", NOW)
    person.see(f"If TV goes to {NOW}")
    person.click("It has it now")
    person.see(f"TV went from {WAS} to {NOW}")
    head = words(person.find(".sum"))
    full = int(re.search(r"instead of (\d+)", head).group(1))  # type: ignore[union-attr]
    steps = 0
    while before := _first(person.driver):
        steps += 1
        assert steps < 60, "it never ends"
        key = _key(person.driver)
        _answer(person, before, back)
        person.wait(lambda d, k=key: _key(d) != k, "the list goes on")
    person.see("Looked over")
    told = words(person.find(".back"))
    assert all(label in told for label in back)
    assert steps <= 0.4 * full
    person.sheet("runsheet", uid)
    for label in back:
        person.see(f"{label} →", "main")


def _first(driver: Any) -> str:
    """The first look of the list, in words, read at once; "" where none is left."""
    return str(driver.execute_script("return document.querySelector('.looks li.first')?.innerText ?? ''"))


def _key(driver: Any) -> str:
    return str(driver.execute_script("return document.querySelector('.looks li.first')?.dataset.key ?? ''"))


def _answer(person: Person, row: str, back: dict[str, str]) -> None:
    """What is seen at the first look: of a menu page what came back, of a read-out that it is as before."""
    here = {label: to for label, to in back.items() if re.search(rf"\b{label} ", row)}
    if "It read:" in row or not here:
        person.click("As before", ".looks li.first button")
        return
    person.click("Otherwise", ".looks li.first button")
    person.see("So it is", ".looks li.first")
    for field in person.driver.find_elements("css selector", ".looks li.first .telling span"):
        label = words(field).split(" is now")[0].strip()
        if label not in here:
            continue
        for control in field.find_elements("css selector", "select"):
            person.choose(f"#{_escaped(control.get_attribute('id'))}", here[label])
        for control in field.find_elements("css selector", "input"):
            person.type(f"#{_escaped(control.get_attribute('id'))}", here[label].split(" ")[0])
    person.click("So it is")


def _escaped(name: str) -> str:
    return re.sub(r"([^\w-])", r"\\\1", name)


def test_a_visit_from_its_plan_to_what_it_changed(person: Person, bring: Any) -> None:
    person.job = bring(at(s14()), "S14 visits")
    person.sheet("visits", person.job)
    person.see("Nobody has come back yet")
    person.type("#v-title-new", "Spring check")
    person.type("#v-who-new", "A. Technician")
    person.click("Plan a visit")
    person.see("planned, no day yet", "ol.visits")
    person.click("Begin")
    person.see("under way since", "ol.visits")
    person.part("visits", "kept")
    person.choose("#kept-box", "TV")
    person.choose("#kept-key", "Game mode")
    person.choose("#kept-cell", "HDMI 1, standard range")
    person.choose("#kept-value", "off")
    person.type("#kept-why", "flickers in films")
    person.click("It stays so")
    person.see("flickers in films", "ul.kept")
    person.part("visits", "visits")
    person.click("Close")
    person.click("What it changed")
    person.see("Game mode", "main table")
    person.see("not kept", "main table")
    person.see("flickers in films", "main table")
    person.part("visits", "log")
    person.type("#log-words", "flick")
    person.see("kept by the client", "table.log")
    person.part("visits", "visits")
    person.choose("#regular", "every 90 days")
    person.see("next look: in 90 days")
    person.sheet("handover", person.job)
    person.see("Game mode off, as you set it", ".client")


def test_the_client_s_link_opens_the_hand_over_until_it_is_revoked(person: Person, bring: Any) -> None:
    uid = bring(at(s14()), "S14 link")
    person.sheet("handover", uid)
    person.see("When it goes black", ".client")
    person.find(".leave summary").click()
    person.click("Make a link")
    address = str(person.find(".made input").get_attribute("value"))
    person.driver.get(address)
    person.see("When it goes black")
    assert not person.driver.find_elements("css selector", "nav")
    person.go(f"/jobs/{uid}/handover")
    person.find(".leave summary").click()
    person.click("Revoke")
    person.see("revoked", ".leave")
    person.driver.get(address)
    person.see("does not open anything")
    person.go("/")


def test_a_pack_says_what_it_would_do_before_it_does_it(person: Person, bring: Any, tmp_path: Path) -> None:
    uid = bring(at(s14()), "S14 packed")
    person.sheet("handover", uid)
    data = person.driver.execute_async_script(
        "fetch(`/api/v1/jobs/${arguments[0]}/pack.zip`).then((r) => r.arrayBuffer())"
        ".then((b) => arguments[1](Array.from(new Uint8Array(b))))", uid,
    )  # fmt: skip
    (tmp_path / "job.wavilex-job.zip").write_bytes(bytes(data))
    (tmp_path / "bent.zip").write_bytes(bytes(data)[:-200])
    person.go("/")
    person.upload("input[type=file]", tmp_path / "bent.zip")
    person.see("nothing was stored", ".pack")
    person.click("Close")
    person.upload("input[type=file]", tmp_path / "job.wavilex-job.zip")
    person.see("Every file is what its checksum says", ".pack")
    person.see("It comes in as a new job", ".pack")
    person.click("Read it in")
    person.see("S14 packed", "header")
