"""XML of track files, read piece by piece and safe against hostile files: nothing is expanded, nothing fetched."""

import io
from collections.abc import Callable
from datetime import UTC, datetime
from typing import Any, Final, TypeAlias

from lxml import etree

from kunstflug.core.quantity.errors import UnreadableFile
from kunstflug.files.reading import SampleCollector

Element: TypeAlias = Any  # lxml ships no types
NAN: Final = float("nan")
_OPEN_AT_MOST: Final = 64  # elements within one another


def read_xml(
    data: bytes,
    found: SampleCollector,
    roots: tuple[str, ...],
    opened: Callable[[str, Element], None],
    closed: Callable[[str, Element], bool],
) -> None:
    """Walks a file and tells of every element.

    A document type declaration is refused outright (entity expansion). A file that breaks off keeps what came before
    the break, with the line in ``damages``.

    Parameters
    ----------
    roots : what the outermost element may be called.
    opened : is told an element's name when it begins; only its name and attributes are there.
    closed : is told when it ends, with all that is in it; gives whether the element may be forgotten.

    Raises
    ------
    UnreadableFile : another root, hostile, or broken before the first sample.
    """
    events = etree.iterparse(
        io.BytesIO(data), events=("start", "end"), resolve_entities=False, load_dtd=False, no_network=True,
        huge_tree=False, remove_comments=True, remove_pis=True,
    )  # fmt: skip
    depth = 0
    try:
        for event, element in events:
            name = local(element)
            if event == "start":
                if depth == 0:
                    _check_root(element, name, roots)
                depth += 1
                if depth > _OPEN_AT_MOST:
                    raise UnreadableFile("elements within elements without end", element.sourceline)
                opened(name, element)
                continue
            depth -= 1
            if closed(name, element):
                element.clear()
                parent = element.getparent()
                if parent is not None:  # what was read is let go, and not kept as an empty shell
                    while (before := element.getprevious()) is not None:
                        parent.remove(before)
    except etree.XMLSyntaxError as broken:
        line = broken.lineno or 1
        if not len(found):
            raise UnreadableFile(f"not well-formed XML: {_first_sentence(broken)}", line) from broken
        found.broke(line, f"not well-formed XML from here on: {_first_sentence(broken)}")


def _check_root(element: Element, name: str, roots: tuple[str, ...]) -> None:
    if element.getroottree().docinfo.doctype:
        raise UnreadableFile("has a document type declaration (DTD); a track needs none, so it is refused", 1)
    if name not in roots:
        raise UnreadableFile(f"the outermost element is '{name[:40]}', not '{roots[0]}'", element.sourceline)


def _first_sentence(error: Exception) -> str:
    return str(error).split(", line")[0]


def local(element: Element) -> str:
    """Name of an element without its namespace."""
    return str(element.tag).rpartition("}")[2]


def text_of(element: Element, name: str) -> str | None:
    """Text of the first child, at any depth, of that name."""
    for child in element.iter():
        if local(child) == name:
            return child.text or ""
    return None


def unix_s(text: str) -> float:
    """Time of an ISO 8601 stamp, UTC where it names no zone [s]; NaN where it is none."""
    try:
        stamp = datetime.fromisoformat(text.strip())
        return (stamp if stamp.tzinfo else stamp.replace(tzinfo=UTC)).timestamp()
    except (ValueError, OverflowError):  # a year 1 or 9999 with an offset is not on the calendar
        return NAN


def number(text: str | None) -> float:
    """A number, NaN where it is none."""
    try:
        return float(text) if text else NAN
    except ValueError:
        return NAN
