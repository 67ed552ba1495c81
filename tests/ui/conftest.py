"""A real server with the demo job and a simulated meter, and a browser that clicks as a person does."""

from __future__ import annotations

import json
import os
import signal
import subprocess
import sys
import time
import urllib.request
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import pytest
from selenium.common.exceptions import (
    ElementClickInterceptedException,
    InvalidSessionIdException,
    StaleElementReferenceException,
    TimeoutException,
)
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.remote.webelement import WebElement
from selenium.webdriver.support.ui import Select, WebDriverWait
from tools.browser import set_viewport, start_browser

from wavilex.core.rig.changes import apply
from wavilex.core.rig.jobfile import Job, job_data
from wavilex.core.rig.model import Rig
from wavilex.library.pierhead import DEMO_UID
from wavilex.server.demo import free_port

WAIT_SECONDS = 120  # a busy machine may be slow; a test that passes never waits so long


# does an element stay where it is for two pictures: what still moves is clicked beside
STANDS_STILL = """
const [element, told] = arguments, at = () => JSON.stringify(element.getBoundingClientRect()), first = at()
requestAnimationFrame(() => requestAnimationFrame(() => told(element.isConnected && at() === first)))
"""


def words(element: WebElement) -> str:
    """What an element says, however its parts are laid out."""
    return " ".join(element.text.split())


class App:
    """The application as `make demo` starts it, in a data folder of its own."""

    def __init__(self, data: Path) -> None:
        self.port, self.data = free_port(), data
        self.start()

    @property
    def url(self) -> str:
        return f"http://127.0.0.1:{self.port}"

    def start(self) -> None:
        words = [sys.executable, "-m", "wavilex.server.demo", "--port", str(self.port), "--data", str(self.data)]
        self.process = subprocess.Popen(words, start_new_session=True, stdout=subprocess.DEVNULL)
        end = time.monotonic() + 3 * WAIT_SECONDS
        while True:
            try:
                urllib.request.urlopen(f"{self.url}/api/v1/ready", timeout=2).close()
                return
            except OSError:
                assert time.monotonic() < end, "the application did not start"
                time.sleep(0.2)

    def stop(self) -> None:
        os.killpg(self.process.pid, signal.SIGKILL)
        self.process.wait(timeout=10)


class Person:
    """Somebody at the browser: finds things by what they say."""

    def __init__(self, app: App) -> None:
        self.app, self.driver, self.job = app, start_browser(), DEMO_UID

    def go(self, path: str) -> None:
        """Load this address afresh."""
        self.driver.get(self.app.url + path)

    def open(self, path: str) -> None:
        """Go there as its links do, without loading the page anew."""
        self.driver.execute_script(
            "history.pushState({}, '', arguments[0]); dispatchEvent(new PopStateEvent('popstate', {state: null}))", path
        )

    def part(self, sheet: str, name: str) -> None:
        """A part of a sheet of the job in hand, by its address."""
        self.open(f"/jobs/{self.job}/{sheet}?part={name}")

    def bring_in(self, text: str) -> str:
        """Bring a job file in behind the page's back; gives the job's uid."""
        for _ in range(10):  # a busy server says to come again, as the page does
            told = self._brought(text)
            if told.get("code") != "not_saved":
                break
            time.sleep(1)
        assert told.get("uid"), f"the job file was not taken: {told}"
        return str(told["uid"])

    def _brought(self, text: str) -> dict[str, Any]:
        told: dict[str, Any] = self.driver.execute_async_script(
            "const token = document.cookie.match(/wavilex_token_\\w+=([^;]+)/)[1];"
            "fetch('/api/v1/import', {method: 'POST', body: JSON.stringify({text: arguments[0]}),"
            " headers: {'X-CSRFToken': token, 'Content-Type': 'application/json'}})"
            ".then((r) => r.json()).then((job) => arguments[1](job))",
            text,
        )
        return told

    def theme(self, name: str) -> None:
        """Light or dark, as the page keeps it."""
        self.driver.execute_script(
            "const name = arguments[0]; localStorage.setItem('wavilex.theme', name);"
            "document.documentElement.dataset.theme = name",
            name,
        )

    def enter(self) -> None:
        self.go("/enter")
        self.click("Enter as the demo technician")
        self.see("Pierhead Game Library")

    def wait(self, what: Callable[[Any], Any], why: str = "") -> Any:
        return WebDriverWait(self.driver, WAIT_SECONDS, 0.05).until(what, why)

    def find(self, css: str, text: str = "") -> WebElement:
        """The first shown element matching, holding the text; waits for it."""

        def look(driver: Any) -> WebElement | None:
            for element in driver.find_elements(By.CSS_SELECTOR, css):
                if element.is_displayed() and text in words(element):
                    return element  # type: ignore[no-any-return]
            return None

        found: WebElement = self.wait(self._steady(look), f"{css} with {text!r}")
        return found

    @staticmethod
    def _steady(look: Callable[[Any], Any]) -> Callable[[Any], Any]:
        """Elements may be painted anew while being looked at: look again then."""

        def steady(driver: Any) -> Any:
            try:
                return look(driver)
            except StaleElementReferenceException:
                return None

        return steady

    def click(self, text: str, css: str = "button, a") -> None:
        """Click what says this; again if it was painted anew under the hand."""

        def press(_: Any) -> bool:
            try:
                element = self.find(css, text)
                if not self.driver.execute_async_script(STANDS_STILL, element):
                    return False
                element.click()
                return True
            except (StaleElementReferenceException, ElementClickInterceptedException):
                return False

        self.wait(press, f"click {text!r}")

    def click_for(self, css: str, text: str, where: str) -> None:
        """Click what moves while the page settles, again until it says this there."""

        def says(driver: Any) -> bool:
            return any(text in words(e) for e in driver.find_elements(By.CSS_SELECTOR, where))

        for _ in range(5):
            self.find(css).click()
            try:
                WebDriverWait(self.driver, WAIT_SECONDS / 5, 0.05).until(self._steady(says))
                return
            except TimeoutException:
                continue
        self.see(text, where)

    def see(self, text: str, css: str = "body") -> None:
        self.wait(
            self._steady(lambda d: any(text in words(e) for e in d.find_elements(By.CSS_SELECTOR, css))),
            f"see {text!r} in {css}",
        )

    def watching(self, css: str) -> None:
        """Keep every text that passes here from now on; a slow machine looks too late for one that passes."""
        self.driver.execute_script(
            "const keep = window.__passed = new Set();"
            "const look = () => document.querySelectorAll(arguments[0]).forEach((e) => keep.add(e.innerText));"
            "look(); new MutationObserver(look).observe(document.body,"
            " {subtree: true, childList: true, characterData: true})",
            css,
        )

    def passed(self, text: str) -> None:
        """This was shown where `watching` looks, now or before."""
        self.wait(
            lambda d: any(text in said for said in d.execute_script("return [...window.__passed]")), f"{text!r} passed"
        )

    def sent(self) -> None:
        """Nothing that was ticked or seen is kept in the browser any longer."""
        kept = (
            "return Object.entries(localStorage).some(([k, v]) => /^wavilex.(ticks|seen|fault)/.test(k) && v !== '[]')"
        )
        self.wait(lambda d: not d.execute_script(kept), "all is sent")

    def gone(self, text: str, css: str = "body") -> None:
        self.wait(
            self._steady(lambda d: not any(text in words(e) for e in d.find_elements(By.CSS_SELECTOR, css))),
            f"{text!r} gone from {css}",
        )

    def choose(self, css: str, option: str) -> None:
        self.wait(
            self._steady(lambda _: option in [o.text.strip() for o in Select(self.find(css)).options]),
            f"{option!r} to choose in {css}",
        )
        Select(self.find(css)).select_by_visible_text(option)

    def type(self, css: str, text: str) -> None:
        field = self.find(css)
        field.send_keys(Keys.CONTROL, "a")
        field.send_keys(text)

    def upload(self, css: str, file: Path) -> None:
        """Give a file to a chooser, which may itself be hidden behind its button."""
        self.wait(lambda d: d.find_elements(By.CSS_SELECTOR, css), css)[0].send_keys(str(file))

    def press(self, key: str) -> None:
        """A key to whatever has the focus."""
        ActionChains(self.driver).send_keys(key).perform()

    def sheet(self, name: str, job: str = "") -> None:
        """A sheet by the rail, of another job by its address; loaded anew if it is the one shown."""
        there = f"/jobs/{job or self.job}/{name}"
        if self.driver.execute_script("return location.pathname") == there:
            self.go(there)
        else:
            self.open(there)
        self.find(f"nav[aria-label=Sheets] a[aria-current=page][href='{there}']")
        self.find("main h1, .page h1, .tools")

    def box(self, label: str) -> WebElement:
        """A box's card on Gear, opened where it is folded to a line."""
        css = f"article[aria-label='{label}']"
        card = self.find(css)
        for button in card.find_elements("css selector", "button.open"):
            button.click()
        self.find(f"{css}.card")
        return self.find(css)

    def run(self, label: str) -> None:
        """Choose a run in the header, or in its picker."""
        self.find(".runs .run")
        # at once, as the row may be redrawn
        shown = self.driver.execute_script(
            "return [...document.querySelectorAll('.runs > .run')].map(e => e.textContent)"
        )
        if not any(label in " ".join(text.split()) for text in shown):
            self.click("more", ".runs .more > .run")
        self.click(label, ".runs .run")
        self.find(".runs .run.on", label)


def entered(app: App) -> Person:
    """Somebody who came in. A browser that dies while starting on a busy machine is started again."""
    for left in (2, 1, 0):
        someone = Person(app)
        try:
            someone.enter()
            return someone
        except InvalidSessionIdException:
            someone.driver.quit()
            if not left:
                raise
    raise AssertionError("not reached")


@pytest.fixture(scope="session")
def app(tmp_path_factory: pytest.TempPathFactory) -> Iterator[App]:
    made = App(tmp_path_factory.mktemp("data"))
    yield made
    made.stop()


@pytest.fixture(scope="session")
def somebody(app: App) -> Iterator[Person]:
    someone = entered(app)
    yield someone
    someone.driver.quit()


@pytest.fixture(scope="session")
def demo_file(somebody: Person) -> str:
    """The demo job as a job file: each test works in a copy of its own."""
    text = somebody.driver.execute_async_script(
        "fetch(arguments[0]).then((r) => r.text()).then(arguments[1])", f"/api/v1/jobs/{DEMO_UID}/file"
    )
    return str(text)


@pytest.fixture
def person(somebody: Person, demo_file: str) -> Iterator[Person]:
    """Somebody at the browser with a fresh copy of the demo job; nothing of the test before is left in it."""
    somebody.job = somebody.bring_in(demo_file)
    yield somebody
    errors = [e["message"] for e in somebody.driver.get_log("browser") if "Content Security Policy" in e["message"]]
    if somebody.driver.execute_script("const kept = localStorage.length; localStorage.clear(); return kept"):
        somebody.go("/")  # what was kept is read when the page loads
    assert errors == []


@pytest.fixture
def bring(person: Person) -> Any:
    """Brings a rig in as a job file; gives the job's uid."""

    def brought(rig: Rig, title: str) -> str:
        job = Job("x", title, "UTC", apply(rig, [{"op": "set_title", "value": title}])[0])
        return person.bring_in(json.dumps(job_data(job)))

    return brought


def pytest_terminal_summary(terminalreporter: Any) -> None:
    """Why each test that was tried once more failed at first."""
    for report in terminalreporter.stats.get("rerun", []):
        terminalreporter.section(f"first try of {report.nodeid}")
        terminalreporter.write_line(report.longreprtext[-6000:])


__all__ = ["App", "Keys", "Person", "set_viewport"]
