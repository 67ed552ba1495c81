"""The lag of a chain, part by part: measured, claimed, worked out, unknown with bounds. And sound against picture.

A screen's reading holds its processing and its scan-out; what comes before the screen adds to it. A part nobody knows
stays a span, so the sum is a span too.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction

from wavilex.core.chain.notes import sent_signal
from wavilex.core.chain.paths import Layer
from wavilex.core.chain.results import RunResult
from wavilex.core.lag.scanout import POSITIONS, scan_out
from wavilex.core.lag.shapes import LipVerdict, PartKind, SumOut
from wavilex.core.rig.model import Device
from wavilex.core.video.named import shown, timing_of
from wavilex.core.video.timing import Timing

KINDS = {"measured": "measured here", "claimed": "maker’s claim", "worked_out": "worked out", "unknown": "not known"}
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


@dataclass(frozen=True, slots=True)
class Screen:
    """What was measured at a screen, at mid-screen: median in µs, of what, and with which signal ("" not known)."""

    median_us: Fraction
    condition: str
    signal: str = ""


def budget(layer: Layer, result: RunResult, screen: Screen | None, fps: int | None = None) -> list[Part]:
    """The parts of a run's lag from act to light. screen: what was measured there, None: nothing yet. fps: a title's
    render rate; without it the output's own.
    """
    sent = sent_signal(result) or result.asked
    if not result.path or sent is None:
        return []
    hz = sent.timing.mode.hz
    frame = Fraction(1000, fps or hz)
    rig = layer.rig
    out = [Part(f"{rig.devices[result.run.source].label}: a frame is made", frame, frame, "worked_out",
                f"1 frame at {fps or hz} a second")]  # fmt: skip
    for hop in result.path[:-1]:
        out.append(_between(rig.devices[hop.inp.device], hz))
    return out + _at_screen(rig.devices[result.run.sink], screen, (result.resent or sent).timing)


def _between(device: Device, hz: int) -> Part:
    claim = next(iter(device.profile.claims), None)
    if claim is not None:
        ms = Fraction(str(claim.lag_ms))
        return Part(device.label, ms, ms, "claimed", claim.condition)
    c = device.profile.converts
    if c is not None and (c.holds_frames is not None or c.holds_lines is not None):
        frames = Fraction(str(c.holds_frames or 0)) + Fraction(c.holds_lines or 0, _LINES_A_FRAME)
        held = f"holds {c.holds_frames:g} frames" if c.holds_frames else f"holds {c.holds_lines or 0} lines"
        return Part(device.label, frames * 1000 / hz, frames * 1000 / hz, "claimed", held)
    most = Fraction(1000 * _MOST_OF_A_BOX_FRAMES, hz)
    return Part(device.label, Fraction(0), most, "unknown", "passes the picture on, or holds up to 2 frames")


def _at_screen(device: Device, screen: Screen | None, timing: Timing) -> list[Part]:
    """Scan-out and processing. What was measured with a signal nobody noted is not taken apart."""
    scan = scan_out(timing).at_us(POSITIONS["middle"]) / 1000
    here = Part("scan-out to mid-screen", scan, scan, "worked_out", f"half the lines of {timing.mode.name}")
    name = f"{device.label}: processing"
    if screen is not None:
        whole, words = screen.median_us / 1000, f"median in {screen.condition}"
        with_signal = timing_of(screen.signal)
        if with_signal is None:
            both = f"{device.label}: processing and scan-out"
            return [Part(both, whole, whole, "measured", f"{words}, its signal not noted")]
        rest = max(whole - scan_out(with_signal).at_us(POSITIONS["middle"]) / 1000, Fraction(0))
        return [here, Part(name, rest, rest, "measured", f"{words}, scan-out of {shown(screen.signal)} taken off")]
    claim = next(iter(device.profile.claims), None)
    if claim is not None:
        rest = max(Fraction(str(claim.lag_ms)) - scan, Fraction(0))
        return [here, Part(name, rest, rest, "claimed", claim.condition)]
    return [here, Part(name, Fraction(0), Fraction(_MOST_OF_A_SCREEN_MS), "unknown", "nobody measured it yet")]


def budget_data(parts: Sequence[Part]) -> SumOut:
    """The parts and their sum as plain data, in ms."""
    low, high = sum((p.low_ms for p in parts), Fraction(0)), sum((p.high_ms for p in parts), Fraction(0))
    return {
        "parts": [
            {"name": p.name, "low_ms": float(p.low_ms), "high_ms": float(p.high_ms), "kind": p.kind,
             "kind_name": KINDS[p.kind], "why": p.why} for p in parts
        ],
        "low_ms": float(low), "high_ms": float(high), "known": low == high,
    }  # fmt: skip


@dataclass(frozen=True, slots=True)
class LipSync:
    """delay_ms: what to set at what plays the sound; None: nothing can mend it. verdict: fits, set, late, unknown."""

    verdict: LipVerdict
    delay_ms: int | None
    words: str


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
