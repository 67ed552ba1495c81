"""Writes frontend/api-schema.json and the types made from it; `--check` fails when they are stale."""

from __future__ import annotations

import json
import os
import subprocess
import sys
import tempfile
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
SCHEMA = ROOT / "frontend" / "api-schema.json"
TYPES = ROOT / "frontend" / "src" / "api" / "schema.ts"


def schema_text() -> str:
    """The OpenAPI document, keys sorted."""
    os.environ["DJANGO_SETTINGS_MODULE"] = "wavilex.server.config.settings_test"
    import django

    django.setup()
    from wavilex.server.api import api

    return json.dumps(api.get_openapi_schema(), indent=1, sort_keys=True, default=str) + "\n"


def types_text(schema: Path) -> str:
    tool = ROOT / "frontend" / "node_modules" / ".bin" / "openapi-typescript"
    done = subprocess.run([tool, schema], capture_output=True, text=True, check=True, cwd=ROOT / "frontend")
    return "// Made from api-schema.json by tools/api_schema.py; do not edit.\n" + done.stdout


def main() -> int:
    schema = schema_text()
    if "--check" in sys.argv:
        stale = not SCHEMA.exists() or SCHEMA.read_text(encoding="utf-8") != schema
        with tempfile.NamedTemporaryFile("w", suffix=".json") as file:
            file.write(schema)
            file.flush()
            stale = stale or TYPES.read_text(encoding="utf-8") != types_text(Path(file.name))
        if stale:
            print("the front end's types are stale: run  .venv/bin/python tools/api_schema.py", file=sys.stderr)
        return int(stale)
    SCHEMA.write_text(schema, encoding="utf-8")
    TYPES.parent.mkdir(parents=True, exist_ok=True)
    TYPES.write_text(types_text(SCHEMA), encoding="utf-8")
    return 0


if __name__ == "__main__":
    sys.exit(main())
