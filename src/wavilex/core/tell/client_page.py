"""The one page that the client keeps: what plays where, which button, what not to touch, what to do when it goes black.

Nothing that nobody saw is told as seen: what is only planned is told as to come.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence

from wavilex.core.advise.settings_plan import settings_plan
from wavilex.core.chain.paths import Layer
from wavilex.core.chain.results import RunResult, proof_key
from wavilex.core.chain.sound import sound_headline, sound_of
from wavilex.core.gear.words import cell_words
from wavilex.core.prove.grounds import goes_on, latest
from wavilex.core.prove.line import HELD, YES, holds
from wavilex.core.prove.pages import MOVES
from wavilex.core.rig.grounds import changed_since
from wavilex.core.rig.model import Observation, Rig
from wavilex.core.rig.style import QUESTIONS, followed
from wavilex.core.rig.visit_facts import kept_values
from wavilex.core.runsheet.shown import hear_key
from wavilex.core.tell.codes import Codes
from wavilex.core.tell.hand_shapes import ClientPage, PlaysRow

_HEARD = "/pattern.sound"  # a pattern of the probe page: sides and a click
_OFF_S = 30  # seconds without mains before boxes are on again: common practice
_FLASHING = (
    "Fast games flash. Who is sensitive to flashing light, or feels unwell while watching, stops and leaves the room."
)


def client_page(layer: Layer, results: Sequence[RunResult], codes: Codes, ticked: Mapping[str, str]) -> ClientPage:
    """The page for the plan, in words that need no trade. ticked: steps that were ticked and hold: when, by key."""
    rig = layer.rig
    return {
        "plays": [_plays(layer, r, ticked) for r in results if r.path],
        "not_yet": [f"{r.run.label}: not connected yet" for r in results if not r.path],
        "leave": list(_leave(layer)),
        "yours": [
            f"{rig.devices[k.device].place(k.scope)}: {_named(rig, k.device, k.key, k.kept.value)}, as you set it "
            f"(“{k.kept.because}”)" for k in kept_values(rig)
        ],
        "black": _black(rig, results, codes),
        "updates": _updates(rig),
        "cautions": [_FLASHING, *_cautions(rig)],
    }  # fmt: skip


def _named(rig: Rig, device: str, key: str, value: str) -> str:
    setting = rig.devices[device].profile.setting(key)
    return f"{setting.label} {setting.option_label(value)}" if setting else f"{key} {value}"


def _plays(layer: Layer, result: RunResult, ticked: Mapping[str, str]) -> PlaysRow:
    """What plays where, and which input is called up for it."""
    rig, run = layer.rig, result.run
    source, screen = rig.devices[run.source], rig.devices[run.sink]
    press = [f"{screen.label}: input {_input(rig, result.path[-1].inp.device, result.path[-1].inp.port)}"]
    press += [
        f"{rig.devices[h.inp.device].label}: input {_input(rig, h.inp.device, h.inp.port)}"
        for h in reversed(result.path[:-1]) if len(rig.devices[h.inp.device].profile.inputs()) > 1
    ]  # fmt: skip
    return {
        "what": source.label, "room": screen.room, "on": screen.label, "press": press,
        "picture": _picture(layer, result, ticked),
        "sound": _sound(layer, result, ticked),
    }  # fmt: skip


def _with_day(what: str, done: str, at: str) -> str:
    """`1080p60 (not seen yet)`, `1080p60 (seen 2026-11-25)`. at: ISO 8601, "" never."""
    return f"{what} ({f'{done} {at[:10]}' if at else f'not {done} yet'})"


def _sound(layer: Layer, result: RunResult, ticked: Mapping[str, str]) -> str:
    """Where its sound comes from, and whether somebody heard it so."""
    rig, answer = layer.rig, sound_of(layer, result)
    if answer.silent or answer.best is None:
        return answer.silent.rstrip(".")
    on = [rig.devices[uid].label for uid in answer.best.on]
    words = f"Sound from {rig.devices[answer.best.device].label}"
    words += f", with {' and '.join(on)} on" if on else ""
    at = _last(rig, result, _HEARD, lambda o: o.answer == "as_predicted")
    at = at or ticked.get(hear_key(result, sound_headline(rig, answer)), "")
    return _with_day(words, "heard", "" if goes_on(layer, result.run, result.path) else at)


def _input(rig: Rig, device: str, port: str) -> str:
    socket = rig.devices[device].profile.port(port)
    return socket.label if socket else port


def _picture(layer: Layer, result: RunResult, ticked: Mapping[str, str]) -> str:
    """What is seen, and when somebody saw it so: its mode, then what comes with it, told apart where only some was."""
    if result.asked is None or not result.good:
        return "not as wished yet"
    want, met = result.run.want, {i.key for i in result.items if i.verdict in ("fits", "tight", "compressed")}
    extras = [w for w, key, on in (("HDR", "hdr", want.hdr != "off"), ("variable refresh", "vrr", want.vrr))
              if on and key in met]  # fmt: skip
    name = (result.resent or result.asked).timing.mode.name
    days = dict.fromkeys([name, *extras], "")
    if not goes_on(layer, result.run, result.path):
        days = {name: _held(layer.rig, result) or ticked.get(proof_key(result), ""),
                **{w: _at_screen(layer.rig, result, w) for w in extras}}  # fmt: skip
    by_day: dict[str, list[str]] = {days[name][:10]: []}
    for w in extras:
        by_day.setdefault(days[w][:10], []).append(w)
    told = []
    for n, (day, words) in enumerate(by_day.items()):
        parts = [*([] if n else [name]), *([f"with {' and '.join(words)}"] if words else [])]
        told.append(_with_day(" ".join(parts), "seen", day))
    return ", ".join(told)


def _held(rig: Rig, result: RunResult) -> str:
    """When a title was last seen to hold in a mode of the plan, nothing on its way being otherwise since; "" never."""
    names = tuple(holds(s.timing.mode.name) for s in (result.asked, result.resent) if s is not None)
    return _last(rig, result, f"/title/{HELD}", lambda o: o.observed == YES and o.label.startswith(names))


def _at_screen(rig: Rig, result: RunResult, what: str) -> str:
    """When the screen last showed that it gets HDR, or that its rate moves with the title; "" never."""
    line, word = {"HDR": ("/banner/hdr", YES), "variable refresh": ("/counter/rate", MOVES)}[what]
    return _last(rig, result, line, lambda o: (o.observed or "").startswith(word))


def _last(rig: Rig, result: RunResult, line: str, good: Callable[[Observation], bool]) -> str:
    looks = [o for key, o in latest(rig.observations, result.run.uid).items() if key.endswith(line)]
    return max((o.at for o in looks if good(o) and not changed_since(rig, o.grounds)), default="")


def _leave(layer: Layer) -> Iterator[str]:
    """Settings that a run hangs on: as they stand where somebody saw it, else as they are to be."""
    rig = layer.rig
    for (uid, scope, key), row in list(settings_plan(layer).rows.items()):
        device = rig.devices[uid]
        setting = device.profile.setting(key)
        if setting is None or not (row.needed or (setting.resync and row.runs)):
            continue
        value = rig.settings.get((uid, scope, key))
        stands = value is not None and value.found == row.value
        word = "stays at" if stands else "is to be set to"
        cell = cell_words(device.profile, scope)
        what = f"{device.label}{f', {cell}' if cell else ''}: {setting.label} {word} {setting.option_label(row.value)}"
        yield f"{what}; {' and '.join(row.runs)} need{'s' if len(row.runs) == 1 else ''} it"


def _black(rig: Rig, results: Sequence[RunResult], codes: Codes) -> list[str]:
    """Three steps, in the order that finds it soonest. Common practice."""
    joined = [r for r in results if r.path]
    leads = list(dict.fromkeys(h.lead for r in joined for h in r.path))
    named = ", ".join(f"{rig.leads[u].label} ({codes.leads[u]})" for u in leads[:6])
    more = " and so on, by their labels" if len(leads) > 6 else ""
    screens = " and ".join(dict.fromkeys(rig.devices[r.run.sink].label for r in joined)) or "the screen"
    return [
        f"Call the input up again, as in the table above: {screens} may show another.",
        f"Switch everything off at the mains and wait {_OFF_S} seconds. Then switch on: screens first, boxes between "
        "next, what plays last.",
        f"Push both plugs of the lead fully in{f': {named}{more}' if named else ''}. Still dark: leave it and call; "
        "say which of these steps changed anything.",
    ]


def _updates(rig: Rig) -> str:
    school = followed(rig.style)["updates"].school
    return {
        "visit": "Updates are made at visits: answer “later” when a box asks.",
        "box": "Boxes update themselves: if something looks otherwise afterwards, call before you change settings.",
    }.get(school, QUESTIONS["updates"].schools[school])


def _cautions(rig: Rig) -> Iterator[str]:
    marks = {c for d in rig.devices.values() for c in d.profile.cautions}
    if "burn_in" in marks:
        yield "The self-lit screen ages with still pictures: do not leave one standing for hours."
    if "large_screen" in marks:
        yield "The large screen is moved by two people, and stays fixed against tipping."
    if "tube" in marks:
        yield "Tube screens hold high voltage when unplugged: nobody but a trained person opens one."
    if "old_supply" in marks:
        yield "Old machines run on their own old supplies: unplug them after use, and never leave one on alone."
