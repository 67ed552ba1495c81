"""Proof patterns: what each full-screen page is for, what to see on it, and what the answers say."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class PatternAnswer:
    """id: as it is sent; says: in words; good: is that how it should be?"""

    id: str
    says: str
    good: bool = False


@dataclass(frozen=True, slots=True)
class Pattern:
    """see: in one line, what to see. moving: it changes with every frame, and is warned of first."""

    id: str
    title: str
    see: str
    answers: tuple[PatternAnswer, ...]
    moving: bool = False
    why: str = ""


def _answers(good: str, *bad: tuple[str, str]) -> tuple[PatternAnswer, ...]:
    return (PatternAnswer("good", good, True), *(PatternAnswer(i, says) for i, says in bad))


PATTERNS = (
    Pattern(
        "steps", "Frame steps", "The bar walks in equal steps and leaves no gap; photographed, the numbers follow on.",
        _answers("steps are equal", ("doubled", "steps twice on one place"), ("missed", "leaves gaps"),
                 ("torn", "bar is torn across")),
        moving=True, why="a doubled or missed frame is a hole or a fat mark in the row; a torn one is cut across",
    ),
    Pattern(
        "lines", "One-pixel lines and coloured text",
        "Every line stands apart from the next, and coloured words are as sharp as the white ones.",
        _answers("lines stand apart, all words are sharp", ("grey", "lines run into grey"),
                 ("smeared", "coloured words are smeared, white ones sharp")),
        why="lines that merge are scaled; colour that smears is 4:2:2 or 4:2:0 (chroma halved)",
    ),
    Pattern(
        "edges", "Edges and shape", "The outermost frame shows on all four sides; the ring is round.",
        _answers("all four edges, a round ring", ("cut", "an edge is cut off"), ("wide", "ring is too wide"),
                 ("narrow", "ring is too narrow")),
        why="a cut edge is overscan; a ring that is not round is a stretched picture",
    ),
    Pattern(
        "black", "Near black", "From which step on can patches be told from their ground, left and right?",
        _answers("on both sides from step 2 or lower", ("crushed", "left from a higher step only, right from low ones"),
                 ("grey", "both, but the left ground is grey, not black")),
        why="crushed: a full-range source into a limited-range screen; grey: the other way round",
    ),
    Pattern(
        "white", "Near white", "From which step on can patches be told from their ground, left and right?",
        _answers("on both sides from step 3 or lower", ("clipped", "left from a higher step only, right from low ones"),
                 ("dull", "both, but the left ground is grey, not white")),
        why="clipped white: range or contrast is wrong",
    ),
    Pattern(
        "patch", "White patch", "Arrow keys, or a touch, go through sizes and levels; read it with a meter.",
        _answers("read"), why="white of a stated size is what a meter reads: size and level stand in the corner",
    ),
    Pattern(
        "sharp", "Sharpness", "No bright or dark seam runs beside the edges of the bars and the fine ring.",
        _answers("edges without seams", ("seams", "seams beside the edges"), ("soft", "edges are soft")),
        why="seams are sharpening; soft edges are noise reduction, scaling, or sharpening set below its neutral point",
    ),
    Pattern(
        "grades", "Gradation", "The slow ramps run without visible stairs; the upper one has stairs drawn into it.",
        _answers("lower ramp is smooth", ("stairs", "lower ramp has stairs, too")),
        why="stairs in the lower ramp: 8 bits somewhere, or processing; a browser may give 8 bits itself",
    ),
    Pattern(
        "trail", "Moving edge", "Compare the edge of the moving block with the drawn ones: which is it most like?",
        _answers("clean edge, like drawing 1", ("trail", "dark trail behind, like drawing 2"),
                 ("bright", "bright seam behind, like drawing 3")),
        moving=True, why="a trail: overdrive too low; a bright seam behind: too high",
    ),
    Pattern(
        "sound", "Channels, and a click with a flash",
        "The words left and right come from that side; the click comes with the flash.",
        _answers("sides are right, click with the flash", ("swapped", "left and right are swapped"),
                 ("late", "the click comes late"), ("silent", "no sound")),
        moving=True, why="sound late: set the picture’s delay against it; volume down before the first click",
    ),
)  # fmt: skip
WARNING = (
    "It changes with every frame or flashes: quick changes of the picture can bring on seizures in people with "
    "photosensitive epilepsy. Warn everybody in the room, look away if it troubles you, and stop."
)
