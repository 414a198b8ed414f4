"""Compiled code never outlives the laws it was compiled from."""

import shutil
from pathlib import Path

import numba

from kunstflug.core.laws import jit


def test_a_change_anywhere_in_the_core_is_another_digest(tmp_path):
    core = tmp_path / "core"
    shutil.copytree(Path(jit.__file__).parents[1], core, ignore=shutil.ignore_patterns("__pycache__"))
    before = jit.sources_digest(core)
    assert before == jit.sources_digest()
    law = core / "laws" / "resistance.py"
    law.write_text(law.read_text().replace("/ 1.5) ** 2", "/ 1.6) ** 2"))
    assert jit.sources_digest(core) != before


def test_numba_keeps_its_code_under_the_digest():
    assert jit.sources_digest() in numba.config.CACHE_DIR
