"""`make kept`: how the answers of tests/kept differ from those of the last commit, to read; then their new digests."""

from __future__ import annotations

import os
import subprocess
import sys
import tempfile
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
_WRITE = """
import sys
from pathlib import Path
from tests.kept.digests import CASES, told
from tests.kept.text import text
for case in CASES:
    (Path(sys.argv[1]) / f"{case.replace(' ', '-')}.txt").write_text(text(told(case)), encoding="utf-8")
"""


def texts(tree: Path, folder: Path) -> None:
    """All answers of a source tree, a file a case. A tree that cannot tell them leaves the folder empty."""
    folder.mkdir()
    env = {**os.environ, "PYTHONPATH": f"{tree / 'src'}:{tree}"}
    subprocess.run([sys.executable, "-c", _WRITE, str(folder)], cwd=tree, env=env, check=False)


def main() -> int:
    with tempfile.TemporaryDirectory() as temporary:
        at = Path(temporary)
        subprocess.run(["git", "worktree", "add", "-q", "--detach", str(at / "tree"), "HEAD"], cwd=ROOT, check=True)
        try:
            texts(at / "tree", at / "before")
        finally:
            subprocess.run(["git", "worktree", "remove", "--force", str(at / "tree")], cwd=ROOT, check=True)
        texts(ROOT, at / "after")
        subprocess.run(["git", "--no-pager", "diff", "--no-index", "--stat", "-p", "-U2", "before", "after"], cwd=at,
                       check=False)  # fmt: skip
    subprocess.run(
        [sys.executable, "-c", "from tests.kept.digests import write; write()"], cwd=ROOT, check=True,
        env={**os.environ, "PYTHONPATH": f"{ROOT / 'src'}:{ROOT}"},
    )  # fmt: skip
    return 0


if __name__ == "__main__":
    sys.exit(main())
