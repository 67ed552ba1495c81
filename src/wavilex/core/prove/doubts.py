"""A read-out that may lie: the two ways it can be, and the look that tells which. Common practice.

A counter that shows 60 where 120 is expected may be wrong, or the title really sends 60: find out, do not assume.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from wavilex.core.prove.line import Card, line_key
from wavilex.core.prove.pages import MOVES
from wavilex.core.rig.model import Observation, Rig


@dataclass(frozen=True, slots=True)
class Doubt:
    """about: the line and what it shows. either, other: the two hypotheses. check: what to look at; told: what that
    would say of the first, and of the second.
    """

    about: str
    either: str
    other: str
    check: str
    told: tuple[str, str]


def doubts(rig: Rig, cards: Sequence[Card], differing: Mapping[str, Observation]) -> list[Doubt]:
    """What is to be doubted of the lines that differ: counters, and labels that name what is rendered."""
    found = []
    for card in cards:
        for line in card.lines:
            seen = differing.get(line_key(card, line))
            if seen is None:
                continue
            box, shown = rig.devices[card.device].label, seen.observed or "something else"
            about = f"{box}, {card.place}: shows “{shown}” where “{line.says}” was predicted"
            if card.kind == "counter":
                found.append(_counter(about, box, shown, line.says or ""))
            elif card.trust == "renders":
                found.append(
                    Doubt(
                        about,
                        "the label names what the title renders, and the wire is as predicted",
                        "the source sends something else than believed",
                        "Look at the banner of the screen, or the receiver’s page: they read the wire.",
                        ("the banner is as predicted: leave the label alone", "the banner differs, too"),
                    )
                )
    return found


def _counter(about: str, box: str, shown: str, says: str) -> Doubt:
    if says.startswith(MOVES):
        other = (
            "the rate does not follow the title: variable refresh is off at one of the two ends, or the title keeps "
            "its top rate"
        )
    else:
        other = (
            f"the title or the source really sends {shown}: its own 120 Hz or quality option, a permission, a menu "
            "that runs slower than the title"
        )
    return Doubt(
        about,
        f"{box}’s counter is wrong, or counts something else, and what arrives is as predicted",
        other,
        "Let the source measure itself (a code for this run), in front on the screen; or photograph the frame steps.",
        ("frames come as predicted: the counter was wrong", "frames come as the counter says: look at the title"),
    )
