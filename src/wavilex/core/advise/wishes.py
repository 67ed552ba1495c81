"""What a title wants of a box's settings, by the schools it follows. Schools and reasons: common practice.

A wish names an effect and how much each value of it is worth. Values are the words options are known by in every
profile (`EFFECT_OPTIONS`). Points are whole numbers of our own: they say an order, not a measurement.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from wavilex.core.rig.model import Title
from wavilex.core.rig.style import QUESTIONS

SLOW_TITLE_FPS = 40  # a title that renders no faster is an adventure at 30, not a shooter at 120


@dataclass(frozen=True, slots=True)
class Wish:
    """worth: points by value; a value left out is worth nothing. why: said beside the setting. question: the house
    style's question it follows, "" where there is one answer.
    """

    effect: str
    worth: Mapping[str, int]
    why: str
    question: str = ""

    @property
    def most(self) -> int:
        return max(self.worth.values(), default=0)


@dataclass(frozen=True, slots=True)
class Where:
    """What is played, and on what. calls: does the source call the screen's game mode up by itself, None: not known.

    wants_vrr: the run asks for it. hdr: the signal in question is HDR. film: a player of films,
    where picture comes before lag. peak_cd_m2: the screen's, None: not known. low_resolution: an old machine's
    240 or 288 lines. fps: the render rate of the mode it is played in, None: not known. output: what the source's
    output settings must be for it, by effect; goes_out: as which picture. monitor: shown on a computer's monitor.
    weak: a screen that gains little from HDR (light/weak).
    """

    title: Title | None = None
    calls: bool | None = None
    wants_vrr: bool = False
    hdr: bool = False
    film: bool = False
    peak_cd_m2: int | None = None
    low_resolution: bool = False
    fps: int | None = None
    output: Mapping[str, str] = field(default_factory=dict)
    goes_out: str = ""
    monitor: bool = False
    weak: bool = False

    @property
    def slow(self) -> bool:
        """Does it render 40 fps at most in the mode it is played in; in all its modes, where that is not known?"""
        if self.fps is not None:
            return self.fps <= SLOW_TITLE_FPS
        return (
            self.title is not None and bool(self.title.render_rates) and max(self.title.render_rates) <= SLOW_TITLE_FPS
        )

    @property
    def rate(self) -> str:
        """`40 frames a second`: of the mode it is played in, else of its fastest."""
        fps = self.fps or (max(self.title.render_rates, default=0) if self.title is not None else 0)
        return f"{fps} frames a second" if fps else "few frames a second"

    @property
    def competitive(self) -> bool:
        return self.title is not None and self.title.competitive


DEFAULTS: Mapping[str, str] = {key: q.default for key, q in QUESTIONS.items()}


def wishes_of(where: Where, schools: Mapping[str, str] = DEFAULTS) -> list[Wish]:
    """The wishes of a title on a run; of games in general without a title. schools: one for every question."""
    output = [Wish(effect, {value: 65}, _OUTPUT[effect, value].format(where.goes_out))
              for effect, value in where.output.items()]  # fmt: skip
    # how it is played says what the source's output must be; where nobody knows that, the rate is asked for in general
    known = OUTPUT_EFFECTS if where.goes_out else ()
    motion = [w for w in _motion(where, schools["motion"]) if w.effect not in known]
    look = "accurate" if schools["daylight"] == "two" else schools["look"]  # by day there is another preset
    return [_game_mode(where), _preset(where, look), *motion, *output, *_picture(where, schools)]


_OUTPUT = {
    ("high_rate", "on"): "it is played at {}: its rate",
    ("high_rate", "auto"): "it is played at {}: its rate",
    ("high_rate", "off"): "it is played at {}: the source keeps to that rate",
    ("uhd_output", "on"): "it is played at {}: its detail",
    ("uhd_output", "off"): "it is played at {}: the source keeps to that size",
}
OUTPUT_EFFECTS = tuple(dict.fromkeys(effect for effect, _ in _OUTPUT))  # what a source's output hangs on


def _game_mode(where: Where) -> Wish:
    if where.film:
        return Wish("game_mode", {"off": 60}, "films: the picture comes before lag")
    why = "game mode turns processing off: lag falls several-fold"
    if where.calls:
        return Wish("game_mode", {"auto": 300, "on": 295}, f"{why}; the source calls it up by itself")
    if where.calls is False:
        return Wish("game_mode", {"on": 300}, f"{why}; the source does not call it up: a step by hand")
    return Wish("game_mode", {"on": 300, "auto": 260}, f"{why}; whether the source calls it up is not known")


def _preset(where: Where, look: str) -> Wish:
    """The picture preset: for games the one made for them, for films one for the light of the room."""
    if not where.film:
        why = "the preset for games: the least processing" if look != "vivid" else "for games, by whichever look"
        return Wish("preset", {"game": 60, "computer": 20, "standard": 10}, why)
    if look == "bright_room":
        worth = {"film_bright": 60, "expert": 40, "film_dark": 30, "standard": 10}
        return Wish("preset", worth, "films by daylight", "look")
    if look == "vivid":
        return Wish("preset", {"vivid": 60, "film_bright": 50, "standard": 10}, "films, vivid by house style", "look")
    worth = {"film_dark": 60, "expert": 50, "film_bright": 40, "standard": 10}
    return Wish("preset", worth, "films in the dark", "look")


def _motion(where: Where, school: str) -> list[Wish]:
    if where.competitive:
        return [
            Wish("interpolation", {"off": 80}, "interpolation costs one to two frames: wrong for competitive play"),
            Wish("input_speed", {"fast": 70, "middle": 30}, "the least lag wins"),
            Wish("variable_refresh", {"on": 60}, "no tearing and no waiting for the next refresh"),
            Wish("black_frames", {"off": 40}, "black frames add lag and exclude variable refresh"),
            Wish(
                "high_rate",
                {"on": 65, "auto": 64},
                "its rate: at 120 Hz a picture every 8 ms, at 60 every 16",
            ),
            Wish("fast_input", {"on": 20}, "a further step down in lag, where it may be on"),
        ]
    if where.slow and school == "interpolate":
        return [
            Wish("interpolation", {"on": 80}, f"{where.rate} move smoother interpolated", "motion"),
            Wish("input_speed", {"middle": 30, "slow": 20, "fast": 10}, "interpolation needs a slower step", "motion"),
            Wish("variable_refresh", {"on": 20}, "evenness at odd rates", "motion"),
            Wish("black_frames", {"off": 10}, "interpolation does their work", "motion"),
        ]
    dark = school == "black_frames"
    vrr = 120 if where.wants_vrr else 30 if dark else 60
    frames = {"on": 90} if dark else {"off": 20}
    return [
        Wish("variable_refresh", {"on": vrr}, "evenness at every render rate", "motion"),
        Wish("interpolation", {"off": 40}, "nothing added between frames", "motion"),
        Wish("input_speed", {"middle": 30, "fast": 25}, "enough for play, without what the fastest gives up"),
        Wish("black_frames", frames, "moving edges stay clear" if dark else "they halve brightness and flicker",
             "motion"),
    ]  # fmt: skip


_PROCESSING = {
    "off": ({"off": 20, "low": 5}, "everything off: any enhancement may add lag"),
    "tasteful": ({"auto": 20, "low": 18}, "tasteful: it hides noise of weak sources"),
}
_TONE = {
    "source": ({"source": 20, "off": 10}, "the source knows its own picture"),
    "screen": ({"screen": 20}, "the screen maps every scene: brighter, not as meant"),
    "off": ({"off": 20, "source": 10}, "off: calibrated on the source"),
}
_WARMTH = {
    "accurate": ({"warm": 20, "neutral": 5}, "game mode starts too blue; the warm end is nearest D65"),
    "vivid": ({"neutral": 20, "cool": 5}, "vivid: whites less warm"),
    "bright_room": ({"neutral": 20, "warm": 10}, "daylight is bluer than D65: the middle step blends in"),
}
_DIMMING = {
    "most": ({"high": 20, "middle": 10}, "at its most, by house style"),
    "least": ({"off": 20, "low": 18}, "at its least, by house style"),
}


def _enhancement(where: Where, school: str) -> list[Wish]:
    if where.low_resolution:
        ruin = "sharpening and detail effects ruin low-resolution graphics"
        return [Wish("processing", {"off": 40}, ruin), Wish("sharpening", {"off": 60}, ruin)]
    return [
        Wish("processing", *_PROCESSING[school], "processing"),
        Wish("sharpening", {"off": 20, "low": 10}, "games draw their own edges: sharpening rings beside them"),
    ]


def _quantisation(monitor: bool) -> Wish:
    """Both ends of a link by the same range. CTA-861: limited for television formats, full for a computer's; a source
    that stands at automatic tells which it sends, so both ends follow.
    """
    usual = {"full": 15, "limited": 5} if monitor else {"limited": 15, "full": 5}
    which = "full, as computers send" if monitor else "limited, as television formats are sent"
    why = f"one range at both ends, or blacks are grey or shut: by what the link says, else {which}"
    return Wish("quantisation", {"auto": 20, **usual}, why)


def _picture(where: Where, schools: Mapping[str, str]) -> list[Wish]:
    vivid = schools["look"] == "vivid"
    out = [
        *_enhancement(where, schools["processing"]),
        Wish("warmth", *_WARMTH[schools["look"]], "look"),
        Wish("colour", {"vivid": 20} if vivid else {"natural": 20},
             "vivid, by house style" if vivid else "as the makers of the title meant it", "look"),
        Wish("room_light", {"off": 25}, "it changes brightness by itself"),
        Wish("overscan", {"off": 25}, "every dot of the picture is shown"),
        _quantisation(where.monitor),
        Wish("device_control", {schools["device_control"]: 15}, "keeps a bar awake"
             if schools["device_control"] == "on" else "nothing switches inputs unasked", "device_control"),
    ]  # fmt: skip
    if where.hdr:
        out.append(Wish("tone_mapping", *_TONE[schools["tone_mapping"]], "tone_mapping"))
    if schools["dimming"] in _DIMMING:
        worth, why = _DIMMING[schools["dimming"]]
        out += [Wish("dimming", worth, why, "dimming"), Wish("shadow_lift", worth, why, "dimming")]
    if where.weak and schools["weak_hdr"] == "off":
        peak = f"its HDR white stays at {where.peak_cd_m2} cd/m²" if where.peak_cd_m2 else "little of HDR is left on it"
        figure = f"{peak}: standard range is the cleaner picture"
        out.append(Wish("hdr", {"off": 60}, figure, "weak_hdr"))
    elif where.hdr:
        out.append(Wish("hdr", {"auto": 50, "on": 48}, "HDR is wanted", "weak_hdr"))
    return out
