"""Start the server: `python -m wavilex.server.run`. One worker process, eight threads; it owns the meters."""

from __future__ import annotations

import argparse
import os


def main() -> None:
    parser = argparse.ArgumentParser()
    parser.add_argument("--port", type=int, default=8420)
    parser.add_argument("--host", default="127.0.0.1")
    parser.add_argument("--demo", action="store_true")
    words = parser.parse_args()
    if words.demo:
        if words.host != "127.0.0.1":
            parser.error("the demo listens on 127.0.0.1 only")
        os.environ["WAVILEX_DEMO"] = "1"
    else:
        os.environ.pop("WAVILEX_DEMO", None)
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "wavilex.server.config.settings")
    import django

    django.setup()
    from wavilex.server.prepare import prepare_database

    prepare_database()
    from wavilex.server.jobs.services import fill_summaries

    fill_summaries()
    from wavilex.server.upkeep.health import note_running

    note_running(words.port)
    from django.contrib.auth import get_user_model

    if not words.demo and not get_user_model().objects.exists():
        print("No account yet: make the first one with  wavilex user NAME", flush=True)
    print(f"Wavilex: http://{words.host}:{words.port}/", flush=True)
    import sys

    from gunicorn.app.wsgiapp import run

    sys.argv = [
        "gunicorn", "wavilex.server.config.wsgi:application", "--bind", f"{words.host}:{words.port}",
        "--workers", "1", "--threads", "8", "--no-control-socket", "--log-level", "warning", "--graceful-timeout", "5",
    ]  # fmt: skip
    run()


if __name__ == "__main__":
    main()
