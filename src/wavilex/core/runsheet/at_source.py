"""What is done at the source besides its settings: a title's own options, a PC's list of modes, HDR set up there.

Common practice: 120 Hz must often be switched on in the title, too; PCs may hide it in the television's list; HDR is
set up at the source only while the screen is in its HDR game mode.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from wavilex.core.advise.situation import gives_hdr_up
from wavilex.core.chain.paths import Layer
from wavilex.core.chain.results import RunResult
from wavilex.core.gear.profile import Kind
from wavilex.core.modes.cells import stored_by
from wavilex.core.rig.model import Title
from wavilex.core.runsheet.step import Step, hand_of
from wavilex.core.ticks import key_of

FAST_HZ = 100
_PLAYED: tuple[Kind, ...] = ("console", "handheld", "computer")


def source_steps(layer: Layer, results: Sequence[RunResult]) -> Iterator[Step]:
    """Steps at the sources of runs that are had."""
    for r in results:
        source = layer.rig.devices[r.run.source]
        if not r.good or r.asked is None or source.profile.kind not in _PLAYED:
            continue
        if source.profile.kind == "computer" and r.run.want.mode.hz >= FAST_HZ:
            yield Step(
                key_of("pc-list", r.run.uid, r.asked.name, r.path),
                "source",
                f"{source.label}: take {r.run.want.mode.name} from the PC’s own list, not the television’s",
                source.room,
                "a PC may hide its fast modes in the list for televisions",
                f"Its display page names {r.run.want.mode.name}",
                "Look for a second list, or for a custom size with the same rate",
                2,
                hand=hand_of(source.profile.kind),
            )
        if r.run.want.mode.hz >= FAST_HZ:
            for title in layer.rig.titles.values():
                yield from _own_options(layer, r, title)
        yield from _hdr(layer, r)


def _own_options(layer: Layer, r: RunResult, title: Title) -> Iterator[Step]:
    """The title's own switch for its fast mode: the output's rate is not the render rate."""
    fast = [m for m in title.modes if m.fps > FAST_HZ]
    if not fast:
        return
    best = max(fast, key=lambda m: m.fps)
    name = f"{best.name}, {best.fps} frames a second" if best.name else f"{best.fps} frames a second"
    yield Step(
        key_of("own-option", r.run.uid, title.uid, best.fps, r.path),
        "prove",
        f"{r.run.label}: in {title.name}, its own options → {name}",
        layer.rig.devices[r.run.source].room,
        "120 must often be switched on in the title, too",
        "Its options name the mode; the counter follows once it renders",
        "Without the option the title never renders so many: say so on the hand-over",
        2,
    )


def _hdr(layer: Layer, r: RunResult) -> Iterator[Step]:
    """HDR set up at the source, where the screen keeps its cells apart and no step of its own says so."""
    screen = layer.rig.devices[r.run.sink]
    if r.run.want.hdr == "off" or gives_hdr_up(layer, r) or not stored_by(screen):
        return
    source = layer.rig.devices[r.run.source]
    yield Step(
        key_of("hdr-set-up", r.run.uid, r.path, screen.firmware_in("plan")),
        "range",
        f"{source.label}: its HDR set-up, with {screen.label} in its HDR game mode",
        source.room,
        "what the source maps to is set for this very screen and mode",
        "The bright page just gone, the black one at the bottom; note the steps",
        f"The screen shows standard range: start an HDR title; look at {screen.label}’s banner",
        4,
        cautions=("burn_in",) if "burn_in" in screen.profile.cautions else (),
        hand=hand_of(source.profile.kind),
    )
