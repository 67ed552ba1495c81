"""A step of the run sheet and the phases it can belong to."""

from __future__ import annotations

from dataclasses import dataclass, field

from wavilex.core.chain.paths import Path
from wavilex.core.rig.model import Run
from wavilex.core.rig.ops import Change

# in working order: check before connecting, wire with everything off, open the ports, then source, then screen
PHASES = {
    "look": "Look first",
    "firmware": "Firmware, before anything is connected",
    "wire": "Everything off, then wire",
    "select": "Power on and select",
    "ports": "Open the ports",
    "source": "Set the sources",
    "screen": "Set the screens",
    "range": "Standard range, then HDR",
    "prove": "Prove it",
    "lag": "Measure lag",
    "hand": "Hand over",
}
ORDER = tuple(PHASES)
POWER_OFF, POWER_ON = "power-off", "power-on"
# who does it, and from where
STANDS = {
    "look": "walking round",
    "firmware": "one at the box, remote or controller in hand",
    "wire": "at the rack, behind the screen",
    "select": "one at the rack, eyes on the screen",
    "ports": "on the sofa, the screen’s remote in hand",
    "source": "on the sofa, the controller in hand",
    "screen": "on the sofa, the screen’s remote in hand",
    "range": "on the sofa, in the light it is used in",
    "prove": "on the sofa, somebody playing",
    "lag": "at the glass, the meter in hand",
    "hand": "with the client",
}
assert set(STANDS) == set(PHASES)
_AT: dict[str, str] = {"computer": "at the PC, its keyboard in hand", "player": "on the sofa, its remote in hand"}


def hand_of(kind: str) -> str:
    """From where a source of a kind is set; "" for a console, as its phase has it."""
    return _AT.get(kind, "")


@dataclass(frozen=True, slots=True)
class Step:
    """One thing to do.

    key: stable as long as the step's content is. needs: keys that must come before. ops: what ticking it
    records as found. rests: boxes whose version it rests on; run: the run it proves, whose leads and settings it rests
    on, too. wait_s: seconds to let pass before looking. keep: a box
    asks whether to keep the change; only with a picture. cautions: names of `cautions.CAUTIONS`. hand: who does it and
    from where, where that is not as in the rest of its phase.
    """

    key: str
    phase: str
    title: str
    where: str = ""
    why: str = ""
    see: str = ""
    if_not: str = ""
    minutes: int = 1
    wait_s: int = 0
    keep: bool = False
    needs: tuple[str, ...] = ()
    cautions: tuple[str, ...] = ()
    hand: str = ""
    ops: tuple[Change, ...] = field(default=())
    rests: tuple[str, ...] = ()
    run: tuple[Run, Path] | None = None

    @property
    def stands(self) -> str:
        """Who does it and from where; a large screen is never moved alone."""
        two = "; two people for the screen" if "large_screen" in self.cautions and self.phase == "wire" else ""
        return (self.hand or STANDS[self.phase]) + two


def ordered(steps: list[Step]) -> list[Step]:
    """Phase by phase; inside one, what is needed first, else as given. Raises ValueError on a cycle."""
    rank = {s.key: (ORDER.index(s.phase), n) for n, s in enumerate(steps)}
    by_key = {s.key: s for s in steps}
    out: list[Step] = []
    state: dict[str, int] = {}

    def visit(step: Step) -> None:
        if state.get(step.key) == 2:
            return
        if state.get(step.key) == 1:
            raise ValueError(f"step {step.title} needs itself")
        state[step.key] = 1
        for need in sorted((k for k in step.needs if k in by_key), key=lambda k: rank[k]):
            visit(by_key[need])
        state[step.key] = 2
        out.append(step)

    for step in sorted(steps, key=lambda s: rank[s.key]):
        visit(step)
    return out
