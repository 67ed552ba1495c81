"""Rigs to try diagnosis on: the demo’s runs are handed in, templates and random ones are made here, by seed."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from wavilex.core.advise.setups import SETUPS, Setup, setup_ops
from wavilex.core.chain.paths import Layer
from wavilex.core.draw import Draw
from wavilex.core.errors import WavilexError
from wavilex.core.fault.checks import Check
from wavilex.core.fault.complaints import COMPLAINTS
from wavilex.core.fault.evidence import AS_NOTED, CHECK, COMPLAINT, WRONG_COMPLAINT, Answer, likelihood
from wavilex.core.fault.fault import Fault
from wavilex.core.fault.rank import Bench, bench_of
from wavilex.core.fault.scene import scene_of
from wavilex.core.fault.world import World
from wavilex.core.prove.line import NO, YES
from wavilex.core.rig.changes import apply
from wavilex.core.rig.model import Rig
from wavilex.core.rig.ops import Change, RunData, WantData

_MODES = ("3840x2160@60", "3840x2160@120", "2560x1440@120", "1920x1080@120", "1920x1080@60")
_HALF = 0.5


@dataclass(frozen=True)
class Rigged:
    """A run to try on. name: `demo/den`, `template/console-tv`, `random/17`."""

    name: str
    rig: Rig
    run: str

    def bench(self) -> Bench | None:
        """None where it is not joined."""
        return bench_of(scene_of(Layer(self.rig, "found"), self.rig.runs[self.run]))


def templates() -> Iterator[Rigged]:
    """Every set-up with its usual boxes."""
    for setup in SETUPS:
        rig = _set_up(setup, {}, {"mode": "3840x2160@60", "hdr": "static", "low_lag": True})
        if rig is not None:
            yield Rigged(f"template/{setup.id}", rig, "run")


def random_rig(seed: int) -> Rigged | None:
    """A set-up with any boxes it may have, any want, about half of its settings noted, any leads."""
    rnd = Draw(f"diagnosis {seed}")
    setup = rnd.choice(SETUPS)
    classes = {p.id: rnd.choice(p.classes) for p in setup.parts}
    want: WantData = {
        "mode": rnd.choice(_MODES), "hdr": rnd.choice(("off", "static")), "vrr": rnd.chance(_HALF),
        "low_lag": rnd.chance(_HALF),
    }  # fmt: skip
    rig = _set_up(setup, classes, want)
    if rig is None:
        return None
    ops: list[Change] = []
    for device in rig.devices.values():
        if device.profile.newest_firmware and rnd.chance(_HALF):
            ops.append({"op": "set_device", "device": device.uid, "firmware": device.profile.newest_firmware})
        for setting in device.profile.settings:
            for scope in setting.ports or ("",):
                if setting.options and not setting.in_cells and rnd.chance(_HALF):
                    value = rnd.choice(setting.options).id
                    ops.append({"op": "set_setting", "layer": "found", "device": device.uid, "scope": scope,
                                "key": setting.id, "value": value})  # fmt: skip
    for lead in rig.leads.values():
        grade = rnd.choice(("ultra", "ultra", "premium", "unknown"))
        ops.append(
            {"op": "replace_lead", "lead": lead.uid, "grade": grade, "length_mm": rnd.choice((1000, 2000, 6000))}
        )
    return Rigged(f"random/{seed}", apply(rig, ops)[0], "run")


def _set_up(setup: Setup, classes: dict[str, str], want: WantData) -> Rig | None:
    rig = Rig(title=setup.title)
    try:
        rig = apply(rig, setup_ops(rig, setup.id, classes, {}))[0]
        ids = [p.id for p in setup.parts]
        run: RunData = {
            "uid": "run",
            "label": setup.title,
            "source": ids[0],
            "sink": next(u for u, d in rig.devices.items() if d.profile.role == "screen"),
            "want": want,
        }
        rig = apply(rig, [{"op": "add_run", "run": run}])[0]
        found = [{"op": "found_as_planned", "lead": uid} for uid in rig.leads]
        rig = apply(rig, found)[0]
    except WavilexError:
        return None
    return rig if Layer(rig, "found").paths(rig.runs["run"]) else None


def visible(bench: Bench, world: World) -> bool:
    """Would anybody complain? A fault that nobody notices is no case."""
    return bool(complaints_of(bench, world))


def complaints_of(bench: Bench, world: World) -> list[Answer]:
    """What a client says of a world: complaints that are likely there and were not before."""
    return [
        Answer(f"{COMPLAINT}{code}", YES, WRONG_COMPLAINT) for code in COMPLAINTS
        if world.felt[code].likely >= _HALF and bench.base.felt[code].likely < world.felt[code].likely
    ]  # fmt: skip


def honest(check: Check, world: World) -> Answer | None:
    """What an honest eye answers; None where the world does not say."""
    best = max(check.outcomes, key=lambda o: likelihood(check.answer(o.value), world))
    if check.kind == "read" and world.lines.get(check.key) is None:
        return None
    if check.kind == "look":
        return check.answer(world.looks.get(check.key[len(CHECK) :], AS_NOTED))
    return check.answer(best.value)


def not_so(check: Check, answer: Answer, rnd: Draw) -> Answer:
    """A wrong answer of the same check."""
    others = [o.value for o in check.outcomes if o.value != answer.value] or [NO]
    return check.answer(rnd.choice(others))


def alike(a: World, b: World) -> bool:
    """Can nothing that is read, looked at or felt tell two worlds apart?"""
    return (
        dict(a.lines) == dict(b.lines) and a.looks == b.looks
        and all(abs(a.felt[c].likely - b.felt[c].likely) < 1e-9 for c in COMPLAINTS)
    )  # fmt: skip


def names(faults: tuple[Fault, ...]) -> str:
    """Faults in one line."""
    return "; ".join(f.id for f in faults) or "nothing"
