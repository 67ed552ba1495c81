"""Start the demo: own data folder, simulated meters beside the server, both ended together."""

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

# what the den's receiver and screen say when asked; the counter shows one rate where a moving one is expected
SHOWN = {
    "receiver": ("in_out.in.mode=1440p120", "in_out.in.colour=4:2:2, 12-bit", "in_out.out.mode=1440p120",
                 "in_out.out.colour=4:2:2, 12-bit", "in_out.hdr=yes"),
    "screen": ("banner.input=HDMI 3", "banner.mode=1440p120", "banner.hdr=yes", "banner.game=off",
               "counter.rate=120 Hz"),
}  # fmt: skip


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
    light_port = free_port()
    boxes = {kind: free_port() for kind in SHOWN}
    env = {
        **os.environ,
        "WAVILEX_DATA": str(folder),
        "WAVILEX_DEMO": "1",
        "WAVILEX_EDID_READER": os.environ.get("WAVILEX_EDID_READER", "simulated"),
        "WAVILEX_BOXES": os.environ.get(
            "WAVILEX_BOXES", ";".join(f"den-{kind}=socket://127.0.0.1:{port}" for kind, port in boxes.items())
        ),
        "WAVILEX_LIGHT_METERS": os.environ.get("WAVILEX_LIGHT_METERS", f"spot=socket://127.0.0.1:{light_port}"),
        "WAVILEX_METERS": os.environ.get("WAVILEX_METERS", f"bench=socket://127.0.0.1:{meter_port}"),
        "DJANGO_SETTINGS_MODULE": "wavilex.server.config.settings",
    }
    subprocess.run([sys.executable, "-m", "wavilex.server.manage", "seed_demo"], env=env, check=True)
    meter = subprocess.Popen(
        [sys.executable, "-m", "wavilex.cli", "simulate", "lag-meter", "--port", str(meter_port)], env=env
    )
    spot = subprocess.Popen(
        [sys.executable, "-m", "wavilex.cli", "simulate", "light-meter", "--port", str(light_port)], env=env
    )
    simulated = [
        subprocess.Popen(
            [sys.executable, "-m", "wavilex.cli", "simulate", kind, "--port", str(port),
             *(word for line in SHOWN[kind] for word in ("--show", line))],
            env=env,
        )
        for kind, port in boxes.items()
    ]  # fmt: skip
    server = subprocess.Popen(
        [sys.executable, "-m", "wavilex.server.run", "--demo", "--port", str(words.port)], env=env
    )
    for sign in (signal.SIGTERM, signal.SIGINT):
        signal.signal(sign, lambda *_: server.terminate())
    try:
        return server.wait()
    finally:
        for instrument in (meter, spot, *simulated):
            instrument.terminate()
            instrument.wait(timeout=5)


if __name__ == "__main__":
    sys.exit(main())
