"""Parts of the shelf compared in one boat."""

from typing import Any, Final

from kunstflug.core.drive.duty import Duty, run_duty
from kunstflug.core.drive.forecast import forecast
from kunstflug.core.drive.heat_forecast import with_magnets_c
from kunstflug.core.drive.schools import Schools
from kunstflug.core.errors import InvalidDocument, InvalidValue
from kunstflug.core.fit.joints import Fit, joints
from kunstflug.formats.circuit_document import CircuitIn
from kunstflug.formats.setup_document import setup_of
from kunstflug.services.changes import Change, change_document
from kunstflug.services.fit import cooling_of
from kunstflug.services.rows import local_racer, owned
from kunstflug.services.views import CandidateView
from kunstflug.store.database import Store
from kunstflug.store.tables import PartRow

MOST_COMPARED: Final = 6


def compare(
    store: Store, document: Any, part_ids: list[int], duty: Duty, schools: Schools, circuit: CircuitIn | None = None
) -> list[CandidateView]:
    """Up to six parts, each in this boat with its water: forecast, heat, margins, mass, fit and price side by side.

    Raises
    ------
    InvalidValue : more than six, or a part that is no part of a drive.
    """
    if not 1 <= len(part_ids) <= MOST_COMPARED:
        raise InvalidValue("parts", len(part_ids), f"1 to {MOST_COMPARED}")
    with store.transaction() as session:
        owner = local_racer(session)
        rows = [owned(session, PartRow, part_id, owner) for part_id in part_ids]
        picked = [(r.id, r.kind, r.name, r.document, r.price) for r in rows]
    return [_candidate(document, *part, duty=duty, schools=schools, circuit=circuit) for part in picked]


def _candidate(
    document: Any,
    part_id: int,
    kind: str,
    name: str,
    raw: dict[str, Any],
    price: float | None,
    *,
    duty: Duty,
    schools: Schools,
    circuit: CircuitIn | None,
) -> CandidateView:
    if kind not in type(document).model_fields:
        raise InvalidValue("kind", kind, "a part of the drive")
    try:
        changed, notes = change_document(document, [Change(path=kind, value=raw)])
        setup = setup_of(changed)
    except (InvalidValue, InvalidDocument) as error:
        return CandidateView(part_id=part_id, kind=kind, name=name, price=price, refusal=str(error))
    f = forecast(setup, 60, schools)
    if not f.runs:
        return CandidateView(part_id=part_id, kind=kind, name=name, price=price, refusal=f.refusal)
    run = run_duty(setup, duty, step_s=0.1, stride=3, cooling=cooling_of(setup, circuit, f.point))
    peaks = with_magnets_c(setup, run.temperature_c[0]).max(axis=0)
    worst = max(f.margins, key=lambda m: m.use)
    found = joints(setup, float(f.point.rpm), float(f.point.current_a), setup_of(document))
    trouble = [f"{j.title}: {j.sentence}" for j in found if j.fit is Fit.CLASHES]
    trouble += [f"{j.title}: {j.remedy or j.sentence}" for j in found if j.fit is Fit.NEEDS]
    return CandidateView(
        part_id=part_id,
        kind=kind,
        name=name,
        price=price,
        speed_mps=float(f.point.speed_mps),
        low_mps=float(f.low.speed_mps),
        high_mps=float(f.high.speed_mps),
        current_a=float(f.point.current_a),
        rpm=float(f.point.rpm),
        case_c=float(peaks[1]),
        controller_c=float(peaks[2]),
        mass_kg=setup.all_up_mass_kg.value,
        verdict=f.verdict,
        use=worst.use,
        tightest=worst.title,
        fit_problems=trouble,
        notes=notes,
    )
