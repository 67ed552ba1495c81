"""An old machine's run as data, for tests."""

from __future__ import annotations

from typing import Any

from wavilex.core.chain.carry import run_result
from wavilex.core.chain.paths import Layer
from wavilex.core.rig.model import Rig
from wavilex.core.tell.old_machine import retro_data


def data_of(r: Rig) -> dict[str, Any]:
    layer = Layer(r)
    found = retro_data(layer, run_result(layer, r.runs["main"]))
    assert found is not None
    return found
