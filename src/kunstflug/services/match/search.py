"""Large searches for Match: over ranges of numbers, or over the parts on the shelf."""

import dataclasses
import math
from collections.abc import Iterator
from contextlib import closing
from dataclasses import dataclass
from typing import Any, Final

import numpy as np
import numpy.typing as npt
from pydantic import Field

from kunstflug.core.choose.fronts import Drives, easy_front, lasting_front
from kunstflug.core.choose.shelf import Bounds, Choices, shelf_sweep
from kunstflug.core.choose.sold import DIAMETER_STEP_M, KV_STEP, sold
from kunstflug.core.choose.steps import REACH, Trial, trial
from kunstflug.core.choose.sweep import Ranges, SweepResult, ranges_about
from kunstflug.core.choose.wide import HOLDS, NONE, Shortlist, even, merged, narrowed, pieces_of
from kunstflug.core.cooling.table import CoolingTable
from kunstflug.core.drive.forecast import doubts_of_uses
from kunstflug.core.drive.schools import Schools
from kunstflug.core.drive.verdict import ORDER, Verdict
from kunstflug.core.parts import pack, propeller
from kunstflug.core.quantity.errors import InvalidDocument, InvalidValue
from kunstflug.core.quantity.progress import Progress
from kunstflug.core.setup.knowledge import Knowledge
from kunstflug.core.setup.setup import Setup
from kunstflug.core.thermal.duty import Duty
from kunstflug.documents.base import Strict
from kunstflug.documents.plan import ChangeOut, FoundOut, SearchOut, SearchSizeOut
from kunstflug.documents.quantity import Quantity
from kunstflug.documents.schools import DutyIn
from kunstflug.documents.setup import SetupDocument, part_in, part_of, setup_of
from kunstflug.documents.water import CircuitIn
from kunstflug.services.shared.changes import Change, change_document
from kunstflug.services.shared.computing import computing
from kunstflug.services.shared.stock import ShelfPart, shelf_parts
from kunstflug.services.shared.water import cooling_of
from kunstflug.store.database import Store
from kunstflug.wording import METRIC, Tongue
from kunstflug.wording.choose import place_word
from kunstflug.wording.fields import KINDS
from kunstflug.wording.tongue import trimmed

SEARCHED: Final = ("motor", "controller", "propeller", "pack")
MOST_FOUND: Final = 40
USUAL_DUTY: Final = DutyIn().core()
MOST_DRIVES: Final = 20_000_000
"""In one search: some minutes on two cores, less with more machines."""
MOST_BY_COMMAND: Final = 1_000_000_000
ALONE: Final = 500_000
"""Up to so many drives a search is done by the process that was asked."""


class RangesIn(Strict):
    """Which numbers to vary, and how finely; what is not varied stays as it is."""

    kv: bool = True
    diameter: bool = True
    pitch_ratio: bool = False
    cells: bool = False
    mass: bool = False
    fineness: int = Field(default=24, ge=3, le=200, description="values of each number that is varied")


class KindsIn(Strict):
    """Which kinds of parts are taken from the shelf; the rest stays as it is."""

    motor: bool = True
    controller: bool = True
    propeller: bool = True
    pack: bool = True


def ranges_for(setup: Setup, wanted: RangesIn, most: int = MOST_DRIVES) -> Ranges:
    """Values about today's setup.

    Parameters
    ----------
    most : drives that are accepted.

    Raises
    ------
    InvalidValue : more drives than are accepted, with the fineness that would do.
    """
    n = wanted.fineness
    kv, diameter = setup.motor.kv_rpm_per_v.value, setup.propeller.diameter_m.value
    now, other = pack.series_cells(setup.pack), setup.pack.second_cells or 0
    # What is printed on the controller, which stays, is a wall: nothing past it is tried.
    wall = min(pack.MOST_SERIES_CELLS, setup.controller.max_cells or pack.MOST_SERIES_CELLS)
    low = max(min(now, wall) - 4, 1 + other)
    high = max(min(now + 4, wall), low) + 1
    found = ranges_about(
        setup,
        kv=np.geomspace(0.5 * kv, 1.8 * kv, n) if wanted.kv else None,
        diameter=np.linspace(0.7, 1.5, n) * diameter if wanted.diameter else None,
        # Curves are made for each pitch ratio: no more of them than one can buy.
        pitch_ratio=np.linspace(1.0, 2.0, min(n, 21)) if wanted.pitch_ratio else None,
        cells=np.arange(low, high, dtype=float) if wanted.cells else None,
        mass_factor=np.linspace(0.85, 1.15, min(n, 25)) if wanted.mass else None,
    )
    if found.count > most:
        free = sum((wanted.kv, wanted.diameter))
        rest = found.count // n**free
        fits = int((most / rest) ** (1 / free)) if free else 0
        allowed = f"{trimmed(most, 12)} drives at most; a fineness of {fits} would do"
        raise InvalidValue("sweep", found.count, allowed)
    return found


@dataclass(frozen=True, slots=True, kw_only=True)
class _Fronts:
    """Drives that nobody beats: by margin, and by run time."""

    margin: frozenset[int]
    lasting: frozenset[int]

    def merged(self) -> list[int]:
        """Both fronts, thinned evenly to what a list can show."""
        every = sorted(self.margin | self.lasting)
        if len(every) <= MOST_FOUND:
            return every
        half = MOST_FOUND // 2
        both: set[int] = set()
        for front in (self.margin, self.lasting):
            both |= set(sorted(front)[:: max(len(front) // half, 1)])
        return sorted(both)


def _fronts(found: Drives, verdict: npt.NDArray[np.int8]) -> _Fronts:
    margin = easy_front(found.speed_mps, found.use, verdict)
    lasting = lasting_front(found.speed_mps, found.run_s, verdict)
    return _Fronts(margin=frozenset(map(int, margin)), lasting=frozenset(map(int, lasting)))


def search_ranges(
    document: SetupDocument,
    schools: Schools,
    wanted: RangesIn,
    known: Knowledge | None,
    progress: Progress,
    tongue: Tongue = METRIC,
    *,
    duty: Duty = USUAL_DUTY,
    circuit: CircuitIn | None = None,
    most: int = MOST_DRIVES,
    scheduler: str | None = None,
) -> SearchOut:
    """Every combination of the ranges; the two fronts of it, in sizes that are sold, each forecast and driven in full.

    Parameters
    ----------
    most : drives that are accepted.
    scheduler : see ``computing``.
    """
    setup = setup_of(document, known)
    ranges = ranges_for(setup, wanted, most)
    whole = _searched(setup, ranges, schools, progress, scheduler)
    found, cloud = whole.rows, whole.cloud
    fronts, judge = _fronts(found, found.verdict), _Judge.of(document, known, schools, duty, circuit)
    rows = dict[str, FoundOut]()
    for k in fronts.merged():
        changes = _changes(setup, found, k, wanted)
        made = judge.made(changes)
        if made is not None and (words := _numbers(made, tongue)) not in rows:
            row = judge.row(made, words, fronts, k, changes=changes, edges=_edges(ranges, found, k))
            rows |= {} if row is None else {words: row}
    drawn = np.arange(len(cloud.speed_mps))
    return _out(cloud, cloud.verdict, drawn, list(rows.values()), tried=whole.tried, left_out=0, holding=whole.holding)


@dataclass(frozen=True, slots=True, kw_only=True)
class _Judge:
    """Forecasts in full what a search shows: it has tried the drives by one point each, and doubts of a boat like them.

    What is shown is what Match will say of it.
    """

    document: SetupDocument
    known: Knowledge | None
    schools: Schools
    duty: Duty
    water: CoolingTable | None
    now: Trial

    @classmethod
    def of(
        cls, document: SetupDocument, known: Knowledge | None, schools: Schools, duty: Duty, drawn: CircuitIn | None
    ) -> "_Judge":
        """Of a boat as it is, with its own water."""
        setup = setup_of(document, known)
        water = cooling_of(setup, drawn, REACH)
        now = trial(setup, duty, schools, water)
        return cls(document=document, known=known, schools=schools, duty=duty, water=water, now=now)

    def made(self, changes: list[ChangeOut]) -> Setup | None:
        """The boat with some changes; None where they cannot be made."""
        try:
            done = change_document(self.document, [Change(path=c.path, value=_raw(c)) for c in changes])
            return setup_of(done.document, self.known)
        except (InvalidValue, InvalidDocument):
            return None

    def row(self, setup: Setup, words: str, fronts: "_Fronts", k: int, **more: Any) -> FoundOut | None:
        """A drive of the search, forecast and driven; None where it does not run, or a sheet forbids it."""
        then = trial(setup, self.duty, self.schools, self.water, self.now)
        if then.walled or then.verdict is Verdict.NONE:
            return None
        return FoundOut(
            words=words,
            speed_mps=round(then.speed_mps, 3),
            gain_mps=round(then.speed_mps - self.now.speed_mps, 3),
            current_a=round(then.current_a, 1),
            use=round(then.use, 3),
            chance=round(then.chance, 3),
            tightest=place_word(then.tightest),
            verdict=Verdict.STOP if then.burns else then.verdict,
            run_s=round(then.run_s),
            on_margin_front=k in fronts.margin,
            on_time_front=k in fronts.lasting,
            **{"shelf": {}, "edges": [], **more},
        )


def _raw(change: ChangeOut) -> object:
    return change.value.model_dump(exclude_none=True) if isinstance(change.value, Quantity) else change.value


EDGES: Final = {
    "kv_rpm_per_v": "KV",
    "diameter_m": "diameter",
    "pitch_ratio": "pitch ratio",
    "cells": "cells",
    "mass_factor": "mass",
}


def _edges(ranges: Ranges, found: SweepResult, k: int) -> list[str]:
    """Numbers of a drive that stand at the end of what was tried: past it may be better ones."""
    return [
        word
        for name, word in EDGES.items()
        if len(tried := getattr(ranges, name)) > 1 and float(getattr(found, name)[k]) in (tried[0], tried[-1])
    ]


def _searched(
    setup: Setup, ranges: Ranges, schools: Schools, progress: Progress, scheduler: str | None = None
) -> Shortlist:
    """All pieces of a search; of more than ``ALONE`` drives, where work larger than a request is done."""
    pieces, total = pieces_of(setup, ranges, schools), ranges.count
    if total <= ALONE and not scheduler:
        return merged(_heard(map(narrowed, pieces), total, progress))
    with computing(scheduler) as work, closing(work.done(narrowed, pieces)) as parts:
        return merged(_heard(parts, total, progress))


def _heard(parts: Iterator[Shortlist], total: int, progress: Progress) -> Iterator[Shortlist]:
    done = 0
    progress(done, total)
    for part in parts:
        done += part.tried
        progress(done, total)
        yield part


def _numbers(setup: Setup, tongue: Tongue) -> str:
    wheel = setup.propeller
    size = f"{tongue.size(wheel.diameter_m.value, 3)} x {propeller.pitch_ratio(wheel):.2f}"
    mass = tongue.mass(setup.all_up_mass_kg.value)
    return f"{setup.motor.kv_rpm_per_v.value:.0f} KV, {size}, {pack.series_cells(setup.pack)}S, {mass}"


def _changes(setup: Setup, found: SweepResult, k: int, wanted: RangesIn) -> list[ChangeOut]:
    """What makes one drive of the ranges in sizes that are sold, as a draft takes it."""
    changes = []
    if wanted.kv:
        changes.append(_typed("motor.kv", sold(float(found.kv_rpm_per_v[k]), KV_STEP), "rpm/V"))
    if wanted.diameter:
        changes.append(_typed("propeller.diameter", sold(float(found.diameter_m[k]), DIAMETER_STEP_M) * 1e3, "mm"))
    if wanted.pitch_ratio:
        changes.append(_typed("propeller.pitch_ratio", round(float(found.pitch_ratio[k]), 2), "1"))
    if wanted.cells:
        # Only the first of two packs in series is changed.
        changes.append(ChangeOut(path="pack.cells", value=int(found.cells[k]) - (setup.pack.second_cells or 0)))
    if wanted.mass:
        changes.append(_typed("all_up_mass", round(float(found.mass_kg[k]) * 1e3), "g"))
    return changes


def _typed(path: str, value: float, unit: str) -> ChangeOut:
    return ChangeOut(path=path, value=Quantity(value=value, unit=unit))


@dataclass(frozen=True, slots=True, kw_only=True)
class _Pool:
    """Parts to try in one place: the one that is there, then those of the shelf."""

    parts: tuple[Any, ...]
    from_shelf: tuple[ShelfPart | None, ...]


def _pool(document: SetupDocument, setup: Setup, kind: str, wanted: bool, shelf: list[ShelfPart]) -> _Pool:
    others = [p for p in shelf if wanted and p.kind == kind and not p.is_like(part_in(document, kind))]
    return _Pool(parts=(getattr(setup, kind), *(part_of(kind, p.document) for p in others)), from_shelf=(None, *others))


RATE_PER_S: Final = 150_000.0  # drives a second on two cores, as the benchmark of operating points has it
SHELF_RATE_PER_S: Final = 20_000.0  # a guess: a drive of single parts has a curve of its own


def size_of_ranges(document: SetupDocument, wanted: RangesIn) -> SearchSizeOut:
    """How many drives a search over ranges would try, and about how long it would take; what is wrong with too many."""
    try:
        count, problem = ranges_for(setup_of(document), wanted).count, ""
    except InvalidValue as refused:
        if not isinstance(refused.given, int):
            raise
        count, problem = refused.given, f"{trimmed(refused.given, 9)} drives are too many: {refused.allowed}"
    return SearchSizeOut(drives=count, seconds=count / RATE_PER_S, problem=problem)


def size_of_shelf(store: Store, document: SetupDocument, kinds: KindsIn) -> SearchSizeOut:
    """How many drives a search over the shelf would try, and about how long it would take."""
    shelf, setup = [p for p in shelf_parts(store) if p.kind in SEARCHED and p.usable], setup_of(document)
    count = math.prod(len(_pool(document, setup, kind, getattr(kinds, kind), shelf).parts) for kind in SEARCHED)
    return SearchSizeOut(drives=count, seconds=count / SHELF_RATE_PER_S)


def search_shelf(
    store: Store,
    document: SetupDocument,
    schools: Schools,
    kinds: KindsIn,
    bounds: Bounds,
    budget: float,
    known: Knowledge | None,
    progress: Progress,
    duty: Duty = USUAL_DUTY,
    circuit: CircuitIn | None = None,
) -> SearchOut:
    """Every combination of the parts on the shelf in this hull; what is shown of it is forecast and driven in full.

    Parameters
    ----------
    bounds : heaviest boat and room for the motor; the room that the setup has measured binds as well.
    budget : most that the parts which are not in the boat may cost together; a part without a price costs nothing.
    """
    shelf = [p for p in shelf_parts(store) if p.kind in SEARCHED and p.usable]
    setup = setup_of(document, known)
    pools = {kind: _pool(document, setup, kind, getattr(kinds, kind), shelf) for kind in SEARCHED}
    choices = Choices(**{f"{kind}s": pools[kind].parts for kind in SEARCHED})
    there = setup.placement.room_length_m
    room_m = min(bounds.room_m, there.value if there else math.inf)
    within, doubts = dataclasses.replace(bounds, room_m=room_m), doubts_of_uses(setup, schools)
    found = shelf_sweep(setup, choices, schools, within, progress, doubts)
    views = [
        [pools[kind].from_shelf[at] for kind, at in zip(SEARCHED, pick, strict=True)] for pick in found.picks.tolist()
    ]
    prices = np.array([sum(v.price or 0.0 for v in row if v) for row in views])
    afford = prices <= budget if len(views) else np.zeros(0, dtype=bool)
    verdict = np.where(afford, found.verdict, NONE).astype(np.int8)
    fronts = _fronts(found, verdict)
    judge, rows = _Judge.of(document, known, schools, duty, circuit), []
    for k in fronts.merged():
        swapped = [v for v in views[k] if v is not None]
        words = ", ".join(f"{KINDS[v.kind].lower()} {v.name}" for v in swapped) or "As it is"
        changes = [ChangeOut(path=v.kind, value=v.raw) for v in swapped]
        if (made := judge.made(changes)) is not None and (
            row := judge.row(
                made, words, fronts, k, changes=changes, shelf={v.kind: v.id for v in swapped},
                mass_kg=float(found.mass_kg[k]), price=float(prices[k]),
            )
        ) is not None:  # fmt: skip
            rows.append(row)
    drawn = even(np.flatnonzero(verdict != NONE))
    left_out, holding = found.left_out + int(np.sum(~afford)), int(np.sum(verdict == HOLDS))
    return _out(found, verdict, drawn, rows, tried=choices.count, left_out=left_out, holding=holding)


def _out(
    found: Drives,
    verdict: npt.NDArray[np.int8],
    drawn: npt.NDArray[np.int64],
    rows: list[FoundOut],
    *,
    tried: int,
    left_out: int,
    holding: int,
) -> SearchOut:
    return SearchOut(
        tried=tried,
        left_out=left_out,
        holding=holding,
        found=sorted(rows, key=lambda r: (ORDER.index(r.verdict), -r.speed_mps)),
        cloud=[
            (round(float(found.speed_mps[k]), 2), round(float(found.use[k]), 3), ORDER[int(verdict[k])]) for k in drawn
        ],
    )
