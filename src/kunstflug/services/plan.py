"""Plan: heat through a duty, the next single step, the sweep map, backward from a wish."""

from typing import Any

import numpy as np

from kunstflug.core.cooling import CoolingTable
from kunstflug.core.drive.duty import Duty, run_duty
from kunstflug.core.drive.forecast import forecast
from kunstflug.core.drive.heat_forecast import ceilings_c, heat_forecast, with_magnets_c
from kunstflug.core.drive.schools import Schools
from kunstflug.core.drive.verdict import Verdict
from kunstflug.core.errors import InvalidDocument, InvalidValue
from kunstflug.core.matching.backward import backward, best_of_steps, front, lasting_front
from kunstflug.core.matching.steps import single_steps
from kunstflug.core.matching.sweep import ranges_about, sweep
from kunstflug.core.units import Dimension, number_in
from kunstflug.formats.circuit_document import CircuitIn
from kunstflug.formats.plan_document import (
    BackwardOut,
    HeatOut,
    MapOut,
    StepOut,
    backward_document,
    heat_document,
    map_document,
)
from kunstflug.formats.setup_document import field_table, setup_of
from kunstflug.services.changes import Change, change_document
from kunstflug.services.fit import cooling_of
from kunstflug.services.parts import parts
from kunstflug.services.views import PartView
from kunstflug.store.database import Store

STEP_SAMPLES = 40
SWAPPED = ("motor", "controller", "propeller", "pack")
# What a verdict costs in the ranking, as a part of the speed (our own choice): a stop is never worth its speed.
STEP_PRICE = {Verdict.HOLDS: 0.0, Verdict.SHORT: 0.03, Verdict.STOP: 1.0}
STEP_REACH = 1.5  # no single change makes a boat half as fast again
MAP_KV = 30
MAP_DIAMETER = 26


def heat(document: Any, duty: Duty, schools: Schools, circuit: CircuitIn | None = None) -> HeatOut:
    """Temperatures of a setup through a duty, with the boat's own water where it is drawn."""
    setup = setup_of(document)
    table = cooling_of(setup, circuit, forecast(setup, 0).point)
    return heat_document(setup, heat_forecast(setup, duty, schools, cooling=table))


def _loads(
    document: Any, duty: Duty, schools: Schools, water: CoolingTable | None
) -> tuple[float, float, float, float, Verdict, bool]:
    """Speed, current, peak of the case, chance of passing a limit, verdict, and whether it runs."""
    setup = setup_of(document)
    f = forecast(setup, STEP_SAMPLES, schools)
    run = run_duty(setup, duty, step_s=0.1, stride=3, cooling=water)
    peaks = np.max(with_magnets_c(setup, run.temperature_c[0]), axis=0)
    ceilings = np.array(ceilings_c(schools, setup))
    order = list(Verdict)
    air = setup.conditions.air_c.value
    hot = Verdict.HOLDS
    if np.any(peaks > ceilings):
        hot = Verdict.STOP if np.any(peaks > air + 1.2 * (ceilings - air)) else Verdict.SHORT
    verdict = max((f.verdict, hot), key=order.index)
    chance = max((m.chance for m in f.margins), default=0.0)
    return float(f.point.speed_mps), float(f.point.current_a), float(peaks[1]), chance, verdict, f.runs


def next_steps(
    store: Store, document: Any, duty: Duty, schools: Schools, circuit: CircuitIn | None = None
) -> list[StepOut]:
    """All single changes from here, by sizes and from the shelf, best first.

    Ranked by relative gain of speed less a price of its verdict; a change that is impossible, does not run or changes
    nothing that a racer would notice is left out. The boat's own water cools all of them.
    """
    setup = setup_of(document)
    water = cooling_of(setup, circuit, forecast(setup, 0).point, STEP_REACH)
    speed, _, case, _, now, _ = _loads(document, duty, schools, water)
    tried: list[StepOut] = []
    seen: set[tuple[str, str]] = set()
    for change, label, text, shelf_id in [*_sizes(document), *_shelf(document, parts(store, None))]:
        key = (label, text)
        if key in seen:
            continue
        seen.add(key)
        try:
            changed, _ = change_document(document, [change])
            new_speed, current, new_case, chance, verdict, runs = _loads(changed, duty, schools, water)
        except (InvalidValue, InvalidDocument):
            continue
        noticed = abs(new_speed / speed - 1) > 0.003 or abs(new_case - case) > 1.0 or verdict is not now
        if not runs or not noticed:
            continue
        tried.append(
            StepOut(
                path=change.path, label=label, value=change.value, text=text, shelf_id=shelf_id,
                speed_mps=new_speed, gain_mps=new_speed - speed, case_c=new_case, case_gain_c=new_case - case,
                current_a=current, chance=chance, verdict=verdict,
                sentence=_sentence(new_speed - speed, new_case - case, current, chance, verdict),
            )
        )  # fmt: skip
    return sorted(tried, key=lambda s: STEP_PRICE[s.verdict] - s.gain_mps / speed)


def _sentence(gain: float, warmer: float, current: float, chance: float, verdict: Verdict) -> str:
    """The plain verdict of a step."""
    words = {Verdict.HOLDS: "every limit holds", Verdict.SHORT: "for short runs", Verdict.STOP: "leave it"}[verdict]
    return (
        f"{gain * 3.6:+.1f} km/h, case {warmer:+.0f} K, {current:.0f} A; {words}, "
        f"{chance:.0%} chance of passing a limit"
    )


def _sizes(document: Any) -> list[tuple[Change, str, str, int | None]]:
    """The core's single steps as changes of the document, in the unit that was typed."""
    rows = {f"{r['part']}.{r['key']}": r for r in field_table()}
    found: list[tuple[Change, str, str, int | None]] = []
    for step in single_steps(setup_of(document)):
        part, _, key = step.path.partition(".")
        now = getattr(getattr(document, part), key) if key else getattr(document, part)
        row = rows.get(step.path, {"label": "All-up mass", "type": "quantity", "dimension": "mass"})
        if row["type"] == "count":
            found.append((Change(path=step.path, value=int(step.value)), row["label"], f"{step.value:.0f}", None))
            continue
        number = float(f"{number_in(step.value, now.unit, Dimension(row['dimension'])):.4g}")
        unit = "" if now.unit == "1" else f" {now.unit}"
        value = {"value": number, "unit": now.unit, "source": "typed"}
        found.append((Change(path=step.path, value=value), row["label"], f"{number:g}{unit}", None))
    return found


def _shelf(document: Any, there: list[PartView]) -> list[tuple[Change, str, str, int | None]]:
    """Every other part on the shelf, put in."""
    found: list[tuple[Change, str, str, int | None]] = []
    for part in there:
        if part.kind not in SWAPPED or not part.usable:
            continue
        now = getattr(document, part.kind).model_dump(mode="json", exclude_none=True)
        if {**now, "name": ""} == {**part.document, "name": ""}:
            continue
        change = Change(path=part.kind, value=part.document)
        found.append((change, f"{part.kind.title()} from the shelf", part.name, part.id))
    return found


def sweep_map(document: Any, schools: Schools) -> MapOut:
    """KV x diameter about a setup, with the front of speed against the tightest margin."""
    setup = setup_of(document)
    kv, diameter = setup.motor.kv_rpm_per_v.value, setup.propeller.diameter_m.value
    found = sweep(
        setup,
        ranges_about(
            setup, kv=np.linspace(0.5 * kv, 1.7 * kv, MAP_KV), diameter=np.linspace(0.7, 1.5, MAP_DIAMETER) * diameter
        ),
        schools,
    )
    lasting = lasting_front(found.speed_mps, found.run_s, found.verdict)
    easy = best_of_steps(front(found), found.speed_mps, -found.use)
    return map_document(found, easy, best_of_steps(lasting, found.speed_mps, found.run_s))


def wish(
    document: Any,
    wanted_mps: float,
    locked: frozenset[str],
    schools: Schools,
    minutes: float,
    most_kg: float = float("inf"),
) -> BackwardOut:
    """Drives for this hull that reach a wanted speed."""
    return backward_document(backward(setup_of(document), wanted_mps, locked, schools, minutes, most_kg))
