"""After an update: the shortest list of looks, against boxes that really put settings back."""

from __future__ import annotations

import random
from collections.abc import Callable
from itertools import combinations

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.arrivals import settled
from tests.rigs import s07, s10, s14
from wavilex.core.chain.paths import Layer
from wavilex.core.errors import ChangeError
from wavilex.core.gear.cells import read_scope
from wavilex.core.gear.profile import Profile, profile_data, profile_digest, profile_from_data
from wavilex.core.prove.differ import said_lines
from wavilex.core.prove.readouts import readouts
from wavilex.core.rig.changes import apply
from wavilex.core.rig.learned import learned
from wavilex.core.rig.model import Rig
from wavilex.core.rig.ops import Change, to_set
from wavilex.core.rig.visit_facts import AfterUpdate, after_path, after_updates
from wavilex.core.visits.cover import cheapest
from wavilex.core.visits.held import held, odds_of
from wavilex.core.visits.knowledge import known_of
from wavilex.core.visits.looks import Look
from wavilex.core.visits.recheck import came_back, differs, recheck, stays

VERSION = "9.9"


def with_rule(profile: Profile, *keys: str, **more: object) -> Profile:
    """A box that puts settings back when an update is installed."""
    data = profile_data(profile)
    rule = {"id": "planted", "kind": "update", "because": "seen at others", "settings": list(keys), **more}
    return profile_from_data({**data, "quirks": [*data.get("quirks", ()), rule]})


def updated(rig: Rig, uid: str) -> Rig:
    return apply(rig, [{"op": "set_device", "device": uid, "firmware": VERSION}])[0]


JOBS: dict[str, Callable[[], Rig]] = {
    "S07": lambda: settled(s07()), "S07 by a receiver": lambda: settled(s07(True)),
    "S10": lambda: settled(s10("3.2", "full")), "S14": lambda: settled(s14()),
}  # fmt: skip


class Box:
    """A box that has put settings back, and somebody who looks at it and says what is there."""

    def __init__(self, rig: Rig, uid: str, reset: set[str], at: str = "") -> None:
        """at: an input whose values alone came back."""
        self.uid, self.before = uid, rig
        profile = rig.devices[uid].profile
        self.gone = {
            (scope, key): default
            for (device, scope, key), value in rig.settings.items()
            if device == uid and key in reset and value.found is not None and (not at or at == read_scope(scope).input)
            and (default := profile.setting(key).default) != value.found  # type: ignore[union-attr]
        }  # fmt: skip
        ops = [to_set((uid, scope, key), value, "found") for (scope, key), value in self.gone.items()]
        self.real = apply(rig, ops)[0] if ops else rig

    def answer(self, rig: Rig, look: Look) -> Rig:
        found = recheck(rig, self.uid, VERSION)
        if look.kind == "card":
            was, now = (
                said_lines([c for c in readouts(Layer(r, "found"), r.runs[look.run]) if c.key == look.card])
                for r in (self.before, self.real)
            )
            ops = stays(rig, found, look, "") if was == now else differs(rig, found, look, "")
        else:
            here = {place: self.gone[place] for place in look.places if place in self.gone}
            ops = came_back(rig, found, look, here, "") if here else stays(rig, found, look, "")
        return apply(rig, ops)[0]


def walk(rig: Rig, box: Box) -> tuple[Rig, int, int]:
    """All looks made, one after the other; the rig then, how many they were, and how many a full re-check takes."""
    steps = 0
    full = recheck(rig, box.uid, VERSION).full
    while (found := recheck(rig, box.uid, VERSION)).steps:
        rig = box.answer(rig, found.steps[0].look)
        steps += 1
        assert steps < 200, "it never ends"
    return rig, steps, full


UPDATES = 50


@pytest.mark.parametrize("seed", range(UPDATES))
def test_the_shortest_list_finds_every_setting_that_came_back(seed: int) -> None:
    """Random updates of random boxes: everything, a few settings or nothing comes back; known of the box or not. The
    boxes do what their rules say. All that came back is found, in at most 40 % of the steps.
    """
    draw = random.Random(seed)
    rig = JOBS[draw.choice(list(JOBS))]()
    uid = draw.choice([d for d in rig.devices if held(rig, rig.devices[d], VERSION)])
    keys = [s.id for s in rig.devices[uid].profile.settings]
    reset = set(draw.choice([keys, draw.sample(keys, min(len(keys), draw.randint(0, 4))), []]))
    if reset and draw.random() < 0.5:  # the rule is known: it stands in the profile
        profile = with_rule(rig.devices[uid].profile, *reset)
        rig = apply(rig, [{"op": "set_profile", "device": uid, "profile": profile_data(profile)}])[0]
        assert rig.devices[uid].profile_digest == profile_digest(profile)
    rig = updated(rig, uid)
    box = Box(rig, uid, reset)
    rig, steps, full = walk(rig, box)
    found = {h.place for h in recheck(rig, uid, VERSION).values if h.outcome in ("came_back", "presumed")}
    assert found == set(box.gone)
    assert 100 * steps <= 40 * full
    # and each is planned again as it stood, so that the run sheet has it
    for scope, key in box.gone:
        value = rig.settings[uid, scope, key]
        assert value.plan == box.before.settings[uid, scope, key].found
        assert value.found != value.plan


@pytest.mark.parametrize("name", ["S07", "S14"])
@pytest.mark.parametrize("at", ["hdmi1", "hdmi3", "hdmi4"])
def test_an_input_that_forgot_everything_is_found_whole(name: str, at: str) -> None:
    """Not one setting at all inputs, but all settings at one: what is found is more than came back, never less."""
    rig = updated(JOBS[name](), "tv")
    box = Box(rig, "tv", {s.id for s in rig.devices["tv"].profile.settings}, at)
    rig, _steps, _full = walk(rig, box)
    found = {h.place for h in recheck(rig, "tv", VERSION).values if h.outcome in ("came_back", "presumed")}
    assert box.gone
    assert set(box.gone) <= found


@given(st.data())
@settings(max_examples=60, deadline=None)
def test_no_cheaper_choice_of_looks_sees_everything(data: st.DataObject) -> None:
    """Against every choice there is, written out; with no bound of its own."""
    costs = data.draw(st.lists(st.integers(1, 300), min_size=1, max_size=8))
    tells = [data.draw(st.sets(st.integers(0, 6), max_size=5)) for _ in costs]
    needed = data.draw(st.sets(st.integers(0, 8), max_size=6))
    chosen = cheapest(costs, tells, needed)
    can = needed & set().union(*tells)
    assert can <= set().union(*(tells[n] for n in chosen)) if chosen else not can
    every = [
        picked for size in range(len(costs) + 1) for picked in combinations(range(len(costs)), size)
        if can <= set().union(*(tells[n] for n in picked))
    ]  # fmt: skip
    best = min((sum(costs[n] for n in picked), len(picked)) for picked in every)
    assert (sum(costs[n] for n in chosen), len(chosen)) == best


def test_a_value_at_its_default_is_never_looked_at() -> None:
    """Nothing can be seen there: it would come back to what it is."""
    rig = settled(s10("3.2", "full"))
    tv = rig.devices["tv"]
    for h in held(rig, tv, VERSION):
        assert h.value != h.setting.default


def test_a_value_nobody_has_seen_is_not_said_to_have_stood() -> None:
    rig = s10("3.2", "full")  # planned, never looked at
    assert held(rig, rig.devices["tv"], VERSION) == []


def test_a_read_out_that_says_something_else_leads_to_its_menus() -> None:
    """Which of its settings did it nobody knows: it is in doubt, and a menu page settles it."""
    rig = updated(settled(s10("3.2", "full")), "tv")
    found = recheck(rig, "tv", VERSION)
    card = next(s.look for s in found.steps if s.look.kind == "card")
    rig = apply(rig, differs(rig, found, card, "2026-05-03"))[0]
    again = recheck(rig, "tv", VERSION)
    assert [h.setting.id for h in again.outcomes("doubted")] == ["format"]
    assert any(("hdmi3", "format") in s.look.places and s.look.kind == "page" for s in again.steps)


def test_what_came_back_is_learned_with_version_and_day() -> None:
    rig = updated(settled(s07()), "tv")
    found = recheck(rig, "tv", VERSION)
    page = next(s.look for s in found.steps if any(key == "warmth" for _, key in s.look.places))
    place = next(p for p in page.places if p[1] == "warmth")
    back = {place: found.device.profile.setting("warmth").default}  # type: ignore[union-attr]
    rig = apply(rig, came_back(rig, found, page, back, "2026-05-03"))[0]
    lines = {x.path: x.words for x in learned(rig, rig.devices["tv"])}
    words = lines[after_path(VERSION, "warmth")]
    assert "came back" in words
    assert "9.9, 2026-05-03" in words
    # at the next update it counts: this setting comes first
    assert (
        odds_of(rig, rig.devices["tv"], "warmth", "10.0").percent
        > odds_of(rig, rig.devices["tv"], "light", "10.0").percent
    )
    # and what stands at its other cells is told as taken to have come back, not as seen
    (seen,) = [a for a in after_updates(rig, "tv", here=True) if a.setting == "warmth"]
    assert list(seen.came_back) == [place[0]]
    assert seen.presumed
    assert all(rig.settings["tv", scope, "warmth"].found is None for scope in seen.presumed)


@pytest.mark.parametrize("value", ["cool-ish", "warm"])
def test_a_setting_cannot_come_back_to_what_it_is_not(value: str) -> None:
    rig = updated(settled(s07()), "tv")
    found = recheck(rig, "tv", VERSION)
    page = next(s.look for s in found.steps if any(key == "warmth" for _, key in s.look.places))
    place = next(p for p in page.places if p[1] == "warmth")
    with pytest.raises(ChangeError, match="come back"):
        came_back(rig, found, page, {place: value}, "")


def test_what_another_box_of_its_kind_did_counts_but_is_no_look_at_this_one() -> None:
    """Taken from the shelf with the box: it moves the odds and is told, and this box is still to be looked at."""
    back = {"hdmi1;range=sdr;mode=game": "cool"}
    seen = AfterUpdate(setting="warmth", version=VERSION, day="2026-05-03", came_back=back)
    fact: Change = {
        "op": "set_fact", "device": "tv", "path": after_path(VERSION, "warmth"),
        "value": seen.model_dump(mode="json", exclude_defaults=True), "provenance": "measured_elsewhere",
    }  # fmt: skip
    bare = updated(settled(s07()), "tv")
    told = recheck(apply(bare, [fact])[0], "tv", VERSION)
    assert told.odds["warmth"].percent > recheck(bare, "tv", VERSION).odds["warmth"].percent
    assert {h.outcome for h in told.values} == {"open"}
    assert "warmth" in {key for _, key in told.steps[0].look.places}  # the likeliest comes first
    words = [n["words"] for n in known_of(bare, told.device, "", VERSION, [seen])]
    assert any("Colour temperature came back to cool with firmware 9.9" in w for w in words)
