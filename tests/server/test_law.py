"""The law over the API: accepted, and every page and export of every job works; refused, and nothing changed."""

from __future__ import annotations

import json
import random
from typing import Any

import pytest

from tests.conftest import Api
from tests.core.law import changed
from tests.core.test_law import full, ops_of
from wavilex.core.rig.jobfile import parse_job
from wavilex.server.jobs.models import Job

PAGES = (
    "", "?layer=found", "/runsheet", "/runsheet.pdf", "/handover", "/file", "/settings-plan", "/coverage",
    "/assignment", "/schedule", "/wiring.svg", "/wiring.dot", "/wiring.csv", "/access", "/lag",
)  # fmt: skip
OF_A_RUN = ("/style", "/fault", "/comparisons", "/refresh", "/choices", "/titles", "/retro", "/table", "/lag-budget")
DOORS = ("changes", "changes", "changes", "undo", "redo", "tick", "import", "reading", "table", "job")
STATES = ("uid", "revision", "mark", "line", "archived", "title")


def told() -> list[tuple[Any, ...]]:
    return list(Job.objects.order_by("pk").values_list(*STATES))


class Doors:
    """One job in the middle of others, changed in every way the API has."""

    def __init__(self, api: Api, job: str, seed: int) -> None:
        self.api, self.job, self.rnd, self.turn = api, job, random.Random(seed), 0
        rig = parse_job(api.client.get(f"/api/v1/jobs/{job}/file").getvalue().decode()).rig
        self.ops, self.whole = ops_of(rig), full(rig)
        self.lag = api.post(f"/jobs/{job}/lag", {"device": "den-screen"})["uid"]
        api.post(f"/lag/{self.lag}/warning")

    def call(self, path: str, body: Any) -> int:
        token = next(v.value for n, v in self.api.client.cookies.items() if n.startswith("wavilex_token"))
        answer = self.api.client.post(
            f"/api/v1{path}", json.dumps(body), content_type="application/json", headers={"X-CSRFToken": token}
        )
        assert answer.status_code < 500, (path, body, answer.content)
        return int(answer.status_code)

    def bent(self, data: Any, others: list[Any]) -> Any:
        return changed(self.rnd, data, others, self.rnd.choice((0, 0, 1, 1, 2)))

    def once(self) -> int:
        """A request, often a bent one; what was answered."""
        self.turn += 1
        uid, rnd = f"law-{self.turn:08}", self.rnd
        door = rnd.choice(
            ("changes", "changes", "changes", "undo", "redo", "tick", "import", "reading", "table", "job")
        )
        path = f"/jobs/{self.job}"
        if door == "changes":
            ops = [self.bent(rnd.choice(self.ops), self.ops[:20]) for _ in range(rnd.choice((1, 1, 3)))]
            base = Job.objects.get(uid=self.job).revision
            return self.call(f"{path}/changes", {"uid": uid, "base_revision": base, "ops": ops})
        if door in ("undo", "redo"):
            return self.call(f"{path}/{door}", {"uid": uid})
        if door == "tick":
            key = self.api.get(f"{path}/runsheet")["next"] or "none"
            tick = {"uid": uid, "key": key, "state": rnd.choice(("done", "undone", "reverted")),
                    "said_at": "2026-11-02T10:00:00Z"}  # fmt: skip
            return self.call(f"{path}/ticks", self.bent(tick, [tick]))
        if door == "import":
            return self.call("/import", {"text": json.dumps(self.bent(self.whole, [self.whole]))})
        if door == "reading":
            reading = {"condition": "game", "lag_ms": 12.5, "uid": uid}
            return self.call(f"/lag/{self.lag}/readings", self.bent(reading, [reading]))
        if door == "table":
            text = f"device,condition,lag_ms,note\nden-screen,game,{rnd.choice(('12', '0', 'x', '59999'))},=1\n"
            return self.call(f"/lag/{self.lag}/readings.csv", self.bent({"text": text}, [{"text": text}]))
        return self.call("/jobs", self.bent({"title": "Another", "time_zone": "UTC"}, [{"title": "x"}]))

    def faults(self) -> list[str]:
        """What of every job does not answer."""
        found = [f"list: {row['title']}: {row['broken']}" for row in self.api.get("/jobs")["jobs"] if row["broken"]]
        for job in Job.objects.all():
            pages = [f"/jobs/{job.uid}{page}" for page in PAGES]
            pages += [f"/jobs/{job.uid}/runs/{run.uid}{page}" for run in job.runs.all()[:2] for page in OF_A_RUN]
            for page in pages:
                answer = self.api.client.get(f"/api/v1{page}")
                if answer.status_code != 200:
                    found.append(f"{page}: {answer.status_code} {answer.getvalue()[:200]!r}")
            file = self.api.client.get(f"/api/v1/jobs/{job.uid}/file").getvalue().decode()
            parse_job(file)
        return found


def hold(api: Api, demo: str, seed: int, turns: int, every: int) -> None:
    doors = Doors(api, demo, seed)
    for turn in range(turns):
        before = told()
        status = doors.once()
        if status >= 400:
            assert told() == before, "refused, and yet changed"
        if turn % every == every - 1:
            assert doors.faults() == []
            Job.objects.exclude(uid=demo).delete()


def test_the_law_holds_for_a_while(api: Api, demo: str) -> None:
    hold(api, demo, 1, 24, 12)


@pytest.mark.soak
@pytest.mark.parametrize("seed", range(4))
def test_the_law_holds_for_long(seed: int, api: Api, demo: str) -> None:
    hold(api, demo, 10 + seed, 500, 25)
