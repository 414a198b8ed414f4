"""Values and the fields of parts: every field refuses what lies outside its range, and takes its edges."""

import dataclasses

import pytest
from hypothesis import given
from hypothesis import strategies as st
from tests import samples

from kunstflug.core.quantity.errors import InvalidValue
from kunstflug.core.quantity.fields import ChoiceSpec, CountSpec, QuantitySpec, field_key, fields_of
from kunstflug.core.quantity.units import number_in
from kunstflug.core.quantity.value import Source, Value, guess, known
from kunstflug.documents.setup import PARTS, part_of
from kunstflug.wording import METRIC, say

FIELDS = [(kind, name, spec) for kind, part in PARTS.items() for name, spec in fields_of(part)]
NAMES = [f"{kind}.{field_key(name, spec)}" for kind, name, spec in FIELDS]
QUANTITIES = [(f, n) for f, n in zip(FIELDS, NAMES, strict=True) if isinstance(f[2], QuantitySpec)]
COUNTS = [(f, n) for f, n in zip(FIELDS, NAMES, strict=True) if isinstance(f[2], CountSpec)]


def part(kind):
    return part_of(kind, getattr(samples.document(), kind))


@pytest.mark.parametrize(("field", "name"), QUANTITIES, ids=[n for _, n in QUANTITIES])
def test_quantities_refuse_what_lies_outside(field, name):
    kind, attribute, spec = field
    span = spec.high - spec.low
    for value in (spec.low - 0.01 * span, spec.high + 0.01 * span, float("nan"), float("inf")):
        with pytest.raises(InvalidValue) as refused:
            dataclasses.replace(part(kind), **{attribute: Value(value=value)})
        assert refused.value.field == name
        assert refused.value.allowed == spec.allowed()


@pytest.mark.parametrize(("field", "name"), QUANTITIES, ids=[n for _, n in QUANTITIES])
def test_quantities_take_their_edges(field, name):
    kind, attribute, spec = field
    if name in ("propeller.pitch", "propeller.diameter", "propeller.pitch_ratio"):
        return  # bound to each other; see the propeller's own tests
    for value in (spec.low, spec.high):
        changed = dataclasses.replace(part(kind), **{attribute: Value(value=value)})
        assert getattr(changed, attribute).value == value
    shown = number_in(spec.low, spec.unit, spec.dimension)
    said = say(spec.allowed(), METRIC).replace("\u2212", "-").replace("\u202f", "")
    assert f"{shown:g}" in said


@pytest.mark.parametrize(("field", "name"), COUNTS, ids=[n for _, n in COUNTS])
def test_counts_refuse_what_lies_outside(field, name):
    kind, attribute, spec = field
    for value in (spec.low - 1, spec.high + 1):
        with pytest.raises(InvalidValue) as refused:
            dataclasses.replace(part(kind), **{attribute: value})
        assert refused.value.field == name
    for value in (spec.low, spec.high):
        assert getattr(dataclasses.replace(part(kind), **{attribute: value}), attribute) == value


def test_choices_have_options_and_a_default_among_them():
    for kind, name, spec in FIELDS:
        if isinstance(spec, ChoiceSpec):
            assert len(spec.words) >= 2
            assert getattr(part(kind), name) in spec.words


@given(st.floats(0.01, 1e6), st.floats(0, 1))
def test_what_is_known_beats_a_guess(value, spread):
    guessed = guess(value, spread, "because")
    assert guessed.source is Source.GUESSED
    assert known(None, guessed) is guessed
    given_value = Value(value=value, source=Source.MEASURED)
    assert known(given_value, guessed) is given_value


def test_a_spread_beyond_sense_is_refused():
    with pytest.raises(InvalidValue, match=r"motor\.kv\.spread"):
        dataclasses.replace(part("motor"), kv_rpm_per_v=Value(value=2000, spread=5.0))


def test_values_are_frozen():
    with pytest.raises(dataclasses.FrozenInstanceError):
        part("motor").kv_rpm_per_v.value = 3  # type: ignore[misc]
