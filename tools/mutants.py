"""`make mutants`: small changes in the core, one at a time; how many of them no core test notices?

A sample of SAMPLE changes is drawn by fixed seeds from every place where a constant, a comparison, a sign or a logical
word stands. Each is run against the tests that call the changed function (all that touch the file, for module code),
found by one recording run. Survivors are listed with their place; EQUIVALENT names those that change nothing.
"""

from __future__ import annotations

import argparse
import ast
import json
import os
import random
import shutil
import subprocess
import sys
import tempfile
import time
from collections import defaultdict
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
CORE = ROOT / "src" / "wavilex" / "core"
SAMPLE, SEED, WORKERS = 200, 20, 2
FIRST, MOST_SECONDS = 60, 240  # tests of the first, quick go; the longest a run may take
_COMPARE = {
    ast.Lt: "<=", ast.LtE: "<", ast.Gt: ">=", ast.GtE: ">", ast.Eq: "!=", ast.NotEq: "==", ast.Is: "is not",
    ast.IsNot: "is", ast.In: "not in", ast.NotIn: "in",
}  # fmt: skip
_ARITHMETIC = {ast.Add: "-", ast.Sub: "+", ast.Mult: "+", ast.FloorDiv: "*", ast.Div: "*", ast.Mod: "+"}
EQUIVALENT = ROOT / "tools" / "mutants_equivalent.txt"


@dataclass(frozen=True, slots=True)
class Mutant:
    """One change: the file below core/, the place and length in it, what stands there and what shall."""

    file: str
    line: int
    start: int
    end: int
    old: str
    new: str
    function: str  # qualified name and first line; "" for module code

    def __str__(self) -> str:
        return f"{self.file}:{self.line} {self.function.split('@')[0] or 'module'}: {self.old} → {self.new}"


def mutants_of(path: Path) -> Iterator[Mutant]:
    """Every change that could be made to a file."""
    text = path.read_text(encoding="utf-8")
    lines = [0]
    for line in text.encode().splitlines(keepends=True):
        lines.append(lines[-1] + len(line))
    data = text.encode()
    name = str(path.relative_to(CORE))

    def at(node: ast.expr | ast.stmt) -> tuple[int, int]:
        assert node.end_lineno is not None
        assert node.end_col_offset is not None
        return lines[node.lineno - 1] + node.col_offset, lines[node.end_lineno - 1] + node.end_col_offset

    def between(left: ast.expr, right: ast.expr, new: str, function: str) -> Mutant:
        start, end = at(left)[1], at(right)[0]
        gap = data[start:end].decode()
        sign = gap.strip(" ()\n\\")
        where = start + len(gap[: gap.index(sign)].encode())
        return Mutant(name, left.lineno, where, where + len(sign.encode()), sign, new, function)

    def visit(node: ast.AST, function: str, prefix: str) -> Iterator[Mutant]:
        if isinstance(node, (ast.FunctionDef, ast.ClassDef)):
            prefix = f"{prefix}{node.name}."
            if isinstance(node, ast.FunctionDef):
                first = min([node.lineno, *(d.lineno for d in node.decorator_list)])
                function = function or f"{prefix[:-1]}@{first}"
                for child in (*node.args.defaults, *filter(None, node.args.kw_defaults), *node.body):
                    yield from visit(child, function, prefix)
                return
            for child in node.body:
                yield from visit(child, function, prefix)
            return
        if isinstance(node, ast.AnnAssign) and node.value is not None:
            yield from visit(node.value, function, prefix)
            return
        if isinstance(node, ast.Compare) and len(node.ops) == 1 and type(node.ops[0]) in _COMPARE:
            yield between(node.left, node.comparators[0], _COMPARE[type(node.ops[0])], function)
        if isinstance(node, ast.BinOp) and type(node.op) in _ARITHMETIC and not isinstance(node.left, ast.JoinedStr):
            yield between(node.left, node.right, _ARITHMETIC[type(node.op)], function)
        if isinstance(node, ast.BoolOp):
            new = "or" if isinstance(node.op, ast.And) else "and"
            yield between(node.values[0], node.values[1], new, function)
        if isinstance(node, ast.UnaryOp) and isinstance(node.op, (ast.USub, ast.Not)):
            start, _ = at(node)
            inner, _ = at(node.operand)
            old = data[start:inner].decode()
            yield Mutant(name, node.lineno, start, inner, old.strip(), "(" * old.count("("), function)
        if isinstance(node, ast.Constant) and isinstance(node.value, (int, float)):
            start, end = at(node)
            old = data[start:end].decode()
            if isinstance(node.value, bool):
                new = str(not node.value)
            else:
                new = f"({old} + 1)" if isinstance(node.value, int) else f"({old} * 1.1)"
            yield Mutant(name, node.lineno, start, end, old, new, function)
        if isinstance(node, ast.JoinedStr):
            return  # words for people
        for child in ast.iter_child_nodes(node):
            if isinstance(child, (ast.expr, ast.stmt, ast.comprehension, ast.keyword, ast.withitem,
                                  ast.excepthandler, ast.match_case, ast.arguments)):  # fmt: skip
                yield from visit(child, function, prefix)

    yield from visit(ast.parse(text), "", "")


def sample(count: int, seed: int) -> list[Mutant]:
    """The changes drawn: the same for the same source and seed."""
    files = sorted(p for p in CORE.rglob("*.py") if p.name not in ("__init__.py", "shapes.py"))
    every = [m for p in files for m in mutants_of(p)]
    return random.Random(seed).sample(every, min(count, len(every)))


_RECORDER = """
import json, sys, time
from pathlib import Path
CORE = {core!r}
seen, tests = {{}}, {{}}
def record(frame, event, arg):
    if event == "call":
        code = frame.f_code
        if code.co_filename.startswith(CORE):
            seen[(code.co_filename[len(CORE) + 1:], code.co_qualname.replace(".<locals>", ""), code.co_firstlineno)] = 1
def pytest_runtest_protocol(item, nextitem):
    seen.clear()
    began = time.perf_counter()
    sys.setprofile(record)
    yield
    sys.setprofile(None)
    tests[item.nodeid] = [time.perf_counter() - began, sorted({{f"{{f}}|{{q}}@{{n}}" for f, q, n in seen}})]
import pytest
pytest_runtest_protocol = pytest.hookimpl(hookwrapper=True)(pytest_runtest_protocol)
def pytest_sessionfinish(session):
    Path({out!r}).write_text(json.dumps(tests))
"""


def record(folder: Path) -> dict[str, tuple[float, list[str]]]:
    """Which core functions each core test calls, and how long it takes."""
    out = folder / "calls.json"
    (folder / "wavilex_recorder.py").write_text(_RECORDER.format(core=str(CORE), out=str(out)), encoding="utf-8")
    env = {**os.environ, "PYTHONPATH": f"{folder}:{ROOT / 'src'}"}
    subprocess.run(
        [sys.executable, "-m", "pytest", "tests/core", "-q", "-p", "wavilex_recorder", "-p", "no:xdist"],
        cwd=ROOT, env=env, check=True, stdout=subprocess.DEVNULL,
    )  # fmt: skip
    found: dict[str, tuple[float, list[str]]] = {k: tuple(v) for k, v in json.loads(out.read_text()).items()}
    return found


class Bench:
    """A copy of the source in which one change at a time is made and tested."""

    def __init__(self, folder: Path, number: int) -> None:
        self.src = folder / f"bench{number}" / "src"
        shutil.copytree(ROOT / "src", self.src, ignore=shutil.ignore_patterns("web", "fonts", "__pycache__"))

    def noticed(self, m: Mutant, tests: list[str]) -> bool:
        """Does any of the tests fail with the change in place? One that hangs is noticed."""
        file = self.src / "wavilex" / "core" / m.file
        data = file.read_bytes()
        file.write_bytes(data[: m.start] + m.new.encode() + data[m.end :])
        env = {**os.environ, "PYTHONPATH": str(self.src), "PYTHONDONTWRITEBYTECODE": "1"}
        words = [sys.executable, "-m", "pytest", "-x", "-q", "-p", "no:xdist", "--no-header", *tests]
        try:
            done = subprocess.run(
                words, cwd=ROOT, env=env, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL, timeout=MOST_SECONDS
            )
        except subprocess.TimeoutExpired:
            return True
        finally:
            file.write_bytes(data)
        return done.returncode != 0


def tests_for(m: Mutant, calls: dict[str, tuple[float, list[str]]]) -> list[str]:
    """The tests that call the changed function, quick and special ones first."""
    by: dict[str, list[str]] = defaultdict(list)
    key = f"{m.file}|{m.function}"
    for test, (_, called) in calls.items():
        mine = [c for c in called if c.startswith(f"{m.file}|")]
        if m.function and any(c == key or c.startswith(key.split("@")[0] + ".") for c in mine):
            by["function"].append(test)
        elif mine:
            by["file"].append(test)
    found = by["function"] if m.function else by["function"] + by["file"]
    return sorted(found or by["file"], key=lambda t: (calls[t][0] > 1, len(calls[t][1]), calls[t][0]))


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--sample", type=int, default=SAMPLE)
    parser.add_argument("--seed", type=int, default=SEED)
    parser.add_argument("--only", default="", help="only files whose path holds this")
    words = parser.parse_args()
    known = set(EQUIVALENT.read_text(encoding="utf-8").splitlines()) if EQUIVALENT.exists() else set()
    chosen = [m for m in sample(words.sample, words.seed) if words.only in m.file]
    begun = time.monotonic()
    with tempfile.TemporaryDirectory() as temporary:
        folder = Path(temporary)
        calls = record(folder)
        print(f"{len(calls)} tests recorded in {time.monotonic() - begun:.0f} s; {len(chosen)} changes", flush=True)
        benches = [Bench(folder, n) for n in range(WORKERS)]
        free = list(benches)
        survivors: list[Mutant] = []

        def judge(m: Mutant) -> None:
            tests = tests_for(m, calls)
            bench = free.pop()
            try:
                few = tests[:FIRST]
                noticed = bool(few) and (
                    bench.noticed(m, few) or (len(tests) > FIRST and bench.noticed(m, tests[FIRST:]))
                )
            finally:
                free.append(bench)
            if not noticed:
                survivors.append(m)
                word = "equivalent" if str(m) in known else "survived  "
                print(f"{word} {m}   ({len(tests)} tests)", flush=True)

        with ThreadPoolExecutor(WORKERS) as pool:
            list(pool.map(judge, chosen))
    left = [m for m in survivors if str(m) not in known]
    share = 100 * len(left) / max(1, len(chosen))
    print(f"{len(chosen)} changes, {len(survivors) - len(left)} equivalent, {len(left)} survived: {share:.1f} %, "
          f"{time.monotonic() - begun:.0f} s")  # fmt: skip
    return 0


if __name__ == "__main__":
    sys.exit(main())
