"""Makes the two static fonts that printed files use out of the page's own variable font, with its licence beside.

    python tools/paper_fonts.py

Printed files need TrueType; the page's font comes as one variable web font.
"""

from __future__ import annotations

import shutil
from pathlib import Path

from fontTools.ttLib import TTFont
from fontTools.varLib.instancer import instantiateVariableFont

ROOT = Path(__file__).parents[1]
PACKAGE = ROOT / "frontend" / "node_modules" / "@fontsource-variable" / "atkinson-hyperlegible-next"
TO = ROOT / "src" / "wavilex" / "server" / "paper" / "fonts"
WEIGHTS = {"regular": 400, "bold": 700}


def main() -> None:
    TO.mkdir(parents=True, exist_ok=True)
    for name, weight in WEIGHTS.items():
        font = TTFont(PACKAGE / "files" / "atkinson-hyperlegible-next-latin-wght-normal.woff2")
        font.flavor = None
        instantiateVariableFont(font, {"wght": weight}, inplace=True)
        for record in font["name"].names:  # a reader tells fonts apart by these
            if record.nameID in (1, 3, 4, 6):
                record.string = f"wavilex-{name}"
        font.save(TO / f"{name}.ttf")
    shutil.copy(PACKAGE / "LICENSE", TO / "LICENSE")


if __name__ == "__main__":
    main()
