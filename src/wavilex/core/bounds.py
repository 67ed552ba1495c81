"""How much a job and a reading may hold: one set of bounds for typing, storing, files out and files in."""

from __future__ import annotations

DEVICES = 60
RUNS = 40
ROOMS = 60
LEADS = 240
WAY = 16  # leads a run goes by, one after the other
TITLES = 120
SETTINGS = 6000
FACTS = 6000
TICKS = 20_000
OBSERVATIONS = 5000
LIGHT_NOTES = 4000
PHOTOGRAPHS = 400
OBSERVED_LETTERS = 200
GROUNDS = 120  # what one observation rests on
CONDITIONS = 24  # of a lag session
CONDITION_LETTERS = 60
READINGS = 200_000  # of a job, whatever screens they are of
READING_TEXT = 8 * 2**20  # signs of what its readings say in words: with the rest, a file that can be read again
MOST_LAG_US = 59_999_999  # a minute less a microsecond: more is a digit left out
