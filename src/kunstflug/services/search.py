"""Large searches for Match: over ranges of numbers, or over the parts on the shelf."""

import dataclasses
import math
from typing import Any, Final

import numpy as np
from pydantic import Field

from kunstflug.core import pack
from kunstflug.core.drive.schools import Schools
from kunstflug.core.drive.setup import Setup
from kunstflug.core.errors import InvalidValue
from kunstflug.core.matching.backward import lasting_front
from kunstflug.core.matching.shelf import MOST_COMBINATIONS, Bounds, Choices, shelf_sweep
from kunstflug.core.matching.sweep import MOST_CASES, NO_POINT, REASONS, Ranges, pareto_front, sweep
from kunstflug.core.progress import Progress
from kunstflug.core.propeller import part as propeller
from kunstflug.formats.plan_document import FoundOut, SearchOut
from kunstflug.formats.setup_document import MODELS, Strict, part_of, setup_of
from kunstflug.services.parts import parts
from kunstflug.services.views import PartView
from kunstflug.store.database import Store

SEARCHED: Final = ("motor", "controller", "propeller", "pack")
CLOUD: Final = 1500
MOST_FOUND: Final = 40


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


def ranges_for(setup: Setup, wanted: RangesIn) -> Ranges:
    """Values about today's setup.

    Raises
    ------
    InvalidValue : more drives than are accepted, with the fineness that would do.
    """
    n = wanted.fineness
    kv, diameter = setup.motor.kv_rpm_per_v.value, setup.propeller.diameter_m.value
    ratio = propeller.pitch(setup.propeller).value / diameter
    now = pack.series_cells(setup.pack)
    one = np.atleast_1d
    found = Ranges(
        kv_rpm_per_v=np.geomspace(0.5 * kv, 1.8 * kv, n) if wanted.kv else one(kv),
        diameter_m=np.linspace(0.7, 1.5, n) * diameter if wanted.diameter else one(diameter),
        # Curves are made for each pitch ratio: no more of them than one can buy.
        pitch_ratio=np.linspace(1.0, 2.0, min(n, 21)) if wanted.pitch_ratio else one(ratio),
        cells=np.arange(max(now - 4, 1), min(now + 5, 25), dtype=float) if wanted.cells else one(float(now)),
        mass_factor=np.linspace(0.85, 1.15, min(n, 25)) if wanted.mass else one(1.0),
    )
    if found.count > MOST_CASES:
        free = sum((wanted.kv, wanted.diameter))
        rest = found.count // n**free
        fits = int((MOST_CASES / rest) ** (1 / free)) if free else 0
        raise InvalidValue("sweep", f"{found.count} drives", f"at most {MOST_CASES}; a fineness of {fits} would do")
    return found


def search_ranges(document: Any, schools: Schools, wanted: RangesIn, progress: Progress) -> SearchOut:
    """Every combination of the ranges; the two fronts of it."""
    setup = setup_of(document)
    found = sweep(setup, ranges_for(setup, wanted), schools, progress=progress)
    margin, lasting = _fronts(found.speed_mps, found.use, found.run_s, found.verdict)
    rows = []
    for k in _merged(margin, lasting):
        changes: list[dict[str, object]] = []
        if wanted.kv:
            changes.append(_typed("motor.kv", round(float(found.kv_rpm_per_v[k]), -1), "rpm/V"))
        if wanted.diameter:
            changes.append(_typed("propeller.diameter", round(float(found.diameter_m[k]) * 1e3, 1), "mm"))
        if wanted.pitch_ratio:
            changes.append(_typed("propeller.pitch_ratio", round(float(found.pitch_ratio[k]), 2), "1"))
        if wanted.cells:
            # Only the first of two packs in series is changed.
            changes.append({"path": "pack.cells", "value": int(found.cells[k]) - (setup.pack.second_cells or 0)})
        if wanted.mass:
            grams = round(float(found.mass_factor[k]) * setup.all_up_mass_kg.value * 1e3)
            changes.append(_typed("all_up_mass", grams, "g"))
        words = (
            f"{found.kv_rpm_per_v[k]:.0f} KV, {found.diameter_m[k] * 1e3:.1f} x {found.pitch_ratio[k]:.2f}, "
            f"{found.cells[k]:.0f}S"
        )
        rows.append(_found(found, k, words, margin, lasting, changes=changes))
    return _out(found, found.ranges.count, 0, rows)


def _typed(path: str, value: float, unit: str) -> dict[str, object]:
    return {"path": path, "value": {"value": value, "unit": unit, "source": "typed"}}


def combinations(there: list[PartView], kinds: KindsIn) -> int:
    """How many combinations a search over the shelf would try, the parts of today included."""
    count = 1
    for kind in SEARCHED:
        if getattr(kinds, kind):
            count *= 1 + sum(1 for p in there if p.kind == kind)
    return count


def search_shelf(
    store: Store, document: Any, schools: Schools, kinds: KindsIn, bounds: Bounds, budget: float, progress: Progress
) -> SearchOut:
    """Every combination of the parts on the shelf in this hull.

    Parameters
    ----------
    bounds : heaviest boat and room for the motor; the room that the setup has measured binds as well.
    budget : most that the parts which are not in the boat may cost together; a part without a price costs nothing.
    """
    shelf = [p for p in parts(store, None) if p.kind in SEARCHED and p.usable]
    setup = setup_of(document)
    pools: dict[str, list[tuple[Any, PartView | None]]] = {}
    for kind in SEARCHED:
        now = getattr(document, kind).model_dump(mode="json", exclude_none=True)
        pool: list[tuple[Any, PartView | None]] = [(getattr(setup, kind), None)]
        if getattr(kinds, kind):
            for part in shelf:
                if part.kind == kind and {**part.document, "name": ""} != {**now, "name": ""}:
                    pool.append((part_of(kind, MODELS[kind].model_validate(part.document)), part))
        pools[kind] = pool
    choices = Choices(**{f"{kind}s": tuple(p for p, _ in pools[kind]) for kind in SEARCHED})
    there = setup.placement.room_length_m
    room_m = min(bounds.room_m, there.value if there else math.inf)
    found = shelf_sweep(setup, choices, schools, dataclasses.replace(bounds, room_m=room_m), progress)
    views = [[pools[kind][at][1] for kind, at in zip(SEARCHED, pick, strict=True)] for pick in found.picks.tolist()]
    prices = np.array([sum(v.price or 0.0 for v in row if v) for row in views])
    afford = prices <= budget if len(views) else np.zeros(0, dtype=bool)
    verdict = np.where(afford, found.verdict, NO_POINT)
    margin, lasting = _fronts(found.speed_mps, found.use, found.run_s, verdict)
    rows = []
    for k in _merged(margin, lasting):
        swapped = [v for v in views[k] if v is not None]
        rows.append(
            _found(
                found,
                k,
                ", ".join(f"{v.kind} {v.name}" for v in swapped) or "as it is",
                margin,
                lasting,
                changes=[{"path": v.kind, "value": v.document} for v in swapped],
                shelf={v.kind: v.id for v in swapped},
                mass_kg=float(found.mass_kg[k]),
                price=float(prices[k]),
            )
        )
    return _out(found, choices.count, found.left_out + int(np.sum(~afford)), rows)


def _fronts(speed: np.ndarray, use: np.ndarray, run_s: np.ndarray, verdict: np.ndarray) -> tuple[set[int], set[int]]:
    runs = np.flatnonzero(verdict != NO_POINT)
    margin = runs[pareto_front(speed[runs], use[runs])] if runs.size else runs
    return {int(k) for k in margin}, {int(k) for k in lasting_front(speed, run_s, verdict)}


def _merged(margin: set[int], lasting: set[int]) -> list[int]:
    """Both fronts, thinned evenly to what a list can show."""
    every = sorted(margin | lasting)
    if len(every) <= MOST_FOUND:
        return every
    both = (
        sorted(margin)[:: max(len(margin) // (MOST_FOUND // 2), 1)]
        + sorted(lasting)[:: max(len(lasting) // (MOST_FOUND // 2), 1)]
    )
    return sorted(set(both))


def _found(found: Any, k: int, words: str, margin: set[int], lasting: set[int], **more: Any) -> FoundOut:
    return FoundOut(
        words=words,
        speed_mps=round(float(found.speed_mps[k]), 3),
        current_a=round(float(found.current_a[k]), 1),
        use=round(float(found.use[k]), 3),
        tightest=REASONS[int(found.reason[k])],
        verdict=int(found.verdict[k]),
        run_s=round(float(found.run_s[k])),
        on_margin_front=k in margin,
        on_time_front=k in lasting,
        **{"shelf": {}, **more},
    )


def _out(found: Any, tried: int, left_out: int, rows: list[FoundOut]) -> SearchOut:
    runs = np.flatnonzero(found.verdict != NO_POINT)
    drawn = runs[np.linspace(0, len(runs) - 1, min(CLOUD, len(runs))).astype(int)] if len(runs) else runs
    return SearchOut(
        tried=tried,
        left_out=left_out,
        holding=int(np.sum(found.verdict == 0)),
        found=sorted(rows, key=lambda r: (r.verdict, -r.speed_mps)),
        cloud=[
            (round(float(found.speed_mps[k]), 2), round(float(found.use[k]), 3), int(found.verdict[k])) for k in drawn
        ],
    )


__all__ = ["MOST_COMBINATIONS", "KindsIn", "RangesIn", "combinations", "search_ranges", "search_shelf"]
