"""The want of a new run: the most both ends share. Common practice for the worked ones; the rest by trying it."""

from __future__ import annotations

from dataclasses import replace

import pytest

from tests.arrival_rigs import by_role
from tests.core.test_advice import had_somehow
from tests.rigs import device, rig
from wavilex.core.advise.connect import rank_inputs
from wavilex.core.advise.default_want import default_want
from wavilex.core.rig.model import Rig, Run, Socket, Want
from wavilex.library import starter_profiles


def two(source: str, screen: str) -> Rig:
    return rig(device("s", source), device("t", screen))


def wanted(source: str, screen: str) -> Want:
    return default_want(two(source, screen), Run("r", "r", "s", "t"))


@pytest.mark.parametrize(
    ("source", "screen", "mode", "hdr", "vrr"),
    [
        ("kelpine-k1", "ostavar-75g", "3840x2160@120", "static", True),  # whatever socket, format, firmware it meets
        ("kelpine-k1", "kelpine-m27", "2560x1440@120", "off", True),  # a monitor of that size: native, not 4K scaled
        ("kelpine-k1", "yarrowby-50w", "3840x2160@60", "static", False),  # a 60 Hz panel without variable refresh
        ("kelpine-k0", "yarrowby-77e", "1920x1080@60", "off", False),  # an older console sends no more
    ],
)
def test_a_new_run_wants_the_most_both_ends_share(source: str, screen: str, mode: str, hdr: str, vrr: bool) -> None:
    want = wanted(source, screen)
    assert (want.mode, want.hdr, want.vrr) == (mode, hdr, vrr)


def test_an_old_machine_never_wants_a_picture_of_today() -> None:
    for uid, profile in starter_profiles().items():
        if profile.role == "source" and not any(p.digital for p in profile.outputs()):
            want = wanted(uid, "yarrowby-77e")
            assert want.mode.height <= 1080
            assert (want.hdr, want.vrr) == ("off", False)


def test_what_a_new_run_wants_can_be_had_and_no_feature_more_at_that_mode() -> None:
    for n, source in enumerate(by_role("source")):
        screen = by_role("screen")[n % len(by_role("screen"))]
        r = two(source, screen)
        want = default_want(r, Run("r", "r", "s", "t"))
        asked = Run("r", "r", "s", "t", want)
        assert had_somehow(r, asked, n), (source, screen, want)
        if want.hdr == "off":
            assert not had_somehow(r, replace(asked, want=replace(want, hdr="static", bits=10)), n), (source, screen)


def test_inputs_are_ranked_by_what_the_source_could_do() -> None:
    """A 4K120 console at a screen with two fast inputs: they come first, before anybody has said what is wanted."""
    options = rank_inputs(two("kelpine-k1", "ostavar-75g"), Socket("s", "hdmi"))
    assert [o.socket.port for o in options[:2]] == ["hdmi3", "hdmi4"]
    row = next(op for op in options[0].ops if op["op"] == "add_run")["run"]
    assert row["want"]["mode"] == "3840x2160@120"
    assert row["want"]["hdr"] == "static"
