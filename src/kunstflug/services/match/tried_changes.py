"""Changes tried: every size up or down, every part on the shelf, and pairs that belong together."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from itertools import combinations, product
from typing import Final

from kunstflug.core.choose.class_rules import Breach, Raced, broken, new_in
from kunstflug.core.choose.steps import (
    REACH,
    Intent,
    Trial,
    belong_together,
    effect,
    effort,
    noticed,
    place,
    single_steps,
    steps_back,
    trial,
)
from kunstflug.core.cooling.table import CoolingTable
from kunstflug.core.drive.schools import Schools
from kunstflug.core.quantity.errors import InvalidDocument, InvalidValue
from kunstflug.core.quantity.value import Source, Value
from kunstflug.core.setup.editor import Edit
from kunstflug.core.setup.knowledge import Knowledge
from kunstflug.core.setup.setup import Setup
from kunstflug.core.thermal.duty import Duty
from kunstflug.core.thermal.nodes import Node
from kunstflug.documents.plan import NamedChangeOut
from kunstflug.documents.quantity import Quantity, quantity_of
from kunstflug.documents.setup import SetupDocument, dimension_of, part_in, setup_of
from kunstflug.documents.water import CircuitIn
from kunstflug.services.shared.changes import SWAPPED, Change, change_document
from kunstflug.services.shared.stock import ShelfPart
from kunstflug.services.shared.water import cooling_of
from kunstflug.wording import METRIC, Tongue, say
from kunstflug.wording.fields import KINDS, named
from kunstflug.wording.tongue import SYMBOLS, trimmed

MOST_BACK: Final = 5
"""Sizes of one number that are tried one after the other until one holds."""
MOST_PAIRS: Final = 12


@dataclass(frozen=True, slots=True, kw_only=True)
class NamedChange:
    """A change to try, as it is shown."""

    change: Change
    label: str
    text: str
    shelf_id: int | None = None

    def out(self) -> NamedChangeOut:
        """As it is sent."""
        return NamedChangeOut(
            path=self.change.path, value=self.change.value, label=self.label, text=self.text, shelf_id=self.shelf_id
        )


@dataclass(frozen=True, slots=True, kw_only=True)
class TriedChange:
    """One change, or two that belong together, with what came of it."""

    changes: tuple[NamedChange, ...]
    then: Trial
    broken: tuple[Breach, ...]
    alone: tuple[str, ...] = ()

    @property
    def kind(self) -> str:
        """The part that the first change is of."""
        return self.changes[0].change.path.partition(".")[0]

    def place(self, now: Trial, intent: Intent, hot: Node | None = None) -> tuple[bool, int, float]:
        """In the ranking of an intent; what a class forbids stands behind all that it allows."""
        made = sum(effort(one.change.path) for one in self.changes)
        return bool(self.broken), *place(now, self.then, intent, made, hot)


@dataclass(frozen=True, slots=True, kw_only=True)
class Bench:
    """A boat that changes are tried on."""

    document: SetupDocument
    setup: Setup
    known: Knowledge | None
    duty: Duty
    schools: Schools
    water: CoolingTable | None
    raced: Raced | None
    now: Trial
    already: tuple[Breach, ...]

    @classmethod
    def of(
        cls,
        document: SetupDocument,
        known: Knowledge | None,
        duty: Duty,
        schools: Schools,
        drawn: CircuitIn | None = None,
        raced: Raced | None = None,
    ) -> "Bench":
        """A boat as it is, its own water cooling all that is tried."""
        setup = setup_of(document, known)
        water = cooling_of(setup, drawn, REACH)
        now = trial(setup, duty, schools, water)
        already = broken(raced, setup, now.sound_w) if raced else ()
        return cls(
            document=document, setup=setup, known=known, duty=duty, schools=schools, water=water, raced=raced, now=now,
            already=already,
        )  # fmt: skip

    def every(self, there: list[ShelfPart], tongue: Tongue = METRIC) -> list[TriedChange]:
        """Every single change, and the pairs that belong together."""
        singles = self.singles(there)
        return [*singles, *self.pairs(singles, tongue)]

    def tried(self, *changes: NamedChange) -> TriedChange | None:
        """Changes made one after the other; None where that is impossible, forbidden or not noticed."""
        try:
            changed = setup_of(change_document(self.document, [one.change for one in changes]).document, self.known)
            then = trial(changed, self.duty, self.schools, self.water, self.now)
        except (InvalidValue, InvalidDocument):
            return None
        if then.walled or not noticed(self.now, then):
            return None
        beyond = new_in(broken(self.raced, changed, then.sound_w), self.already) if self.raced else ()
        return TriedChange(changes=changes, then=then, broken=beyond)

    def singles(self, there: list[ShelfPart]) -> list[TriedChange]:
        """Every size up or down and every part on the shelf; past a limit also the sizes that lead back, each once."""
        found: dict[tuple[str, str], TriedChange | None] = {}

        def once(one: NamedChange) -> TriedChange | None:
            if (key := (one.label, one.text)) not in found:
                found[key] = self.tried(one)
            return found[key]

        for one in [*_sizes(self.document, single_steps(self.setup)), *_shelf(self.document, there)]:
            once(one)
        for sizes in () if self.now.holds else steps_back(self.setup, self.schools):
            for one in _sizes(self.document, sizes[:MOST_BACK]):
                if (held := once(one)) is not None and held.then.holds:
                    break
        return [one for one in found.values() if one is not None]

    def pairs(self, singles: Sequence[TriedChange], tongue: Tongue) -> Iterator[TriedChange]:
        """Two that belong together, where they serve an intent better than each alone: one cools, one brings.

        The one that cools comes first: on the way from one to the other the boat is within its limits.
        """
        now, kinds = self.now, dict.fromkeys(one.kind for one in singles)
        by_kind = [found for kind in kinds if (found := [s for s in singles if s.kind == kind and not s.broken])]
        brings = [max(found, key=lambda one: one.then.speed_mps) for found in by_kind]
        cools = [min(found, key=lambda one: (one.then.over, max(one.then.at_risk))) for found in by_kind]
        wanted = [(cool, more) for more, cool in product(brings, cools) if more.then.speed_mps > now.speed_mps]
        if not now.holds:
            wanted += combinations(cools, 2)
        both = {
            frozenset({(one.kind, one.changes[0].text) for one in pair}): pair
            for pair in wanted
            if belong_together(*(one.kind for one in pair))
        }
        for first, second in list(both.values())[:MOST_PAIRS]:
            pair = self.tried(*first.changes, *second.changes)
            if pair is None or pair.then.burns:
                continue
            if any(pair.place(now, i) < min(first.place(now, i), second.place(now, i)) for i in Intent):
                alone = tuple(
                    f"{one.changes[0].label} {one.changes[0].text}: {say(effect(now, one.then), tongue)}"
                    for one in (first, second)
                )
                yield replace(pair, alone=alone)


def _sizes(document: SetupDocument, edits: Sequence[Edit]) -> list[NamedChange]:
    """Edits of the core as changes of the document, in the unit that was typed."""
    found = []
    for edit in edits:
        label = named(edit.path).label
        if not isinstance(edit.value, Value):
            found.append(
                NamedChange(change=Change(path=edit.path, value=edit.value), label=label, text=f"{edit.value}")
            )
            continue
        kind, _, key = edit.path.partition(".")
        now: Quantity = getattr(part_in(document, kind), key) if key else document.all_up_mass
        value = quantity_of(Value(value=edit.value.value, source=Source.TYPED), now.unit, dimension_of(edit.path))
        number = float(f"{value.value:.4g}")
        typed = {"value": number, "unit": now.unit, "source": "typed"}
        text = f"{trimmed(number)} {SYMBOLS.get(now.unit, now.unit)}".strip()
        found.append(NamedChange(change=Change(path=edit.path, value=typed), label=label, text=text))
    return found


def _shelf(document: SetupDocument, there: list[ShelfPart]) -> list[NamedChange]:
    """Every other part on the shelf, put in."""
    return [
        NamedChange(
            change=Change(path=part.kind, value=part.raw),
            label=f"{KINDS[part.kind]} {'to buy' if part.for_sale else 'from the shelf'}",
            text=part.name,
            shelf_id=part.id,
        )
        for part in there
        if part.kind in SWAPPED and part.usable and not part.is_like(part_in(document, part.kind))
    ]
