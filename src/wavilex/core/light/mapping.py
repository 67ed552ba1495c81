"""Who maps tones: content to source to screen to light, and what each way gains and loses.

A mapper brings a picture mastered to one peak onto a lower one. Both source and screen may do it; both together is
double mapping, which darkens highlights twice. The roll-off is BT.2390 section 5.4.1 (EETF), in PQ; how a given screen
really rolls off is its own, so it is marked as modelled until the screen was measured.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

from wavilex.core.light.transfer import PQ_MOST, pq_light, pq_signal

Way = Literal["source", "screen_static", "screen_dynamic", "off"]
WAYS: Mapping[Way, str] = {
    "source": "led by the source", "screen_static": "by the screen, one curve",
    "screen_dynamic": "by the screen, scene by scene", "off": "off: cut at the peak",
}  # fmt: skip
SHOWN = (0.1, 1.0, 100.0, 203.0, 1000.0, 4000.0)
CONTENT = 4000.0  # cd/m² a title's brightest reaches where nobody says: common practice
SCENE = 1000.0  # of a usual scene, for the mapping that follows it: a figure of our own
_CHANGED = 0.02  # a share below which two lights are the same


def eetf(light: float, content: float, target: float) -> float:
    """Light of the content after BT.2390's roll-off from one peak to another, black kept, in cd/m²."""
    if target >= content:
        return min(light, content)
    top = pq_signal(content)
    e1 = min(pq_signal(min(light, PQ_MOST)) / top, 1.0)
    most = pq_signal(target) / top
    knee = 1.5 * most - 0.5
    if e1 < knee:
        return light
    t = (e1 - knee) / (1 - knee)
    p = (2 * t**3 - 3 * t**2 + 1) * knee + (t**3 - 2 * t**2 + t) * (1 - knee) + (-2 * t**3 + 3 * t**2) * most
    return pq_light(min(p * top, 1.0))


@dataclass(frozen=True, slots=True)
class Chain:
    """How a picture of so bright a content is mapped. source_peak: what the source was calibrated to, None: it does not
    map; screen_peak: what the screen reaches; way: what its tone mapping is set to. Peaks in cd/m².
    """

    way: Way
    screen_peak: float
    source_peak: float | None = None
    content: float = CONTENT
    scene: float = SCENE

    def sent(self, light: float) -> float:
        """What the source sends for a light of the content."""
        return light if self.source_peak is None else eetf(light, self.content, self.source_peak)

    def shown(self, light: float) -> float:
        """What the screen shows for a light of the content, in cd/m²."""
        sent = self.sent(light)
        if self.way in ("off", "source"):
            return min(sent, self.screen_peak)
        if self.way == "screen_static":
            return eetf(sent, self.content, self.screen_peak)
        brightest = max(min(self.sent(self.content), self.scene), sent)
        return eetf(sent, brightest, self.screen_peak)

    @property
    def double(self) -> bool:
        """Does the screen map again what the source has mapped already?"""
        return (
            self.source_peak is not None
            and self.source_peak < self.content
            and self.way.startswith("screen_")
            and (
                abs(self.shown(self.content) - self.sent(min(self.content, self.source_peak)))
                > _CHANGED * self.screen_peak
                or any(abs(self.shown(x) - min(self.sent(x), self.screen_peak)) > _CHANGED * max(x, 1) for x in SHOWN)
            )
        )

    @property
    def cut_from(self) -> float | None:
        """Light of the content from which on everything is one white; None where nothing is cut.

        By halving: what is shown never falls with the content.
        """
        if self.way == "screen_dynamic":
            return None  # a scene that is brighter gets a curve of its own
        top = self.shown(self.content)
        low, high = 0.0, self.content
        for _ in range(40):
            middle = (low + high) / 2
            low, high = (low, middle) if self.shown(middle) >= top * (1 - 1e-9) else (middle, high)
        return high if high < self.content * 0.97 else None


def curve(chain: Chain, points: int = 81) -> list[tuple[float, float, float]]:
    """Content, sent, shown in cd/m², at equal steps of a PQ signal up to the content's peak."""
    top = pq_signal(chain.content)
    lights = [pq_light(top * n / (points - 1)) for n in range(points)]
    return [(x, chain.sent(x), chain.shown(x)) for x in lights]


def beside(chains: Sequence[Chain], lights: Sequence[float] = SHOWN) -> list[list[float]]:
    """What each chain shows at each light of the content."""
    return [[c.shown(x) if x <= c.content else c.shown(c.content) for x in lights] for c in chains]


def gains(chain: Chain) -> tuple[str, str]:
    """What a way gains and what it loses on this screen, in figures."""
    white, bright, cut = chain.shown(203), chain.shown(1000), chain.cut_from
    kept = f"graphics white (203) shows at {white:.0f} cd/m²"
    if chain.way == "screen_dynamic":
        return f"{kept}; dark scenes keep their light", f"1000 shows at {bright:.0f}, and changes with the scene"
    if chain.way == "screen_static":
        lost = f"1000 shows at {bright:.0f} cd/m²" + (f"; {203 - white:.0f} cd/m² less at 203" if white < 199 else "")
        return f"highlights up to {chain.content:.0f} stay apart; {kept}", lost
    cut_words = f"everything over {cut:.0f} cd/m² is one white" if cut else "nothing is cut"
    return (
        f"as meant up to {min(chain.screen_peak, chain.source_peak or chain.screen_peak):.0f} cd/m²; {kept}",
        cut_words,
    )
