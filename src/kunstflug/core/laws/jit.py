"""Compiled kernels kept on disk, so that only the first process after a change pays for compiling them.

A law marked ``jitable`` is a plain function everywhere and is compiled into the kernels that call it: what stands in a
kernel is the law itself, not a copy. numba looks at one file only when it decides whether a kept kernel is still good;
a changed law of another file would go unnoticed. Kernels are therefore kept in a folder named by a digest of all
sources of the core. Reading those sources is the only thing the core ever reads.
"""

import hashlib
from collections.abc import Callable
from pathlib import Path
from typing import Any, TypeVar, cast

import numba
from numba.extending import register_jitable

_CORE = Path(__file__).parents[1]


NO_KERNELS = "learning"  # stands above all kernels and has none of its own


def sources_digest(folder: Path = _CORE) -> str:
    """Digest of all Python sources below a folder that kernels may be made of."""
    digest = hashlib.sha256(numba.__version__.encode())
    for path in sorted(folder.rglob("*.py")):
        if path.relative_to(folder).parts[0] == NO_KERNELS:
            continue
        digest.update(path.relative_to(folder).as_posix().encode() + b"\0" + path.read_bytes())
    return digest.hexdigest()[:16]


_folder = Path(__file__).parent / "__pycache__" / f"kernels-{sources_digest()}"
numba.config.CACHE_DIR = str(_folder)  # type: ignore[attr-defined]  # numba makes its settings at run time

F = TypeVar("F", bound=Callable[..., Any])


def jitable(function: F) -> F:
    """A law that kernels call, too."""
    marked: F = register_jitable(function)
    return marked


def kept(function: F) -> F:
    """Compiled and kept on disk; other threads go on while it runs."""
    return cast(F, numba.njit(cache=True, nogil=True)(function))
