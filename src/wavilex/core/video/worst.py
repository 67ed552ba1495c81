"""The worst a link must bear: clocks at their limits, and characters that control and sound take of the blanking.

Source: HDMI 2.1, FRL video transport, steps 2, 4 and 6; value from memory. Whole numbers, for exact sums.
"""

from __future__ import annotations

from wavilex.core.video.timing import Timing

CLOCK_UP, CLOCK_BASE = 201, 200  # pixel clock +0.5 %
LANE_DOWN, LANE_BASE = 9997, 10000  # lane rate −300 ppm
CHARACTER_BITS = 18  # 16b/18b
CONTROL_CHARACTERS = 32  # of the blanking, kept for control
PACKET_CHARACTERS = 32  # of the blanking, for each packet of sound


def shortest_line(t: Timing) -> tuple[int, int]:
    """The shortest line in seconds, as numerator and denominator."""
    return t.h_total * CLOCK_BASE, t.pixel_clock_hz * CLOCK_UP


def slowest_lane(lane_gbps: int) -> tuple[int, int]:
    """The fewest characters a second a lane carries, as numerator and denominator."""
    return lane_gbps * 1_000_000_000 * LANE_DOWN, CHARACTER_BITS * LANE_BASE


def fewest_characters(t: Timing, lanes: int, lane_gbps: int) -> int:
    """Step 2: C_line = floor(T_line · r_char · lanes)."""
    (line, of_line), (lane, of_lane) = shortest_line(t), slowest_lane(lane_gbps)
    return line * lane * lanes // (of_line * of_lane)
