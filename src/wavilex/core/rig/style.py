"""House styles: the schools a job, a run or a title follows where practice is divided. Schools: common practice.

A style is a mapping of question to school; a question left out is answered one level up: title, run, job, default.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

Level = Literal["title", "run", "job", "default"]
LEVELS = ("job", "run", "title")
Style = tuple[tuple[str, str], ...]  # sorted pairs of question and school


@dataclass(frozen=True, slots=True)
class Question:
    """One matter on which schools differ: its name for people, its schools in words, the first the default."""

    name: str
    schools: Mapping[str, str]

    @property
    def default(self) -> str:
        return next(iter(self.schools))


QUESTIONS: Mapping[str, Question] = {
    "processing": Question("Processing", {
        "off": "everything off, back only for poor video",
        "tasteful": "noise reduction automatic, gradation low",
    }),
    "motion": Question("Motion on titles of 40 fps or fewer", {
        "leave": "leave it as it is",
        "interpolate": "interpolate, though it costs lag",
        "black_frames": "black frames, though they darken and flicker",
    }),
    "weak_hdr": Question("HDR on a weak HDR screen", {
        "on": "on all the same",
        "off": "off, for a cleaner standard-range picture",
    }),
    "tone_mapping": Question("Tone mapping", {
        "source": "led by the source",
        "screen": "the screen’s dynamic one",
        "off": "off, where calibrated",
    }),
    "look": Question("Look", {
        "accurate": "accurate: warm, about D65",
        "vivid": "vivid",
        "bright_room": "for a bright room",
    }),
    "daylight": Question("Films by day", {
        "one": "in the preset of the look",
        "two": "in a preset of their own, set beside the one for the dark",
    }),
    "dimming": Question("Local dimming, shadow lift", {
        "as_is": "as the screen comes",
        "most": "at their most",
        "least": "at their least",
    }),
    "rate_or_detail": Question("Rate or detail", {
        "rate": "120 Hz at a lower resolution",
        "detail": "4K60, quality mode",
    }),
    "updates": Question("Updates", {
        "visit": "switched off at the box, made at visits",
        "box": "left to the box, looked over after each",
    }),
    "device_control": Question("Device control", {
        "on": "on: keeps a bar awake",
        "off": "off: nothing switches inputs unasked",
    }),
}  # fmt: skip


@dataclass(frozen=True, slots=True)
class Answer:
    """The school followed and the level that says so: title, run, job, or default."""

    school: str
    level: Level


def followed(job: Style, run: Style = (), title: Style = ()) -> dict[str, Answer]:
    """Every question's answer, the nearest level's first."""
    out = {}
    for key, question in QUESTIONS.items():
        out[key] = Answer(question.default, "default")
        levels: tuple[tuple[Level, Style], ...] = (("title", title), ("run", run), ("job", job))
        for level, style in levels:
            school = dict(style).get(key)
            if school is not None:
                out[key] = Answer(school, level)
                break
    return out


def with_school(style: Style, key: str, school: str | None) -> Style:
    """A style with one question answered, or left to the level above. Raises KeyError for no such school."""
    rest = tuple((k, s) for k, s in style if k != key)
    if school is None:
        return rest
    QUESTIONS[key].schools[school]
    return tuple(sorted((*rest, (key, school))))
