"""Writes the JSON Schemas of gear profiles and job files to docs/formats; `--check` fails when they are stale."""

from __future__ import annotations

import json
import sys
from pathlib import Path

from pydantic import BaseModel

from wavilex.core.gear.profile import Profile
from wavilex.core.rig.jobfile import JobFile

FOLDER = Path(__file__).resolve().parent.parent / "docs" / "formats"
FILES: dict[str, type[BaseModel]] = {"gear-profile.schema.json": Profile, "job-file.schema.json": JobFile}


def main() -> int:
    stale = []
    for name, model in FILES.items():
        text = json.dumps(model.model_json_schema(by_alias=True), indent=1, ensure_ascii=False) + "\n"
        file = FOLDER / name
        if "--check" in sys.argv:
            if not file.exists() or file.read_text(encoding="utf-8") != text:
                stale.append(name)
        else:
            file.write_text(text, encoding="utf-8")
    if stale:
        print(f"stale: {', '.join(stale)}; run  .venv/bin/python tools/schemas.py", file=sys.stderr)
    return int(bool(stale))


if __name__ == "__main__":
    sys.exit(main())
