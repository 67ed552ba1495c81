"""The stages that lay a run's picture into another frame, as they are set, and the test circle after each."""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction

from wavilex.core.chain.analogue import fed_signal, first_signal, output_mode
from wavilex.core.chain.paths import Layer
from wavilex.core.chain.results import RunResult, arriving_facts
from wavilex.core.chain.shapes import ShapeOut, ShapeStage
from wavilex.core.gear.conditions import SignalFacts
from wavilex.core.gear.conversion import ShownAs
from wavilex.core.gear.setting import Setting
from wavilex.core.rig.model import Device
from wavilex.core.rig.ops import Change, SetSetting, to_set
from wavilex.core.scan.described import Fit
from wavilex.core.scan.shape import FULL, TRUE_PERCENT, Shown, Stage, trace, truest
from wavilex.core.scan.signals import AnalogueVideo
from wavilex.core.video.mode import Mode

_BROAD_DOTS = (720, 1440)  # rasters whose dots are not square: 720 × 480 is meant as 4:3 (CTA-861)
FRAME = Fraction(4, 3)  # what a television's frame was made for
FIT_WORDS = {
    "fill": "fills the frame", "keep": "keeps its shape", "window": "4:3 with borders", "crop": "cut to fill the frame",
}  # fmt: skip
_FILLS: dict[str, Fit] = {"": "fill"}  # where nobody says how a picture is laid
_UNKNOWN_OVERSCAN_PERCENT = Fraction(5)  # where a screen overscans and nobody says how much: common practice


@dataclass(frozen=True, slots=True)
class Laid:
    """A stage with the setting that picks its option; assumed: nobody has seen how it stands.

    edges: the setting whose overscan hides some of it now, and the scope it is kept at.
    """

    stage: Stage
    device: str
    scope: str
    setting: str
    assumed: bool
    edges: tuple[Setting, str] | None = None


def stages_of(layer: Layer, result: RunResult) -> list[Laid]:
    """A run's stages that lay its picture into another frame, from source to glass."""
    rig = layer.rig
    source = rig.devices[result.run.source]
    out: list[Laid] = []
    draws = source.profile.draws
    if draws is not None:
        mode = result.asked.timing.mode if result.asked else result.run.want.mode
        out.append(_into_raster(layer, source, draws.fit, draws.fits, mode))
    fed = fed_signal(layer, result.path)
    for hop in result.path[:-1]:
        device = rig.devices[hop.inp.device]
        c = device.profile.converts
        sent = output_mode(layer, device, fed)
        if c is not None and sent is not None:
            out.append(_into_raster(layer, device, c.fit, c.fits, sent))
    out.append(_onto_glass(layer, result))
    return out


def _into_raster(layer: Layer, device: Device, fit: str | None, said: dict[str, Fit], mode: Mode) -> Laid:
    fits = said or _FILLS
    width, height = mode.size
    shape = FRAME if width in _BROAD_DOTS else Fraction(width, height)
    name = f"{device.label}, {mode.name}"
    option, scope, assumed = _chosen(layer, device, fit, fits, "")
    return Laid(Stage(name, shape, tuple(fits.items()), option, (width, height)), device.uid, scope, fit or "", assumed)


def _onto_glass(layer: Layer, result: RunResult) -> Laid:
    hop, signal = result.path[-1], arriving_facts(result)
    device = layer.rig.devices[hop.inp.device]
    shown = device.profile.shown_as or ShownAs()
    across, down = (int(n) for n in shown.glass.split(":"))
    fits = shown.fits or _FILLS
    option, scope, assumed = _chosen(layer, device, shown.fit, fits, hop.inp.port, signal)
    raster = device.profile.panel_size
    hidden = _hidden(layer, device, shown, hop.inp.port, signal)
    setting = _edges(device) if hidden else None
    edges = (setting, layer.scope(device, setting, hop.inp.port, signal)) if setting is not None else None
    stage = Stage(device.label, Fraction(across, down), tuple(fits.items()), option, raster, hidden)
    return Laid(stage, device.uid, scope, shown.fit or "", assumed, edges)


def _edges(device: Device) -> Setting | None:
    return next((s for s in device.profile.settings if s.effect == "overscan"), None)


def _hidden(layer: Layer, device: Device, shown: ShownAs, port: str, signal: SignalFacts | None) -> Fraction:
    """The share of width and height that lies past the edges of the glass."""
    percent = Fraction(str(shown.overscan_percent)) if shown.overscan_percent is not None else None
    setting = _edges(device)
    if setting is None:
        return (percent or Fraction(0)) / 100
    if layer.value(device, setting, port, signal) != "on":
        return Fraction(0)
    return (percent or _UNKNOWN_OVERSCAN_PERCENT) / 100


def _chosen(
    layer: Layer, device: Device, fit: str | None, fits: dict[str, Fit], port: str, signal: SignalFacts | None = None
) -> tuple[str, str, bool]:
    """The option in force, where its setting is kept, and whether that is only how it comes from its maker."""
    setting = device.profile.setting(fit) if fit else None
    if setting is None:
        return str(next(iter(fits))), "", False
    scope = layer.scope(device, setting, port, signal)
    value = layer.rig.setting_value(layer.name, device.uid, scope, setting)
    if value is not None and value in fits:
        return value, scope, False
    from_maker = setting.default if setting.default in fits else next(iter(fits))
    return str(from_maker), scope, True


def shape_words(layer: Layer, result: RunResult) -> str:
    """What becomes of an old machine's shape at the screen, in short: `33.3 % too wide`; empty for other runs."""
    source = layer.rig.devices[result.run.source].profile
    signal = first_signal(layer, result.path, result.asked_timing)
    if not result.path or (signal is None and source.draws is None):
        return ""
    intended, covers = (signal.shape, signal.covers) if signal is not None else (FRAME, (FULL, FULL))
    last = trace(intended, FRAME, [s.stage for s in stages_of(layer, result)], covers)[-1]
    return _words(float(last.error_percent(intended)), float(last.cut_percent))


def shape_data(stages: list[Laid], signal: AnalogueVideo | None) -> ShapeOut:
    """The test circle after every stage, the final error, and the options that would make it true."""
    intended = signal.shape if signal is not None else FRAME
    plain = [s.stage for s in stages]
    covers = signal.covers if signal is not None else (FULL, FULL)
    shown = trace(intended, FRAME, plain, covers)
    best = truest(intended, FRAME, plain, covers)
    changes = [
        (laid, option) for laid, option in zip(stages, best.options, strict=True) if option != laid.stage.chosen
    ] if best else []  # fmt: skip
    edges = [(laid, laid.edges) for laid in stages if laid.edges is not None]
    final = float(shown[-1].error_percent(intended))
    ops: list[Change] = [_set(laid, laid.setting, laid.scope, option) for laid, option in changes if laid.setting]
    ops += [_set(laid, s.id, scope, "off") for laid, (s, scope) in edges]
    left = best.error_percent if best else Fraction(0)
    meant = Shown("", "", "keep", intended, FRAME, covers[0], covers[1], resampled=False)
    cut = shown[-1].cut_percent
    return {
        "error_percent": round(final, 1), "words": _words(final, float(cut)), "cut_percent": round(float(cut), 1),
        "true": abs(final) < TRUE_PERCENT, "cure": _cure(final, float(left), float(cut)),
        "stages": [
            _stage("as it is meant", "", "keep", meant, Fraction(0), intended),
            *(
                _stage(s.stage, _option(laid, s.option) + (", assumed" if laid.assumed else ""), s.fit, s,
                       laid.stage.hidden, intended)
                for laid, s in zip(stages, shown, strict=True)
            ),
        ],
        "best": [f"{laid.stage.name}: {_option(laid, option)}" for laid, option in changes] + [
            f"{laid.stage.name}: {s.label} at {s.option_label('off')}" for laid, (s, _) in edges
        ],
        "best_error_percent": round(float(best.error_percent), 1) if best else None,
        "ops": ops,
    }  # fmt: skip


def _set(laid: Laid, setting: str, scope: str, value: str) -> SetSetting:
    return to_set((laid.device, scope, setting), value)


def _stage(name: str, option: str, fit: Fit, s: Shown, hidden: Fraction, intended: Fraction) -> ShapeStage:
    error = s.error_percent(intended)
    return {
        "stage": name, "option": option, "fit": fit, "frame": round(float(s.frame), 4),
        "picture": round(float(s.picture), 4), "width": round(float(s.width), 4), "height": round(float(s.height), 4),
        "seen_across": round(float(s.seen[0]), 4), "seen_down": round(float(s.seen[1]), 4),
        "hidden_percent": round(float(hidden * 100), 1), "error_percent": round(float(error), 1),
        "cut_percent": round(s.cut_percent), "true": abs(error) < TRUE_PERCENT,
        "words": _off(float(error)) or "true",
    }  # fmt: skip


def _off(error: float) -> str:
    """How far a shape is off, in words; empty where nobody sees it."""
    if abs(error) < TRUE_PERCENT:
        return ""
    return f"{abs(error):.1f} % too {'wide' if error > 0 else 'narrow'}".replace(".0 %", " %")


def _cure(error: float, left: float, cut: float) -> str:
    """What the best setting gives: how its list begins."""
    if abs(error) < TRUE_PERCENT:
        return "The whole of it with" if cut >= 1 else "At its own size with"
    return "True with" if abs(left) < TRUE_PERCENT else "Nearest with"


def _words(error: float, cut: float) -> str:
    shape = _off(error) or "true shape"
    return f"{shape}; {cut:.0f} % of the picture lies past the edges" if cut >= 1 else shape


def _option(laid: Laid, option: str) -> str:
    return FIT_WORDS[dict(laid.stage.options)[option]]
