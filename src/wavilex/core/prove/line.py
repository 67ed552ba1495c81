"""A read-out as it is predicted: one card a box and place, its lines in the order they are read there."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from wavilex.core.fields import Provenance
from wavilex.core.rig.model import Socket

Kind = Literal["list", "page", "in_out", "notice", "banner", "counter", "label", "home", "title", "probe"]
Trust = Literal["reads", "promises", "renders", "lies", "proves", "measures"]
YES, NO = "yes", "no"
HELD = "held"  # the line of a running title that proves the rate of its links


def holds(mode: str) -> str:
    """How the line of a running title begins: by the mode it ran in, which is all that it proves."""
    return f"{mode} holds"


PLACES: dict[Kind, str] = {
    "list": "its list of what the screen can do",
    "page": "its display page",
    "in_out": "its page of signals in and out",
    "notice": "its on-screen notice",
    "banner": "the banner of the input",
    "counter": "its rate counter",
    "label": "a label on the picture",
    "home": "its home screen",
    "title": "a running title",
    "probe": "measured by the source itself",
}
TRUST_WORDS: dict[Trust, str] = {
    "reads": "it reads the signal itself",
    "promises": "a promise: it lists what it was told it may send, not what arrives",
    "renders": "it names what is rendered, not what leaves the socket",
    "lies": "not to be believed by itself",
    "measures": "a page in the source’s own browser, by its own clock",
    "proves": "a list is a promise, a running title is proof",
}


@dataclass(frozen=True, slots=True)
class Line:
    """One line of a read-out. says: the words or figures to be seen there, `yes` and `no` of what is listed or not,
    None where nobody can tell. sure: False where it rests on something not known. why: what settles it, of where.
    """

    key: str
    label: str
    says: str | None
    why: str = ""
    part: str = ""
    sure: bool = True
    at: Socket | None = None


@dataclass(frozen=True, slots=True)
class Card:
    """What one place of a box will show on a run. trust: what the place goes by; because: why that is so."""

    device: str
    port: str
    kind: Kind
    place: str
    trust: Trust
    because: str
    source: Provenance
    lines: tuple[Line, ...]

    @property
    def key(self) -> str:
        """Names the card within its run."""
        return f"{self.device}/{self.port}/{self.kind}"


def photo_line(card: Card) -> str:
    """Names the photographs of a card within its run."""
    return f"{card.key}/photo"


def line_key(card: Card, line: Line) -> str:
    """Names a line within its run."""
    return f"{card.key}/{line.key}"
