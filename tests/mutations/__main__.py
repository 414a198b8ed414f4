"""Breaks the program in places, one at a time, and asks whether a test notices: ``make mutations``.

Each mutation is a small change of one law or rule that would mislead a racer. A mutation that no test catches is a test
that is missing; the command fails where more than a tenth of them, or one without a reason, is missed. It works on a
copy: a run that is broken off leaves nothing broken behind. With words behind it, it tries only files that contain one.
"""

import os
import re
import shutil
import subprocess
import sys
import tempfile
import time
from collections.abc import Sequence
from pathlib import Path
from typing import Final

from tests.mutations.cases import MUTATIONS, Mutation

ROOT: Final = Path(__file__).parents[2]
KERNEL: Final = re.compile(r"^@(kept|jitable)", re.M)
PATIENCE_S: Final = 900


def copied(to: Path) -> None:
    """Copies what the tests need."""
    leave = shutil.ignore_patterns("__pycache__", "node_modules", "page")
    for name in ("src", "tests", "docs", "tools"):
        shutil.copytree(ROOT / name, to / name, ignore=leave)
    for name in ("pyproject.toml", "README.md", "CHANGELOG.md"):
        shutil.copy(ROOT / name, to / name)


def caught(place: Path, one: Mutation) -> bool:
    """Whether a test fails with the mutation in place; the file is put back in any case."""
    path = place / "src" / "kunstflug" / one.file
    text = path.read_text()
    if text.count(one.before) != 1:
        raise SystemExit(f"{one.file}: {one.before!r} stands there {text.count(one.before)} times, not once")
    path.write_text(text.replace(one.before, one.after))
    env = {**os.environ, "PYTHONPATH": str(place / "src")}
    if not KERNEL.search(text):  # its compiled laws are what they were
        env["KUNSTFLUG_KERNELS"] = str(place / "kernels")
    tests = [name for name in one.tests.split() if (place / name).exists()]
    command = [sys.executable, "-m", "pytest", "-x", "-q", "-m", "not long", *tests]
    try:
        done = subprocess.run(command, cwd=place, env=env, capture_output=True, check=False, timeout=PATIENCE_S)
        return done.returncode != 0
    except subprocess.TimeoutExpired:
        return True
    finally:
        path.write_text(text)


def main(words: Sequence[str]) -> None:
    """Runs every mutation and prints what was caught."""
    missed, equivalent = [], 0
    chosen = [one for one in MUTATIONS if not words or any(word in one.file or word in one.before for word in words)]
    with tempfile.TemporaryDirectory(prefix="mutations-") as folder:
        place = Path(folder)
        copied(place)
        for one in chosen:
            start = time.perf_counter()
            found = caught(place, one)
            said = "caught" if found else "equivalent" if one.equivalent else "MISSED"
            took = time.perf_counter() - start
            print(f"{said}  {one.file}: {one.before.strip()} -> {one.after.strip()}  ({took:.0f} s)", flush=True)
            if not found:
                equivalent += bool(one.equivalent)
                missed += [] if one.equivalent else [one]
    print(f"{len(chosen) - len(missed) - equivalent} of {len(chosen)} caught, {equivalent} change nothing")
    raise SystemExit(bool(missed) or equivalent > len(chosen) / 10)


if __name__ == "__main__":
    main(sys.argv[1:])
