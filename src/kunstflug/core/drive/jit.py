"""``njit`` that compiles anew when any law of the core changes.

numba keeps compiled code beside a file and throws it away when *that file* changes. Our kernels take in functions and
column numbers from other files of the core, so its cache would go stale in silence. The compiled code is therefore kept
in a folder named by a digest of all sources of the core. Reading those sources is the only thing the core ever reads.
"""

import hashlib
from collections.abc import Callable
from pathlib import Path
from typing import Any, TypeVar, cast

import numba

_CORE = Path(__file__).parents[1]


def sources_digest(folder: Path = _CORE) -> str:
    """Digest of all Python sources below a folder."""
    digest = hashlib.sha256(numba.__version__.encode())
    for path in sorted(folder.rglob("*.py")):
        digest.update(path.relative_to(folder).as_posix().encode() + b"\0" + path.read_bytes())
    return digest.hexdigest()[:16]


_folder = Path(__file__).parent / "__pycache__" / f"kernels-{sources_digest()}"
numba.config.CACHE_DIR = str(_folder)  # type: ignore[attr-defined]  # numba makes its settings at run time

F = TypeVar("F", bound=Callable[..., Any])


def kept(function: F) -> F:
    """Compiled and kept on disk."""
    return cast(F, numba.njit(cache=True)(function))


def kept_parallel(function: F) -> F:
    """The same, its outer loop on all cores."""
    return cast(F, numba.njit(cache=True, parallel=True)(function))


def inner(function: Any) -> Any:
    """For laws of other files: compiled as part of the kernel that calls them, not kept on their own."""
    return numba.njit(function)
