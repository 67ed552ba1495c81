"""A run's sound as plain data."""

from __future__ import annotations

from wavilex.core.chain.paths import Layer
from wavilex.core.chain.shapes import SoundOut
from wavilex.core.chain.sound import FORMAT_NAMES, SoundAnswer, sound_headline, way_name


def sound_data(layer: Layer, answer: SoundAnswer) -> SoundOut:
    """A run's sound as plain data, sentences rendered."""
    rig = layer.rig
    return {
        "headline": sound_headline(rig, answer),
        "silent": bool(answer.silent) and not answer.ends,
        "ends": [
            {
                "device": e.device, "label": rig.devices[e.device].label, "certain": e.certain,
                "format": FORMAT_NAMES[e.formats[0]] if e.formats else "",
                "way": [way_name(h.way) for h in e.hops],
                "path": [rig.devices[h.end.device].label for h in e.hops],
                "on": [rig.devices[uid].label for uid in e.on],
            }
            for e in answer.ends
        ],
        "barred": list(answer.barred),
        "ways": list(answer.ways),
    }  # fmt: skip
