"""Old machines: scan rates, multiples, and the shape of their picture."""

from __future__ import annotations

from django.http import HttpRequest
from ninja import Query, Router

from wavilex.core.chain.carry import run_result
from wavilex.core.rig.ops import LayerName
from wavilex.core.tell.old_machine import retro_data
from wavilex.core.tell.shapes import RetroOut
from wavilex.server.jobs.api import READ
from wavilex.server.jobs.cache import ANSWER_BYTES, remembered
from wavilex.server.jobs.views import at_run

router = Router()


@router.get("/jobs/{job_uid}/runs/{run_uid}/retro", operation_id="retro", response={200: RetroOut | None, **READ})
def retro(request: HttpRequest, job_uid: str, run_uid: str, layer: Query[LayerName] = "plan") -> RetroOut | None:
    """A run's analogue part and its picture's shape; null where it has neither."""
    job, view, run = at_run(job_uid, run_uid, layer)
    return remembered(job, ("retro", run_uid, layer), lambda: retro_data(view, run_result(view, run)), ANSWER_BYTES)
