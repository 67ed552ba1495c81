"""Answers without a rig: links, EDIDs whole and spoilt, gear and its settings, lag, refresh, old signals, tables."""

from __future__ import annotations

import random
from collections.abc import Callable, Iterator, Mapping
from dataclasses import replace
from fractions import Fraction
from itertools import product
from typing import Any

from tests.rigs import scopes_of, values_of
from wavilex.core import bounds
from wavilex.core.advise.wishes import DEFAULTS, Where, Wish, wishes_of
from wavilex.core.edid.answers import answers_data
from wavilex.core.edid.build import build
from wavilex.core.edid.decode import decode
from wavilex.core.edid.facts import facts_of
from wavilex.core.edid.model import Edid, EdidError
from wavilex.core.errors import WavilexError
from wavilex.core.gear.classes import TEMPLATES, from_template, templates_data
from wavilex.core.gear.conditions import NOWHERE, SignalFacts, Surroundings
from wavilex.core.gear.edid_of_input import factory_settings, spec_of_input
from wavilex.core.gear.profile import Profile, profile_data
from wavilex.core.gear.profile_of_edid import profile_of
from wavilex.core.gear.stand import stand_in
from wavilex.core.gear.state import resolve
from wavilex.core.gear.text import profile_text
from wavilex.core.gear.vocabulary import gear_words
from wavilex.core.gear.words import standing_data
from wavilex.core.lag.groups import Group
from wavilex.core.lag.methods import camera, reference
from wavilex.core.lag.plan import Cell, cells, ordered, seconds
from wavilex.core.lag.regression import Epoch
from wavilex.core.lag.report import Asked, lag_report
from wavilex.core.lag.table import read_table, write_table
from wavilex.core.link.answer import link_answer
from wavilex.core.link.cable import Cable, cable_bounds
from wavilex.core.link.choices import link_choices
from wavilex.core.link.proof import conclude, proof_steps
from wavilex.core.link.rates import FRL_RATES
from wavilex.core.link.scratch import LinkQuestion, column_data, compare_links, scratch_link
from wavilex.core.modes.finder import SOUGHT, learn, sought_data
from wavilex.core.modes.refresh import Pacing, accepted, cadence, segments, shown
from wavilex.core.rig.model import Title, TitleMode
from wavilex.core.rig.style import QUESTIONS
from wavilex.core.scan.multiples import multiple
from wavilex.core.scan.shape import Stage, line_scale, trace, truest
from wavilex.core.scan.signals import analogue, rate_change
from wavilex.core.scan.typed import scan_data, typed
from wavilex.core.video.mode import parse_mode
from wavilex.library import starter_profiles


def tried(ask: Callable[[], Any]) -> Any:
    """An answer, or what is said instead."""
    try:
        return ask()
    except WavilexError as error:
        return f"{type(error).__name__}: {error}"


def links() -> dict[str, Any]:
    modes = ("vic:16", "vic:97", "vic:118", "vic:63", "cvt:2560x1440@144:rb2", "cvt:3840x2160@240:rb2", "vic:199")
    overs = ("tmds:165", "tmds:340", "tmds:600", "frl:3x6", "frl:4x6", "frl:4x8", "frl:4x10", "frl:4x12", "tmds:0")
    sound = ("none", "2ch", "8ch@192")
    grid = product(modes, ("rgb", "422", "420"), (8, 10, 12), overs, ("2ch",), ("", "allowed"))
    told = {" ".join(map(str, q)): tried(lambda q=q: link_answer(*q)) for q in grid}
    told |= {f"{m} {a}": tried(lambda m=m, a=a: link_answer(m, "rgb", 8, "frl:4x6", a, "")) for m in modes
             for a in sound}  # fmt: skip
    asked = [
        LinkQuestion(out, inp, Cable(grade, length, build, power, turned, proved, failed), "vic:118", "rgb", 10,
                     compression=dsc)
        for out, inp, grade, length, build, power, turned, proved, failed, dsc in (
            ("frl:4x12", "frl:4x10", "ultra", 2000, "passive", "port", False, None, None, "none"),
            ("frl:4x12", "frl:3x6", "ultra", 6000, "passive", "port", False, None, None, "allowed"),
            ("frl:4x12", "frl:4x12", "unread", 3000, "unknown", "port", False, None, None, "none"),
            ("frl:4x12", "frl:4x12", "unknown", None, "unknown", "port", False, "frl:4x10", None, "none"),
            ("frl:4x12", "frl:4x12", "ultra", None, "unknown", "port", False, None, "frl:4x8", "none"),
            ("tmds:600", "frl:4x12", "high_speed", 9000, "unknown", "port", False, None, None, "none"),
            ("frl:4x12", "frl:4x12", "premium", 15000, "optical", "unfed", False, None, None, "none"),
            ("frl:4x12", "frl:4x12", "premium", 15000, "active", "port", True, None, None, "none"),
        )
    ]  # fmt: skip
    told |= {f"scratch {n}": scratch_link(q) for n, q in enumerate(asked)}
    told |= {f"beside {n}": compare_links(asked[n], asked[n + 1]) for n in range(len(asked) - 1)}
    told |= {f"bounds {n}": repr(cable_bounds(q.cable)) for n, q in enumerate(asked)}
    steps = proof_steps()
    outcomes = [dict(zip(FRL_RATES[1:], said, strict=False)) for n in range(1, 5)
                for said in product((True, False), repeat=n)]  # fmt: skip
    told["proof"] = [[s.signal.name, s.timing, s.rate.code] for s in steps]
    told["concluded"] = [conclude(o, compression_off=off).sentence for o in outcomes for off in (True, False)]
    return told | {"columns": column_data(), "choices": link_choices()}


def _read(data: bytes) -> Any:
    def everything() -> Any:
        e: Edid = decode(data)
        profile = tried(lambda: profile_data(profile_of(e)))
        return [answers_data(e), {k: str(v) for k, v in facts_of(e).items()}, profile, [str(f) for f in e.findings]]

    try:
        return everything()
    except EdidError as error:
        return str(error)


def _spoilt(data: bytes, rnd: random.Random) -> bytes:
    """An EDID with a few bytes otherwise, its sums right again."""
    out = bytearray(data)
    for _ in range(rnd.choice((1, 3, 8))):
        out[rnd.randrange(8, len(out))] = rnd.choice((0, 0xFF, rnd.randrange(256), 1 << rnd.randrange(8)))
    for at in range(0, len(out), 128):
        out[at + 127] = -sum(out[at : at + 127]) % 256
    return bytes(out)


def _second_family(rnd: random.Random) -> bytes:
    """A DisplayID 2.0 extension of three data blocks with anything in them."""
    body = bytearray([0x70, 0x20, 121, 3, 0])
    while len(body) < 90:
        tag = rnd.choice((0x22, 0x23, 0x24, 0x25, 0x26, 0x2A, 0x2B))
        size = {0x22: 20, 0x23: rnd.choice((1, 4)), 0x24: 6, 0x2A: 6}.get(tag, rnd.choice((6, 9)))
        body += bytes([tag, rnd.choice((0, 0, 1, 8, 0x40)), size]) + bytes(rnd.randrange(256) for _ in range(size))
    body = body[:126].ljust(126, b"\0")
    body[2] = 121
    body.append(-sum(body[1:126]) % 256)
    body[126] = 0
    body[125] = -sum(body[1:125]) % 256
    return bytes(body) + bytes([-sum(body) % 256])


def edids() -> dict[str, Any]:
    built: dict[str, bytes] = {}
    for p in starter_profiles().values():
        for port in p.inputs():
            if p.role == "screen" and port.kind == "hdmi" and port is p.inputs()[0]:
                built[p.id] = build(spec_of_input(p, port.id, factory_settings(p)))
    told: dict[str, Any] = {uid: [data.hex(), _read(data)] for uid, data in built.items()}
    rnd = random.Random(5)
    names = sorted(built)
    for n in range(250):
        told[f"spoilt {n}"] = _read(_spoilt(built[names[n % len(names)]], rnd))
    for n in range(60):
        data = bytearray(built[names[n % len(names)]])
        data[126], data[127] = 2, (data[127] - 1) % 256
        told[f"second family {n}"] = _read(bytes(data) + _second_family(rnd))
    return told


_AROUND = (
    NOWHERE, Surroundings(firmware="1.0"), Surroundings(shown_input="hdmi1"),
    *(Surroundings(signal=SignalFacts(parse_mode(m), hdr, vrr)) for m, hdr, vrr in (
        ("1920x1080@60", "off", False), ("3840x2160@120", "static", True), ("3840x2160@60", "dynamic", False),
        ("1280x720@120", "off", True))),
)  # fmt: skip


def _states(p: Profile) -> Iterator[tuple[str, Any]]:
    base = factory_settings(p)

    def told(setting_of: Callable[[str, str], str | None], around: Surroundings = NOWHERE) -> Any:
        states = resolve(p, {}, setting_of, around)
        standing = stand_in(p, setting_of, around)
        return [
            {uid: f"{s.tmds_hz} {s.frl} {s.modes} {s.modes_420} {s.encodings} {s.hdr} {s.vrr} {s.vrr_kinds} "
                  f"{s.low_latency} {s.dsc} {s.scdc} {s.hdcp} {s.encrypts}" for uid, s in states.items()},
            {str(place): standing_data(p, now) for place, now in standing.items()},
        ]  # fmt: skip

    for n, around in enumerate(_AROUND):
        yield f"factory {n}", told(base, around)
    for s in p.settings:
        for scope, option in product(scopes_of(p, s), values_of(s)):
            yield (
                f"{scope} {s.id} {option}",
                told(lambda at, key, place=(scope, s.id), value=option: value if (at, key) == place else base(at, key)),
            )


def gear() -> dict[str, Any]:
    told: dict[str, Any] = {uid: dict(_states(p)) for uid, p in starter_profiles().items()}
    for t in TEMPLATES:
        told[f"template {t.id}"] = profile_text(from_template(t.id, {}, "Tindrel", "T1"))
        each = [(q, a) for q in t.questions for a in ([a for a, _ in q.answers] or ["1"])]
        told[f"template {t.id} each"] = [
            tried(lambda t=t, q=q, a=a: profile_text(from_template(t.id, {q.id: a}, "", "x"))) for q, a in each
        ]
    screen = starter_profiles()["yarrowby-50w"]
    told["learned"] = {
        f"{s.id} {a}": tried(lambda s=s, a=a: learn(screen, s.id, a, "Its name", "its place"))
        for s in SOUGHT for a in ("found", "absent", "inert", "odd")
    }  # fmt: skip
    return told | {"sought": sought_data(), "templates": templates_data(), "words": gear_words()}


def _values(middle: int, spread: int, n: int, seed: int) -> tuple[int, ...]:
    rnd = random.Random(seed)
    return tuple(max(1, middle + rnd.randrange(-spread, spread + 1)) for _ in range(n))


def lag() -> dict[str, Any]:
    groups = [
        Group(Cell(s, i, c, p), _values(m, 1500, n, seed), _values(30_000, 9000, g, seed), ("camera",),
              (Epoch("2026-03-01", "1.0", _values(m, 900, 12, seed)),
               Epoch("2026-09-01", "1.2", _values(m + e, 900, 12, 9))))
        for seed, (s, i, c, p, m, n, g, e) in enumerate((
            ("3840x2160@60", "hdmi1", "game", "middle", 13_000, 30, 0, 0),
            ("", "hdmi1", "film", "", 61_000, 18, 3, 4000),
            ("720x480i@60", "hdmi1", "game", "middle", 45_000, 20, 0, 900),
            ("720x480@60", "hdmi1", "game", "middle", 14_000, 20, 0, 2500), ("", "", "sport", "", 20_000, 4, 0, 0),
            ("3840x2160@60", "hdmi1", "game", "top", 5_400, 15, 0, 0),
            ("3840x2160@60", "hdmi1", "game", "bottom", 21_000, 15, 0, 0),
            ("720x240@60", "hdmi1", "game", "middle", 45_100, 20, 0, 0), ("", "", "none yet", "", 9_000, 0, 2, 0),
        ))
    ]  # fmt: skip
    title = Title(uid="t", name="Tide Racer", competitive=True)
    asks = {"plain": Asked(), "monitor": Asked(kind="monitor"), "bound": Asked(bound_ms=12),
            "titles": Asked(titles=(title,)),
            "baseline": Asked(baseline="sport"), "narrow": Asked(equivalence_us=500),
            "strobes": Asked(strobes=True)}  # fmt: skip
    told: dict[str, Any] = {name: lag_report(groups, ask) for name, ask in asks.items()}
    plan = cells(["game", "film"], ["3840x2160@60", "1920x1080@120"], ["hdmi1", "hdmi2"], ["top", "bottom"])
    for way in ("grouped", "random"):
        order = ordered(plan, way, random.Random(2).shuffle)  # type: ignore[arg-type]
        told[f"plan {way}"] = [[c.name for c in order], seconds(order, 20)]
    rows = ["device,condition,lag_ms,taken_at,discarded,position,method,signal"]
    rows += [f"TV,game,{v},{t},{d},{p},{m},{s}" for v, t, d, p, m, s in (
        ("12.5", "2026-11-25T14:03:22Z", "no", "top", "camera", "3840x2160@60"), ("0", "", "", "", "", ""),
        ("x", "", "", "", "", ""), ("60000", "", "", "", "", ""), ("59999.999", "", "yes", "middle", "", ""),
        ("0.001", "1990-01-01T00:00:00Z", "1", "bottom", "", ""), ("0.0004", "", "", "", "", ""),
        ("1e3", "2101-01-01T00:00:00Z", "", "", "", ""), ("5", "1989-12-31T23:59:59Z", "0", "", "odd", ""),
        ("5", "2026-11-25T14:03:22+01:00", "", "left", "", ""), ("5", "", "perhaps", "", "", ""),
        ("nan", "", "", "", "", ""),
    )]  # fmt: skip
    told["table"] = [repr(x) for part in read_table("\n".join([*rows, "", "TV,game", '"x'])) for x in part]
    told["written"] = write_table(read_table("\n".join(rows))[0])
    told["camera"] = [repr(tried(lambda q=q: camera(*q))) for q in ((12, 240), (1, 960, 2), (0, 240), (9, 0), (3, 120))]
    told["reference"] = [repr(tried(lambda q=q: reference(*q))) for q in ((10, 25, 60), (10, 5, 60), (0, 20, 120))]
    return told


def refresh() -> dict[str, Any]:
    windows: tuple[tuple[int, int] | None, ...] = (None, (48, 120), (40, 144), (48, 60), (30, 60))
    fps = (0, 12, 24, 30, 40, 47, 48, 50, 59, 60, 61, 90, 119, 120, 144, 145, 200)
    return {
        "segments": [
            [[s.from_fps, s.to_fps, s.words] for s in segments(Pacing(hz, w, r))]
            for hz in (50, 60, 100, 120, 144) for w in windows for r in (True, False)
        ],
        "shown": [
            tried(lambda q=q: (lambda s: [s.words, [str(h) for h in s.hold_ms], s.even])(shown(*q)))
            for q in product(fps[1:], (60, Fraction(60000, 1001), 120), windows)
        ],
        "cadence": [cadence(f, hz) for f in fps[1:] for hz in (60, 120, 144)],
        "accepted": [
            accepted(Fraction(r), Fraction(n), w)
            for r in ("60.1", "60.3", "60.31", "59.7", "50.08", "55") for n in (50, 60) for w in windows
        ],
    }  # fmt: skip


TYPED = (
    "240p", "288p", "480i", "576i", "480p", "576p", "640x480@60", "1920x1080i@60",
    "5.3693 MHz 341.25 dots 262 lines",
    "5.3693 MHz 341.25 dots 262 lines 256x224", "15.7 kHz 60 Hz", "31.5 kHz 60 Hz 640x400", "24.8 kHz 55 Hz",
    "262 lines",
    "59062500/11 Hz 341.25 dots 262 lines 256x224", "60 Hz 312 lines 256x240", "7 MHz 448 dots", "0 MHz", "nothing",
    "15.734 kHz 262.5 lines 320x240", "25 kHz 400 lines 320x400", "9999 MHz 100 dots 100 lines",
)  # fmt: skip


def _of_scan(text: str) -> Any:
    t = typed(text)
    signal = analogue(t.scan)
    told = [scan_data(t.scan, t.guessed), repr(signal)]
    for times, sampling in product((1, 2, 3, 4, 5, 6), ("whole_line", "matched")):
        try:
            told.append(repr(multiple(signal, times, sampling)))  # type: ignore[arg-type]
        except KeyError as error:
            told.append(f"none: {error}")
    return told


def scans() -> dict[str, Any]:
    told = {text: tried(lambda text=text: _of_scan(text)) for text in TYPED}
    told["rates"] = [repr(rate_change(Fraction(a), Fraction(b), w)) for a in ("60.1", "50.1", "59.94", "54.7")
                     for b in ("60", "50", "59.94") for w in (None, (48, 120))]  # fmt: skip
    told["lines"] = [repr(line_scale(n, panel, sent)) for n in (224, 240, 256, 288) for panel in (1080, 1440, 2160, 200)
                     for sent in (None, (5, 1080), (3, 720), (Fraction(9, 2), 1080))]  # fmt: skip
    every = tuple((f, f) for f in ("fill", "keep", "crop", "window"))
    wide, old = Fraction(16, 9), Fraction(4, 3)
    for n, (shape, hidden, covers) in enumerate(product((wide, old, Fraction(21, 9)), (Fraction(0), Fraction(1, 20)),
                                                        (1, Fraction(3, 4)))):  # fmt: skip
        stages = [Stage("scaler", wide, every, "fill", raster=(1920, 1080)),
                  Stage("screen", shape, every, "keep", hidden=hidden, raster=(3840, 2160))]  # fmt: skip
        part = (Fraction(covers), Fraction(1))
        told[f"shape {n}"] = [[repr(s) for s in trace(old, wide, stages, part)], repr(truest(old, wide, stages, part))]
    return told


def wishes() -> dict[str, Any]:
    title = Title(uid="t", name="Tide Racer")
    titles = (None, title, replace(title, competitive=True), replace(title, modes=(TitleMode(fps=30),)))
    rest = ((False, False, False, None, False, None), (True, True, False, 499, False, 40),
            (False, True, True, 500, True, 41))  # fmt: skip
    wheres = [Where()] + [
        Where(t, calls, vrr, hdr, film, peak, low, fps, {"high_rate": "on"} if fps else {}, "1440p120" if fps else "")
        for t in titles for calls in (None, True, False) for vrr, hdr, film, peak, low, fps in rest
    ]  # fmt: skip
    told: dict[str, Any] = {"general": [_wish(w) for where in wheres for w in wishes_of(where)]}
    for key, question in QUESTIONS.items():
        for school in question.schools:
            told[f"{key} {school}"] = [_wish(w) for x in wheres for w in wishes_of(x, {**DEFAULTS, key: school})]
    return told


def _wish(w: Wish) -> str:
    return f"{w.effect} {dict(w.worth)} {w.why} {w.question}"


def limits() -> dict[str, Any]:
    """How much a job may hold: what people meet as a refusal."""
    return {k: v for k, v in vars(bounds).items() if k.isupper()}


SUMS: Mapping[str, Callable[[], dict[str, Any]]] = {
    "links": links, "edids": edids, "gear": gear, "lag": lag, "refresh": refresh, "scans": scans, "wishes": wishes,
    "limits": limits,
}  # fmt: skip
