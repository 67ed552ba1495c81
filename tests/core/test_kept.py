"""Every answer of the rigs and sums in tests/kept is what it was when somebody last read the difference.

No proof that an answer is right: that is for the tests beside this one. It makes sure that none changes unseen.
"""

from __future__ import annotations

import pytest

from tests.kept.digests import CASES, digests, kept


@pytest.mark.parametrize("case", CASES)
def test_no_answer_changes_unseen(case: str) -> None:
    now, then = digests(case), kept()[case]
    changed = sorted(name for name in now.keys() | then.keys() if now.get(name) != then.get(name))
    assert not changed, f"{case}: {changed} changed. Read the difference: make kept; it writes the new digests, too"
