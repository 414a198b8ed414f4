"""Knobs and switches of trim in a setup's document: where they stand, and how they are turned."""

from kunstflug.core.quantity.fields import ChoiceSpec
from kunstflug.core.quantity.units import number_in
from kunstflug.core.trim.knobs import SWITCHES
from kunstflug.core.trim.settings import spec_at
from kunstflug.core.trim.signs import Step
from kunstflug.documents.quantity import Quantity
from kunstflug.documents.setup import SetupDocument, part_in, spec_of
from kunstflug.documents.trim import SwitchOut, TrimChange
from kunstflug.wording.fields import FIELDS, OPTIONS
from kunstflug.wording.tongue import trimmed
from kunstflug.wording.trim import UNIT_WORDS


def change_to(document: SetupDocument, path: str, value: float) -> TrimChange | None:
    """A knob at a value, in the unit in which it was given; None past what it can be."""
    kind, _, key = path.partition(".")
    given, spec = part_in(document, kind).quantity(key), spec_at(path)
    if not spec.low - 1e-9 <= value <= spec.high + 1e-9:
        return None
    unit = given.unit if given is not None else spec.unit
    number = round(number_in(value, unit, spec.dimension), 4)
    quantity = Quantity.model_validate({"value": number, "unit": unit, "source": "typed"})
    words = f"{trimmed(number)} {UNIT_WORDS.get(unit, unit)}"
    return TrimChange(path=path, value=quantity, label=FIELDS[kind][key].label, words=words)


def switches_of(document: SetupDocument) -> list[SwitchOut]:
    """What is on or off, or on which side."""
    found = []
    for path in SWITCHES:
        kind, _, key = path.partition(".")
        spec = spec_of(path)
        assert isinstance(spec, ChoiceSpec)
        found.append(
            SwitchOut(
                path=path,
                label=FIELDS[kind][key].label,
                value=str(getattr(part_in(document, kind), key)),
                options={word.value: OPTIONS[word.value] for word in spec.words},
            )
        )
    return found


def switch_to(document: SetupDocument, step: Step) -> TrimChange | None:
    """A switch thrown as a step says; None where none is, or it stands so already, or nobody said how it stands."""
    for one in switches_of(document):
        for word, of in SWITCHES[one.path].items():
            if of is step and one.value not in (word, "unsaid"):
                return TrimChange(path=one.path, value=word, label=one.label, words=one.options[word].lower())
    return None
