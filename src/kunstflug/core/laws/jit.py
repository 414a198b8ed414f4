"""Compiled kernels kept on disk, so that only the first process after a change pays for compiling them.

A law marked ``jitable`` is a plain function everywhere and is compiled into the kernels that call it: what stands in a
kernel is the law itself, not a copy. numba looks at one file only when it decides whether a kept kernel is still good;
a changed law of another file would go unnoticed. Kernels are therefore kept in a folder named by a digest of all
sources of the core. Reading those sources is the only thing the core ever reads.
"""

import hashlib
import os
import sys
import tempfile
from collections.abc import Callable, Iterator
from contextlib import contextmanager, suppress
from pathlib import Path
from typing import Any, TypeVar, cast

_CORE = Path(__file__).parents[1]


@contextmanager
def _without(*modules: str) -> Iterator[None]:
    """Keeps a library from loading modules that it can do without."""
    absent = [name for name in modules if name not in sys.modules]
    sys.modules.update(dict.fromkeys(absent))  # type: ignore[arg-type]  # None: an import of it fails at once
    try:
        yield
    finally:
        for name in absent:
            del sys.modules[name]


# numba loads matrix algebra and a parser of C in case a kernel wants them. No kernel does, and together they take half
# a second of every command. A kernel that multiplies matrices does not compile and says so.
with _without("scipy.linalg.cython_blas", "cffi"):
    import numba
    import numba.core.typing.cffi_utils
    import numba.np.arraymath
    from numba.extending import register_jitable


NO_KERNELS = "learning"  # stands above all kernels and has none of its own


def sources_digest(folder: Path = _CORE) -> str:
    """Digest of all Python sources below a folder that kernels may be made of."""
    digest = hashlib.sha256(numba.__version__.encode())
    for path in sorted(folder.rglob("*.py")):
        if path.relative_to(folder).parts[0] == NO_KERNELS:
            continue
        digest.update(path.relative_to(folder).as_posix().encode() + b"\0" + path.read_bytes())
    return digest.hexdigest()[:16]


def _kernels_folder() -> Path:
    """Where compiled kernels are kept: beside the sources, with the program's data, in the user's cache; the first that
    can be written. Where none can, in a folder of this process alone, which compiles them for itself.
    """
    from platformdirs import user_cache_path

    if chosen := os.environ.get("KUNSTFLUG_KERNELS"):  # whoever sets it answers for what lies there
        return Path(chosen)
    name, told = f"kernels-{sources_digest()}", os.environ.get("KUNSTFLUG_RUN")
    places = [Path(__file__).parent / "__pycache__", user_cache_path("kunstflug", appauthor=False)]
    if told:
        places.insert(1, Path(told).absolute())
    for place in places:
        folder = place / name
        with suppress(OSError):
            folder.mkdir(parents=True, exist_ok=True)
            if os.access(folder, os.W_OK) and folder.stat().st_uid in (os.geteuid(), 0):
                return folder
    return Path(tempfile.mkdtemp(prefix="kunstflug-kernels-"))


KERNELS = _kernels_folder()
COMPLETE = KERNELS / "complete"
"""Is there when all kernels were compiled and are kept."""
numba.config.CACHE_DIR = str(KERNELS)  # type: ignore[attr-defined]  # numba makes its settings at run time

F = TypeVar("F", bound=Callable[..., Any])


def jitable(function: F) -> F:
    """A law that kernels call, too."""
    marked: F = register_jitable(function)
    return marked


def kept(function: F) -> F:
    """Compiled and kept on disk; other threads go on while it runs."""
    return cast(F, numba.njit(cache=True, nogil=True)(function))
