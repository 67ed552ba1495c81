"""The values of a box's settings that serve a title's wishes best: solved, with what excludes what.

Exact: every combination that could still win is looked at; a bound leaves out the rest.
"""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, field, replace

from wavilex.core.advise.wishes import Wish
from wavilex.core.gear.conditions import Surroundings, holds
from wavilex.core.gear.profile import Profile
from wavilex.core.gear.quirks import Dims
from wavilex.core.gear.setting import Setting
from wavilex.core.gear.stand import Place, Standing, stand, value_at
from wavilex.core.gear.words import standing_data

_GATE = Wish("", {}, "")  # of a setting no wish speaks of: any value is as good
_NEAR = 1  # points for leaving a setting as it is, so that nothing is changed for nothing


@dataclass(frozen=True, slots=True)
class Solution:
    """chosen: a value for every setting a wish speaks of; standing: what then really holds; score: points.

    gates: settings no wish speaks of, chosen otherwise because they stood in the way of one; with what they free.
    """

    chosen: Mapping[Place, str]
    standing: Mapping[Place, Standing]
    score: int
    gates: Mapping[Place, str] = field(default_factory=dict)

    def value(self, place: Place) -> str:
        """What the setting then stands at; what was chosen, where that is not known."""
        return self.standing[place].value or self.chosen[place]


def places(profile: Profile, scope: str) -> list[tuple[Place, Setting]]:
    """Every setting that counts at a socket, with the place it is kept."""
    return [((scope if s.ports else "", s.id), s) for s in profile.settings if not s.ports or scope in s.ports]


def solve(
    profile: Profile, scope: str, wishes: Sequence[Wish], now: Mapping[Place, str | None], around: Surroundings,
    fixed: Collection[Place] = (),
) -> Solution:  # fmt: skip
    """The best values at one input. now: every setting as it is; one no wish speaks of stays so, unless it bars one.
    fixed: places that stay as they are whatever is wished.
    """
    by_effect = {w.effect: w for w in wishes}
    wished = [(p, s, by_effect[s.effect]) for p, s in places(profile, scope) if s.effect in by_effect]
    ways_in = _gates(profile, {s.id for _, s, _ in wished})
    wished += [(p, s, _GATE) for p, s in places(profile, scope) if s.id in ways_in and s.effect not in by_effect]
    moved = set(profile.quirks_of_setting)  # the device may make another value of what was chosen
    coupled = moved.union(*(q.when.settings() for q in profile.setting_quirks))
    alone = {p: _best_alone(p, s, w, now) for p, s, w in wished if s.id not in coupled and p not in fixed}
    alone |= {p: now[p] or s.default for p, s, _ in wished if p in fixed}
    open_ = [x for x in wished if x[0] not in alone]
    best: Solution | None = None
    # points count from those settled alone: the same for every combination
    start = sum(w.worth.get(alone[p], 0) + _NEAR * (alone[p] == now.get(p)) for p, _, w in wished if p in alone)
    rest = [sum(w.most + _NEAR for _, _, w in open_[n:]) for n in range(len(open_) + 1)]

    def search(n: int, chosen: dict[Place, str], promise: int) -> None:
        nonlocal best
        if best is not None and promise + rest[n] <= best.score:
            return
        if n == len(open_):
            found = _judge(profile, wished, {**now, **alone, **chosen}, now, around)
            if best is None or found.score > best.score:
                best = found
            return
        place, setting, wish = open_[n]
        for option in sorted(setting.options, key=lambda o: -wish.worth.get(o.id, 0)):
            most = wish.most if setting.id in moved else wish.worth.get(option.id, 0)
            search(n + 1, {**chosen, place: option.id}, promise + most + _NEAR)

    search(0, {}, start)
    assert best is not None
    gates = {p: s for p, s, w in wished if w is _GATE}
    moved_gates = {p: s for p, s in gates.items() if best.chosen[p] != now.get(p)}
    kept = {p: v for p, v in best.chosen.items() if p not in gates or p in moved_gates}
    return replace(best, chosen=kept, gates={p: ways_in[s.id] for p, s in moved_gates.items()})


def _gates(profile: Profile, wished: Collection[str]) -> dict[str, str]:
    """Settings that grey out, bar, force or disarm a wished one, to any depth; by what they stand in the way of."""
    found: dict[str, str] = {}
    waiting = [(name, name) for name in sorted(wished)]
    while waiting:
        name, freed = waiting.pop()
        for quirk in profile.quirks_of_setting.get(name, ()):
            for gate in sorted(quirk.when.settings()):
                if gate not in found and gate not in wished:
                    setting = profile.setting(freed)
                    found[gate] = setting.label if setting else freed
                    waiting.append((gate, freed))
    return found


def _best_alone(place: Place, setting: Setting, wish: Wish, now: Mapping[Place, str | None]) -> str:
    """The best value of a setting that no rule of the device joins to another."""
    return max(
        sorted((o.id for o in setting.options), key=lambda o: -wish.worth.get(o, 0)),
        key=lambda o: wish.worth.get(o, 0) + _NEAR * (o == now.get(place)),
    )


def _judge(
    profile: Profile, open_: Sequence[tuple[Place, Setting, Wish]], values: Mapping[Place, str | None],
    now: Mapping[Place, str | None], around: Surroundings,
) -> Solution:  # fmt: skip
    standing = stand(profile, lambda s, k: values.get((s, k)), around)
    score = 0
    chosen: dict[Place, str] = {}
    for place, _, wish in open_:
        really = standing[place]
        chosen[place] = values[place] or ""
        if really.value is not None and really.inert is None:
            score += wish.worth.get(really.value, 0)
        score += _NEAR * (values[place] == now.get(place))
    return Solution(chosen, standing, score)


def keeps_percent(profile: Profile, scope: str, standing: Mapping[Place, Standing], around: Surroundings) -> float:
    """The share of its brightness the picture keeps under the chosen values, in percent."""
    values = value_at(profile, standing, scope, around.shown_input)
    share = 100.0
    for q in profile.quirks:
        if isinstance(q, Dims) and (q.when is None or holds(q.when, values, around, scope) is True):
            share *= q.keeps_percent / 100
    return share


def given_up(
    profile: Profile, place: Place, setting: Setting, wish: Wish, solution: Solution, around: Surroundings
) -> str:
    """What having this wish would have taken from another setting; "" where it is met, or cannot be had at all."""
    value = solution.value(place)
    best = max(wish.worth, key=lambda v: wish.worth[v])
    if wish.worth.get(value, 0) == wish.most or best not in [o.id for o in setting.options]:
        return ""
    values = {**{p: s.value for p, s in solution.standing.items()}, place: best}
    with_it = stand(profile, lambda s, k: values.get((s, k)), around)
    if with_it[place].value != best:
        return ""
    for other, now in with_it.items():
        was = solution.standing[other].value
        quirk = now.greyed or now.forced or next((q for o, q in now.barred if o == was), None)
        if other != place and now.value != was and quirk is not None:
            label = next(s.label for s in profile.settings if s.id == other[1])
            return f"{label} counts more here, and {quirk.because}"
    return ""


def barred_words(
    profile: Profile,
    place: Place,
    setting: Setting,
    wish: Wish,
    solution: Solution,
    around: Surroundings,
) -> str:
    """Why the best value cannot be had at all, with what would free it, or does nothing; "" where it can."""
    now, value = solution.standing[place], solution.value(place)
    best = max(wish.worth, key=lambda v: wish.worth[v])
    if wish.worth.get(value, 0) == wish.most:
        return ""
    if not (now.barred or now.greyed):
        values = {**{p: s.value for p, s in solution.standing.items()}, place: best}
        tried = stand(profile, lambda s, k: values.get((s, k)), around)[place]
        said = f"{tried.inert.because}" if tried.inert is not None and best in {o.id for o in setting.options} else ""
        return f"{setting.option_label(best)} does nothing: {said}" if said else ""
    data = standing_data(profile, now)
    reasons = [b["because"] for b in data["barred"] if b["option"] == best]
    if data["standing"] == "greyed":
        reasons = [f"greyed out: {data['because']}; {data['frees']}"]
    return f"not {setting.option_label(best)}: {'. Also: '.join(reasons)}" if reasons else ""
