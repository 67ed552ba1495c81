"""The lag of a chain, part by part: measured, claimed, worked out, unknown with bounds. And sound against picture.

A screen's reading holds its processing and its scan-out; what comes before the screen adds to it. A part nobody knows
stays a span, so the sum is a span too.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction

from wavilex.core.chain.analogue import first_signal
from wavilex.core.chain.notes import sent_signal
from wavilex.core.chain.paths import Layer
from wavilex.core.chain.results import RunResult
from wavilex.core.lag.at_run import Screen
from wavilex.core.lag.scanout import POSITIONS, scan_out
from wavilex.core.lag.shapes import LipVerdict, PartKind, SumOut
from wavilex.core.rig.edit_facts import LagSeen
from wavilex.core.rig.model import LAG_FACT, Device
from wavilex.core.video.named import shown, timing_of
from wavilex.core.video.timing import Timing

KINDS = {
    "measured": "measured here", "claimed": "maker’s claim", "worked_out": "worked out",
    "elsewhere": "measured in another job", "unknown": "not known",
}  # fmt: skip
_MOST_OF_A_BOX_FRAMES = 2  # a box between that nobody knows may hold up to two frames: own figure
_LINES_A_FRAME = 262  # of a low-resolution picture
_MOST_OF_A_SCREEN_MS = 120  # a screen outside game mode: up to about 110 ms (common practice)
# how far sound may be off: EBU R 37 (value from memory), in ms; sound early is worse than sound late
SOUND_EARLY_MS, SOUND_LATE_MS = 40, 60


@dataclass(frozen=True, slots=True)
class Part:
    """low_ms = high_ms where it is known. kind: one of KINDS."""

    name: str
    low_ms: Fraction
    high_ms: Fraction
    kind: PartKind
    why: str


def budget(layer: Layer, result: RunResult, screen: Screen | None, fps: int | None = None) -> list[Part]:
    """The parts of a run's lag from act to light; none where it is not joined. screen: what was measured there, None:
    nothing yet. fps: a title's render rate; without it the machine's own.
    """
    if not result.path:
        return []
    hz = _made_at(layer, result)
    if hz is None:
        return []
    frame = 1000 / (Fraction(fps) if fps else hz)
    rate = fps or f"{float(hz):.2f}".rstrip("0").rstrip(".")
    name = layer.rig.devices[result.run.source].label
    made = Part(f"{name}: a frame is made", frame, frame, "worked_out", f"1 frame at {rate} a second")
    return [made, *picture_path(layer, result, screen)]


def picture_path(layer: Layer, result: RunResult, screen: Screen | None) -> list[Part]:
    """The parts behind the source: every box between, and the screen."""
    if not result.path:
        return []
    rig, hz = layer.rig, _made_at(layer, result) or Fraction(60)
    between = [_between(rig.devices[hop.inp.device], hz) for hop in result.path[:-1]]
    sink = rig.devices[result.run.sink]
    facts = [LagSeen.model_validate(f.value) for path, f in rig.device_facts(sink.uid).items()
             if path.startswith(f"{LAG_FACT}.")]  # fmt: skip
    port = sink.profile.port(result.path[-1].inp.port)
    elsewhere = [x for x in facts if x.input in ("", port.label if port else "")]
    return between + _at_screen(sink, screen, arriving(result), elsewhere)


def arriving(result: RunResult) -> Timing | None:
    """The timing that really reaches the screen: what a scaler sends on, else what the source does; None: unknown."""
    sent = result.resent or sent_signal(result) or result.asked
    return sent.timing if sent is not None else None


def _made_at(layer: Layer, result: RunResult) -> Fraction | None:
    """Pictures a second that the source makes: an old machine's own rate, else that of what it sends."""
    signal = first_signal(layer, result.path)
    first = layer.rig.leads[result.path[0].lead]
    if signal is not None and first.kind == "analogue":
        return signal.vertical_hz
    sent = sent_signal(result) or result.asked
    return Fraction(sent.timing.mode.hz) if sent is not None else None


def _between(device: Device, hz: Fraction) -> Part:
    claim = next(iter(device.profile.claims), None)
    if claim is not None:
        ms = Fraction(str(claim.lag_ms))
        return Part(device.label, ms, ms, "claimed", claim.condition)
    c = device.profile.converts
    if c is not None and (c.holds_frames is not None or c.holds_lines is not None):
        frames = Fraction(str(c.holds_frames or 0)) + Fraction(c.holds_lines or 0, _LINES_A_FRAME)
        held = f"holds {c.holds_frames:g} frames" if c.holds_frames else f"holds {c.holds_lines or 0} lines"
        return Part(device.label, frames * 1000 / hz, frames * 1000 / hz, "claimed", held)
    most = 1000 * _MOST_OF_A_BOX_FRAMES / hz
    return Part(device.label, Fraction(0), most, "unknown", "passes the picture on, or holds up to 2 frames")


def _at_screen(
    device: Device, screen: Screen | None, timing: Timing | None, elsewhere: Sequence[LagSeen] = ()
) -> list[Part]:
    """Scan-out and processing. What was measured with a signal nobody noted is not taken apart. elsewhere: what was
    measured at such a screen in another job, at the same input: from the quickest of its modes to the slowest.
    """
    both, name = f"{device.label}: processing and scan-out", f"{device.label}: processing"
    if screen is not None and screen.lag_us is not None and (timing is None or timing_of(screen.signal) is None):
        whole = screen.lag_us / 1000
        return [Part(both, whole, whole, "measured", f"{_in(screen)}, its signal not noted")]
    unknown = "nobody measured it yet"
    if screen is not None and screen.lag_us is None:
        unknown = f"not measured for this signal, only with {' and '.join(map(shown, screen.others))}"
    if timing is None:
        return [Part(both, Fraction(0), Fraction(_MOST_OF_A_SCREEN_MS), "unknown", unknown)]
    scan = scan_out(timing).at_us(POSITIONS["middle"]) / 1000
    here = Part("scan-out to mid-screen", scan, scan, "worked_out", f"half the lines of {timing.mode.name}")
    if screen is not None and screen.lag_us is not None:
        rest = max(screen.lag_us / 1000 - scan, Fraction(0))
        words = f"{_in(screen)}, scan-out of {shown(screen.signal)} taken off"
        return [here, Part(name, rest, rest, "measured", words)]
    same = sorted((x for x in elsewhere if x.signal == str(timing.mode)), key=lambda x: x.lag_us)
    if same:
        low, high = (max(Fraction(x.lag_us, 1000) - scan, Fraction(0)) for x in (same[0], same[-1]))
        modes = " to ".join(dict.fromkeys(x.condition for x in (same[0], same[-1])))
        return [here, Part(name, low, high, "elsewhere", f"in {modes}, as kept on the shelf; measure it here")]
    claim = next(iter(device.profile.claims), None)
    if claim is not None:
        rest = max(Fraction(str(claim.lag_ms)) - scan, Fraction(0))
        return [here, Part(name, rest, rest, "claimed", claim.condition)]
    return [here, Part(name, Fraction(0), Fraction(_MOST_OF_A_SCREEN_MS), "unknown", unknown)]


def _in(screen: Screen) -> str:
    """In which mode it was measured, and what stands otherwise now."""
    return f"in {screen.condition}{f' ({screen.beside})' if screen.beside else ''}"


def budget_data(parts: Sequence[Part]) -> SumOut:
    """The parts and their sum as plain data, in ms."""
    low, high = sum((p.low_ms for p in parts), Fraction(0)), sum((p.high_ms for p in parts), Fraction(0))
    return {
        "parts": [
            {"name": p.name, "low_ms": float(p.low_ms), "high_ms": float(p.high_ms), "kind": p.kind,
             "kind_name": KINDS[p.kind], "why": p.why} for p in parts
        ],
        "joined": bool(parts), "low_ms": float(low), "high_ms": float(high), "known": bool(parts) and low == high,
    }  # fmt: skip


@dataclass(frozen=True, slots=True)
class LipSync:
    """delay_ms: what to set at what plays the sound; None: nothing can mend it. verdict: fits, set, late, unknown."""

    verdict: LipVerdict
    delay_ms: int | None
    words: str


def path_sync(parts: Sequence[Part], sound_us: Fraction | None, plays: str, most_delay_ms: int | None) -> LipSync:
    """Sound against the whole picture path; `parts` as of `picture_path`. Where a box nobody knows decides, both ends
    are told and nothing is to be set.
    """
    low, high = (sum((getattr(p, end) for p in parts), Fraction(0)) * 1000 for end in ("low_ms", "high_ms"))
    if not parts or sound_us is None:
        return lip_sync(low if parts else None, sound_us, plays, most_delay_ms)
    least, most = (lip_sync(us, sound_us, plays, most_delay_ms) for us in (low, high))
    if low == high:
        return least
    unknown = ", ".join(p.name for p in parts if p.low_ms != p.high_ms)
    if least.verdict == most.verdict == "fits":
        return LipSync("fits", least.delay_ms, f"{least.words}, whatever {unknown} adds")
    more = f"{float((high - low) / 1000):.0f} ms"
    return LipSync("unknown", None, f"{unknown} may add {more}: at least {least.words}; at most {most.words}")


def lip_sync(picture_us: Fraction | None, sound_us: Fraction | None, plays: str, most_delay_ms: int | None) -> LipSync:
    """Sound against picture on one path. A bar can only delay sound: sound that is late stays late.

    most_delay_ms: the most its player can delay, None: not known.
    """
    if picture_us is None or sound_us is None:
        which = "picture" if picture_us is None else "sound"
        return LipSync("unknown", None, f"measure the lag of the {which} first")
    gap = (picture_us - sound_us) / 1000  # over 0: sound is early
    if gap < 0:
        late = -gap
        if late <= SOUND_LATE_MS:
            return LipSync("fits", 0, f"sound is {float(late):.0f} ms late: within {SOUND_LATE_MS} ms, delay at 0")
        words = f"sound is {float(late):.0f} ms late, and {plays} can only delay it: choose a quicker way for the sound"
        return LipSync("late", None, words)
    delay = round(gap)
    if most_delay_ms is not None and delay > most_delay_ms:
        left = delay - most_delay_ms
        words = f"needs {delay} ms of delay; {plays} gives {most_delay_ms} at most, sound stays {left} ms early"
        return LipSync("set", most_delay_ms, words)
    if gap <= SOUND_EARLY_MS:
        return LipSync(
            "fits", delay, f"sound is {float(gap):.0f} ms early: within {SOUND_EARLY_MS} ms; {delay} ms makes it even"
        )
    known = "" if most_delay_ms is not None else "; whether it can is not known"
    return LipSync("set", delay, f"set a delay of {delay} ms at {plays}{known}")
