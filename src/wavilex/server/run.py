"""Start the server: `python -m wavilex.server.run`. One process with a pool of threads; it owns the meters.

The front reads a request whole before a thread takes it up, so that somebody who sends half of one holds nobody up.
"""

from __future__ import annotations

import argparse
import os
import sys
from pathlib import Path
from types import FrameType
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from wavilex.server.lan.house import House

THREADS = 8
QUIET_SECONDS = 30  # a connection that says nothing for so long is closed
CONNECTIONS = 400
CANNOT_START = 3
_COLLECT = (5_000, 20, 50)  # how much is made before it is looked through for what nobody holds, young to old


def main() -> None:
    parser = argparse.ArgumentParser()
    parser.add_argument("--port", type=int, default=8420)
    parser.add_argument("--host", default="", help="127.0.0.1, with --lan all of this machine’s")
    parser.add_argument("--demo", action="store_true")
    parser.add_argument(
        "--lan", action="store_true", help="serve the house network: HTTPS, by a certificate of its own"
    )
    parser.add_argument("--probe-port", type=int, default=0, help="with --lan: serve the probe alone without TLS, too")
    words = parser.parse_args()
    words.host = words.host or ("0.0.0.0" if words.lan else "127.0.0.1")
    if words.probe_port and not words.lan:
        parser.error("--probe-port goes with --lan")
    if words.lan and words.demo:
        parser.error("the demo listens on 127.0.0.1 only: serve data of your own to the house")
    if words.demo:
        if words.host != "127.0.0.1":
            parser.error("the demo listens on 127.0.0.1 only")
        os.environ["WAVILEX_DEMO"] = "1"
    else:
        os.environ.pop("WAVILEX_DEMO", None)
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "wavilex.server.config.settings")
    house = _house(words) if words.lan else None
    from wavilex.server.data_state import DataError, look_at

    try:
        damaged = look_at()
        if damaged:
            os.environ["WAVILEX_READ_ONLY"] = damaged
            print(f"Wavilex: {damaged}", file=sys.stderr, flush=True)
        _prepare(words.port, demo=words.demo, damaged=bool(damaged))
    except DataError as error:
        print(f"Wavilex cannot start: {error}", file=sys.stderr, flush=True)
        sys.exit(CANNOT_START)
    if house is None:
        _serve(words.host, words.port, daily=not damaged)
    else:
        _serve_house(house, daily=not damaged)


def _house(words: argparse.Namespace) -> House:
    """How the house reaches this server; said to the settings before they are read."""
    import datetime

    from wavilex.server.config.data_folder import data_folder
    from wavilex.server.lan.house import House

    house = House.made(words.host, words.port, words.probe_port, data_folder(), datetime.datetime.now(datetime.UTC))
    os.environ |= house.environment
    return house


def _serve_house(house: House, *, daily: bool) -> None:
    """TLS in front for the house, the server behind it on this machine alone; the probe's plain port where asked."""
    try:
        house.open()
    except OSError as error:
        print(f"Wavilex cannot start: {house.address} cannot be served: {error.strerror}", file=sys.stderr)
        sys.exit(CANNOT_START)
    print(house.words(), flush=True)
    _serve("127.0.0.1", house.inner_port, daily=daily, scheme="https", said=False)


def _prepare(port: int, *, demo: bool, damaged: bool) -> None:
    """Everything that wants the data, before anybody is let in. Raises DataError."""
    from wavilex.server.data_state import told

    with told():
        import django

        django.setup()
        if damaged:
            return
        from wavilex.server.jobs.services import fill_summaries
        from wavilex.server.prepare import prepare_database
        from wavilex.server.upkeep.health import note_running

        prepare_database()
        fill_summaries()
        note_running(port)
        from django.contrib.auth import get_user_model

        if not demo and not get_user_model().objects.exists():
            print("No account yet: make the first one with  wavilex user NAME", flush=True)


def trusted(proxy: str) -> dict[str, Any]:
    """Whose word on the client's address is taken: the stated proxy's; nobody's where none is stated."""
    if not proxy:
        return {}
    return {"trusted_proxy": proxy, "trusted_proxy_headers": {"x-forwarded-for", "x-forwarded-proto"}}


def _serve(host: str, port: int, *, daily: bool, scheme: str = "http", said: bool = True) -> None:
    """scheme: by which the browser came, where TLS stands in front. said: tell the address."""
    import signal

    from django.conf import settings
    from waitress.server import create_server

    from wavilex.server.config import limits
    from wavilex.server.config.wsgi import application
    from wavilex.server.upkeep.daily import keep_daily

    try:
        server = create_server(
            application, host=host, port=port, threads=THREADS, channel_timeout=QUIET_SECONDS,
            cleanup_interval=QUIET_SECONDS // 3, connection_limit=CONNECTIONS, ident=None,
            max_request_body_size=limits.FRONT_BYTES, clear_untrusted_proxy_headers=True, url_scheme=scheme,
            **trusted(settings.PROXY),
        )  # fmt: skip
    except OSError as error:
        print(f"Wavilex cannot start: {host}:{port} cannot be listened on: {error.strerror}", file=sys.stderr)
        sys.exit(CANNOT_START)
    if said:
        print(f"Wavilex: http://{host}:{port}/", flush=True)
    if daily:
        keep_daily(Path(str(settings.DATABASES["default"]["NAME"])), settings.DATA / "backups")

    def end(_sign: int, _frame: FrameType | None) -> None:
        raise SystemExit(0)

    signal.signal(signal.SIGTERM, end)
    _settle_memory()
    server.run()


def _settle_memory() -> None:
    """Load what the first request would, and leave all that stays out of every later collection: a full one of it
    takes a third of a second, in the middle of somebody's change.
    """
    import gc

    from django.urls import get_resolver

    _ = get_resolver().url_patterns
    gc.collect()
    gc.freeze()
    gc.set_threshold(*_COLLECT)


if __name__ == "__main__":
    main()
