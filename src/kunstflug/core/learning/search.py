"""The likeliest latents under all runs: the steady laws asked anew at every step, the heat once more at the end.

Runs of one setup are asked together, each in the conditions of its day; how the laws change with their numbers is
worked out for one of them, which the days themselves choose. Slips of the pen are left out, see ``slips``.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Any, Final

import numpy as np
import numpy.typing as npt

from kunstflug.core.evidence.readings import STEADY
from kunstflug.core.learning.cases import Case
from kunstflug.core.learning.estimate import Estimate, Indices, Kinds, likeliest, unmoved
from kunstflug.core.learning.predict import RunPrediction, asked, logs_of, slopes_of
from kunstflug.core.learning.slips import slips_of
from kunstflug.core.quantity.value import Array

FARTHEST: Final = 4.0
"""Spreads from what was given, past which the laws are not asked, but carried on in a straight line."""
HEAT_MOVED: Final = 0.5
"""Spreads that a number may have moved since the heat was asked, before it is asked again."""
ON_THE_WAY: Final = 0.02  # of a spread, within which a search ends that goes on
MOST_SLIPS: Final = 6


def searched(
    cases: Sequence[Case],
    read: Array,
    spread: Array,
    kept: Indices,
    centre: Array,
) -> Estimate:
    """The likeliest latents of the things, for m of them; what belongs to days and runs is in ``Estimate.beside``.

    Parameters
    ----------
    kept : places of the readings that can be compared.
    centre : of them before any run, shape (m,).
    """
    search = _Search.of(cases, read, spread, kept, centre)
    # A gross slip would take the search so far off that nothing is said rightly there: first about what was bought.
    search.without_slips(search.unmoved(), lambda _: search.unmoved())
    found = search.go_on(centre, ON_THE_WAY)
    for group in search.groups:
        group.heat_again(found.mean)
    found = search.handed_out(search.go_on(found.mean, DONE))
    return search.without_slips(found, lambda last: search.handed_out(search.go_on(last.mean, DONE)))


@dataclass(slots=True, kw_only=True)
class _Search:
    """What a search goes by; ``out`` are readings that were found to be slips, among those kept."""

    cases: Sequence[Case]
    groups: list["_Group"]
    kinds: Kinds
    read: Array
    spread: Array
    kept: Indices
    beside: Array
    centre: Array
    out: npt.NDArray[np.bool_]
    value: Array
    slopes: Array

    @classmethod
    def of(cls, cases: Sequence[Case], read: Array, spread: Array, kept: Indices, centre: Array) -> "_Search":
        """Of all runs; what belongs to days and runs is a straight line as bought."""
        m, own = len(centre), cases[0].own.shape[1] if cases else 0
        return cls(
            cases=cases,
            groups=_groups(cases, m),
            kinds=_kinds(cases, kept),
            read=read[kept],
            spread=spread[kept],
            kept=kept,
            beside=joined([case.line(m)[1][:, m:] for case in cases], own)[kept],
            centre=centre,
            out=np.zeros(len(kept), dtype=bool),
            value=np.full(len(read), np.nan),
            slopes=np.zeros((len(read), m)),
        )

    def model(self, at: Array, sloped: bool) -> tuple[Array, Array]:
        """What would be read, see ``estimate.Model``."""
        for group in self.groups:
            group.say(at, self.value)
            if sloped:
                group.slope(at, self.slopes)
        return self.value[self.kept], self.slopes[self.kept] if sloped else self.slopes[:0]

    def unmoved(self) -> Estimate:
        """What the readings say of each other as bought."""
        return unmoved(self.model, self.read, self.spread, self.beside, self.centre, self.out)

    def go_on(self, start: Array, done: float) -> Estimate:
        """The search from somewhere."""
        return likeliest(
            self.model, self.read, self.spread, self.beside, self.centre, start, self.kinds, self.out, done=done
        )

    def without_slips(self, found: Estimate, again: Callable[[Estimate], Estimate]) -> Estimate:
        """The same again and again, as long as readings are found to be slips."""
        for _ in range(MOST_SLIPS):
            if not (slips := slips_of(self.cases, found, self.kept, self.out)):
                break
            self.out[slips] = True
            found = again(found)
        return found

    def handed_out(self, found: Estimate) -> Estimate:
        """Gives each run what was said of it there."""
        for group in self.groups:
            group.hand_out(found.mean)
        return found


DONE: Final = 1e-5
"""Of a spread, within which a search ends."""


def joined(parts: Sequence[Array], width: int | None = None) -> Array:
    """Arrays one below the other; an empty one where there are none."""
    empty = np.zeros(0) if width is None else np.zeros((0, width))
    return np.concatenate([empty, *parts])


def _kinds(cases: Sequence[Case], kept: Indices) -> Kinds:
    """Readings of one quantity of one boat are of one kind."""
    kinds: dict[tuple[str, str], int] = {}
    setups: dict[tuple[int, str], int] = {}
    of, setup = [], []
    for case in cases:
        for reading in case.run.readings:
            of.append(kinds.setdefault((case.run.boat, reading.what), len(kinds)))
            setup.append(setups.setdefault((id(case.mixed), reading.what), len(setups)))
    return Kinds(of=np.array(of, dtype=np.int64)[kept], setup=np.array(setup, dtype=np.int64)[kept])


def _groups(cases: Sequence[Case], m: int) -> list["_Group"]:
    """Runs of one setup together."""
    groups: dict[tuple[Any, ...], list[Case]] = {}
    for case in cases:
        groups.setdefault((id(case.mixed), id(case.base.curve), case.table.any(axis=1).tobytes()), []).append(case)
    return [_Group.of(group, m) for group in groups.values()]


@dataclass(slots=True, kw_only=True)
class _Group:
    """Runs of one setup, and what is said of their readings.

    Parameters
    ----------
    columns, table : places of the latents of the things that take part, shape (c,), and the n numbers by them, (n, c).
    spread : of the numbers before any run, shape (n,).
    bases : one row of the drive for each run.
    first : the run whose slopes all of them have.
    rows, run, column : of each steady reading its place among all, its run in this group, and its place in ``STEADY``.
    warm : of each heat that is worked out for one of them, see ``_Warm``.
    """

    cases: list[Case]
    columns: Indices
    table: Array
    spread: Array
    bases: Any
    first: int
    rows: Indices
    run: Indices
    column: Indices
    warm: list["_Warm"]

    @classmethod
    def of(cls, cases: list[Case], m: int) -> "_Group":
        """Of runs with one table of numbers."""
        one, steady = cases[0], [(k, i) for k, case in enumerate(cases) for i in case.steady()]
        mine = one.columns_of < m
        warm: dict[tuple[Any, ...], list[Case]] = {}
        for case in cases:
            read = tuple((case.run.readings[i].what, case.run.readings[i].minutes) for i in case.warm())
            if read:
                warm.setdefault((case.run.duty, case.run.duty_from, case.run.cooling, read), []).append(case)
        return cls(
            cases=cases,
            columns=one.columns_of[mine],
            table=one.table[:, mine],
            spread=np.maximum(one.mixed.before, 1e-3),
            bases=np.concatenate([case.base.drive for case in cases]),
            first=min(range(len(cases)), key=lambda k: (cases[k].base.drive.tobytes(), repr(cases[k].run.readings))),
            rows=np.array([cases[k].rows.start + i for k, i in steady], dtype=np.int64),
            run=np.array([k for k, _ in steady], dtype=np.int64),
            column=np.array([STEADY.index(cases[k].run.readings[i].what) for k, i in steady], dtype=np.int64),
            warm=[_Warm.of(group) for group in warm.values()],
        )

    def numbers(self, at: Array) -> tuple[Array, Array]:
        """Logarithms of the numbers at some latents: where the laws are asked, and how far they lie past that."""
        x: Array = self.table @ at[self.columns]
        asked = np.clip(x, -FARTHEST * self.spread, FARTHEST * self.spread)
        return asked, x - asked

    def say(self, at: Array, value: Array) -> None:
        """Writes what is said of the readings."""
        x, past = self.numbers(at)
        names, curve = self.cases[0].mixed.names, self.cases[0].base.curve
        if len(self.rows):
            value[self.rows] = logs_of(self.bases, curve, names, x)[self.run, self.column]
            if past.any():
                value[self.rows] += (self._slopes(x) @ past)[self.column]
        for one in self.warm:
            value[one.rows] = (one.value + one.slope @ (x + past - one.at)).ravel()

    def slope(self, at: Array, slopes: Array) -> None:
        """Writes how that changes with the latents."""
        x, _ = self.numbers(at)
        if len(self.rows):
            slopes[self.rows[:, np.newaxis], self.columns] = (self._slopes(x) @ self.table)[self.column]
        for one in self.warm:
            each = np.tile(one.slope @ self.table, (len(one.cases), 1))
            slopes[one.rows[:, np.newaxis], self.columns] = each

    def _slopes(self, x: Array) -> Array:
        return slopes_of(
            self.bases[self.first : self.first + 1], self.cases[0].base.curve, self.cases[0].mixed.names, x
        )

    def heat_again(self, at: Array) -> None:
        """Asks the heat anew where what was learnt has moved far from where it was asked."""
        x, past = self.numbers(at)
        for one in self.warm:
            if np.max(np.abs(x + past - one.at) / self.spread, initial=0.0) > HEAT_MOVED:
                one.ask(x)

    def hand_out(self, at: Array) -> None:
        """Gives each run what was said of it where the search ended."""
        x, _ = self.numbers(at)
        names, curve = self.cases[0].mixed.names, self.cases[0].base.curve
        logs, slopes = logs_of(self.bases, curve, names, x), self._slopes(x)
        for k, case in enumerate(self.cases):
            value, slope = case.said.value.copy(), case.said.slope.copy()
            rows, columns = case.steady(), case.columns()
            value[rows], slope[rows] = logs[k, columns], slopes[columns]
            case.said = RunPrediction(names=names, at=x, value=value, slope=slope, base_c=case.said.base_c)
        for one in self.warm:
            one.hand_out(x)


@dataclass(slots=True, kw_only=True)
class _Warm:
    """Runs of one setup and one duty, their temperatures read at the same places after the same minutes.

    The heat is asked again of one of them: what it changes by is taken to change the others, too.

    Parameters
    ----------
    rows : place of each reading among all, shape (runs, k) laid out flat.
    at : numbers at which it was asked, shape (n,).
    value, slope : what was said there, shapes (runs, k) and (k, n).
    """

    cases: list[Case]
    first: Case
    rows: Indices
    at: Array
    value: Array
    slope: Array

    @classmethod
    def of(cls, cases: list[Case]) -> "_Warm":
        """As bought."""
        first = min(cases, key=lambda case: (repr(case.run.setup.conditions), repr(case.run.readings)))
        return cls(
            cases=cases,
            first=first,
            rows=np.array([case.rows.start + i for case in cases for i in case.warm()], dtype=np.int64),
            at=first.said.at,
            value=np.array([case.said.value[case.warm()] for case in cases]),
            slope=first.said.slope[first.warm()],
        )

    def ask(self, x: Array) -> None:
        """Works the heat out at some numbers."""
        one = self.first
        (answer,) = asked([one.run], [one.base], [one.mixed.names], [x], [True])
        rows = one.warm()
        changed = answer.value[rows] - one.said.value[rows] - one.said.slope[rows] @ (self.at - one.said.at)
        if answer.warm is not None and np.isfinite(changed).all():
            self.value = self.value + changed
            self.at, self.slope = x, answer.warm

    def hand_out(self, x: Array) -> None:
        """Gives each run what was said of its temperatures."""
        for case, value in zip(self.cases, self.value, strict=True):
            rows = case.warm()
            case.said.value[rows] = value + self.slope @ (x - self.at)
            case.said.slope[rows] = self.slope


def found_of(found: Estimate) -> Array:
    """All latents where the search ended, those of the things first."""
    return np.append(found.mean, found.beside)
