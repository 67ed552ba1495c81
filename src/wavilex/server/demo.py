"""Start the demo: own data folder, a simulated lag meter beside the server, both ended together."""

from __future__ import annotations

import argparse
import contextlib
import os
import shutil
import signal
import socket
import subprocess
import sys
from pathlib import Path


def free_port() -> int:
    """A port nobody listens on just now."""
    with contextlib.closing(socket.socket()) as probe:
        probe.bind(("127.0.0.1", 0))
        port: int = probe.getsockname()[1]
        return port


def main() -> int:
    parser = argparse.ArgumentParser()
    parser.add_argument("--reset", action="store_true", help="start afresh")
    parser.add_argument("--port", type=int, default=8420)
    parser.add_argument("--data", default="demo-data")
    words = parser.parse_args()
    folder = Path(words.data).resolve()
    if words.reset and folder.exists():
        if not (folder / "secret_key").exists():
            parser.error(f"{folder} is no data folder of Wavilex; it is left alone")
        shutil.rmtree(folder)
    meter_port = free_port()
    env = {
        **os.environ,
        "WAVILEX_DATA": str(folder),
        "WAVILEX_DEMO": "1",
        "WAVILEX_EDID_READER": os.environ.get("WAVILEX_EDID_READER", "simulated"),
        "WAVILEX_METERS": os.environ.get("WAVILEX_METERS", f"bench=socket://127.0.0.1:{meter_port}"),
        "DJANGO_SETTINGS_MODULE": "wavilex.server.config.settings",
    }
    subprocess.run([sys.executable, "-m", "wavilex.server.manage", "seed_demo"], env=env, check=True)
    meter = subprocess.Popen(
        [sys.executable, "-m", "wavilex.cli", "simulate", "lag-meter", "--port", str(meter_port)], env=env
    )
    server = subprocess.Popen(
        [sys.executable, "-m", "wavilex.server.run", "--demo", "--port", str(words.port)], env=env
    )
    for sign in (signal.SIGTERM, signal.SIGINT):
        signal.signal(sign, lambda *_: server.terminate())
    try:
        return server.wait()
    finally:
        meter.terminate()
        meter.wait(timeout=5)


if __name__ == "__main__":
    sys.exit(main())
