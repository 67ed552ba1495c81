"""What is remembered: bounded by size, the least recently used forgotten first."""

from __future__ import annotations

from hypothesis import given
from hypothesis import strategies as st

from wavilex.core.memory import Memory

ENTRY = 300  # what an entry weighs beside its value


def test_over_its_size_it_forgets_what_was_asked_for_longest_ago() -> None:
    memory = Memory(3 * (ENTRY + 100))
    for key in "abc":
        memory.put(key, key, 100)
    assert memory.get("a") == "a"  # now b is the oldest
    memory.put("d", "d", 100)
    assert [memory.get(k) for k in "abcd"] == ["a", None, "c", "d"]


def test_what_is_put_again_counts_once() -> None:
    memory = Memory()
    memory.put("a", 1, 100)
    memory.put("a", 2, 50)
    assert (memory.get("a"), memory.standing().held_bytes, memory.standing().entries) == (2, ENTRY + 50, 1)


def test_one_entry_over_the_bound_stays_until_another_comes() -> None:
    memory = Memory(1000)
    memory.put("big", "big", 5000)
    assert memory.get("big") == "big"
    memory.put("small", "small", 10)
    assert (memory.get("big"), memory.get("small")) == (None, "small")


def test_an_answer_is_kept_beside_the_object_itself_not_its_equal() -> None:
    memory, calls = Memory(), []

    def answer() -> int:
        calls.append(1)
        return len(calls)

    one, equal = [1], [1]
    assert [memory.beside(one, "q", answer, 8) for _ in range(2)] == [1, 1]
    assert memory.beside(equal, "q", answer, 8) == 2
    assert memory.beside(one, "other", answer, lambda n: n) == 3


def test_it_counts_what_it_was_asked_and_knew() -> None:
    memory = Memory()
    memory.put("a", 1, 1)
    memory.get("a")
    memory.get("b")
    assert (memory.standing().asked, memory.standing().known) == (2, 1)
    memory.clear()
    assert (memory.standing().entries, memory.standing().held_bytes, memory.get("a")) == (0, 0, None)


@given(st.lists(st.tuples(st.integers(0, 9), st.integers(0, 900)), max_size=60))
def test_it_never_holds_more_than_its_bound_and_its_sum_is_right(puts: list[tuple[int, int]]) -> None:
    memory, sizes = Memory(4000), {}
    for key, size in puts:
        memory.put(key, key, size)
        sizes[key] = size
    there = [k for k in sizes if memory.get(k) is not None]
    assert memory.standing().held_bytes == sum(sizes[k] + ENTRY for k in there) <= 4000
