"""How good the advice is: random boats, their lists read row by row, and what other worlds make of *holds*.

Run: ``python -m tests.benchmarks.advice [boats] [world ...]``; the figures of the last run stand in ``docs/model.md``.
No proposal past a wall; where a limit is broken the first three lower its use, and the first lets all hold where one
change can; what burns is never above what does not; *holds* is kept in worlds of other form.
"""

import sys
from collections import defaultdict
from collections.abc import Iterator

import numpy as np

from kunstflug.core.choose.steps import PLACES, Intent
from kunstflug.core.drive.forecast import Forecast, forecast
from kunstflug.core.drive.limits import LimitKey, wall_of
from kunstflug.core.drive.schools import USUAL
from kunstflug.core.drive.verdict import Verdict
from kunstflug.core.quantity.errors import InvalidDocument, InvalidValue
from kunstflug.core.thermal.duty import passes_duty
from kunstflug.core.thermal.heat_forecast import ceilings
from kunstflug.core.thermal.nodes import Node
from kunstflug.documents.setup import SetupDocument, setup_of
from kunstflug.pond.world import World
from kunstflug.services.match.tried_changes import Bench, TriedChange
from kunstflug.services.shared.changes import change_document
from tests.core.drive.test_population import random_boat
from tests.pond.advice_world import Straight
from tests.pond.other_worlds import Sealed, Second

DUTY = passes_duty(4, 6, 25)
WORLDS = {"second": Second, "third": Sealed, "straight": Straight}
MORE = 6  # changes of each boat by which chances are calibrated
READ = (Node.CASE, Node.CONTROLLER, Node.PACK)


def documents(seed: int) -> Iterator[SetupDocument]:
    """Random boats that run; half of them at the end of what their controller is printed for."""
    rng = np.random.default_rng(seed)
    while True:
        raw = random_boat(rng)
        if rng.random() < 0.5:
            raw["controller"]["max_cells"] = raw["pack"]["cells"]
        try:
            document = SetupDocument.model_validate(raw)
            if forecast(setup_of(document), 0).runs:
                yield document
        except (InvalidValue, InvalidDocument):
            continue


def ranked(bench: Bench, every: list[TriedChange], intent: Intent) -> list[TriedChange]:
    """In the order of an intent."""
    return sorted(every, key=lambda one: one.place(bench.now, intent))


def read(document: SetupDocument, counts: dict[str, int]) -> tuple[Bench, list[TriedChange]]:
    """Reads the lists of a boat, and counts what must hold of them."""
    bench = Bench.of(document, None, DUTY, USUAL)
    now, every = bench.now, bench.every([])
    counts["boats"] += 1
    for intent in Intent:
        burns = [one.then.burns for one in ranked(bench, every, intent)]
        counts["a burnt one above another"] += burns != sorted(burns)
    for one in every:
        made = change_document(document, [c.change for c in one.changes]).document
        counts["past a wall"] += wall_of(setup_of(made)) is not None
    if now.holds:
        return bench, every
    within, at = ranked(bench, every, Intent.WITHIN), PLACES.index(now.tightest)
    counts["broken"] += 1
    counts["first three lower it"] += all(one.then.at_risk[at] < now.at_risk[at] for one in within[:3])
    counts["one change can"] += (can := any(one.then.holds for one in every if len(one.changes) == 1))
    counts["first does, where one can"] += can and within[0].then.holds
    counts["first does"] += bool(within) and within[0].then.holds
    return bench, every


def outcomes(f: Forecast, world: World) -> dict[str, bool]:
    """Which limits and ceilings a boat really passes; those that a racer can read."""
    steady, values = world.steady(), f.values
    loads = {
        LimitKey.PACK_CURRENT: steady.current_a,
        LimitKey.WIRE_CURRENT: steady.current_a,
        LimitKey.CONTROLLER_CURRENT: steady.current_a,
        LimitKey.MOTOR_CURRENT: steady.current_a,
        LimitKey.MOTOR_POWER: steady.current_a * steady.voltage_v,
        LimitKey.LOADED_RPM: steady.rpm,
        LimitKey.ELECTRICAL_RPM: steady.rpm * values.poles.value / 2,
        LimitKey.CELL_VOLTAGE: steady.voltage_v / values.cells.value,
    }
    past = {
        m.key: loads[m.key] > m.limit.holds if m.rising else loads[m.key] < m.limit.holds
        for m in f.margins
        if m.key in loads
    }
    tops = {c.node: c.holds_c for c in ceilings(USUAL, world.setup)}
    hottest = world.heated(DUTY, [0.02])[0][0]
    return {**past, **{node: t > tops[node] for node, t in zip(READ, hottest, strict=True)}}


def main(count: int, names: list[str]) -> None:
    """Reads the lists of so many boats, and asks the worlds what became of the first rows."""
    counts: dict[str, int] = defaultdict(int)
    kept = {name: [] for name in names}
    said = {name: [] for name in names}
    came = {name: [] for name in names}
    for seed, document in zip(range(count), documents(71), strict=False):
        bench, every = read(document, counts)
        holding = [one for one in ranked(bench, every, Intent.FASTER) if one.then.verdict is Verdict.HOLDS][:1]
        for k, one in enumerate([*holding, *every[:: max(len(every) // MORE, 1)]]):
            setup = setup_of(change_document(document, [c.change for c in one.changes]).document)
            f = forecast(setup)
            for name in names:
                try:
                    past = outcomes(f, WORLDS[name](setup, seed))
                except ValueError:  # the hidden boat does not plane
                    continue
                for m in f.margins:
                    if m.key in past:
                        said[name].append(m.chance)
                        came[name].append(past[m.key])
                if k < len(holding):
                    kept[name].append(not any(past.values()))
    print(dict(counts))
    for name in names:
        chances, real = np.array(said[name]), np.array(came[name], dtype=float)
        bins = np.clip((chances * 10).astype(int), 0, 9)
        rows = [
            (int(np.sum(bins == k)), chances[bins == k].mean(), real[bins == k].mean())
            for k in range(10)
            if (bins == k).any()
        ]
        print(f"{name}: holds kept {np.mean(kept[name]):.2f} of {len(kept[name])}")
        print("  said/came " + "  ".join(f"{s:.2f}/{c:.2f} ({n})" for n, s, c in rows))


if __name__ == "__main__":
    main(int(sys.argv[1]) if len(sys.argv) > 1 else 300, sys.argv[2:] or ["second", "third"])
