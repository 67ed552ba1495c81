"""What was seen held against what the chain says: when two read-outs are alike, and when one contradicts."""

from __future__ import annotations

from collections.abc import Sequence

from wavilex.core.prove.line import Card, line_key
from wavilex.core.rig.model import Observation


def said_lines(cards: Sequence[Card]) -> dict[str, str | None]:
    """Every line's words by its name."""
    return {line_key(c, x): x.says for c in cards for x in c.lines}


def differs(seen: Observation, says: str | None) -> bool:
    """Does what was seen contradict what the model says now? Where nothing was written down, what was said then."""
    if says is None:
        return False
    if seen.observed is None:
        return seen.answer == "differs" and same(seen.predicted, says)
    return not same(seen.observed, says)


def same(a: str | None, b: str | None) -> bool:
    """Read alike: by their letters and figures, however they are spaced."""
    return a is not None and b is not None and _plain(a) == _plain(b)


def _plain(text: str) -> str:
    return "".join(c for c in text.lower().replace("×", "x") if c.isalnum() or c in ".:")
