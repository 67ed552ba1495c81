"""What a page on the source itself measures, as observations held against what is predicted of the run.

The page knows its browser, not the wire: what it cannot know is said with every result.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

from wavilex.core.bounds import OBSERVED_LETTERS
from wavilex.core.prove.arrival import Arrival
from wavilex.core.prove.cadence import MOST_FRAMES, cadence, cadence_words
from wavilex.core.prove.line import NO, YES, Line
from wavilex.core.prove.patterns import PATTERNS

UNKNOWABLE = (
    "A browser does not know the depth, the colour format, the range or the compression on the wire, nor whether a "
    "repeater or the screen changes the rate behind the source. It measures by its own clock."
)
_PX = Annotated[int, Field(ge=1, le=32_768)]


class _Model(BaseModel):
    model_config = ConfigDict(extra="forbid", strict=True)


class FramesIn(_Model):
    """Frame times in µs from the page's start, rising; hidden: how often the page was not in front meanwhile."""

    kind: Literal["frames"]
    times_us: Annotated[list[Annotated[int, Field(ge=0, le=10**10)]], Field(min_length=2, max_length=MOST_FRAMES)]
    hidden: Annotated[int, Field(ge=0, le=100_000)] = 0


class BrowserIn(_Model):
    """What the browser says of its picture. width, height: of the whole screen in CSS pixels; ratio: device pixels to
    one of them, in thousandths; gamut, high_range: by media query, null where it does not answer them.
    pads: gamepads it sees; pad_interval_us: how often the first reports, null where none was moved.
    """

    kind: Literal["browser"]
    width: _PX
    height: _PX
    ratio_thousandths: Annotated[int, Field(ge=100, le=16_000)]
    gamut: Literal["srgb", "p3", "rec2020"] | None = None
    high_range: bool | None = None
    colour_bits: Annotated[int, Field(ge=1, le=64)] | None = None
    pads: Annotated[int, Field(ge=0, le=16)] = 0
    pad_interval_us: Annotated[int, Field(ge=100, le=1_000_000)] | None = None


class PatternIn(_Model):
    """What somebody saw on one of the patterns."""

    kind: Literal["pattern"]
    pattern: str
    answer: str

    def seen(self) -> list[Measured]:
        """What was seen, beside what should be; nothing where there is no such pattern or answer."""
        found = next((p for p in PATTERNS if p.id == self.pattern), None)
        answer = next((a for a in found.answers if a.id == self.answer), None) if found else None
        if found is None or answer is None:
            return []
        good = next(a.says for a in found.answers if a.good)
        return [Measured(f"pattern.{found.id}", found.title, answer.says, should=good)]


ProbeIn = Annotated[FramesIn | BrowserIn | PatternIn, Field(discriminator="kind")]


@dataclass(frozen=True, slots=True)
class Measured:
    """One thing measured: its line, what was found, and how. should: what it should be on any run; None: open."""

    key: str
    label: str
    observed: str
    detail: str = ""
    should: str | None = None

    @property
    def words(self) -> str:
        """What was found, and how, as an observation keeps it."""
        return (f"{self.observed} · {self.detail}" if self.detail else self.observed)[:OBSERVED_LETTERS]


def probe_lines(arrived: Arrival) -> tuple[Line, ...]:
    """What the page should measure on a run as it stands; its own size and range are the source's to choose."""
    signal = arrived.signal
    hz = f"{signal.timing.nominal_hz} Hz" if signal is not None and not arrived.vrr else None
    return (
        Line("rate", "frames a second", hz, arrived.why if hz is None else "", sure=arrived.sure and hz is not None),
        Line(
            "size", "picture in device pixels", None, "a browser may draw in another size than the wire has", sure=False
        ),
        Line(
            "range", "high dynamic range in its browser", None, "a browser may do without what titles have", sure=False
        ),
    )


def measured(data: FramesIn | BrowserIn | PatternIn) -> list[Measured]:
    """A result as lines. Empty where the frames are too few or make no sense."""
    if isinstance(data, FramesIn):
        return _frames(data)
    if isinstance(data, PatternIn):
        return data.seen()
    return _browser(data)


def _frames(data: FramesIn) -> list[Measured]:
    found = cadence(data.times_us)
    if found is None:
        return []
    words = cadence_words(found)
    notes = [f"{found.frames} frames in {found.seconds:.1f} s"]
    if not found.enough:
        notes.append("too few to tell 59.94 from 60.00")
    if data.hidden:
        notes.append("the page was not in front all the time: measure again")
    notes.append("gaps: " + ", ".join(f"{n} of {k} refresh{'' if k == 1 else 'es'}" for k, n in found.histogram[:5]))
    rate = f"{found.nominal} Hz" if found.near_nominal and found.steady else f"{found.hz:.1f} Hz"
    return [
        Measured("rate", "frames a second", rate, ""),
        Measured("cadence", "frame cadence", words, "; ".join(notes)),
    ]


def _browser(data: BrowserIn) -> list[Measured]:
    across, down = (round(n * data.ratio_thousandths / 1000) for n in (data.width, data.height))
    found = [Measured("size", "picture in device pixels", f"{across}×{down}")]
    if data.ratio_thousandths != 1000:
        own = f"{data.width}×{data.height}, each {data.ratio_thousandths / 1000:g} device pixels wide"
        found.append(Measured("ratio", "picture in its own pixels", own))
    if data.high_range is not None:
        found.append(Measured("range", "high dynamic range in its browser", YES if data.high_range else NO))
    if data.gamut is not None:
        found.append(Measured("gamut", "colours its browser tells", {"srgb": "sRGB", "p3": "P3",
                                                                     "rec2020": "BT.2020"}[data.gamut]))  # fmt: skip
    if data.colour_bits is not None:
        found.append(Measured("bits", "bits a pixel its browser tells", str(data.colour_bits)))
    if data.pads:
        pads = "1 gamepad" if data.pads == 1 else f"{data.pads} gamepads"
        every = f", a report every {data.pad_interval_us / 1000:.1f} ms" if data.pad_interval_us else ""
        found.append(Measured("pads", "gamepads", f"{pads}{every}"))
    return found


def what_can_cause(measured_hz: str, said: str | None) -> str:
    """Which stage can make frames come otherwise than predicted; "" where they do not."""
    if said is None or measured_hz == said:
        return ""
    try:
        has, wants = float(measured_hz.split()[0]), float(said.split()[0])
    except ValueError:
        return ""
    if has and abs(wants / has - round(wants / has)) < 0.01 and wants > has:
        times = round(wants / has)
        each = "twice" if times == 2 else f"{times} times"
        return (
            f"{measured_hz} in a {said} signal: every frame {each}. The source’s browser may be held to {measured_hz} "
            "(then the screen’s counter still says the full rate), or the source sends that rate: look at the counter."
        )
    return (
        f"{measured_hz} where {said} was expected: the source sends another rate than believed (its permission, what "
        "it read of the screen), or its browser is busy. The screen’s counter tells which."
    )
