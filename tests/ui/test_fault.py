"""The Fault sheet and practice by clicking: the scenarios from their symptoms, undo, the end, one hand on the phone."""

from __future__ import annotations

from typing import Any

import pytest
from selenium.webdriver.common.by import By
from tools.browser import set_viewport

from tests.core.test_fault import joined, s12_one
from tests.rigs import s03, s04, s05, s08, s10, s14, s20, setting
from tests.ui.conftest import Person
from wavilex.core.chain.paths import Layer
from wavilex.core.fault.case import Case, case_of
from wavilex.core.fault.evidence import AS_NOTED, HELPED, STAYED
from wavilex.core.prove.readouts import readouts
from wavilex.core.rig.changes import apply
from wavilex.core.rig.model import Rig

_SWAP = {"op": "swap_leads", "end": "b", "leads": ["A1", "A2"], "select": []}
_SWAP_14 = {**_SWAP, "leads": ["A1", "A3"]}


def noted_03() -> Rig:
    return joined(apply(s03(), [_SWAP])[0])


def noted_04() -> Rig:
    return joined(apply(s04(), [setting("console", "", "uhd", "off"), setting("console", "", "fast_refresh", "on")])[0])


def noted_05() -> Rig:
    return joined(apply(s05("widest"), [setting("tv", "hdmi3", "format", "wide")])[0])


def noted_08() -> Rig:
    return joined(apply(s08(), [setting("tv", "hdmi1", "generation", "newer")])[0])


def noted_14() -> Rig:
    return joined(apply(s14(), [setting("tv", "hdmi3", "format", "full"), _SWAP_14])[0])


def noted_20() -> Rig:
    return joined(apply(s20(), [setting("tv", "hdmi1", "game", "on"), setting("tv", "", "special", "none")])[0])


# scenario: the rig as noted, its run, what is really otherwise, what the client says, the fault, words of it
SCENES: dict[str, tuple[Any, str, list[dict[str, Any]], list[str], str, str]] = {
    "S03": (noted_03, "base", [{**_SWAP, "layer": "found"}], ["HDR does not come on"],
            "swapped/A1=A2", "leads A1 and A2 are swapped"),
    "S04": (noted_04, "main", [setting("console", "", "uhd", "on", "found")],
            ["It goes black when the game starts", "It lags"], "permission/console//uhd=on", "CONSOLE stands at"),
    "S05": (noted_05, "main", [setting("av", "game", "format", "wide", "found")], ["The fast rate is not offered"],
            "format/av/game/format=wide", "Input format of AV, Game stands at"),
    "S08": (noted_08, "main", [setting("tv", "hdmi1", "generation", "old", "found")], ["HDR does not come on"],
            "format/tv/hdmi1/generation=old", "HDMI generation of TV, HDMI 1 stands at the older"),
    "S10": (lambda: joined(s10("3.2", "full")), "main", [{"op": "set_device", "device": "tv", "firmware": "2.0"}],
            ["The fast rate is not offered"], "firmware/tv", "firmware of TV is older"),
    "S11": (lambda: joined(s10("3.4", "full")), "main", [setting("console", "", "fast_refresh", "off", "found")],
            ["The fast rate is not offered"], "permission/console//fast_refresh=off", "120 Hz output of CONSOLE"),
    "S11 lead": (lambda: joined(s10("3.4", "full")), "main", [], ["The picture goes away now and then"],
                 "lead_loose/A1", "lead A1"),
    "S12": (s12_one, "main", [], ["The fast rate is not offered"], "title_option", "title’s own option"),
    "S14": (noted_14, "k1", [setting("tv", "hdmi3", "format", "basic", "found")],
            ["HDR does not come on", "The fast rate is not offered"], "format/tv/hdmi3/format=basic",
            "Input format of TV, HDMI 3 stands at basic"),
    "S19": (lambda: joined(s10("3.4", "full")), "main", [{"op": "replace_lead", "lead": "A1", "failed": "frl:4x8"}],
            ["It went back by itself after I set it"], "lead_low/A1=frl:4x8", "lead A1"),
    "S20": (noted_20, "main", [setting("tv", "hdmi1", "game", "off", "found")], ["It lags"],
            "game/tv/hdmi1/game=off", "Game mode of TV, HDMI 1 stands at off"),
    "S20 greyed": (noted_20, "main",
                   [{"op": "select_input", "layer": "found", "device": "tv", "value": "hdmi3"}],
                   ["It lags", "Game mode is greyed out"], "input/tv/=hdmi3", "TV shows HDMI 3"),
}  # fmt: skip
MOST_CHECKS = 9


class Truth:
    """Answers as the boxes really are: read-outs off the rig that is so, looks and cures as the fault has them."""

    def __init__(self, noted: Rig, run: str, really: list[dict[str, Any]], fault: str) -> None:
        made = case_of(Layer(noted, "found"), noted.runs[run])
        assert made is not None
        self.case: Case = made
        self.world = next(w for w in made.bench.singles if w.faults[0].id == fault)
        rig = apply(noted, really)[0]
        names = made.bench.asked.names
        self.lines = {
            names[c.device, c.kind, x.key]: x.says
            for c in readouts(Layer(rig, "found"), rig.runs[run], probed=True) for x in c.lines
            if (c.device, c.kind, x.key) in names
        }  # fmt: skip
        self.read_off_rig = bool(really) and self.world.faults[0].kind not in ("input", "plug", "swapped")

    def answer(self, key: str) -> str | None:
        """None: it cannot be told there."""
        look = key.removeprefix("check/")
        if look.startswith("cure/"):
            own = {name for name, _ in self.world.faults[0].cures}
            return HELPED if look.removeprefix("cure/") in own else STAYED
        if look != key:
            return self.world.looks.get(look, AS_NOTED)
        return self.lines.get(key) if self.read_off_rig and key in self.lines else self.world.lines.get(key)


@pytest.mark.parametrize("scene", SCENES)
def test_the_fault_is_found_from_its_symptoms(scene: str, person: Person, bring: Any) -> None:
    made, run, really, says, fault, words = SCENES[scene]
    noted = made()
    truth = Truth(noted, run, really, fault)
    job = bring(noted, f"{scene} search")
    person.sheet("fault", job)
    if len(noted.runs) > 1:
        person.run(noted.runs[run].label)
    for n, complaint in enumerate(says):
        if n:
            person.click("and also", ".picks button")
        person.click(complaint, ".picks button")
        person.find(".picks button.on", complaint)
    for _ in range(MOST_CHECKS):
        first = text_of(person, "main .causes li")
        check = person.driver.find_elements(By.CSS_SELECTOR, ".next")
        if not check or (words in first and int(first.partition("%")[0].strip(" >")) >= 80):
            break
        tap(person, truth)
    assert words in text_of(person, "main .causes li.first"), text_of(person, "main .causes")


def text_of(person: Person, css: str) -> str:
    """At once: the list may be drawn anew while it is refined."""
    person.find(css)
    return " ".join(str(person.driver.execute_script(f"return document.querySelector('{css}').textContent")).split())


def tap(person: Person, truth: Truth) -> None:
    """Answer the next check by one tap."""
    key = str(person.driver.execute_script("return document.querySelector('.next').dataset.key"))
    value = truth.answer(key)
    css = f'.next button[data-value="{value}"]'
    if value is None or not person.driver.find_elements(By.CSS_SELECTOR, css):
        person.click("Cannot do that", ".next button")
    else:
        person.driver.execute_script("document.querySelector(arguments[0]).click()", css)
    settled = (
        "return !document.querySelector('.noted') && document.querySelector('.next')?.dataset.key !== arguments[0]"
    )
    person.wait(lambda d: d.execute_script(settled, key), f"the check after {key}")


def test_one_takes_back_closes_and_learns(person: Person) -> None:
    person.sheet("fault")
    person.run("Den console")
    person.click("HDR does not come on", ".picks button")
    person.see("Input format of Den screen", ".causes li.first")
    person.see("would often be heard; it is", ".causes li.first")
    person.find(".next")
    person.see("HDR does not come on", ".trail")
    person.click("Take back", ".trail button")
    person.see("Pick what is complained of", "main")
    person.click("HDR does not come on", ".picks button")
    person.click("Helped", ".causes li.first button")
    person.see("That helped", ".helped")
    person.click("It was this, and is mended", ".causes button.go")
    person.see("Pick what is complained of", "main")
    person.see("an input’s format fell back, television", "aside")
    person.click("Forget it", "aside button")
    person.see("Nothing confirmed yet", "aside")


def test_keys_answer_and_other_words_can_be_typed(person: Person) -> None:
    person.sheet("fault")
    person.run("Den console")
    person.click("The screen stays black", ".picks button")
    key = person.find(".next").get_attribute("data-key")
    person.press("A")
    person.wait(lambda d: d.find_element(By.CSS_SELECTOR, ".next").get_attribute("data-key") != key, "the next check")
    person.see("open: Den console", "nav")
    person.click("Close the search without a cause", ".trail button")
    person.see("no complaint", "nav")


def test_on_a_phone_the_outcomes_are_broad_and_nothing_runs_over(person: Person) -> None:
    person.sheet("fault")
    person.run("Den console")
    set_viewport(person.driver, 390, 800)
    try:
        person.click("The screen stays black", ".picks button")
        button = person.find(".next ol button")
        assert button.size["height"] >= 40
        assert button.size["width"] > 280
        wide = person.driver.execute_script("return document.querySelector('main').scrollWidth")
        assert wide <= 390
    finally:
        set_viewport(person.driver, 1280, 800)


def test_practice_from_the_list_of_jobs_to_the_debrief(person: Person) -> None:
    person.go("/")
    person.click("Practice", "a.button")
    person.click("It feels late", ".pick ol button")
    person.see("“It lags”", ".said")
    person.click("Read the banner of the input", ".boxes button")
    person.see("Game mode: off", ".trail")
    option = person.find("#first option", "Game mode of Television").text
    person.choose("#first", option)
    person.click("That is it", ".guess button")
    person.see("of 100. It was: Game mode of Television", ".end")
    person.see("The machine would have", ".debrief")
    person.click("Another case", "button.leave")
    person.see("of 100", ".pick ol li:nth-child(7)")
