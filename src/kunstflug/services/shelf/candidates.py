"""Parts of the shelf compared in one boat."""

import dataclasses
import math
from typing import Final

from kunstflug.core.drive.forecast import Forecast, forecast
from kunstflug.core.drive.limits import wall_of
from kunstflug.core.drive.schools import Schools
from kunstflug.core.fit.joint import Fit
from kunstflug.core.fit.joints import joints
from kunstflug.core.quantity.errors import InvalidDocument, InvalidValue
from kunstflug.core.quantity.facts import WholeBetween
from kunstflug.core.setup.knowledge import Knowledge
from kunstflug.core.setup.setup import Setup
from kunstflug.core.thermal.duty import Duty
from kunstflug.core.thermal.heat_forecast import STEP_S, STRIDE, peaks_c
from kunstflug.core.thermal.nodes import HEAT_NODES, Node
from kunstflug.core.thermal.run import DutyRun, run_duty
from kunstflug.documents.setup import PARTS, SetupDocument, setup_of
from kunstflug.documents.water import CircuitIn
from kunstflug.services.shared.changes import Change, change_document
from kunstflug.services.shared.rows import owned, racer_of
from kunstflug.services.shared.stock import ShelfPart, shelf_part
from kunstflug.services.shared.views import CandidateView, PartView, SwapView
from kunstflug.services.shared.water import cooling_of
from kunstflug.services.shelf.shelf import shelf
from kunstflug.store.database import Store
from kunstflug.store.tables import PartRow
from kunstflug.wording import METRIC, Tongue, heat, limits, say, say_error, sentence
from kunstflug.wording import fit as fit_words

MOST_COMPARED: Final = 6


def compare(
    store: Store,
    document: SetupDocument,
    part_ids: list[int],
    duty: Duty,
    schools: Schools,
    known: Knowledge | None,
    circuit: CircuitIn | None = None,
    tongue: Tongue = METRIC,
) -> list[CandidateView]:
    """Up to six parts, each in this boat with its water: forecast, heat, margins, mass, fit and price side by side.

    Raises
    ------
    InvalidValue : more than six, or a part that is no part of a drive.
    """
    if not 1 <= len(part_ids) <= MOST_COMPARED:
        raise InvalidValue("parts", len(part_ids), WholeBetween(low=1, high=MOST_COMPARED))
    with store.transaction() as session:
        owner = racer_of(session)
        picked = [shelf_part(owned(session, PartRow, part_id, owner)) for part_id in part_ids]
    return [_candidate(document, part, duty, schools, known, circuit, tongue) for part in picked]


def swaps(store: Store, document: SetupDocument, kind: str, tongue: Tongue = METRIC) -> list[SwapView]:
    """Every part of a kind on the shelf, and what a sheet forbids of it in this boat."""
    return [SwapView(part=part, wall=_wall(document, part, tongue)) for part in shelf(store, kind) if part.kind == kind]


def _wall(document: SetupDocument, part: PartView, tongue: Tongue) -> str:
    try:
        wall = wall_of(setup_of(change_document(document, [Change(path=part.kind, value=part.document)]).document))
    except (InvalidValue, InvalidDocument):
        return ""  # said when it is tried
    return "" if wall is None else sentence(say(wall, tongue))


def _candidate(
    document: SetupDocument,
    part: ShelfPart,
    duty: Duty,
    schools: Schools,
    known: Knowledge | None,
    circuit: CircuitIn | None,
    tongue: Tongue,
) -> CandidateView:
    if part.kind not in PARTS:
        raise InvalidValue("kind", part.kind, "a part of the drive")
    plain = CandidateView(part_id=part.id, kind=part.kind, name=part.name, price=part.price)
    try:
        changed = change_document(document, [Change(path=part.kind, value=part.raw)])
        setup = setup_of(changed.document, known)
        if (wall := wall_of(setup)) is not None:
            return dataclasses.replace(plain, refusal=sentence(say(wall, tongue)))
    except (InvalidValue, InvalidDocument) as error:
        return dataclasses.replace(plain, refusal=say_error(error, tongue))
    f = forecast(setup, schools=schools)
    if f.refusal:
        return dataclasses.replace(plain, refusal=say(f.refusal, tongue))
    run = run_duty(setup, duty, step_s=STEP_S, stride=STRIDE, cooling=cooling_of(setup, circuit))
    peaks = dict(zip(HEAT_NODES, peaks_c(setup, run).tolist(), strict=True))
    return dataclasses.replace(
        plain,
        speed_mps=float(f.point.speed_mps),
        low_mps=float(f.low.speed_mps),
        high_mps=float(f.high.speed_mps),
        current_a=float(f.point.current_a),
        rpm=float(f.point.rpm),
        case_c=peaks[Node.CASE],
        controller_c=peaks[Node.CONTROLLER],
        mass_kg=setup.all_up_mass_kg.value,
        verdict=f.verdict,
        use=f.tightest.use,
        tightest=limits.TITLES[f.tightest.key],
        fit_problems=_problems(setup, f, setup_of(document, known), schools, tongue),
        notes=[*_failures(run, tongue), *(say(note, tongue) for note in changed.notes)],
    )


def _failures(run: DutyRun, tongue: Tongue) -> list[str]:
    """What burns or melts in the duty, first of all that is said of a part."""
    return [
        sentence(f"{heat.NODES[node]}: {heat.FAILS[node].format(tongue.seconds(float(instants[0])))}")
        for node, instants in run.fails_s.items()
        if math.isfinite(instants[0])
    ]


def _problems(setup: Setup, f: Forecast, before: Setup, schools: Schools, tongue: Tongue) -> list[str]:
    """What clashes, then what needs work."""
    found = joints(setup, float(f.point.rpm), float(f.point.current_a), schools.stint, before)
    clashes = [f"{fit_words.TITLES[j.key]}: {say(j.finding, tongue)}" for j in found if j.fit is Fit.CLASHES]
    needs = [f"{fit_words.TITLES[j.key]}: {say(j.remedy or j.finding, tongue)}" for j in found if j.fit is Fit.NEEDS]
    return [*clashes, *needs]
