"""Observations put into a rig and taken back: what was seen, by whom, when, and what it rests on."""

from __future__ import annotations

from dataclasses import replace

from wavilex.core import bounds
from wavilex.core.errors import ChangeError
from wavilex.core.moment import utc_text
from wavilex.core.rig.edit_common import Applied, check_grounds, need, new_uid, text_of, with_item
from wavilex.core.rig.model import Observation, Rig
from wavilex.core.rig.ops import ObservationData, Observe, TakeBack


def observe(rig: Rig, change: Observe) -> Applied:
    """Something was seen. It may be about a box or a run that is gone since: it was seen all the same."""
    data = change["observation"]
    uid = new_uid(rig.observations, data["uid"], "observation")
    for name in ("run", "device", "line", "place", "label", "predicted", "observed", "by", "firmware", "photo"):
        text_of(str(data.get(name) or ""), name, bounds.OBSERVED_LETTERS)
    check_grounds(data.get("grounds", {}), "an observation")
    try:
        at = utc_text(data["at"])
    except ValueError as error:
        raise ChangeError(f"at {error}", where="observation.at") from None
    seen = observation_of({**data, "at": at})
    back: TakeBack = {"op": "take_back", "observation": uid}
    return replace(rig, observations={**rig.observations, uid: seen}), [back]


def take_back(rig: Rig, change: TakeBack) -> Applied:
    """A slip: the one seen there before counts again."""
    uid = change["observation"]
    need(uid in rig.observations, f"there is no observation {uid!r} in this job")
    back: Observe = {"op": "observe", "observation": observation_data(rig.observations[uid])}
    return replace(rig, observations=with_item(rig.observations, uid, None)), [back]


def observation_of(data: ObservationData) -> Observation:
    """As the rig has it; what it says is checked already."""
    return Observation(
        data["uid"], data["run"], data["device"], data["line"], data["place"], data["label"], data["answer"],
        data.get("predicted"), data.get("observed"), data["at"], data.get("by", ""), data.get("firmware", ""),
        data.get("photo", ""), tuple(data.get("grounds", {}).items()),
    )  # fmt: skip


def observation_data(seen: Observation) -> ObservationData:
    """As changes and job files have it."""
    return {
        "uid": seen.uid, "run": seen.run, "device": seen.device, "line": seen.line, "place": seen.place,
        "label": seen.label, "answer": seen.answer, "predicted": seen.predicted, "observed": seen.observed,
        "at": seen.at, "by": seen.by, "firmware": seen.firmware, "photo": seen.photo, "grounds": dict(seen.grounds),
    }  # fmt: skip
