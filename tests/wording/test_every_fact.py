"""Every fact of the core has words in both systems of units, and the core has no words of its own."""

import ast
import dataclasses
import enum
import importlib
import pkgutil
import types
import typing
from pathlib import Path

import pytest

import kunstflug.core
from kunstflug.core.parts.motor import MassFromCan
from kunstflug.core.quantity.facts import Fact, kinds
from kunstflug.core.quantity.units import Dimension
from kunstflug.wording import METRIC, Tongue, Units, say
from kunstflug.wording.say import said

IMPERIAL = Tongue(units=Units.IMPERIAL)
CORE = Path(kunstflug.core.__file__).parent
for module in pkgutil.walk_packages(kunstflug.core.__path__, "kunstflug.core."):
    importlib.import_module(module.name)
KINDS = sorted(set(kinds()), key=lambda kind: kind.__qualname__)


def example(hint, name: str):
    """A value that a field of a fact may have."""
    origin, inside = typing.get_origin(hint), typing.get_args(hint)
    if origin in (types.UnionType, typing.Union):
        return example(next(h for h in inside if h is not types.NoneType), name)
    if origin is tuple:
        return (example(inside[0], name), example(inside[0], name))
    if hint is Dimension:
        return Dimension.LENGTH
    if isinstance(hint, type) and issubclass(hint, enum.Enum):
        return next(iter(hint))
    if hint is Fact:
        return instance(MassFromCan)
    if dataclasses.is_dataclass(hint):
        return instance(hint)
    named = {
        "unit": "mm",
        "path": "motor.kv",
        "field": "motor.kv",
        "fields": "motor.kv",
        "kind": "motor",
        "parts": "motor",
    }
    return {bool: True, int: 3, float: 0.5, str: named.get(name, "x")}[hint]


def instance(kind):
    hints = typing.get_type_hints(kind)
    return kind(**{name: example(hint, name) for name, hint in hints.items()})


def test_there_are_as_many_as_expected():
    assert len(KINDS) > 120


@pytest.mark.parametrize("kind", KINDS, ids=lambda kind: kind.__qualname__)
def test_every_fact_has_words(kind):
    assert said(kind), "no words are registered"
    for tongue in (METRIC, IMPERIAL):
        words = say(instance(kind), tongue).replace("{limit}", "150 A")  # a margin puts its limit in
        assert words.strip() == words != ""
        for wrong in ("None", "nan", "{", "}", "  ", "degC", "degF", "..", "mohm"):
            assert wrong not in words, words


def test_imperial_racers_read_no_metric_words():
    for kind in KINDS:
        words = say(instance(kind), IMPERIAL)
        for unit in (" km/h", " mm", "°C"):
            named = kind.__qualname__ in BY_NAME
            assert named or unit not in words, (kind.__qualname__, words)


# Things that are sold by their metric size, whatever the racer reads; and units that somebody typed.
BY_NAME = {"ShimOf", "RingFound", "ScrewOfLength", "Between", "Amount"}


def strings(path: Path) -> list[ast.Constant]:
    tree = ast.parse(path.read_text())
    bare = {id(n.value) for n in ast.walk(tree) if isinstance(n, ast.Expr)}  # docstrings
    return [n for n in ast.walk(tree) if isinstance(n, ast.Constant) and isinstance(n.value, str) and id(n) not in bare]


NAMES_OF_SIZES = {"laws/mechanics.py", "quantity/units.py", "quantity/errors.py"}  # "3/16 in x 0.014 in wall", "ozf in"


@pytest.mark.no_cover
def test_the_core_has_no_sentences():
    found = []
    for path in CORE.rglob("*.py"):
        if str(path.relative_to(CORE)) in NAMES_OF_SIZES:
            continue
        for text in strings(path):
            if " " in text.value and "[" not in text.value:  # a name of a type in quotes has brackets
                found.append(f"{path.name}:{text.lineno}: {text.value!r}")
    assert found == []


def test_the_core_does_not_convert_for_the_eye():
    """No km/h and no degree Celsius sign: SI in, SI out. A unit to show something in may be named as a code."""
    for path in CORE.rglob("*.py"):
        assert "°" not in path.read_text(), path
