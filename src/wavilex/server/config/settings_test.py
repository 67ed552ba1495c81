"""Settings for tests: a data folder that is thrown away, quick password hashing."""

from __future__ import annotations

import os
import tempfile

os.environ["WAVILEX_DATA"] = tempfile.mkdtemp(prefix="wavilex-test-")
os.environ.setdefault("WAVILEX_DEMO", "1")

from wavilex.server.config.settings import *  # noqa: F403
from wavilex.server.config.settings import DATA, DATABASES

PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]
DATABASES["default"]["TEST"] = {"NAME": DATA / "test.sqlite3"}  # a file: memory locks under parallel requests
