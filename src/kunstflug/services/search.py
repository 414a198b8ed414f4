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
from kunstflug.core.choose.sweep import Ranges, SweepResult, ranges_about
from kunstflug.core.choose.wide import HOLDS, NONE, Narrowed, even, merged, narrowed, pieces_of
from kunstflug.core.drive.limits import KEYS
from kunstflug.core.drive.schools import Schools
from kunstflug.core.drive.verdict import ORDER
from kunstflug.core.parts import pack
from kunstflug.core.quantity.errors import InvalidValue
from kunstflug.core.quantity.progress import Progress
from kunstflug.core.setup.knowledge import Knowledge
from kunstflug.core.setup.setup import Setup
from kunstflug.documents.base import Strict
from kunstflug.documents.plan import ChangeOut, FoundOut, SearchOut, SearchSizeOut
from kunstflug.documents.quantity import Quantity
from kunstflug.documents.setup import SetupDocument, part_in, part_of, setup_of
from kunstflug.services.computing import computing
from kunstflug.services.parts import ShelfPart, shelf_parts
from kunstflug.store.database import Store
from kunstflug.wording import METRIC, Tongue, limits
from kunstflug.wording.fields import KINDS
from kunstflug.wording.tongue import trimmed

SEARCHED: Final = ("motor", "controller", "propeller", "pack")
MOST_FOUND: Final = 40
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
    most: int = MOST_DRIVES,
    scheduler: str | None = None,
) -> SearchOut:
    """Every combination of the ranges; the two fronts of it.

    Parameters
    ----------
    most : drives that are accepted.
    scheduler : see ``computing``.
    """
    setup = setup_of(document, known)
    whole = _searched(setup, ranges_for(setup, wanted, most), schools, progress, scheduler)
    found, cloud = whole.rows, whole.cloud
    fronts = _fronts(found, found.verdict)
    rows = [
        _found(found, k, _numbers(found, k, tongue), fronts, changes=_changes(setup, found, k, wanted))
        for k in fronts.merged()
    ]
    drawn = np.arange(len(cloud.speed_mps))
    return _out(cloud, cloud.verdict, drawn, rows, tried=whole.tried, left_out=0, holding=whole.holding)


def _searched(
    setup: Setup, ranges: Ranges, schools: Schools, progress: Progress, scheduler: str | None = None
) -> Narrowed:
    """All pieces of a search; of more than ``ALONE`` drives, where work larger than a request is done."""
    pieces, total = pieces_of(setup, ranges, schools), ranges.count
    if total <= ALONE and not scheduler:
        return merged(_heard(map(narrowed, pieces), total, progress))
    with computing(scheduler) as work, closing(work.done(narrowed, pieces)) as parts:
        return merged(_heard(parts, total, progress))


def _heard(parts: Iterator[Narrowed], total: int, progress: Progress) -> Iterator[Narrowed]:
    done = 0
    progress(done, total)
    for part in parts:
        done += part.tried
        progress(done, total)
        yield part


def _numbers(found: SweepResult, k: int, tongue: Tongue) -> str:
    size = f"{tongue.size(float(found.diameter_m[k]), 3)} x {found.pitch_ratio[k]:.2f}"
    return f"{found.kv_rpm_per_v[k]:.0f} KV, {size}, {found.cells[k]:.0f}S"


def _changes(setup: Setup, found: SweepResult, k: int, wanted: RangesIn) -> list[ChangeOut]:
    """What makes one drive of the ranges, as a draft takes it."""
    changes = []
    if wanted.kv:
        changes.append(_typed("motor.kv", round(float(found.kv_rpm_per_v[k]), -1), "rpm/V"))
    if wanted.diameter:
        changes.append(_typed("propeller.diameter", round(float(found.diameter_m[k]) * 1e3, 1), "mm"))
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
) -> SearchOut:
    """Every combination of the parts on the shelf in this hull.

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
    found = shelf_sweep(setup, choices, schools, dataclasses.replace(bounds, room_m=room_m), progress)
    views = [
        [pools[kind].from_shelf[at] for kind, at in zip(SEARCHED, pick, strict=True)] for pick in found.picks.tolist()
    ]
    prices = np.array([sum(v.price or 0.0 for v in row if v) for row in views])
    afford = prices <= budget if len(views) else np.zeros(0, dtype=bool)
    verdict = np.where(afford, found.verdict, NONE).astype(np.int8)
    fronts = _fronts(found, verdict)
    rows = []
    for k in fronts.merged():
        swapped = [v for v in views[k] if v is not None]
        words = ", ".join(f"{KINDS[v.kind].lower()} {v.name}" for v in swapped) or "As it is"
        rows.append(
            _found(
                found,
                k,
                words,
                fronts,
                changes=[ChangeOut(path=v.kind, value=v.raw) for v in swapped],
                shelf={v.kind: v.id for v in swapped},
                mass_kg=float(found.mass_kg[k]),
                price=float(prices[k]),
            )
        )
    drawn = even(np.flatnonzero(verdict != NONE))
    left_out, holding = found.left_out + int(np.sum(~afford)), int(np.sum(verdict == HOLDS))
    return _out(found, verdict, drawn, rows, tried=choices.count, left_out=left_out, holding=holding)


def _found(found: Drives, k: int, words: str, fronts: _Fronts, **more: Any) -> FoundOut:
    return FoundOut(
        words=words,
        speed_mps=round(float(found.speed_mps[k]), 3),
        current_a=round(float(found.current_a[k]), 1),
        use=round(float(found.use[k]), 3),
        tightest=limits.TITLES[KEYS[int(found.tightest[k])]],
        verdict=ORDER[int(found.verdict[k])],
        run_s=round(float(found.run_s[k])),
        on_margin_front=k in fronts.margin,
        on_time_front=k in fronts.lasting,
        **{"shelf": {}, **more},
    )


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
