"""The lag of a chain, part by part: measured, claimed, worked out, unknown with bounds. And sound against picture.

A screen's reading holds its processing and its scan-out; what comes before the screen adds to it. A part nobody knows
stays a span, so the sum is a span too.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction
from typing import Any

from wavilex.core.chain.carry import RunResult
from wavilex.core.chain.notes import sent_signal
from wavilex.core.chain.paths import Layer
from wavilex.core.lag.scanout import POSITIONS, scan_out
from wavilex.core.video.codes import parse_mode

KINDS = {"measured": "measured here", "claimed": "maker’s claim", "worked_out": "worked out", "unknown": "not known"}
_MOST_OF_A_BOX_FRAMES = 2  # a box between that nobody knows may hold up to two frames: own figure
_MOST_OF_A_SCREEN_MS = 120  # a screen outside game mode: up to about 110 ms (common practice)
# how far sound may be off: EBU R 37 (value from memory), in ms; sound early is worse than sound late
SOUND_EARLY_MS, SOUND_LATE_MS = 40, 60


@dataclass(frozen=True, slots=True)
class Part:
    """low_ms = high_ms where it is known. kind: one of KINDS."""

    name: str
    low_ms: Fraction
    high_ms: Fraction
    kind: str
    why: str


def budget(
    layer: Layer, result: RunResult, screen_us: Fraction | None, screen_words: str, fps: int | None = None
) -> list[Part]:
    """The parts of a run's lag from act to light. screen_us: the screen's median reading at mid-screen, None: not
    measured. fps: a title's render rate; without it the output's own.
    """
    sent = sent_signal(result) or result.asked
    if not result.path or sent is None:
        return []
    hz = parse_mode(sent.timing.mode)[2]
    frame = Fraction(1000, fps or hz)
    rig = layer.rig
    out = [Part(f"{rig.devices[result.run.source].label}: a frame is made", frame, frame, "worked_out",
                f"1 frame at {fps or hz} a second")]  # fmt: skip
    for hop in result.path[:-1]:
        device = rig.devices[hop.inp.device]
        claim = next((c for c in device.profile.claims), None)
        if claim is not None:
            ms = Fraction(str(claim.lag_ms))
            out.append(Part(device.label, ms, ms, "claimed", claim.condition))
        else:
            most = Fraction(1000 * _MOST_OF_A_BOX_FRAMES, hz)
            out.append(
                Part(device.label, Fraction(0), most, "unknown", "passes the picture on, or holds up to 2 frames")
            )
    screen = rig.devices[result.run.sink]
    scan = scan_out(sent.timing).at_us(POSITIONS["middle"]) / 1000
    out.append(Part("scan-out to mid-screen", scan, scan, "worked_out", f"half the lines of {sent.timing.mode}"))
    if screen_us is not None:
        rest = max(screen_us / 1000 - scan, Fraction(0))
        out.append(Part(f"{screen.label}: processing", rest, rest, "measured", screen_words))
    else:
        claim = next((c for c in screen.profile.claims), None)
        if claim is not None:
            ms = max(Fraction(str(claim.lag_ms)) - scan, Fraction(0))
            out.append(Part(f"{screen.label}: processing", ms, ms, "claimed", claim.condition))
        else:
            out.append(Part(f"{screen.label}: processing", Fraction(0), Fraction(_MOST_OF_A_SCREEN_MS), "unknown",
                            "nobody measured it yet"))  # fmt: skip
    return out


def budget_data(parts: Sequence[Part]) -> dict[str, Any]:
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

    verdict: str
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
