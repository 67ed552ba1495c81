"""Better sound by the return channel: a box that takes sound back, put into the screen's socket that sends it.

Usual after somebody's bypass: the source sits in the only socket from which sound comes back (common practice).
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from itertools import islice
from typing import NamedTuple

from wavilex.core.advise.effects import Standing, effects
from wavilex.core.advise.moves import honours_marks, spans
from wavilex.core.advise.moves_settings import Move
from wavilex.core.advise.search import Asked, Way, search
from wavilex.core.chain.carry import run_result
from wavilex.core.chain.paths import Layer
from wavilex.core.chain.sound import FORMAT_NAMES
from wavilex.core.errors import ChangeError
from wavilex.core.gear.ports import SOUND_FORMATS
from wavilex.core.rig.changes import apply
from wavilex.core.rig.edit_common import plain
from wavilex.core.rig.model import Socket
from wavilex.core.rig.ops import Change
from wavilex.core.rig.plugging import new_lead

_MOST_MOVES = 16  # boxes and sockets tried
_BUDGET = 60  # rigs looked at to keep the picture as wanted afterwards
_INSIDE = frozenset({"setting", "firmware"})


class Heard(NamedTuple):
    """A way to better sound, and who plays it then, as what at best, in words."""

    way: Way
    words: str


def better_sound(start: Layer, asked: Asked) -> Heard | None:
    """The best such way that takes nothing from any run; None where there is none."""
    now = Standing(start)
    had = now.sound(asked.run.uid)
    least = SOUND_FORMATS.index(had[1]) if had else len(SOUND_FORMATS)
    found: list[tuple[int, int, Heard]] = []
    for player, move in islice(_moves(start, asked), _MOST_MOVES):
        if not asked.go_on():
            break
        way = _kept_well(start, asked, move)
        if way is None:
            continue
        ops = [op for m in way.moves for op in m.ops]
        then = Standing(way.after)
        heard = then.sound(asked.run.uid)
        if heard is None or heard[0] != player or SOUND_FORMATS.index(heard[1]) >= least:
            continue
        if not any(e.worse for e in effects(now, then, ops)):
            words = f"{start.rig.devices[player].label} could as {FORMAT_NAMES[heard[1]]}"
            found.append((SOUND_FORMATS.index(heard[1]), way.cost, Heard(way, words)))
    return min(found, key=lambda x: x[:2])[2] if found else None


def _moves(view: Layer, asked: Asked) -> Iterator[tuple[str, Move]]:
    """Each box with an output that takes sound back, into each input of the run's screen that sends it."""
    rig, run = view.rig, asked.run
    for box in rig.devices.values():
        if box.profile.role not in ("repeater", "sound"):
            continue
        for port in box.profile.ports:
            if port.direction != "out" or port.returns is None:
                continue
            for there in rig.devices[run.sink].profile.inputs():
                out, inp = Socket(box.uid, port.id), Socket(run.sink, there.id)
                held = view.lead_at(inp)
                if there.returns is None or there.plug != port.plug or (held and held is view.lead_at(out)):
                    continue
                move = _into(view, out, inp)
                if move is not None and honours_marks(view, move):
                    yield box.uid, move


def _into(view: Layer, out: Socket, inp: Socket) -> Move | None:
    """The lead of an output into an input; what sits there goes where that lead was, or into a free input beside it.
    None where a lead does not reach, or no input is free.
    """
    rig, name = view.rig, view.name
    own, other = view.lead_at(out), view.lead_at(inp)
    where = f"at {rig.socket_name(inp)}"
    if own is not None and not spans(view, own, out, inp):
        return None
    here = own.ends(name)[1] if own else None
    if own is not None and other is not None and here is not None and here.device == inp.device:
        swapped: Change = {"op": "swap_leads", "layer": name, "end": "b", "leads": [own.uid, other.uid],
                           "select": [{"device": here.device, "value": here.port}]}  # fmt: skip
        return Move("swap", (swapped,), f"Swap leads {own.label} and {other.label}: {own.label} {where}")
    ops: list[Change] = []
    moved = ""
    if other is not None:
        free = next((s for s in _free_beside(view, inp)), None)
        if free is None:
            return None
        ops += [{"op": "move_lead", "layer": name, "lead": other.uid, "end": "b", "to": plain(free)},
                {"op": "select_input", "layer": name, "device": free.device, "value": free.port}]  # fmt: skip
        moved = f"Move lead {other.label} to {rig.socket_name(free)}, and "
    if own is not None:
        ops.append({"op": "move_lead", "layer": name, "lead": own.uid, "end": "b", "to": plain(inp)})
        return Move("swap" if other else "input", tuple(ops), f"{moved or 'Put '}lead {own.label} {where}")
    ops.append(new_lead(rig, name, out, inp))
    return Move("lead", tuple(ops), f"{moved}{'a' if moved else 'A'} new lead from {rig.socket_name(out)} {where}")


def _free_beside(view: Layer, inp: Socket) -> Iterator[Socket]:
    """Inputs of the same box and plug without a lead."""
    profile = view.rig.devices[inp.device].profile
    own = profile.port(inp.port)
    for port in profile.inputs():
        socket = Socket(inp.device, port.id)
        if own is not None and port.plug == own.plug and view.lead_at(socket) is None:
            yield socket


def _kept_well(start: Layer, asked: Asked, move: Move) -> Way | None:
    """The move, with what it then takes to give the run its want; None where it would take the want away."""
    try:
        after = Layer(apply(start.rig, move.ops)[0], start.name, start.states)
    except ChangeError:
        return None
    if run_result(after, asked.run).good:
        return Way((move,), move.cost, after)
    inside = replace(asked, kinds=_INSIDE, budget=_BUDGET, spare_ways=1, must=frozenset())
    found = search(after.rig, inside, start.states)
    if found.ways:
        way = found.ways[0]
        return Way((move, *way.moves), move.cost + way.cost, way.after)
    return None if run_result(start, asked.run).good else Way((move,), move.cost, after)
