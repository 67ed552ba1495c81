"""`make shots`: one current picture of each main view, from the demo data, into docs/screenshots."""

from __future__ import annotations

import json
import sys
import tempfile
import time
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
sys.path[:0] = [str(ROOT), str(ROOT / "src")]

from tests.arrivals import settled  # noqa: E402
from tests.rigs import s07  # noqa: E402
from tests.ui.conftest import App, Person  # noqa: E402
from tools.browser import save_picture, set_viewport  # noqa: E402

from wavilex.core.rig.changes import apply  # noqa: E402
from wavilex.core.rig.jobfile import Job, job_data  # noqa: E402

FOLDER = ROOT / "docs" / "screenshots"


def picture(person: Person, name: str) -> None:
    time.sleep(0.4)  # the last transition
    save_picture(person.driver, FOLDER / f"{name}.png")
    print(name, flush=True)


def take_readings(person: Person) -> None:
    person.watching(".state")
    for mode in ("standard", "game"):
        person.click(mode, ".conditions button")
        person.click("Take", "section button")
        if mode == "standard":
            person.click("I have warned everybody", "[role=dialog] button")
        person.passed(f"Taking {mode}")
        person.see("12 readings taken.", "main")


def updated_once(person: Person) -> None:
    """A job whose screen was updated, at its list of looks."""
    rig = apply(settled(s07()), [{"op": "set_title", "value": "Harbour lounge"}])[0]
    rig = apply(rig, [{"op": "set_device", "device": "tv", "firmware": "5.2"}])[0]
    person.job = person.bring_in(json.dumps(job_data(Job("harbour", "Harbour lounge", "UTC", rig))))
    person.sheet("visits", person.job)
    person.part("visits", "update")
    person.choose("#up-box", "TV")
    person.type("#up-version", "5.3")
    person.click("It has it now")
    person.see("TV went from 5.2 to 5.3")


def main() -> None:
    with tempfile.TemporaryDirectory() as folder:
        app = App(Path(folder) / "data")
        person = Person(app)
        try:
            person.go("/enter")
            person.see("Enter as the demo technician")
            person.enter()
            person.theme("light")
            picture(person, "jobs")
            person.sheet("brief")
            person.run("Den console")
            picture(person, "brief")
            person.sheet("gear")
            person.run("Den console")
            picture(person, "gear")
            person.box("Den screen")
            person.find("article[aria-label='Den screen'] button", "What it is").click()
            person.see("Complete", "[role=dialog]")
            picture(person, "editor")
            person.go("/link?inp=frl:4x12&timing=cvt:3840x2160@240:rb2&dsc=1")
            person.see("Fits compressed", "main")
            picture(person, "link")
            person.sheet("wiring")
            person.run("Den console")
            person.find("aside .fix")
            picture(person, "wiring")
            person.sheet("signal")
            person.run("Den console")
            person.find("aside .fix")
            picture(person, "signal-blocked")
            person.press("t")
            person.see("Trying", "main")
            person.press("a")
            person.see("fits", "aside .verdict")
            person.sheet("signal")
            person.run("16-bit console")
            person.see("keeps the machine", "main .scan")
            picture(person, "signal-old-machine")
            person.sheet("settings")
            person.run("Den console")
            person.see("otherwise than now", "main")
            picture(person, "settings")
            person.click("Plan all of these")
            person.see("The plan has every setting as it should be.", "main")
            person.part("settings", "values")
            person.run("Den console")
            person.see("the same in every cell", "main")
            person.sheet("runsheet")
            person.see("steps to go", "main")
            person.press("x")
            person.see("1 done", "main")
            picture(person, "runsheet")
            person.sheet("prove")
            person.run("Den console")
            person.click("Ask it", "main .card[aria-label^='Den screen'] button")
            person.see("differs first on the way", "main")
            person.gone("lines read from the box")
            person.driver.execute_script("document.querySelector('main').scrollTop = 0")
            picture(person, "prove")
            person.click("A code for Den console", "aside button")
            code = person.find("aside .code .big").text
            person.go(f"/p/{code}")
            person.wait(lambda d: d.find_elements("css selector", "#measured[data-done]"), "it has measured")
            picture(person, "probe")
            person.go("/jobs/pierhead/light")
            person.run("Den console")
            for count in range(1, 6):
                person.see("✓ settled", ".meter .state")
                person.click("Keep this", ".meter button.go:not(:disabled)")
                person.see(f"{count} reading", "nav[aria-label=Sheets] a.on small")
            picture(person, "light")
            person.go("/jobs/pierhead/lag")
            person.run("Den console")
            take_readings(person)
            picture(person, "lag")
            person.sheet("handover")
            person.see("under the 40 ms", ".page")
            picture(person, "handover")
            demo = person.job
            updated_once(person)
            picture(person, "visits")
            person.job = demo
            person.sheet("gear")
            for box in ("Den screen", "Den receiver", "Den console"):
                person.box(box)
                person.click("Keep on the shelf", f"article[aria-label='{box}'] button")
                person.see("on your shelf, version 1", f"article[aria-label='{box}']")
            person.go("/shelf")
            person.see("Used in", "main")
            picture(person, "shelf")
            person.go("/practice")
            person.click("After the power cut", ".pick ol button")
            for place in ("Read the banner of the input", "Read its page of signals in and out"):
                person.click(place, ".boxes button")
                person.see(place.removeprefix("Read "), ".trail")
            picture(person, "practice")
            person.theme("dark")
            set_viewport(person.driver, 800, 800)
            person.sheet("fault", "pierhead")
            person.run("Den console")
            person.click("and also", ".picks button")
            person.click("HDR does not come on", ".picks button")
            person.find(".next ol button")
            person.gone("still trying", "main")
            picture(person, "fault")
        finally:
            person.driver.quit()
            app.stop()


if __name__ == "__main__":
    main()
