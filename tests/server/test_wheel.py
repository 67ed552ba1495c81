"""The package as somebody gets it: a wheel, put into a clean environment anywhere, serves."""

from __future__ import annotations

import os
import subprocess
import sys
import time
import urllib.request
import venv
from pathlib import Path

import pytest

from wavilex.server.demo import free_port

ROOT = Path(__file__).resolve().parents[2]


@pytest.mark.soak
def test_a_wheel_holds_the_page_and_the_fonts_and_serves(tmp_path: Path) -> None:
    build = [sys.executable, "-m", "pip", "wheel", str(ROOT), "--no-deps", "--no-build-isolation", "-w", str(tmp_path)]
    subprocess.run(build, check=True, stdout=subprocess.DEVNULL)
    wheel = next(tmp_path.glob("wavilex-*.whl"))
    home = tmp_path / "env"
    venv.create(home, with_pip=True)
    subprocess.run([home / "bin" / "pip", "install", "-q", wheel], check=True)
    port = free_port()
    env = {"PATH": os.environ["PATH"], "WAVILEX_DATA": str(tmp_path / "data"), "HOME": str(tmp_path)}
    server = subprocess.Popen([home / "bin" / "wavilex", "serve", "--port", str(port)], env=env, cwd=tmp_path)
    try:
        end = time.monotonic() + 180
        while True:
            try:
                page = urllib.request.urlopen(f"http://127.0.0.1:{port}/", timeout=5).read().decode()
                break
            except OSError:
                assert time.monotonic() < end, "it did not start"
                time.sleep(0.2)
        script = page.split('src="')[1].split('"')[0]
        assert urllib.request.urlopen(f"http://127.0.0.1:{port}{script}", timeout=5).status == 200
    finally:
        server.kill()
        server.wait(timeout=5)
    fonts = next(home.glob("lib/python*/site-packages/wavilex/server/paper/fonts"))
    assert {"regular.ttf", "bold.ttf", "LICENSE"} <= {f.name for f in fonts.iterdir()}
    status = subprocess.run([home / "bin" / "wavilex", "status"], env=env, capture_output=True, text=True, check=True)
    assert str(tmp_path / "data") in status.stdout
