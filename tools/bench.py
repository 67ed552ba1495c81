"""`make bench`: how long things take, printed. No test depends on these figures."""

from __future__ import annotations

import gzip
import json
import re
import statistics
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from functools import partial
from pathlib import Path
from typing import Any

ROOT = Path(__file__).resolve().parent.parent
sys.path[:0] = [str(ROOT), str(ROOT / "src")]

import numpy as np  # noqa: E402
import pyedid  # noqa: E402
from selenium.webdriver.support import expected_conditions  # noqa: E402
from selenium.webdriver.support.ui import WebDriverWait  # noqa: E402
from tests.ui.conftest import App, Person  # noqa: E402
from tools import bench_growth, bench_server  # noqa: E402
from tools.growth import SIZES, grown, measure  # noqa: E402

from wavilex.core.advise.fixes import find_fixes  # noqa: E402
from wavilex.core.advise.moves_settings import COST_NAMES  # noqa: E402
from wavilex.core.advise.search import Asked, search  # noqa: E402
from wavilex.core.advise.settings_plan import settings_plan_data  # noqa: E402
from wavilex.core.advise.table import carry_table  # noqa: E402
from wavilex.core.chain.carry import run_result  # noqa: E402
from wavilex.core.chain.paths import Layer, States  # noqa: E402
from wavilex.core.edid.answers import answers_data  # noqa: E402
from wavilex.core.edid.build import build  # noqa: E402
from wavilex.core.edid.decode import decode  # noqa: E402
from wavilex.core.fault.ask import ask  # noqa: E402
from wavilex.core.fault.case import case_of  # noqa: E402
from wavilex.core.fault.evidence import Answer  # noqa: E402
from wavilex.core.fault.rank import rank  # noqa: E402
from wavilex.core.gear.edid_of_input import factory_settings, spec_of_input  # noqa: E402
from wavilex.core.gear.profile import profile_data  # noqa: E402
from wavilex.core.lag.difference import equivalence  # noqa: E402
from wavilex.core.lag.summary import summarise  # noqa: E402
from wavilex.core.link.check import check_link  # noqa: E402
from wavilex.core.link.frl import frl_use  # noqa: E402
from wavilex.core.link.rates import frl_rate  # noqa: E402
from wavilex.core.modes.choices import choices_data  # noqa: E402
from wavilex.core.modes.titles import title_plans  # noqa: E402
from wavilex.core.prove.grounds import grounds_of  # noqa: E402
from wavilex.core.prove.line import line_key  # noqa: E402
from wavilex.core.prove.readouts import readouts  # noqa: E402
from wavilex.core.rig.changes import apply  # noqa: E402
from wavilex.core.rig.jobfile import Job, job_data  # noqa: E402
from wavilex.core.rig.model import Rig  # noqa: E402
from wavilex.core.runsheet.sheet import sheet_data  # noqa: E402
from wavilex.core.tell.view import job_view  # noqa: E402
from wavilex.core.video.codes import parse_timing  # noqa: E402
from wavilex.core.video.signal import DigitalVideo, demand  # noqa: E402
from wavilex.library import starter_profiles  # noqa: E402
from wavilex.library.pierhead import demo_changes  # noqa: E402


def each(call: Callable[[], Any], times: int) -> float:
    """Mean time of a call in µs."""
    start = time.perf_counter()
    for _ in range(times):
        call()
    return (time.perf_counter() - start) / times * 1e6


def say(what: str, figure: str) -> None:
    print(f"{what:<58} {figure:>18}", flush=True)


def _five_stages() -> list[dict[str, Any]]:
    """A gaming PC through three boxes to a 4K120 screen."""
    library = starter_profiles()
    boxes = {"pc": "tindrel-r7", "a": "ostavar-av940", "b": "ostavar-av940", "c": "ostavar-av940", "tv": "yarrowby-65s"}
    ops: list[dict[str, Any]] = [
        {"op": "add_device", "device": {"uid": uid, "label": uid, "profile": profile_data(library[p])}}
        for uid, p in boxes.items()
    ]
    chain = [
        ("pc", "hdmi", "a", "game"),
        ("a", "out", "b", "game"),
        ("b", "out", "c", "game"),
        ("c", "out", "tv", "hdmi3"),
    ]
    for n, (x, out, y, inp) in enumerate(chain):
        ends = [{"device": x, "port": out}, {"device": y, "port": inp}]
        ops.append({"op": "add_lead", "lead": {"uid": f"L{n}", "label": f"L{n}", "grade": "ultra", "plan": ends}})
    return [*ops, {"op": "add_run", "run": {"uid": "r", "label": "r", "source": "pc", "sink": "tv", "want": {}}}]


def _all_ways(rig: Rig, uid: str, states: States) -> None:
    find_fixes(rig, rig.runs[uid], states=states)


def _first_way(rig: Rig, uid: str, states: States) -> None:
    run = rig.runs[uid]
    search(rig, Asked(run, run.want, "plan", frozenset(COST_NAMES), None, 4000, lambda: True, 1), states)


def _searched(rig: Rig, uid: str, times: int, ask: Callable[[Rig, str, States], None]) -> str:
    """Median and 95 % of the time a search takes in a painted job: the job is worked out, the search is not."""
    took = []
    for _ in range(times):
        states = States()
        layer = Layer(rig, "plan", states)
        for run in rig.runs.values():
            run_result(layer, run)
        start = time.perf_counter()
        ask(rig, uid, states)
        took.append((time.perf_counter() - start) * 1000)
    took.sort()
    return f"{statistics.median(took):.0f}, p95 {took[int(0.95 * (len(took) - 1))]:.0f} ms"


def core() -> None:
    need = demand(DigitalVideo(parse_timing("vic:118"), "444", 10))
    rate = frl_rate("4x10")
    say("FRL check of one signal", f"{each(lambda: frl_use(need, rate), 5000):.1f} µs")
    rig, _ = apply(Rig(title="demo"), demo_changes())
    states = States()
    say(
        "whole-run check, rig compiled anew",
        f"{each(lambda: run_result(Layer(rig, 'plan', states), rig.runs['den']), 300):.0f} µs",
    )
    layer = Layer(rig, "plan", states)
    say("all seventeen runs and the sheets' data", f"{each(lambda: job_view(layer), 100) / 1000:.2f} ms")
    for name in ("den", "museum", "disc"):
        say(f"first way of {name}, nothing remembered", _searched(rig, name, 20, _first_way))
        say(f"all ways and parts of {name}, nothing remembered", _searched(rig, name, 20, _all_ways))
    big = grown(32)
    uid = next(u for u, run in big.runs.items() if not run_result(Layer(big), run).good)
    say("first way of a blocked run of 32", _searched(big, uid, 5, _first_way))
    say("all ways and parts of a blocked run of 32", _searched(big, uid, 5, _all_ways))
    say("run sheet of the demo, planned and laid out", f"{each(lambda: sheet_data(rig, []), 20) / 1000:.1f} ms")
    plan = each(lambda: settings_plan_data(Layer(rig, "plan")), 20)
    say("settings plan of the demo, solved from cold", f"{plan / 1000:.1f} ms")
    den = run_result(layer, rig.runs["den"])
    say("what excludes what on the den’s run", f"{each(lambda: choices_data(layer, den), 20) / 1000:.1f} ms")
    match = run_result(layer, rig.runs["match"])
    say("settings for the demo’s titles, solved", f"{each(lambda: title_plans(layer, match), 50) / 1000:.2f} ms")
    measure(rig, "the demo’s 15 sources", say)
    for count in SIZES:
        measure(grown(count), f"{count} sources", say)
    five, _ = apply(Rig(title="five"), _five_stages())
    view = Layer(five, "plan", states)

    def table() -> object:
        check_link.cache_clear()
        demand.cache_clear()
        return carry_table(view, five.runs["r"])

    say("carry table of a five-stage run, nothing remembered", f"{each(table, 20) / 1000:.1f} ms")
    screen = starter_profiles()["yarrowby-65s"]
    edid = build(spec_of_input(screen, "hdmi3", factory_settings(screen)))
    say("EDID decode, with its answers", f"{each(lambda: answers_data(decode(edid)), 300):.0f} µs")
    base = edid[:128]  # pyedid reads the base block and leaves extensions alone
    ours, theirs = (each(partial(f, base), 2000) for f in (decode, pyedid.parse_edid))
    say("EDID base block, Wavilex / pyedid", f"{ours:.0f} / {theirs:.0f} µs")
    say("as a ratio of rates, Wavilex to pyedid", f"{theirs / ours:.2f}")
    for words in (
        ["link", "vic:118", "--encoding", "444", "--bits", "10", "--over", "frl:4x10", "--json"],
        ["timing", "vic:97"],
    ):
        command = [sys.executable, "-m", "wavilex.cli", *words]
        took = min(each(partial(subprocess.run, command, capture_output=True, check=True), 1) for _ in range(5))
        say(f"command line: wavilex {words[0]}, start to end", f"{took / 1000:.0f} ms")


COVERAGE_RUNS = 2000


def lag() -> None:
    """Very many readings, and what the interval of the median really covers."""
    rnd = np.random.default_rng(1)
    values = np.rint(rnd.normal(11_000, 400, 100_000)).astype(int).tolist()
    say("summary of 100,000 readings", f"{each(lambda: summarise(values), 5) / 1000:.0f} ms")
    half = len(values) // 2
    took = each(lambda: equivalence(values[:half], values[half:]), 3)
    say("two conditions of 50,000 readings held against each other", f"{took / 1000:.0f} ms")
    for n in (8, 12, 20, 40):
        held = 0
        for _ in range(COVERAGE_RUNS):
            s = summarise(np.rint(9000 + 2500 * rnd.lognormal(0, 0.6, n)).astype(int).tolist())
            held += bool(s and s.ci_low_us and s.ci_high_us and s.ci_low_us <= 11_500 <= s.ci_high_us)
        say(
            f"coverage of the median’s 95 % interval, n = {n}, {COVERAGE_RUNS} runs",
            f"{100 * held / COVERAGE_RUNS:.1f} %",
        )


def spread(times: list[float]) -> str:
    cut = statistics.quantiles(times, n=20)
    return f"{statistics.median(times):.1f} / {cut[18]:.1f} ms"


IN_PAGE = """
const done = arguments[arguments.length - 1];
const [path, count] = arguments;
(async () => {
  const times = [];
  for (let n = 0; n < count; n++) {
    const start = performance.now();
    await (await fetch(path)).text();
    times.push(performance.now() - start);
  }
  done(times);
})();
"""
REPAINT = """
const done = arguments[arguments.length - 1];
const [selector, value, runs] = arguments;
(async () => {
  performance.clearMeasures();
  for (let n = 0; n < runs; n++) {
    const field = document.querySelector(selector);
    const tape = document.querySelector('footer');
    const before = tape.textContent;
    field.value = value[n % value.length];
    const start = performance.now();
    field.dispatchEvent(new Event('change', {bubbles: true}));
    while (tape.textContent === before && performance.now() - start < 3000)
      await new Promise(requestAnimationFrame);
    await new Promise(r => setTimeout(r, 500));  // as fast as a hand makes the next choice
  }
  done(performance.getEntriesByName('repaint').map(e => e.duration));  // measured by the page itself
})();
"""


def application() -> None:
    with tempfile.TemporaryDirectory() as folder:
        app = App(Path(folder) / "data")
        person = Person(app)
        try:
            person.driver.set_script_timeout(120)
            person.enter()
            no_op = person.driver.execute_async_script(IN_PAGE, "/api/v1/ready", 200)
            check = person.driver.execute_async_script(IN_PAGE, "/api/v1/jobs/pierhead", 200)
            say("API, no-op endpoint, p50 / p95", spread(no_op))
            say("API, run check of the demo job, p50 / p95", spread(check))
            person.sheet("signal")
            person.run("Den console")
            for selector, values in (
                ("select[id^=bits-]", ["12", "10"]),
                ("select[id^=mode-]", ["1920x1080@60", "3840x2160@120"]),
            ):
                WebDriverWait(person.driver, 10).until(
                    expected_conditions.presence_of_element_located(("css selector", selector))
                )
                times = person.driver.execute_async_script(REPAINT, selector, values, 30)
                say(f"change to repaint, by the page itself, {selector[10:-2]}, p50 / p95", spread(times))
        finally:
            person.driver.quit()
            app.stop()


SEEING = """
const done = arguments[arguments.length - 1];
const [count] = arguments;
(async () => {
  const times = [];
  for (let n = 0; n < count; n++) {
    const rows = () => [...document.querySelectorAll("main .card[aria-label*='its list'] li")];
    const card = () => rows().find((r) => r.textContent.includes('automatic low latency'));
    const press = (words) => [...card().querySelectorAll('button')].find((b) => b.textContent.trim() === words);
    const words = press('As predicted') ? 'As predicted' : 'Not looked';
    const start = performance.now();
    press(words).click();
    while (press(words) && performance.now() - start < 5000) await new Promise(requestAnimationFrame);
    times.push(performance.now() - start);
    await new Promise(r => setTimeout(r, 200));
  }
  done(times);
})();
"""
BEFORE = 600  # observations: ten a minute for an hour


def proving() -> None:
    """Taps on Prove with an hour's observations in the job already."""
    with tempfile.TemporaryDirectory() as folder:
        app = App(Path(folder) / "data")
        person = Person(app)
        try:
            person.driver.set_script_timeout(120)
            person.enter()
            rig, _ = apply(Rig(title="demo"), demo_changes())
            now = Layer(rig, "found")
            cards = readouts(now, rig.runs["den"])
            keys = [(c, x) for c in cards for x in c.lines if x.says is not None and x.key != "low_latency"]
            seen = [
                {"uid": f"o{n}", "run": "den", "device": c.device, "line": line_key(c, x), "place": c.place,
                 "label": x.label, "answer": "as_predicted", "predicted": x.says, "observed": x.says,
                 "at": f"2026-11-29T10:{n // 10:02}:00Z",
                 "grounds": grounds_of(now, rig.runs["den"], run_result(now, rig.runs["den"]).path)}
                for n in range(BEFORE) for c, x in [keys[n % len(keys)]]
            ]  # fmt: skip
            rig, _ = apply(rig, [{"op": "observe", "observation": o} for o in seen])
            uid = person.bring_in(json.dumps(job_data(Job("b", "An hour of looking", "UTC", rig))))
            person.sheet("prove", uid)
            person.run("Den console")
            person.see("as predicted", "main .head")
            times = person.driver.execute_async_script(SEEING, 30)
            say(f"tap on Prove to its answer, {BEFORE} observations, p50 / p95", spread(times))
            asked = person.driver.execute_async_script(IN_PAGE, f"/api/v1/jobs/{uid}/runs/den/prove", 50)
            say("API, read-outs of a run, p50 / p95", spread(asked))
        finally:
            person.driver.quit()
            app.stop()


def _asked(rig: Rig, uid: str, times: int) -> tuple[str, str, str]:
    """A search: every fault of a run in the model; ranking with pairs, nothing remembered; the next check after it."""
    made, ranked, asked = [], [], []
    for _ in range(times):
        begun = time.perf_counter()
        of = case_of(Layer(rig, "found"), rig.runs[uid])
        assert of is not None
        made.append((time.perf_counter() - begun) * 1000)
        begun = time.perf_counter()
        ranking = rank(of.bench, [Answer("complaint/no_picture", "yes", 0.08), Answer("complaint/lags", "yes", 0.08)])
        ranked.append((time.perf_counter() - begun) * 1000)
        begun = time.perf_counter()
        ask(of.bench, of.checks, of.tables, ranking)
        asked.append((time.perf_counter() - begun) * 1000)
    median = statistics.median
    return f"{median(made):.0f} ms", f"{median(ranked):.0f} ms", f"{median(asked):.0f} ms"


def faulting() -> None:
    """Searches for a fault: in the core, and taps on the page."""
    demo, _ = apply(Rig(title="demo"), demo_changes())
    big = grown(32)
    joined = next(u for u, run in big.runs.items() if run_result(Layer(big, "found"), run).path)
    for name, rig, uid in (("the den", demo, "den"), ("a run of 32 sources", big, joined)):
        made, ranked, asked = _asked(rig, uid, 5)
        say(f"faults of {name} in the model, once a state of the rig", made)
        say(f"ranking of {name} with pairs, nothing remembered", ranked)
        say(f"next check of {name}", asked)
    with tempfile.TemporaryDirectory() as folder:
        app = App(Path(folder) / "data")
        person = Person(app)
        try:
            person.driver.set_script_timeout(120)
            person.enter()
            person.sheet("fault")
            person.run("Den console")
            person.click("The screen stays black", ".picks button")
            person.find(".next ol button")
            painted, told = person.driver.execute_async_script(ANSWERING, 8)
            say("tap on an outcome to the repaint with what is known, p50 / p95", spread(painted))
            say("tap on an outcome to the next check, p50 / p95", spread(told))
        finally:
            person.driver.quit()
            app.stop()


ANSWERING = """
const done = arguments[arguments.length - 1];
const count = arguments[0];
const frame = () => new Promise(requestAnimationFrame);
(async () => {
  const painted = [], told = [];
  for (let n = 0; n < count; n++) {
    const next = document.querySelector('.next');
    const key = next?.dataset.key;
    const button = next?.querySelector('ol button');
    if (!button) break;
    const before = document.querySelectorAll('.trail li').length;
    const start = performance.now();
    button.click();
    while (document.querySelectorAll('.trail li').length === before && performance.now() - start < 5000) await frame();
    painted.push(performance.now() - start);
    const other = () => document.querySelector('.next') && document.querySelector('.next').dataset.key !== key;
    while (!other() && performance.now() - start < 3000) await frame();
    told.push(performance.now() - start);
    await new Promise(r => setTimeout(r, 1200));  // as long as a look takes at least
  }
  done([painted, told]);
})();
"""


def first_load() -> None:
    web = ROOT / "src" / "wavilex" / "server" / "web"
    page = (web / "index.html").read_text(encoding="utf-8")
    total = 0
    for name in re.findall(r'(?:src|href)="/static/([^"]+)"', page):
        data = (web / name).read_bytes()
        total += len(data) if name.endswith((".woff2", ".png")) else len(gzip.compress(data))
    say("first load, scripts and styles, gzipped", f"{total / 1000:.0f} kB")


if __name__ == "__main__":
    core()
    lag()
    first_load()
    application()
    proving()
    faulting()
    bench_server.listed(say)
    bench_server.busy(say)
    bench_growth.grown(say)
