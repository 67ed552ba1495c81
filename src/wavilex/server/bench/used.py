"""What was measured, put to use: costs of settings, and how late a box plays its sound, kept as facts of their box."""

from __future__ import annotations

from typing import Any

from wavilex.core.film.shapes import FilmTold
from wavilex.core.lag.setting_cost import fact_of
from wavilex.core.lag.shapes import SettingCostOut
from wavilex.core.rig.model import SOUND_LAG_FACT
from wavilex.core.rig.ops import SetFact
from wavilex.server.bench.models import LagSession
from wavilex.server.bench.selectors import report_of
from wavilex.server.bench.sums import budget_of
from wavilex.server.jobs.cache import rig_of
from wavilex.server.jobs.services import change_job, new_uid
from wavilex.server.jobs.views import at_run
from wavilex.server.problems import ProblemError

_SURE_MS = 5  # so far the picture's own lag may be unknown: own figure


def kept_costs(session: LagSession) -> list[str]:
    """Paths of the costs that stand in the rig as the readings give them now."""
    facts = rig_of(session.job).facts
    return [c["path"] for c in _proved(session) if _same(facts.get((session.device, c["path"])), c)]


def _proved(session: LagSession) -> list[SettingCostOut]:
    """Of what was measured in several ways the surest: that of the narrowest interval."""
    proved = (c for c in report_of(session)["setting_costs"] if c["proved"])
    by_path: dict[str, SettingCostOut] = {}
    for c in sorted(proved, key=_width):
        by_path.setdefault(c["path"], c)
    return list(by_path.values())


def _width(cost: SettingCostOut) -> float:
    return (cost["ci_high_ms"] or 0) - (cost["ci_low_ms"] or 0)


def _same(fact: Any, cost: SettingCostOut) -> bool:
    return fact is not None and fact.value == fact_of(cost).model_dump(exclude_defaults=True)


def use_costs(*, session: LagSession, actor: Any) -> int:
    """Keep every proved cost with its box, as one change that can be undone; how many were new or otherwise."""
    facts = rig_of(session.job).facts
    ops: list[SetFact] = [
        {"op": "set_fact", "device": session.device, "path": c["path"],
         "value": fact_of(c).model_dump(exclude_defaults=True), "provenance": "measured_here"}
        for c in _proved(session) if not _same(facts.get((session.device, c["path"])), c)
    ]  # fmt: skip
    if ops:
        job = session.job
        change_job(
            job_uid=job.uid, base=job.revision, line=job.line, uid=new_uid(), ops=ops, actor=actor,
            label="Measured costs of settings",
        )  # fmt: skip
        session.job.refresh_from_db()
    return len(ops)


def use_offset(*, session: LagSession, run_uid: str, condition: str, told: FilmTold, actor: Any) -> int:
    """A film's sound against its picture, with the picture's own lag, as how late the run's sound is played, in ms.

    Raises ProblemError where the film has no sound to tell, or nobody knows how late the picture of the run is.
    """
    if told["sound"] is None:
        raise ProblemError(422, "no_sound", "The film has no clicks beside its flashes.", "marks")
    job, layer, run = at_run(session.job.uid, run_uid, "plan")
    if run.sink != session.device:
        raise ProblemError(422, "another_screen", "That run ends at another screen than the film shows.", "run")
    budget = budget_of(job, layer, run, condition, None)
    row = next((r for r in budget["lip_sync"] if r["condition"] == budget["condition"]), None)
    if not budget["plays_device"]:
        raise ProblemError(422, "nothing_plays", "Nothing that certainly plays this run’s sound is known.", "run")
    if row is None or row["picture_most_ms"] - row["picture_ms"] > _SURE_MS:
        words = (
            "How late the picture of this run is, is not known to a few ms: measure the screen, and what is between."
        )
        raise ProblemError(422, "picture_unknown", words, "run")
    late_ms = round(row["picture_ms"] + told["sound"]["offset_ms"])
    if late_ms < 0:
        raise ProblemError(422, "sound_early", "The sound would come before it was sent: look at the marks.", "marks")
    op: SetFact = {
        "op": "set_fact", "device": budget["plays_device"], "path": SOUND_LAG_FACT, "value": late_ms,
        "provenance": "measured_here",
    }  # fmt: skip
    change_job(
        job_uid=job.uid, base=job.revision, line=job.line, uid=new_uid(), ops=[op], actor=actor,
        label="Sound lag from a film",
    )  # fmt: skip
    return late_ms
