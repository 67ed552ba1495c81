"""All steps that lead from what was found to what is planned. Order of work: common practice."""

from __future__ import annotations

from collections.abc import Collection, Iterator, Sequence

from wavilex.core.advise.daylight import day_preset
from wavilex.core.chain.carry import run_result
from wavilex.core.chain.notes import notes
from wavilex.core.chain.paths import Layer
from wavilex.core.chain.reasons import render
from wavilex.core.chain.results import RunResult, proof_key
from wavilex.core.chain.sound import sound_headline, sound_of
from wavilex.core.gear.cells import RANGES, REST, said_by
from wavilex.core.link.check import LinkVerdict
from wavilex.core.link.words import cable_text
from wavilex.core.modes.cells import Cell, cells, stored_by
from wavilex.core.rig.hanging import Hanging, hanging
from wavilex.core.rig.model import Lead, Rig
from wavilex.core.rig.ops import Change, place_of
from wavilex.core.rig.visit_facts import newer
from wavilex.core.runsheet.at_source import source_steps
from wavilex.core.runsheet.light_words import hdr_words, white_words
from wavilex.core.runsheet.settings_steps import recheck_steps, setting_steps, unseen_steps
from wavilex.core.runsheet.shown import hear_key, selection_steps, show_key, show_steps
from wavilex.core.runsheet.step import POWER_OFF, POWER_ON, Step, ordered
from wavilex.core.ticks import key_of

_UPDATE_MINUTES = 20


def plan_steps(rig: Rig, *, off: bool = False, done: Collection[str] = ()) -> list[Step]:
    """Every step still to do, in an order that holds. off: everything was switched off and not on again; done: keys
    of steps ticked.
    """
    layer = Layer(rig, "plan")
    results = [run_result(layer, r) for r in rig.runs.values()]
    steps = [*_look(rig), *_firmware(rig)]
    wiring = list(_wiring(rig, results))
    if wiring or off:
        steps += _around(wiring, off, [s.key for s in steps if s.phase == "firmware"])
        steps += wiring
    before = POWER_ON if wiring or off else ""
    steps += selection_steps(rig, before)
    made = setting_steps(layer, before, done)
    steps += _ranges(layer, results, made)  # before what it waits for: a cell is finished before the next is begun
    steps += made
    steps += unseen_steps(layer, before)
    steps += recheck_steps(rig, [h.inp for r in results for h in r.path])
    steps += show_steps(rig, results)
    steps += list(source_steps(layer, results))
    steps += _proofs(layer, results)
    steps += _lag(rig, results)
    steps += _by_day(layer, results)
    steps.append(
        Step(
            "hand-over",
            "hand",
            "Go through the hand-over with the client and leave it there",
            minutes=10,
            see="The client can start a title on every run without you",
            needs=tuple(s.key for s in steps if s.phase == "prove"),
        )
    )
    return ordered(steps)


def _look(rig: Rig) -> Iterator[Step]:
    for device in rig.devices.values():
        if device.profile.newest_firmware and not device.firmware and not device.firmware_plan:
            yield Step(
                key_of("read", device.uid),
                "look",
                f"Read the firmware of {device.label}",
                device.room,
                f"some of what it does depends on it; the newest known is {device.profile.newest_firmware}",
                "A version to write down on Gear",
                "Look in its system or about page",
                minutes=2,
            )


def _firmware(rig: Rig) -> Iterator[Step]:
    for d in rig.devices.values():
        planned = d.firmware_plan if d.firmware_plan != d.firmware else ""
        version = planned or newer(d)
        if version:
            yield Step(
                key_of("update", d.uid, version),
                "firmware",
                f"Update {d.label} from {d.firmware or 'its present firmware'} to {version}",
                d.room,
                "what the plan counts on needs it" if planned else "the newest known is not installed",
                f"Its system page says {version}",
                "Restart it and read again; never cut its power while it updates",
                _UPDATE_MINUTES,
                cautions=("own_power",) if "own_power" in d.profile.cautions else (),
                ops=({"op": "set_device", "device": d.uid, "firmware": version},),
            )


def _wiring(rig: Rig, results: Sequence[RunResult]) -> list[Step]:
    """Leads that change, the strongest link first."""
    load = {x.hop.lead: _gbps(x.wanted) for r in results for x in r.links}
    moved = [x for x in rig.leads.values() if x.found != x.plan]
    moved.sort(key=lambda x: -load.get(x.uid, 0))
    return [_lead_step(rig, lead) for lead in moved]


def _gbps(v: LinkVerdict) -> float:
    """About how much a link carries, to rank links by."""
    if v.used is None:
        return 0
    if v.dp is not None:
        return float(v.dp.demand_bps / 10**9)
    if v.transport == "frl" and v.capacity.frl is not None:
        return float(v.used * v.capacity.frl.total_gbps)
    return float(v.used) * (v.capacity.tmds_hz or 0) * 30 / 1e9


def _lead_step(rig: Rig, lead: Lead) -> Step:
    names = [rig.socket_name(s) if s else "" for s in lead.plan]
    rooms = list(dict.fromkeys(rig.devices[s.device].room for s in (*lead.plan, *lead.found) if s))
    what = f"{cable_text(lead.cable)}, " if lead.digital else ""
    ends = f"{names[0] or 'loose'} to {names[1] or 'loose'}"
    stands = hanging(rig, lead)
    if stands == "out":
        title = f"Take lead {lead.label} out"
    elif stands == "new":
        title = f"New lead {lead.label} ({what}{_metres(lead)}): {ends}"
    elif stands == "unnoted":
        title = f"Lead {lead.label} ({what}{_metres(lead)}): {ends}"
    else:
        title = f"Lead {lead.label}: {ends}"
    marks = {c for s in (*lead.plan, *lead.found) if s is not None for c in rig.devices[s.device].profile.cautions}
    return Step(
        key_of("lead", lead.uid, lead.plan),
        "wire",
        title,
        ", ".join(r for r in rooms if r),
        _stood(rig, lead, stands),
        "Both plugs sit fully in; label each end",
        "Start with the lead that came with the source: known good",
        2,
        needs=(POWER_OFF,),
        cautions=tuple(c for c in ("old_supply", "large_screen", "tube") if c in marks),
        ops=({"op": "found_as_planned", "lead": lead.uid},),
    )


def _stood(rig: Rig, lead: Lead, stands: Hanging) -> str:
    """Where a lead was found, in words."""
    if stands == "unnoted":
        return "nobody noted whether it hangs there already: if it does, tick"
    if stands == "new":
        return "none was found there"
    return "was " + " to ".join(rig.socket_name(s) if s else "loose" for s in lead.found)


def _metres(lead: Lead) -> str:
    return f"{lead.cable.length_mm / 1000:g} m" if lead.cable.length_mm else "length to measure"


def _around(wiring: list[Step], off: bool, firmware: list[str]) -> list[Step]:
    """Off before the first lead, on after the last."""
    steps = []
    if not off:
        steps.append(
            Step(
                POWER_OFF,
                "wire",
                "Everything off at the mains, volume down",
                "",
                "leads go in and out with power off",
                "No light on any box",
                "A box in standby is not off: pull its plug",
                2,
                needs=tuple(firmware),
                cautions=("power_off", "volume"),
            )
        )
    steps.append(
        Step(
            POWER_ON,
            "select",
            "Power on: screens first, then boxes between, sources last",
            "",
            "a source reads what is there when it starts",
            "Every screen shows its input’s banner",
            "Re-plug both ends of the link that stays dark",
            2,
            20,
            needs=(POWER_OFF, *(s.key for s in wiring)),
        )
    )
    return steps


def _ranges(layer: Layer, results: Sequence[RunResult], made: Sequence[Step]) -> Iterator[Step]:
    """Standard range before HDR; HDR is calibrated on the source while the screen is in its HDR game mode.

    A screen that stores things apart is set cell by cell. made: the steps that set values.
    """
    apart = {r.run.sink for r in results if stored_by(layer.rig.devices[r.run.sink])}
    for uid in sorted(apart):
        yield from _cells(layer, uid, made)
    for r in results:
        if r.run.sink in apart:
            continue
        if r.run.want.hdr == "off" or not r.good:
            continue
        room = layer.rig.devices[r.run.sink].room
        signal = r.asked.name if r.asked else ""
        first = key_of("sdr", r.run.uid, signal, r.path)
        yield Step(
            first,
            "range",
            f"{r.run.label}: set the picture in standard range",
            room,
            "standard range and HDR are stored apart",
            "A quiet picture, near-black steps told apart",
            "Is the console’s input selected? Special modes grey the rest out",
            5,
            rests=(r.run.sink,),
        )
        yield Step(
            key_of("hdr", r.run.uid, signal, r.path),
            "range",
            f"{r.run.label}: then HDR, calibrated on the source",
            room,
            "only while the screen is in its HDR game mode",
            "The black page at the bottom, the bright one just gone",
            "The screen shows standard range: start an HDR title",
            6,
            needs=(first,),
            cautions=("burn_in",) if "burn_in" in layer.rig.devices[r.run.sink].profile.cautions else (),
            rests=(r.run.source, r.run.sink),
        )


def _cells(layer: Layer, screen: str, made: Sequence[Step]) -> Iterator[Step]:
    """The visit of each cell, once its own values are set; where values are kept in cells, that visit only looks."""
    device = layer.rig.devices[screen]
    verb = "look over the picture of" if device.profile.in_cells else "set"
    pages = [s for s in made if s.phase == "range"]
    known: dict[tuple[tuple[str, str], ...], str] = {}
    for c in cells(layer, screen):
        known[c.at] = c.key
        hdr = c.hdr
        sister = tuple((d, RANGES[REST] if d == "range" else v) for d, v in c.at)
        runs = " and ".join(layer.rig.runs[r].label for r in c.runs)
        yield Step(
            c.key,
            "range",
            f"{device.label}: {verb} {', '.join(v for _, v in c.at)}",
            device.room,
            f"stored apart; {runs} meet{'s' if len(c.runs) == 1 else ''} it",
            _lit(layer, screen, c),
            "Is the console’s input selected? Special modes grey the rest out",
            3,
            needs=(
                *((known[sister],) if hdr and sister in known else ()),
                *(s.key for s in pages if any(_in_cell(op, c) for op in s.ops)),
            ),
            cautions=("burn_in",) if hdr and "burn_in" in device.profile.cautions else (),
            rests=(screen,),
        )


def _lit(layer: Layer, screen: str, cell: Cell) -> str:
    """What is to be seen at the visit of a cell, with its light in numbers."""
    if cell.hdr:
        clicks = hdr_words(layer, screen, cell.spot, cell.runs)
        return "HDR calibrated on the source, in the HDR game mode" + (f". {clicks}" if clicks else "")
    return f"A quiet picture, near-black told apart. {white_words(layer, screen, cell.spot)}"


def _in_cell(op: Change, cell: Cell) -> bool:
    """Does a change set a value of a cell?"""
    place = place_of(op)
    if place is None or place[0] != cell.device:
        return False
    return cell.spot.kept(said_by(place[1])) == place[1]


def _proofs(layer: Layer, results: Sequence[RunResult]) -> Iterator[Step]:
    for r in results:
        if not r.path:
            continue
        said = [render(n, layer.rig) for n in notes(layer, r) if n.code in ("read_out", "false_read_out", "home_rate")]
        name = r.asked.name if r.asked else r.run.want.mode
        sound = sound_headline(layer.rig, sound_of(layer, r))
        lead = "" if r.good else "It is not expected yet. "
        yield Step(
            proof_key(r),
            "prove",
            f"{r.run.label}: prove {name} in a title",
            layer.rig.devices[r.run.sink].room,
            "a list is a promise, a running title is proof",
            " ".join([f"{lead}The source’s list, each box’s page, the banner read as Prove has them.", *said]),
            f"{render(r.limiting, layer.rig)}"
            if r.limiting
            else "Step through the modes from the top: which one sticks?",
            4,
            needs=(show_key(r),),
            rests=_boxes(r),
            run=(r.run, r.path),
        )
        yield Step(
            hear_key(r, sound),
            "prove",
            f"{r.run.label}: hear it",
            layer.rig.devices[r.run.sink].room,
            sound,
            "Sound with the picture, no drop-outs at the full rate",
            "Follow the way box by box; is each one on?",
            1,
            cautions=("volume",),
            rests=_boxes(r),
            run=(r.run, r.path),
        )


def _boxes(result: RunResult) -> tuple[str, ...]:
    """The boxes of a run's way."""
    return tuple(dict.fromkeys(s.device for h in result.path for s in (h.out, h.inp)))


def _by_day(layer: Layer, results: Sequence[RunResult]) -> Iterator[Step]:
    """Films have a preset of their own by day: shown to the client, and left at the one for the dark."""
    by_screen: dict[tuple[str, str], list[str]] = {}
    for r in results:
        day = day_preset(layer, r)
        if day:
            by_screen.setdefault((r.run.sink, day), []).append(r.run.label)
    for (uid, day), runs in by_screen.items():
        device = layer.rig.devices[uid]
        preset, names = device.profile.preset, " and ".join(runs)
        assert preset is not None
        yield Step(
            key_of("by-day", uid, day, tuple(runs)),
            "hand",
            f"{device.label}: show the client {preset.label} → {preset.option_label(day)}, for {names} by day",
            device.room,
            "films have a preset for the day beside the one for the dark, each with values of its own",
            "The client finds both; it is left at the one for the dark",
            preset.where and f"Look on the {preset.where}",
            2,
        )


def _lag(rig: Rig, results: Sequence[RunResult]) -> Iterator[Step]:
    for uid in dict.fromkeys(r.run.sink for r in results if r.run.want.low_lag and r.path):
        device = rig.devices[uid]
        modes = ", ".join(device.profile.pictures[:3]) or "the modes in use"
        yield Step(
            key_of("lag", uid, device.firmware_in("plan")),
            "lag",
            f"Measure the lag of {device.label}: {modes}",
            device.room,
            "a feeling is a guess",
            f"Under {device.profile.lag_bound_ms or 40} ms in the mode that is played in",
            "Game mode greyed out: is the input with the console selected?",
            8,
            cautions=("flashing",),
        )


def minutes_of(steps: Sequence[Step]) -> int:
    """How long the steps take together, waits included, in minutes."""
    return sum(s.minutes for s in steps) + -(-sum(s.wait_s for s in steps) // 60)
