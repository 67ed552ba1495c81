"""What was measured, put to use: costs of settings kept as facts of their box."""

from __future__ import annotations

from typing import Any

from wavilex.core.lag.setting_cost import fact_of
from wavilex.core.lag.shapes import SettingCostOut
from wavilex.core.rig.ops import SetFact
from wavilex.server.bench.models import LagSession
from wavilex.server.bench.selectors import report_of
from wavilex.server.jobs.cache import rig_of
from wavilex.server.jobs.services import change_job, new_uid


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
