"""Learning from boats that are files: what was taught, and how well what was said of runs held. No database."""

import dataclasses
import math
from collections import defaultdict
from collections.abc import Sequence
from datetime import datetime
from typing import Any, Final

import numpy as np

from kunstflug.core.cooling.table import CoolingTable
from kunstflug.core.evidence.outings import same_outing
from kunstflug.core.evidence.readings import HEAT
from kunstflug.core.learning.causes import odd_run
from kunstflug.core.learning.judged import JudgedReading, judged
from kunstflug.core.learning.learn import Posterior, learn
from kunstflug.core.learning.run_evidence import RunEvidence
from kunstflug.core.quantity.errors import KunstflugError
from kunstflug.core.quantity.units import Dimension
from kunstflug.core.setup.knowledge import Knowledge
from kunstflug.documents.base import rounded
from kunstflug.documents.boat import BoatDocument, BoatRunIn
from kunstflug.documents.quantity import parsed_quantity, si
from kunstflug.documents.setup import SetupDocument, parsed_setup, setup_of
from kunstflug.documents.water import CircuitIn
from kunstflug.services.compare.knowledge import numbers_of
from kunstflug.services.learning.evidence import StoredRun, seen_of
from kunstflug.services.shared.run_rows import check_typed
from kunstflug.services.shared.water import cooling_of
from kunstflug.wording.learning import CAUSES, READINGS

_START: Final = datetime.min


def seen_in(boats: Sequence[BoatDocument]) -> list[RunEvidence]:
    """What the runs of some boats showed, in the order of their time; a part with one key is one part in all of them.

    Raises
    ------
    InvalidDocument, InvalidValue : a setup in them is none, or a speed in them is none that a boat does.
    """
    runs = sorted(((run, boat) for boat in boats for run in boat.runs), key=lambda pair: pair[0].started_at)
    documents: dict[tuple[str, str], SetupDocument] = {}
    water: dict[tuple[str, str], CoolingTable | None] = {}
    found: list[RunEvidence] = []
    outing, last = 0, _START
    for run, boat in runs:
        at = run.started_at.replace(tzinfo=None)
        outing += not same_outing(last, at)
        last = at
        setup = next((s for s in boat.setups if s.key == run.setup), None)
        if setup is None:
            continue
        place = (boat.key, setup.key)
        if place not in documents:
            documents[place] = parsed_setup(setup.document)
            water[place] = _cooling(documents[place], boat)
        kept = _kept(run, boat, documents[place], dict(setup.parts), f"outing {outing} of {boat.key}")
        seen = seen_of(dataclasses.replace(kept, cooling=water[place]))
        if seen is not None:
            found.append(seen)
    return found


def _kept(run: BoatRunIn, boat: BoatDocument, document: SetupDocument, links: dict[str, str], outing: str) -> StoredRun:
    check_typed(run.typed)
    readings = [
        (r.place, si(parsed_quantity(Dimension.TEMPERATURE, r.typed, "typed"), Dimension.TEMPERATURE), r.minutes_after)
        for r in run.readings
    ]
    return StoredRun(
        key=run.key,
        boat=boat.key,
        document=document,
        started_at=run.started_at,
        outing=outing,
        conditions=run.conditions,
        typed=run.typed,
        track=run.figures,
        log=run.log_figures,
        readings=readings,
        links={kind: f"part {key}" for kind, key in links.items()},
    )


def _cooling(document: SetupDocument, boat: BoatDocument) -> CoolingTable | None:
    """What the boat's own water gives its blocks, where it is drawn and can be solved."""
    drawn = CircuitIn.model_validate(boat.circuit) if boat.circuit else None
    try:
        return cooling_of(setup_of(document), drawn)
    except KunstflugError:
        return None


def knowledge_in(boat: BoatDocument) -> Knowledge | None:
    """What a boat's own runs taught; None where it never ran."""
    seen = seen_in([boat])
    return learn(seen).knowledge(boat.key) if seen else None


def report(boats: Sequence[BoatDocument]) -> dict[str, Any]:
    """What the runs of some boats taught, how far off each run would have been said without it, and how often the
    bands held.
    """
    seen = seen_in(boats)
    if not seen:
        return {"runs": 0, "boats": [], "readings": {}, "judged": []}
    learned = learn(seen)
    runs = judged(learned)
    return {
        "runs": len(runs),
        "boats": [_boat(boat, learned) for boat in boats],
        "readings": _errors([reading for run in runs for reading in run.readings]),
        "judged": [
            {
                "run": run.key,
                "readings": [
                    {
                        "what": r.what.value,
                        "read": rounded(r.read),
                        "as_bought": rounded(r.bought.value),
                        "known_then": rounded(r.then.value),
                        "without": rounded(r.without.value),
                        "off": round(r.off, 2),
                    }
                    for r in run.readings
                ],
                "causes": [{"words": CAUSES[s.cause], "chance": round(s.chance, 3)} for s in odd.suspicions[:3]]
                if (odd := odd_run(run, runs))
                else [],
            }
            for run in runs
        ],
    }


def _boat(boat: BoatDocument, learned: Posterior) -> dict[str, Any]:
    setup = setup_of(parsed_setup(boat.setups[-1].document))
    numbers = numbers_of(setup, learned, boat.key)
    return {
        "boat": boat.name,
        "taught": [
            {
                "number": n.name,
                "label": n.label,
                "of": n.owner,
                "unit": n.unit,
                "before": [n.before.low, n.before.value, n.before.high],
                "now": [n.now.low, n.now.value, n.now.high],
                "runs": n.runs,
            }
            for n in numbers
            if n.taught
        ],
        "still_guesses": [n.name for n in numbers if not n.taught],
    }


def _errors(readings: Sequence[JudgedReading]) -> dict[str, Any]:
    """By what was read: how far off it was said, and how often it lay in the 80 % band."""
    grouped: dict[str, list[JudgedReading]] = defaultdict(list)
    for reading in readings:
        if math.isfinite(reading.without.value):
            grouped[reading.what.value].append(reading)
    return {
        what: {
            "unit": "K" if rows[0].what in HEAT else "part",
            "label": READINGS[rows[0].what][0],
            "count": len(rows),
            "off_as_bought": _rms([r.off_from(r.bought) for r in rows]),
            "off_known_then": _rms([r.off_from(r.then) for r in rows]),
            "off_without": _rms([r.off_from(r.without) for r in rows]),
            "in_band_then": round(float(np.mean([r.then.holds(r.read) for r in rows])), 3),
        }
        for what, rows in grouped.items()
    }


def _rms(offs: list[float]) -> float:
    return round(float(np.sqrt(np.mean(np.square(offs)))), 4)
