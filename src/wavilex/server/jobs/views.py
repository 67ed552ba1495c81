"""A job as JSON text for the page: whole, or what changed since a revision that the page has."""

from __future__ import annotations

import json
import sys
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from typing import Any

from django.http import HttpResponse

from wavilex.core.chain.paths import Layer
from wavilex.core.rig.model import Run
from wavilex.core.rig.ops import LayerName
from wavilex.core.tell.view import job_view
from wavilex.server.jobs import models
from wavilex.server.jobs.cache import known_by, layer_of, memory, remembered, rig_of
from wavilex.server.jobs.history import history_of
from wavilex.server.jobs.selectors import job_by_uid, reading_count
from wavilex.server.problems import ProblemError

KINDS = ("devices", "leads", "runs")


def at_run(job_uid: str, run_uid: str, name: LayerName) -> tuple[models.Job, Layer, Run]:
    """A job, a layer of it and one of its runs. Raises ProblemError 404."""
    job = job_by_uid(job_uid)
    return job, layer_of(job, name), run_of(job, run_uid)


def run_of(job: models.Job, uid: str) -> Run:
    """A run of the job. Raises ProblemError 404."""
    run = rig_of(job).runs.get(uid)
    if run is None:
        raise ProblemError(404, "no_such_run", "There is no such run in this job.", uid[:40])
    return run


@dataclass(frozen=True, slots=True)
class Parts:
    """A view taken apart: its small parts as data, its boxes, leads and runs as texts by uid."""

    head: Mapping[str, Any]
    rows: Mapping[str, Mapping[str, str]]

    @property
    def size(self) -> int:
        """Bytes of its own: texts of boxes and runs are shared with other revisions and counted beside their rows."""
        return sum(sys.getsizeof(text) for text in self.rows["leads"].values()) + 10_000


def parts_of(job: models.Job, name: LayerName, layer: Layer | None = None) -> Parts:
    """A layer of the job, worked out once a revision; with `layer` given, of a rig that is only tried."""
    if layer is not None:
        return _parts(layer, reading_count(job))
    return _parts_at(job, name, reading_count(job))


def _parts_at(job: models.Job, name: LayerName, count: int) -> Parts:
    return remembered(job, ("parts", name, count), lambda: _parts(layer_of(job, name), count), lambda p: p.size)


def _parts(layer: Layer, count: int) -> Parts:
    view = job_view(layer, count)
    head = {k: v for k, v in view.items() if k not in KINDS}
    leads = {x["uid"]: _json(x) for x in view["leads"]}
    return Parts(head, {"devices": _texts(view["devices"]), "leads": leads, "runs": _texts(view["runs"])})


def _texts(rows: Iterable[Any]) -> dict[str, str]:
    """Rows that are remembered, as text by uid; the text is remembered beside its row."""
    return {r["uid"]: memory.beside(r, "json", lambda r=r: _json(r), sys.getsizeof) for r in rows}  # type: ignore[misc]


def _json(value: object) -> str:
    return json.dumps(value, ensure_ascii=False, separators=(",", ":"))


def _head(job: models.Job, parts: Parts) -> dict[str, Any]:
    past = history_of(job)
    return {
        **parts.head, "uid": job.uid, "revision": job.revision, "line": job.line, "mark": job.mark,
        "time_zone": job.time_zone, "archived": job.archived,
        "can_undo": past.undo[-1].label or "the last change" if past.undo else None,
        "can_redo": past.redo[-1].label or "the last change" if past.redo else None,
    }  # fmt: skip


def _answer(head: Mapping[str, Any], rows: Mapping[str, list[str]], status: int) -> HttpResponse:
    lists = ",".join(f'"{kind}":[{",".join(texts)}]' for kind, texts in rows.items())
    return HttpResponse(f"{_json(head)[:-1]},{lists}}}", content_type="application/json", status=status)


def whole(job: models.Job, name: LayerName = "plan", layer: Layer | None = None, status: int = 200) -> HttpResponse:
    """The sheets' data as JSON text (ViewOut).

    A test holds it against its type: validating it again at each answer would cost more than working it out.
    """
    parts = parts_of(job, name, layer)
    return _answer(_head(job, parts), {kind: list(parts.rows[kind].values()) for kind in KINDS}, status)


def changed(job: models.Job, name: LayerName, since: str) -> HttpResponse:
    """The same, of boxes, leads and runs only what differs from the content marked `since` (ChangedView).

    All of them where that is not remembered.
    """
    count = reading_count(job)
    now = _parts_at(job, name, count)
    before: Parts | None = known_by(job, since, ("parts", name, count))
    order = {kind: list(now.rows[kind]) for kind in KINDS}
    rows = {
        kind: [text for uid, text in now.rows[kind].items() if before is None or before.rows[kind].get(uid) != text]
        for kind in KINDS
    }
    return _answer({**_head(job, now), "order": order}, rows, 200)
