"""The server as it is really run, in a data folder of its own, on a loopback port."""

from __future__ import annotations

import http.cookiejar
import json
import os
import signal
import subprocess
import sys
import time
import urllib.error
import urllib.request
from pathlib import Path
from typing import Any

from wavilex.server.demo import free_port


class Server:
    """`wavilex.server.run --demo` in a data folder of its own, on a loopback port."""

    def __init__(self, data: Path) -> None:
        self.port, self.data = free_port(), data
        self.env = {**os.environ, "WAVILEX_DATA": str(data), "WAVILEX_DEMO": "1",
                    "DJANGO_SETTINGS_MODULE": "wavilex.server.config.settings"}  # fmt: skip
        manage = [sys.executable, "-m", "wavilex.server.manage", "seed_demo"]
        subprocess.run(manage, env=self.env, check=True)
        self.start()

    def start(self) -> None:
        words = [sys.executable, "-m", "wavilex.server.run", "--demo", "--port", str(self.port)]
        self.process = subprocess.Popen(words, env=self.env, stdout=subprocess.DEVNULL, start_new_session=True)
        self.jar = http.cookiejar.CookieJar()
        self.opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(self.jar))
        end = time.monotonic() + 180
        while True:
            try:
                self.call("/session/door")
                break
            except OSError:
                assert time.monotonic() < end, "the server did not start"
                time.sleep(0.1)
        self.call("/session/demo", {})

    def call(self, path: str, body: Any = None) -> Any:
        token = next((c.value for c in self.jar if c.name.startswith("wavilex_token")), "") or ""
        request = urllib.request.Request(
            f"http://127.0.0.1:{self.port}/api/v1{path}",
            json.dumps(body).encode() if body is not None else None,
            {"Content-Type": "application/json", "X-CSRFToken": token},
        )  # fmt: skip
        with self.opener.open(request, timeout=10) as response:
            return json.loads(response.read())

    def change(self, uid: str, base: int = 1, title: str = "x") -> Any:
        """An edit of the demo."""
        ops = [{"op": "set_title", "value": title}]
        return self.call("/jobs/pierhead/changes", {"base_revision": base, "uid": uid, "ops": ops})

    def refused(self, uid: str, base: int = 1) -> tuple[int, dict[str, Any], str]:
        """An edit that is refused: status, problem, Retry-After."""
        try:
            self.change(uid, base)
        except urllib.error.HTTPError as error:
            return error.code, json.loads(error.read()), error.headers.get("Retry-After", "")
        raise AssertionError("it was accepted")

    def kill(self) -> None:
        """All of it at once, as a power cut would."""
        os.killpg(self.process.pid, signal.SIGKILL)
        self.process.wait(timeout=5)
