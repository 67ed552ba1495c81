"""A film preset for the day beside the one for the dark, where the house style asks for two. Common practice."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

from wavilex.core.advise.levels import Start, measured, start_of
from wavilex.core.advise.situation import boxes_of, kinds_of, schools_of, where_of
from wavilex.core.advise.solve import places
from wavilex.core.advise.wishes import Wish, wishes_of
from wavilex.core.chain.paths import Layer
from wavilex.core.chain.results import RunResult
from wavilex.core.gear.cells import read_scope, spot_of
from wavilex.core.gear.setting import Setting

BY_DAY, BY_NIGHT = "by day", "in the dark"
DAY_LOOK = "bright_room"
_BY_DAY = ("film_bright", "expert", "standard", "vivid")  # the likeliest for films in daylight first


def day_preset(layer: Layer, result: RunResult) -> str:
    """The picture preset a run's films are seen in by day, by its id; "" where one serves day and night."""
    preset = layer.rig.devices[result.run.sink].profile.preset
    if preset is None or not result.path or not where_of(layer, result, None).film:
        return ""
    if schools_of(layer, result.run)["daylight"] != "two":
        return ""
    return next((p for p in _BY_DAY if any(o.id == p for o in preset.options)), "")


def day_values(layer: Layer, result: RunResult, preset: str) -> Iterator[tuple[tuple[str, str, str], Start]]:
    """What the screen's settings begin with under the day's preset, in the cells the run is in: where, and what."""
    schools = {**schools_of(layer, result.run), "look": DAY_LOOK, "daylight": "one"}
    for kind in kinds_of(layer, result):
        wishes = {w.effect: w for w in wishes_of(where_of(layer, result, None, kind), schools)}
        for box in boxes_of(layer, result, kind)[:1]:
            for place, setting in places(box.device.profile, box.scope):
                uid, scope, name = box.key(place)
                there = replace(read_scope(scope), mode=preset).kept(setting.dimensions)
                if "mode" not in setting.dimensions or there == scope:
                    continue
                range_ = spot_of(box.around.signal).range if "range" in setting.dimensions else ""
                spot = spot_of(box.around.signal, box.scope, preset)
                start = measured(layer.rig, box.device, spot, setting, "day") or start_of(setting, range_, DAY_LOOK)
                start = start or _wished(setting, wishes.get(setting.effect or ""))
                if start is not None:
                    yield (uid, there, name), start


def _wished(setting: Setting, wish: Wish | None) -> Start | None:
    if wish is None or not setting.options:
        return None
    best = max((o.id for o in setting.options), key=lambda o: wish.worth.get(o, 0))
    return Start(best, f"{BY_DAY}: {wish.why}", "common practice") if wish.worth.get(best, 0) > 0 else None
