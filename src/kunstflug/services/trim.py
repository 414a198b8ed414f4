"""Trim: what the boat did and why, which knob to turn and how far, and whether it helped. Nothing is saved."""

import math
from collections.abc import Sequence
from typing import Final

from sqlalchemy import select
from sqlalchemy.orm import Session, selectinload

from kunstflug.core.drive.forecast import forecast
from kunstflug.core.drive.values import drive_values
from kunstflug.core.laws.resistance import GRAVITY_MPS2
from kunstflug.core.learning.judged import judged
from kunstflug.core.learning.seen import What
from kunstflug.core.parts import hull as hulls
from kunstflug.core.parts.hull import CENTRE_PART, Hardware, HullType
from kunstflug.core.parts.propeller import SHAKES
from kunstflug.core.setup.setup import Setup, centre_of_mass
from kunstflug.core.trim.knobs import KNOBS, barred, knob_of, step_of
from kunstflug.core.trim.signs import Answer, Behaviour, Margins, Step, Tried, answers, causes
from kunstflug.documents.setup import SetupDocument, setup_of
from kunstflug.documents.trim import BehaviourOut, ReasonOut, SizesOut, TriedOut, TrimAnswerOut, TrimOut
from kunstflug.services.changes import differences
from kunstflug.services.learning import learned_of
from kunstflug.services.rows import document_of, local_racer, owned
from kunstflug.services.trim_curves import Curves, TrimBoat, TrimRun, change_to, margin_uses, value_at
from kunstflug.store.database import Store
from kunstflug.store.tables import RunRow, SetupRow
from kunstflug.wording.trim import BEHAVIOURS, CAUTION, HELD_BACK, PRACTICE, REASONS, STEPS, TAPPED

CAUSES_SHOWN: Final = 4
CALM: Final = ("glass", "ripples")


def trim(store: Store, setup_id: int, seen: Sequence[Behaviour] | None) -> TrimOut:
    """All that is said of a setup's trim.

    Parameters
    ----------
    seen : what the boat did; None for what was tapped on the newest run of the setup.

    Raises
    ------
    NotFound : no such setup.
    """
    with store.transaction() as session:
        row = owned(session, SetupRow, setup_id, local_racer(session))
        document = document_of(row)
        rows = _rows(session, row.boat_id)
    boat = _boat(store, *rows)
    last = next((run for run in reversed(boat.runs) if run.setup_id == setup_id), None)
    shown = tuple(sorted(last.seen)) if seen is None and last else tuple(dict.fromkeys(seen or ()))
    setup = setup_of(document)
    margins = margins_of(setup, waves=last.water_state not in CALM if last and last.water_state else None)
    tried = _tried(boat, frozenset(shown))
    weighed = causes(shown, setup.hull.hull_type, margins, [t for t, _ in tried])
    past = barred(margins)
    found = answers(weighed, [t for t, _ in tried], past)
    free = answers(weighed, [t for t, _ in tried])
    curves = Curves(document, boat)
    return TrimOut(
        setup_id=setup_id,
        sizes=_sizes(setup),
        signs=[BehaviourOut(sign=sign, words=words) for sign, words in BEHAVIOURS.items()],
        seen=list(shown),
        seen_run=last.id if seen is None and last and shown else None,
        causes=[
            ReasonOut(reason=w.reason, words=REASONS[w.reason], chance=round(w.chance, 3))
            for w in weighed[:CAUSES_SHOWN]
        ],
        answers=[_answer(document, answer) for answer in found],
        held_back=[_held_back(a.step, margins) for a in free if a.step in past],
        tried=[TriedOut(do=STEPS[t.step].do, helped=t.helped, setup_id=where) for t, where in tried],
        knobs=curves.knobs(),
        settings=curves.settings(),
        next=curves.next(),
        caution=CAUTION,
        practice=PRACTICE,
    )


def _sizes(setup: Setup) -> SizesOut:
    boat, centre = setup.hull, centre_of_mass(setup)
    beam, deadrise = hulls.beam(boat), hulls.deadrise(boat)
    known = {"beam": boat.beam_m, "deadrise": boat.deadrise_deg, "trim": boat.trim_deg}
    guessed = [name for name, given in known.items() if given is None]
    return SizesOut(
        hull_type=boat.hull_type.value,
        length_m=boat.length_m.value,
        beam_m=beam.value,
        deadrise_deg=deadrise.value,
        centre_m=centre.value,
        trim_deg=boat.trim_deg.value if boat.trim_deg else hulls.USUAL_TRIM_DEG,
        propeller_m=setup.propeller.diameter_m.value,
        mass_kg=setup.all_up_mass_kg.value,
        guessed=guessed + (["centre"] if boat.mass_centre_m is None else []),
    )


def margins_of(setup: Setup, *, waves: bool | None = None) -> Margins:
    """The boat's own numbers, as far as its sheet and the model say them; guesses of the sheet do not count."""
    found = forecast(setup, explained=False)
    numbers = margin_uses(setup, found) or {}
    hull, wheel = setup.hull, setup.propeller
    if hull.mass_centre_m is not None:
        numbers["centre"] = hull.mass_centre_m.value / (CENTRE_PART * hull.length_m.value) - 1.0
    if hull.shaft_depth_m is not None:
        numbers["depth"] = hull.shaft_depth_m.value / wheel.diameter_m.value
    if found.runs and (wheel.rake_deg is not None or hull.strut_angle_deg is not None):
        lift = drive_values(setup).lift_ratio.value * float(found.point.thrust_n)
        numbers["stern_lift"] = lift / (setup.all_up_mass_kg.value * GRAVITY_MPS2)
    twin = hull.hull_type in (HullType.CATAMARAN, HullType.TUNNEL)
    offset = hull.rudder_offset_m
    return Margins(
        **numbers,
        rudder_centred=abs(offset.value) < wheel.diameter_m.value / 2 if twin and offset is not None else None,
        waves=waves,
        propeller_worn=wheel.condition in SHAKES,
        hardware_bent=hull.hardware is Hardware.DAMAGED,
        no_fin=hull.fin_depth_m.value == 0 if hull.fin_depth_m is not None else None,
    )


def _rows(session: Session, boat_id: int) -> tuple[list[SetupRow], list[RunRow]]:
    setups = session.scalars(select(SetupRow).where(SetupRow.boat_id == boat_id, SetupRow.deleted_at.is_(None)))
    runs = session.scalars(
        select(RunRow)
        .where(RunRow.boat_id == boat_id, RunRow.deleted_at.is_(None))
        .options(selectinload(RunRow.observations))
        .order_by(RunRow.started_at, RunRow.id)
    )
    return list(setups), list(runs)


def _boat(store: Store, setups: Sequence[SetupRow], rows: Sequence[RunRow]) -> TrimBoat:
    learned, seen = learned_of(store)
    told = {int(run.key): run for run in judged(learned)} if learned is not None else {}
    evidence = {int(run.key): run for run in seen}
    runs = []
    for row in rows:
        over, spread, outing = None, math.nan, str(row.started_at.date())
        for reading in told[row.id].readings if row.id in told else ():
            if reading.what is What.SPEED and reading.weight > 0.5 and math.isfinite(reading.bought.value):
                over = math.log(reading.read / reading.bought.value)
                spread = next(r.spread for r in evidence[row.id].readings if r.what is What.SPEED)
                outing = evidence[row.id].outing
        tapped = frozenset(TAPPED[o.words] for o in row.observations if o.words in TAPPED)
        runs.append(
            TrimRun(
                id=row.id, setup_id=row.setup_id, seen=tapped, over=over, spread=spread, outing=outing,
                water_state=str(row.conditions.get("water_state") or ""),
            )
        )  # fmt: skip
    return TrimBoat(
        documents={row.id: document_of(row) for row in setups},
        parents={row.id: row.parent_id for row in setups},
        runs=tuple(runs),
    )


def _tried(boat: TrimBoat, seen: frozenset[Behaviour]) -> list[tuple[Tried, int]]:
    """Steps that were taken on this boat against what was seen, each with the setup that came of it.

    A step is a setup that differs from the one before it in one knob; it helped where fewer of the signs came back.
    """
    found = []
    for child, parent in boat.parents.items():
        if parent not in boat.documents:
            continue
        changed = differences(boat.documents[parent], boat.documents[child])
        knob = knob_of(changed[0].path) if len(changed) == 1 else None
        before, after = (_signs(boat, setup) for setup in (parent, child))
        if knob is None or before is None or after is None or not before & seen:
            continue
        values = [value_at(boat.documents[setup], knob.path) for setup in (parent, child)]
        step = step_of(knob, values[1] - values[0]) if values[0] is not None and values[1] is not None else None
        if step is not None:
            found.append((Tried(step=step, helped=len(after & before) < len(before)), child))
    return found


def _held_back(step: Step, margins: Margins) -> str:
    kind, part = ("torque", margins.torque) if step is Step.DRIVE_DOWN else ("blow_over", margins.blow_over)
    return f"{STEPS[step].do}: no, {HELD_BACK[kind].format(part=f'{100 * (part or 0.0):.0f} %')}."


def _signs(boat: TrimBoat, setup_id: int) -> frozenset[Behaviour] | None:
    """What a boat did in all runs of a setup; None where it never ran."""
    runs = [run.seen for run in boat.runs if run.setup_id == setup_id]
    return frozenset().union(*runs) if runs else None


def _answer(document: SetupDocument, answer: Answer) -> TrimAnswerOut:
    words, change = STEPS[answer.step], None
    for knob in KNOBS:
        way = 1 if knob.up is answer.step else -1 if knob.down is answer.step else 0
        value = value_at(document, knob.path)
        if way and value is not None and change is None:
            # A rudder goes further off to the side it stands on already.
            way = -1 if knob.path == "hull.rudder_offset" and value < 0 else way
            change = change_to(document, knob.path, value + way * knob.step)
    return TrimAnswerOut(
        step=answer.step,
        do=words.do,
        how=words.how,
        costs=words.costs,
        wrong_if=words.wrong_if,
        against=REASONS[answer.against],
        helps=round(answer.helps, 3),
        harms=round(answer.harms, 3),
        change=change,
    )
