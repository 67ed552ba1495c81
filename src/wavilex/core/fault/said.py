"""Answers as they are typed: complaints by code, checks as key=value; the same observations as an application keeps."""

from __future__ import annotations

from collections.abc import Sequence

from wavilex.core.fault.case import Case
from wavilex.core.fault.complaints import COMPLAINTS
from wavilex.core.fault.evidence import COMPLAINT
from wavilex.core.prove.line import YES
from wavilex.core.rig.model import Observation, Run

_AT = "1970-01-01T00:00:00+00:00"  # typed answers have no time


def said_answers(
    case: Case | None, run: Run, complaints: Sequence[str], seen: Sequence[str]
) -> list[Observation]:  # fmt: skip
    """Raises ValueError for a complaint or a check there is not, naming those there are."""
    found: list[Observation] = []
    words = {str(code): text for code, text in COMPLAINTS.items()}
    for code in complaints:
        if code not in words:
            raise ValueError(f"there is no complaint {code!r}; one of {', '.join(words)}")
        found.append(_seen(len(found), run, run.sink, f"{COMPLAINT}{code}", words[code], YES))
    for text in seen:
        key, _, value = text.rpartition("=")
        check = case.by_key.get(key) if case is not None else None
        if check is None or not value:
            raise ValueError(f"{text!r} is no KEY=VALUE of a check on this run; keys stand in --json")
        found.append(_seen(len(found), run, check.device, key, check.words, value))
    return found


def _seen(number: int, run: Run, device: str, line: str, label: str, value: str) -> Observation:
    return Observation(f"typed.{number}", run.uid, device, line, "typed", label, "seen", None, value, _AT)
