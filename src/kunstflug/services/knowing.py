"""Which knowledge a request is answered with: set once where it comes in, used wherever a setup is computed.

A racer's own runs count in every forecast of a boat, and there are some fifteen ways to ask for one. What is known
goes with the request, as the units do in which it is answered, and not through the hands of each of them.
"""

import dataclasses
from collections.abc import Iterator
from contextlib import contextmanager
from contextvars import ContextVar

from kunstflug.core.setup.knowledge import Knowledge
from kunstflug.core.setup.setup import Setup
from kunstflug.documents.setup import SetupDocument, setup_of

_known: ContextVar[Knowledge | None] = ContextVar("known", default=None)


def know(knowledge: Knowledge | None) -> None:
    """From here on the setups of this request are computed with what is known."""
    _known.set(knowledge)


@contextmanager
def knowing(knowledge: Knowledge | None) -> Iterator[None]:
    """The same for a block; None for setups as bought."""
    before = _known.set(knowledge)
    try:
        yield
    finally:
        _known.reset(before)


def runs_known() -> int:
    """How many runs taught what the request is answered with."""
    found = _known.get()
    return 0 if found is None else found.runs


def known_setup(document: SetupDocument) -> Setup:
    """The setup of a document, with what is known of its things.

    Raises
    ------
    InvalidValue : a value outside its range.
    """
    setup = setup_of(document)
    known = _known.get()
    return setup if known is None else dataclasses.replace(setup, knowledge=known)
