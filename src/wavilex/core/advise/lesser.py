"""What a run can have at best where it cannot have all it wants: the best for rate, and for detail and HDR.

Lesser wants are held against the run at its very best (`relaxed`), so that no setting, socket or lead as it happens to
be makes them smaller than they need be.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace
from itertools import islice

from wavilex.core.advise.relaxed import barred
from wavilex.core.chain.paths import States
from wavilex.core.rig.model import Rig, Run, Want
from wavilex.core.video.codes import listed_timing
from wavilex.core.video.mode import Mode

_MOST_ASKED = 160  # lesser wants looked at for each of the two
_MOST_GIVEN = 5  # and given, one after the other, until one is found to be had
Give = Callable[[Want], Want]


@dataclass(frozen=True, slots=True)
class Lesser:
    """A want that is not proved out of reach, and what it goes without."""

    want: Want
    goes_without: tuple[str, ...]


def _no_vrr(w: Want) -> Want:
    return replace(w, vrr=False)


def _static(w: Want) -> Want:
    return replace(w, hdr="static") if w.hdr == "dynamic" else w


def _no_hdr(w: Want) -> Want:
    return replace(w, hdr="off", bits=8)


def _any_colour(w: Want) -> Want:
    return replace(w, chroma="any")


def _shallow(w: Want) -> Want:
    return replace(w, chroma="any", bits=8) if w.hdr == "off" else replace(w, chroma="any", bits=min(w.bits, 10))


def _unprotected(w: Want) -> Want:
    return replace(w, protected=False)


# what goes first, where something must: colour and dynamic metadata before size, size before variable refresh or HDR,
# for rate; HDR last, for detail
_SLIGHT: tuple[tuple[Give, ...], ...] = ((), (_any_colour,), (_shallow,), (_static,), (_static, _shallow))
_FOR_RATE: tuple[tuple[Give, ...], ...] = (
    (), (_no_hdr,), (_no_vrr,), (_no_vrr, _no_hdr), (_no_vrr, _no_hdr, _unprotected),
)  # fmt: skip
_FOR_DETAIL: tuple[tuple[Give, ...], ...] = (
    (), (_any_colour,), (_shallow,), (_no_vrr,), (_no_vrr, _shallow), (_static,), (_no_vrr, _static), (_no_hdr,),
    (_no_hdr, _shallow), (_no_vrr, _no_hdr), (_no_vrr, _no_hdr, _shallow),
    (_no_vrr, _no_hdr, _shallow, _unprotected),
)  # fmt: skip


def lesser_wants(rig: Rig, run: Run, states: States) -> tuple[Iterator[Lesser], Iterator[Lesser]]:
    """Lesser wants not proved out of reach: the best for rate first, and the best for detail and HDR first."""
    modes = shared_modes(rig, run)

    def open_ones(wants: Iterator[Want]) -> Iterator[Lesser]:
        given = 0
        for want in islice(dict.fromkeys(w for w in wants if w != run.want), _MOST_ASKED):
            if barred(rig, run, want, states) is None:
                yield Lesser(want, given_up(run.want, want))
                given += 1
                if given == _MOST_GIVEN:
                    return

    return open_ones(_by_rate(run.want, modes)), open_ones(_by_detail(run.want, modes))


def shared_modes(rig: Rig, run: Run) -> list[Mode]:
    """Modes both ends list at some socket, no larger and no faster than the wanted one; that one among them."""
    ends: list[set[Mode]] = []
    for uid in (run.source, run.sink):
        profile = rig.devices[uid].profile
        lists = [p.video.modes if p.video.modes is not None else profile.video.modes for p in profile.ports]
        if "any" not in lists:  # an end that sends or takes any lists none of its own
            ends.append({listed_timing(m).mode for listed in lists if isinstance(listed, tuple) for m in listed})
    most = run.want.mode
    both = set.intersection(*ends) if ends else set()
    shared = [
        m for m in both if not m.interlaced and m.hz <= most.hz and m.width * m.height <= most.width * most.height
    ]
    return list(dict.fromkeys([most, *sorted(shared, key=lambda m: (-m.hz, -m.width * m.height, m))]))


def _by_rate(want: Want, modes: Sequence[Mode]) -> Iterator[Want]:
    for hz in sorted({m.hz for m in modes}, reverse=True):
        for gives in _FOR_RATE:
            for mode in sorted((m for m in modes if m.hz == hz), key=lambda m: -m.width * m.height):
                for slight in _SLIGHT:
                    yield _less(want, mode, (*gives, *slight))


def _by_detail(want: Want, modes: Sequence[Mode]) -> Iterator[Want]:
    for size in sorted({m.width * m.height for m in modes}, reverse=True):
        for gives in _FOR_DETAIL:
            for mode in sorted((m for m in modes if m.width * m.height == size), key=lambda m: -m.hz):
                yield _less(want, mode, gives)


def _less(want: Want, mode: Mode, gives: Sequence[Give]) -> Want:
    want = replace(want, mode=mode)
    for give in gives:
        want = give(want)
    return want


def given_up(want: Want, less: Want) -> tuple[str, ...]:
    """What a lesser want goes without, in words."""
    out = []
    if less.mode != want.mode:
        out.append(f"{want.mode.name}: {less.mode.name} instead")
    if less.hdr != want.hdr:
        out.append("HDR" if less.hdr == "off" else "dynamic metadata: static HDR instead")
    if less.vrr != want.vrr:
        out.append("variable refresh")
    if less.chroma != want.chroma:
        out.append("4:4:4" if want.chroma == "444" else "4:2:2")
    if less.bits < want.bits and less.hdr == want.hdr:
        out.append(f"{want.bits} bits")
    if less.protected != want.protected:
        out.append("protected films")
    return tuple(out)
