"""A search stands still while a change is worked out, and has its own time back afterwards."""

from __future__ import annotations

import threading
import time

from wavilex.server.jobs.turns import change_first, search_for


def test_a_search_stands_still_for_a_change_and_goes_on_after_it() -> None:
    go_on, steps, end = search_for(1.5), [0], threading.Event()

    def search() -> None:
        while go_on():
            steps[0] += 1
        end.set()

    thread = threading.Thread(target=search)
    thread.start()
    time.sleep(0.1)
    with change_first():
        time.sleep(0.05)  # the step it was in is done
        before = steps[0]
        time.sleep(0.2)
        assert steps[0] <= before + 1  # one that had asked just before, on a machine that stood still
    assert not end.is_set()
    assert end.wait(30)
    assert steps[0] > before
    thread.join()


def test_a_change_that_never_ends_holds_no_search_for_ever() -> None:
    go_on = search_for(0.01)
    began = time.monotonic()
    with change_first():
        assert go_on() is True  # the time it stood still is not its own
        while go_on():
            pass
    assert time.monotonic() - began < 30
