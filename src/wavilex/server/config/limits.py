"""Size limits, all of them, as numbers."""

BODY_BYTES = 2 * 1024 * 1024
FRONT_BYTES = 160 * 1024 * 1024  # what the front reads at all; the program’s own limits are lower
FILE_BYTES = 128 * 1024 * 1024  # of a job file, or a table of readings
JOBS = 2000
SHELF_BOXES = 2000
PACK_BYTES = 1_400_000  # of a pack of gear; in base64 it stays under BODY_BYTES
OPS_PER_CHANGE = 400
READINGS_PER_ANSWER = 2000
READINGS_PER_TAKE = 200
READINGS_NOT_PLACED = 200  # that a session keeps of what a meter held and nobody can place
SIGN_IN_FAILURES = 6
SIGN_IN_COOL_OFF_MINUTES = 10
REMEMBERED_BYTES = 48 * 1024 * 1024  # what the server keeps of answers worked out
CACHED_REPORTS = 64
JOBS_PER_PAGE = 50
BACKUPS_KEPT = 20
FIX_SEARCH_SECONDS = 3
ASSIGN_SECONDS = 5
