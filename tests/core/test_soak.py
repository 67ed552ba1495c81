"""Long runs, left to `make soak`: more random rigs and more random lines than a test run has time for."""

from __future__ import annotations

import contextlib
import random

import pytest

from tests.core.test_chain import brute_cost, judge, random_rig
from wavilex.core.advise.fixes import find_fixes
from wavilex.core.errors import ProfileError, TimingError
from wavilex.core.gear.profile import parse_profile
from wavilex.core.video.codes import parse_timing
from wavilex.instruments.lag_protocol import decode
from wavilex.library import starter_profiles

pytestmark = pytest.mark.soak


@pytest.mark.parametrize("seed", range(1000, 2200))
def test_fix_search_agrees_with_brute_force(seed: int) -> None:
    r = random_rig(seed)
    if not judge(r, "r0").good:
        found = find_fixes(r, r.runs["r0"], max_moves=2)
        assert (found.ways[0].cost if found.ways else None) == brute_cost(r, "r0", 2)


def test_a_million_spoiled_lines_and_addresses() -> None:
    rnd = random.Random(7)
    for _ in range(1_000_000):
        decode(rnd.randbytes(rnd.randrange(40)))
    for _ in range(100_000):
        text = "".join(rnd.choice("vic:ctx@/.0123456789rbé") for _ in range(rnd.randrange(24)))
        with contextlib.suppress(TimingError):
            parse_timing(text)


def test_spoiled_profiles_are_refused_plainly() -> None:
    from importlib.resources import files

    rnd = random.Random(7)
    for name in starter_profiles():
        text = files("wavilex.library").joinpath(f"{name}.yaml").read_text(encoding="utf-8")
        for _ in range(200):
            at, width = rnd.randrange(len(text)), rnd.randrange(1, 12)
            spoiled = text[:at] + rnd.choice(["", ":", "- ", "[", "\t", "null", "999999", "💡"]) + text[at + width :]
            with contextlib.suppress(ProfileError):
                parse_profile(spoiled)
