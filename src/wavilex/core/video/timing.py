"""A video timing, exact: integer pixels and lines, integer pixel clock in Hz, refresh as a fraction."""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction

from wavilex.core.video.mode import Mode


@dataclass(frozen=True, slots=True, unsafe_hash=False)
class Timing:
    """One video timing.

    Horizontal figures are in pixels, vertical ones in lines, per field when `interlaced`.
    `half_line` is false for the one interlaced kind whose fields have a whole number of lines.
    `refresh` is the field or frame rate in Hz. `code` is the address it is known by
    (`vic:97`, `cvt:2560x1440@120:rb1`), `family` the document's name for its kind.
    """

    code: str
    family: str
    h_active: int
    h_front: int
    h_sync: int
    h_back: int
    v_active: int
    v_front: int
    v_sync: int
    v_back: int
    pixel_clock_hz: int
    refresh: Fraction
    interlaced: bool = False
    h_sync_positive: bool = True
    v_sync_positive: bool = True
    half_line: bool = True

    def __hash__(self) -> int:
        """By address alone, which names the figures; signals are looked up by the thousand."""
        return hash(self.code)

    @property
    def h_blank(self) -> int:
        return self.h_front + self.h_sync + self.h_back

    @property
    def h_total(self) -> int:
        return self.h_active + self.h_blank

    @property
    def v_total(self) -> Fraction:
        """Lines a frame, or a field with its half line when interlaced."""
        whole = self.v_active + self.v_front + self.v_sync + self.v_back
        return Fraction(2 * whole + 1, 2) if self.interlaced and self.half_line else Fraction(whole)

    @property
    def frame_height(self) -> int:
        """Active lines of a whole picture."""
        return self.v_active * (2 if self.interlaced else 1)

    @property
    def nominal_hz(self) -> int:
        """The rate people say: 60 for 59.94 and for 119.998 halved. Rounded to the nearest whole Hz."""
        return round(self.refresh)

    @property
    def mode(self) -> Mode:
        """What people call it, as a key: `3840x2160@120`, `1920x1080i@60`."""
        return Mode(self.h_active, self.frame_height, self.nominal_hz, self.interlaced)

    @property
    def modeline(self) -> str:
        """An X.org modeline; vertical figures of a whole frame when interlaced, as X.org has them."""
        scale = 2 if self.interlaced else 1
        edges_h = [self.h_active, self.h_active + self.h_front]
        edges_h += [edges_h[1] + self.h_sync, self.h_total]
        v_front, v_sync = self.v_front * scale, self.v_sync * scale
        edges_v = [self.frame_height, self.frame_height + v_front]
        edges_v += [edges_v[1] + v_sync, int(self.v_total * scale)]
        mhz = f"{self.pixel_clock_hz / 1e6:.6f}".rstrip("0").rstrip(".")
        flags = ["Interlace"] if self.interlaced else []
        flags.append("+HSync" if self.h_sync_positive else "-HSync")
        flags.append("+VSync" if self.v_sync_positive else "-VSync")
        words = [f'Modeline "{self.mode}"', mhz, *map(str, edges_h), *map(str, edges_v), *flags]
        return " ".join(words)

    def as_dict(self) -> dict[str, object]:
        """The fields of `wavilex timing --json`, in a fixed order."""
        return {
            "code": self.code,
            "family": self.family,
            "h_active": self.h_active,
            "h_front": self.h_front,
            "h_sync": self.h_sync,
            "h_back": self.h_back,
            "v_active": self.v_active,
            "v_front": self.v_front,
            "v_sync": self.v_sync,
            "v_back": self.v_back,
            "pixel_clock_hz": self.pixel_clock_hz,
            "refresh_hz": str(self.refresh),
            "interlaced": self.interlaced,
            "h_sync_positive": self.h_sync_positive,
            "v_sync_positive": self.v_sync_positive,
            "modeline": self.modeline,
        }
