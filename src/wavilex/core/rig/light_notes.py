"""What was measured or seen of light: a reading, a count on a source's page, a step of near black, a ghost. As values.

Figures are whole numbers with their unit in the name: a note says the same wherever it is read.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from types import MappingProxyType

from wavilex.core.errors import ChangeError
from wavilex.core.rig.ops import LightKind, LightMethod

ALL_SIGNAL = 10_000  # signal_e4 of full white
UCD = 1_000_000  # millionths in a cd/m²
MOST_UCD = 20_000_000_000  # 20 000 cd/m\u00b2: more is a unit mistaken
_Span = tuple[int, int]
_WHITE: Mapping[str, _Span] = {
    "luminance_ucd_m2": (0, MOST_UCD), "window_percent": (1, 100), "signal_e4": (0, ALL_SIGNAL),
    "error_e4": (1, 10_000),
}  # fmt: skip
_XY: Mapping[str, _Span] = {"x_e5": (1, 90_000), "y_e5": (1, 90_000)}
# what each kind must say, and what it may
NEEDED: Mapping[LightKind, Mapping[str, _Span]] = MappingProxyType({
    "patch": _WHITE,
    "near_black": {"first_step": (0, 64)},
    "clicks": {"count": (0, 10_000)},
    "ghost": {"hz": (20, 1000), "trail": (0, 3), "seam": (0, 3)},
    "hours": {"hours": (0, 200_000)},
    "played": {"minutes_week": (0, 10_080), "still_percent": (0, 100)},
    "choice": {},
})  # fmt: skip
ALLOWED: Mapping[LightKind, Mapping[str, _Span]] = MappingProxyType({
    "patch": _XY, "clicks": {"light_ucd_m2": (0, MOST_UCD), "error_e4": (1, 10_000)},
})  # fmt: skip

_WORDS = {
    "luminance_ucd_m2": ("light in cd/m²", 1_000_000), "light_ucd_m2": ("light in cd/m²", 1_000_000),
    "window_percent": ("window in percent", 1), "signal_e4": ("signal in percent", 100),
    "error_e4": ("error in percent", 100), "x_e5": ("x", 100_000), "y_e5": ("y", 100_000),
}  # fmt: skip


@dataclass(frozen=True, slots=True)
class LightNote:
    """One thing measured or seen of a box's light; append only, a slip is dropped.

    scope: the cell by input, range and preset (gear/cells). value: what was set for it: of a patch the panel light's
    number ("" where the screen has none), of clicks the page, of a ghost the overdrive's option, of what is played the
    title, of a choice `setting=option`. method: by meter, typed from one, or by eye (a guess). grounds: settings it
    rests on, by path, as they stood. ref: the meter's own name of it, so that it is kept once.
    """

    uid: str
    kind: LightKind
    device: str
    scope: str
    value: str
    figures: tuple[tuple[str, int], ...]
    method: LightMethod
    at: str
    by: str = ""
    firmware: str = ""
    text: str = ""
    ref: str = ""
    grounds: tuple[tuple[str, str], ...] = ()

    def figure(self, name: str) -> int | None:
        """A figure by name; None where it was not measured."""
        return next((v for n, v in self.figures if n == name), None)

    def must(self, name: str) -> int:
        """A figure that its kind always has."""
        value = self.figure(name)
        assert value is not None, name
        return value


def check_figures(kind: LightKind, figures: Mapping[str, int]) -> None:
    """Raises ChangeError naming the figure that is missing, strange or out of bounds."""
    needed, allowed = NEEDED[kind], ALLOWED.get(kind, {})
    for name in needed:
        if name not in figures:
            raise ChangeError(f"a light note of this kind says its {name.replace('_', ' ')}", where="note.figures")
    for name, value in figures.items():
        span = needed.get(name) or allowed.get(name)
        if span is None:
            raise ChangeError(f"{name} is no figure of this kind of light note", where="note.figures")
        if not span[0] <= value <= span[1]:
            words, by = _WORDS.get(name, (name.replace("_", " "), 1))
            low, high, given = (f"{v / by:g}" for v in (*span, value))
            raise ChangeError(f"{words} is {low} to {high}, not {given}", where="note.figures")
    if ("x_e5" in figures) != ("y_e5" in figures):
        raise ChangeError("a colour is x and y, both", where="note.figures")
