"""A run at its very best: its ends joined directly, by the best lead, with no setting, firmware or input in the way.

Boxes between and conditions of quirks only take away. So what is blocked even here, at every pair of sockets, is not to
be had by any change of this job; that is the only ground on which another box is asked for. A converter may send what
its source does not: where the job holds one that the source could be plugged into, nothing is proved.
"""

from __future__ import annotations

from collections.abc import Collection, Iterator
from dataclasses import dataclass, replace
from itertools import product
from math import prod

from wavilex.core.advise.moves_kinds import unlike
from wavilex.core.chain.carry import run_result
from wavilex.core.chain.paths import Layer, Path, States
from wavilex.core.chain.reasons import Reason
from wavilex.core.chain.results import RunResult
from wavilex.core.gear.ports import Port
from wavilex.core.gear.profile import Profile
from wavilex.core.gear.quirks import Limits, Quirk
from wavilex.core.link.cable import BEST_OF, Cable
from wavilex.core.rig.model import Device, Lead, Rig, Run, Socket, Want
from wavilex.core.rig.plugging import lead_kind

_PROFILE_BYTES = 4000
_LEAD = "best"
_MOST_WAYS, _BYTES = 100, 300  # choices of sockets looked at for a row of boxes; what its answer is kept as
_PROVING = (
    "source_mode", "panel_rate", "mode_not_taken", "no_hdr", "no_dynamic_hdr", "no_vrr", "no_vrr_kind",
    "no_low_latency", "no_encoding", "link_rate", "no_compression", "no_protection",
    "hdr_not_at_mode", "no_common_link", "dvi_format",
)  # fmt: skip  # blocked by what a box is, whatever it is told


@dataclass(frozen=True, slots=True)
class Barred:
    """Why a want is not to be had. items: blocked at every pair of sockets; none, where only all together are.

    reasons: of the pair that comes nearest, said of `rig`, in which the two are joined directly.
    """

    items: tuple[str, ...]
    reasons: tuple[Reason, ...]
    rig: Rig

    @property
    def together(self) -> bool:
        """Is each part to be had for itself?"""
        return not self.items


def barred(
    rig: Rig, run: Run, want: Want | None = None, states: States | None = None, must: Collection[str] = (),
    *, alone: bool = False,
) -> Barred | None:  # fmt: skip
    """Why no change of this job gives a run its want; None where that is not proved.

    must: items that are to be met though a run is well without them. alone: of the two ends by themselves, whatever
    converters and adapters the job holds.
    """
    states = states or States()
    kinds = {p.kind for p in rig.devices[run.source].profile.outputs()}
    if not alone and any(
        (d.profile.converts or d.profile.adapts) and kinds & {p.kind for p in d.profile.inputs()}
        for d in rig.devices.values()
    ):
        return None
    nearest: tuple[tuple[Reason, ...], Rig] | None = None
    shared: set[str] | None = None
    for direct in _direct(rig, run, states):
        found = [
            _blocked(run_result(Layer(r, "plan", states), run, want), must) for r in (direct, replace(direct, facts={}))
        ]
        if any(reasons is None for reasons in found):
            return None
        reasons = tuple(r for r in found[0] or () if r.item in {x.item for x in found[1] or ()})
        if not reasons:
            return None
        items = {r.item for r in reasons}
        shared = items if shared is None else shared & items
        if nearest is None or len(reasons) < len(nearest[0]):
            nearest = reasons, direct
    if nearest is None or shared is None:
        return None
    return Barred(tuple(sorted(shared)), nearest[0], nearest[1])


def could(rig: Rig, run: Run, out: Socket, inp: Socket, states: States) -> bool:
    """Is nothing proved against a run at a pair of sockets of its two ends, once all is set and updated?"""
    return any(
        not _blocked(run_result(Layer(direct, "plan", states), run), ())
        for direct in _direct(rig, run, states)
        if direct.leads[_LEAD].plan == (out, inp)
    )


def chain_could(layer: Layer, run: Run, want: Want, path: Path, must: Collection[str]) -> bool:
    """Might the boxes of a path carry a want at some sockets of theirs, all set and updated, over the best leads?

    False only where that is proved: whatever mends the run takes it through other boxes.
    """
    boxes = [layer.rig.devices[uid] for uid in (path[0].out.device, *(h.inp.device for h in path))]
    ports = [[unlike(layer, d, d.profile.outputs()) for d in boxes[:-1]],
             [unlike(layer, d, d.profile.inputs()) for d in boxes[1:]]]  # fmt: skip
    ways = prod(len(p) for side in ports for p in side)
    if ways > _MOST_WAYS or any(not layer.rig.leads[h.lead].digital or d.profile.converts or d.profile.draws
                                or d.profile.adapts
                                for h, d in zip(path, boxes, strict=False)):  # fmt: skip
        return True
    facts = tuple((f, repr(v)) for f, v in layer.rig.facts.items() if f[0] in {d.uid for d in boxes})
    key = ("chain", tuple(d.profile_digest for d in boxes), want, tuple(must), facts)
    kept: bool | None = layer.states.memory.get(key)
    if kept is None:
        kept = any(
            not _blocked(run_result(x, x.rig.runs[run.uid], want), must) for x in _chains(layer, run, boxes, ports)
        )
        layer.states.memory.put(key, kept, _BYTES)
    return kept


def _chains(layer: Layer, run: Run, boxes: list[Device], ports: list[list[list[Port]]]) -> Iterator[Layer]:
    """The boxes in a row, at every choice of their sockets."""
    bared = [replace(d, profile=bare(d, layer.states), profile_digest=f"{d.profile_digest}-bare") for d in boxes]
    devices = {d.uid: d for d in bared}
    for outs in product(*ports[0]):
        for ins in product(*ports[1]):
            leads = {}
            if not all(out.joins(inp) for out, inp in zip(outs, ins, strict=True)):
                continue
            for n, (out, inp) in enumerate(zip(outs, ins, strict=True)):
                ends = (Socket(bared[n].uid, out.id), Socket(bared[n + 1].uid, inp.id))
                leads[f"{_LEAD}{n}"] = _best_lead(f"{_LEAD}{n}", out, ends)
            row = replace(layer.rig, devices=devices, leads=leads, runs={run.uid: replace(run, way=())}, settings={})
            yield Layer(row, "plan", layer.states)
            if layer.rig.facts:
                yield Layer(replace(row, facts={}), "plan", layer.states)


def _blocked(result: RunResult, must: Collection[str]) -> list[Reason] | None:
    """What blocks by what the boxes are; None where the run is not joined so, or blocked for another reason."""
    blocking = [r for i in result.items if i.blocking or i.key in must for r in i.reasons if r.verdict == "blocked"]
    if any(r.item == "joined" for r in blocking):
        return None
    # a source that protects everything may be told not to
    return [r for r in blocking if r.code in _PROVING and not r.data.get("everything")]


def _direct(rig: Rig, run: Run, states: States) -> Iterator[Rig]:
    """The run's ends alone, joined at each pair of sockets that a lead can join."""
    source, sink = rig.devices[run.source], rig.devices[run.sink]
    ends = {
        d.uid: replace(d, profile=bare(d, states), profile_digest=f"{d.profile_digest}-bare") for d in (source, sink)
    }
    for out in source.profile.outputs():
        for inp in sink.profile.inputs():
            if out.digital and out.joins(inp):
                plugged = (Socket(source.uid, out.id), Socket(sink.uid, inp.id))
                lead = _best_lead(_LEAD, out, plugged)
                yield replace(rig, devices=ends, leads={_LEAD: lead}, runs={run.uid: run}, settings={})


def _best_lead(uid: str, out: Port, ends: tuple[Socket, Socket]) -> Lead:
    return Lead(uid, "the best lead", Cable(grade=BEST_OF[out.kind]), lead_kind(out), ends, ends)


def bare(device: Device, states: States) -> Profile:
    """A box's profile with those limits only that nothing one does can end."""
    key = ("bare", device.profile_digest)
    kept: Profile | None = states.memory.get(key)
    if kept is None:
        quirks = tuple(q for q in device.profile.quirks if _stays(q))
        fields = device.profile.model_fields_set | {"quirks"}
        kept = Profile.model_construct(fields, **{**dict(device.profile), "quirks": quirks})
        states.memory.put(key, kept, _PROFILE_BYTES)
    return kept


def _stays(quirk: Quirk) -> bool:
    if not isinstance(quirk, Limits) or quirk.comes_and_goes or quirk.firmware is not None:
        return False
    return quirk.when is None or not (quirk.when.settings() or quirk.when.asks_wiring)
