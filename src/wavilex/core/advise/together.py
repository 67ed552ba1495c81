"""Source and screen solved as one: what excludes each other across them is never ordered at both.

Variable refresh is one thing with a switch at either end. A picture that carries it is neither interpolated nor cut by
black frames at the screen (common practice), unless the screen's profile rules on that itself.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace

from wavilex.core.advise.situation import STANDARD, Box, Playing, boxes_of
from wavilex.core.advise.solve import Solution, given_up, places, solve
from wavilex.core.advise.wishes import Wish
from wavilex.core.chain.paths import Layer
from wavilex.core.chain.results import RunResult
from wavilex.core.gear.profile import Profile
from wavilex.core.gear.setting import Setting
from wavilex.core.gear.stand import Place

_VRR, _BESIDE = "variable_refresh", ("interpolation", "black_frames")
_FORCED = 10**6  # points of what a branch takes for given
EXCLUDED = "the picture carries variable refresh, which nearly always excludes it"


@dataclass(frozen=True, slots=True)
class Solved:
    """One box of a run and its best values; wishes: what was asked of it; taken: effects given up for the other box."""

    box: Box
    solution: Solution
    wishes: Sequence[Wish]
    taken: Mapping[str, str] = field(default_factory=dict)

    def wish(self, place: Place, setting: Setting) -> Wish:
        """What was asked of a setting; of one that stood in the way of another, that it does not."""
        if place in self.solution.gates:
            value, freed = self.solution.chosen[place], self.solution.gates[place]
            return Wish("", {value: 1}, f"as it is it stands in the way of {freed}")
        return next(w for w in self.wishes if w.effect == setting.effect)

    def given_up(self, place: Place, setting: Setting, wish: Wish) -> str:
        """What having this wish would have taken from another setting, here or at the other end; "" where it is met."""
        own = given_up(self.box.device.profile, place, setting, wish, self.solution, self.box.around)
        met = wish.worth.get(self.solution.value(place), 0) == wish.most
        return own or ("" if met else self.taken.get(setting.effect or "", ""))


def solve_run(
    layer: Layer, result: RunResult, wishes: Sequence[Wish], kind: str = STANDARD, playing: Playing | None = None
) -> list[Solved]:
    """The run's boxes, solved together: the better of with and without variable refresh, where there is a choice."""
    boxes = boxes_of(layer, result, kind, playing)
    able = [_able(b.device.profile) for b in boxes]
    switches = [b for b in boxes if _has(b, _VRR)]
    if not boxes or not all(able):
        return [_solved(b, wishes, False) for b in boxes]
    if not switches:
        return [_solved(b, wishes, True) for b in boxes]
    tried = [(carries, _branch(boxes, wishes, carries)) for carries in (True, False)]
    return max((x for x in tried if x[1] is not None), key=lambda x: _score(x[1] or [], wishes, x[0]))[1] or []


def _able(profile: Profile) -> bool:
    """Could a box send or take variable refresh at some socket? Unknown counts as no: nothing is ordered for it."""
    own = [p.video.vrr for p in profile.ports if p.video.vrr is not None]
    return any(v not in (None, False) for v in (profile.video.vrr, *own))


def _has(box: Box, effect: str) -> bool:
    return any(s.effect == effect for _, s in places(box.device.profile, box.scope))


def _branch(boxes: Sequence[Box], wishes: Sequence[Wish], carries: bool) -> list[Solved] | None:
    """All boxes with the picture carrying variable refresh or not; None where a switch does not do it."""
    ends = [b for b in boxes if _has(b, _VRR)]
    source_has = any(b.device.profile.role == "source" for b in ends)
    out: list[Solved] = []
    for box in boxes:
        off_here = not carries and (box.device.profile.role == "source" or not source_has)
        value = "on" if carries else "off" if off_here and box in ends else ""
        solved = _solved(box, wishes, carries, value)
        if value and any(
            solved.solution.value(p) != value
            for p, s in places(box.device.profile, box.scope) if s.effect == _VRR and p in solved.solution.chosen
        ):  # fmt: skip
            return [*out, solved] if not carries else None
        out.append(solved)
    return out


def _solved(box: Box, wishes: Sequence[Wish], carries: bool, value: str = "") -> Solved:
    """One box; value: what its own switch is to stand at, "" where it is free."""
    signal = box.around.signal
    if signal is not None:
        box = replace(box, around=replace(box.around, signal=replace(signal, vrr=carries)))
    asked = list(wishes)
    taken: dict[str, str] = {}
    if carries and box.device.profile.role == "screen" and (value or not _has(box, _VRR)):
        for effect in _BESIDE:
            if _has(box, effect) and not _ruled(box.device.profile, effect):
                taken[effect] = EXCLUDED
        asked = [replace(w, worth={"off": _FORCED}) if w.effect in taken else w for w in asked]
    if value:
        asked = [replace(w, worth={value: _FORCED}) if w.effect == _VRR else w for w in asked]
    solution = solve(box.device.profile, box.scope, asked, box.now, box.around, box.kept)
    if value == "off":
        taken[_VRR] = "what the screen does between frames counts more here"
    return Solved(box, solution, wishes, taken)


def _ruled(profile: Profile, effect: str) -> bool:
    """Does a box rule itself on what variable refresh does to an effect?"""
    own = {s.id for s in profile.settings if s.effect == _VRR}
    about = {s.id for s in profile.settings if s.effect == effect}
    return any(
        quirk.setting in about
        and (quirk.when.settings() & own or any(c.signal and c.signal.vrr is not None for c in quirk.when.walk()))
        for quirk in profile.setting_quirks
    )


def _score(solved: Sequence[Solved], wishes: Sequence[Wish], carries: bool) -> int:
    """Points of what really comes of it; variable refresh counts once, wherever its switches are."""
    total = 0
    by_effect = {w.effect: w for w in wishes}
    for x in solved:
        for place, setting in places(x.box.device.profile, x.box.scope):
            if place not in x.solution.chosen or setting.effect not in by_effect or setting.effect == _VRR:
                continue
            stands = x.solution.standing[place]
            if stands.value is not None and stands.inert is None:
                total += by_effect[setting.effect or ""].worth.get(stands.value, 0)
            total += x.solution.chosen[place] == x.box.now.get(place)
    wish = by_effect.get(_VRR)
    return total + (wish.worth.get("on" if carries else "off", 0) if wish else 0)
