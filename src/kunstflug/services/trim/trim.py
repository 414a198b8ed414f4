"""Trim: what the boat did and why, which knob to turn and how far, and whether it helped. Nothing is saved."""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache
from typing import Final

from sqlalchemy import select
from sqlalchemy.orm import Session, selectinload

from kunstflug.core.drive.forecast import forecast
from kunstflug.core.evidence.readings import What
from kunstflug.core.laws.turning import lateral_g, tightest_radius_m
from kunstflug.core.laws.water import water_density_kg_m3
from kunstflug.core.parts import hull as hulls
from kunstflug.core.setup.setup import Setup, centre_of_mass
from kunstflug.core.trim.boat import TrimBoat, TrimRun
from kunstflug.core.trim.knobs import KNOBS, barred
from kunstflug.core.trim.landscape import Landscape
from kunstflug.core.trim.margins import margins_of
from kunstflug.core.trim.measures import KINDS, Measure, Measurement, read_of
from kunstflug.core.trim.next_setting import SAFE_STEPS
from kunstflug.core.trim.practice import EITHER_WAY, grip_of
from kunstflug.core.trim.reasons import Margins
from kunstflug.core.trim.settings import value_at
from kunstflug.core.trim.signs import Answer, Attempt, Behaviour, Step, answers, causes
from kunstflug.documents.setup import SetupDocument, setup_of
from kunstflug.documents.trim import (
    BehaviourOut,
    KnobOut,
    NextOut,
    PracticeOut,
    ReasonOut,
    SettingOut,
    SizesOut,
    TriedOut,
    TrimAnswerOut,
    TrimOut,
    TurnGripOut,
)
from kunstflug.services.learning.learning import judgements, learned_of
from kunstflug.services.shared.rows import document_of, owned, racer_of
from kunstflug.services.shared.run_rows import track_numbers
from kunstflug.services.trim.curves import knobs_of, next_of, settings_of
from kunstflug.services.trim.paths import change_to, switch_to, switches_of
from kunstflug.services.trim.rules import rules_of
from kunstflug.store.database import Store
from kunstflug.store.tables import RunRow, SetupRow
from kunstflug.wording.trim import (
    BEHAVIOURS,
    CAUTION,
    FURTHER,
    HELD_BACK,
    PRACTICE,
    REASONS,
    STEPS,
    TAPPED,
    grip,
    practice,
)

CAUSES_SHOWN: Final = 4
LEAST_RISE_K: Final = 5.0  # below it a rise says nothing of heat
CLEAR_M: Final = 5e-3  # a rudder stands clear of the propeller's turn by so much (common practice, no source)
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
        row = owned(session, SetupRow, setup_id, racer_of(session))
        rules = rules_of(session)
        document = document_of(row)
        setups, rows = _rows(session, row.boat_id)
        swings = {run.id: _swings(run) for run in rows}
    boat = _boat(store, setups, rows, swings)
    last = next((run for run in reversed(boat.runs) if run.setup_id == setup_id), None)
    shown = tuple(sorted(last.seen)) if seen is None and last else tuple(dict.fromkeys(seen or ()))
    setup = setup_of(document)
    now = forecast(setup, explained=False)
    margins = margins_of(
        setup,
        now,
        waves=last.water_state not in CALM if last and last.water_state else None,
        once=boat.misbehaved_once(setup_id, frozenset(shown)),
    )
    tried = boat.attempts(frozenset(shown))
    steps = [t for t, _ in tried]
    weighed = causes(shown, setup.hull.hull_type, margins, steps, rules)
    past = barred(margins)
    found, free = (answers(weighed, steps, no, rules=rules) for no in (past, frozenset[Step]()))
    drawn = _drawn(_Asked(document=document, setup=setup, boat=boat))
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
        answers=[_answer(document, setup, answer, _reach(steps, answer.step)) for answer in found],
        held_back=[_held_back(a.step, margins) for a in free if a.step in past],
        tried=[TriedOut(do=STEPS[t.step].do, helped=t.helped, setup_id=where) for t, where in tried],
        knobs=drawn.knobs,
        switches=switches_of(document),
        turn=_turn(setup, float(now.point.speed_mps)),
        by_practice=_by_practice(margins),
        settings=drawn.settings,
        next=drawn.next,
        caution=CAUTION,
        practice=PRACTICE,
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class _Asked:
    """What the curves are of."""

    document: SetupDocument
    setup: Setup
    boat: TrimBoat

    def __hash__(self) -> int:
        return hash((self.document.model_dump_json(), self.boat.runs[-1].id if self.boat.runs else None))


@dataclass(frozen=True, slots=True, kw_only=True)
class _Drawn:
    """What is drawn of the knobs, whatever the boat did."""

    knobs: list[KnobOut]
    settings: list[SettingOut]
    next: NextOut | None


@lru_cache(maxsize=8)  # a racer taps one sign after the other, and the curves stay
def _drawn(asked: _Asked) -> _Drawn:
    landscape = Landscape(asked.setup, asked.boat)
    return _Drawn(
        knobs=knobs_of(landscape),
        settings=settings_of(landscape, asked.document),
        next=next_of(landscape, asked.document),
    )


def _sizes(setup: Setup) -> SizesOut:
    boat, centre = setup.hull, centre_of_mass(setup)
    beam, deadrise = hulls.beam(boat), hulls.deadrise(boat)
    known = {"beam": boat.beam_m, "deadrise": boat.deadrise_deg, "trim": boat.trim_deg}
    guessed = [name for name, given in known.items() if given is None]
    return SizesOut(
        hull_type=boat.hull_type,
        length_m=boat.length_m.value,
        beam_m=beam.value,
        deadrise_deg=deadrise.value,
        centre_m=centre.value,
        trim_deg=hulls.running_trim(boat, centre).value,
        propeller_m=setup.propeller.diameter_m.value,
        mass_kg=setup.all_up_mass_kg.value,
        guessed=guessed + (["centre"] if boat.mass_centre_m is None else []),
    )


GRIP_SPREAD: Final = 1.5
"""Factor either way of the grip of a fin at which it draws air (common practice, no source)."""


def _turn(setup: Setup, speed_mps: float) -> TurnGripOut | None:
    """How tight a turn fin and rudder hold; None where neither has a size."""
    area = grip_of(setup).whole_m2
    if area <= 0 or not math.isfinite(speed_mps):
        return None
    radius = tightest_radius_m(
        setup.all_up_mass_kg.value, area, float(water_density_kg_m3(setup.conditions.water_c.value))
    )
    low, high, pull = radius / GRIP_SPREAD, radius * GRIP_SPREAD, lateral_g(speed_mps, radius)
    return TurnGripOut(
        radius_m=round(radius, 2),
        low_m=round(low, 2),
        high_m=round(high, 2),
        lateral_g=round(pull, 2),
        words=grip(radius, low, high, pull),
    )


def _by_practice(margins: Margins) -> list[PracticeOut]:
    """Margins whose form is practice only, those that are known."""
    parts = {"chine_walk": margins.chine_walk, "hook": margins.hook, "washout": margins.washout}
    return [
        PracticeOut(
            key=key,
            part=round(part, 3),
            low=round(part / EITHER_WAY, 3),
            high=round(part * EITHER_WAY, 3),
            words=practice(key, part),
        )
        for key, part in parts.items()
        if part is not None
    ]


def _rows(session: Session, boat_id: int) -> tuple[list[SetupRow], list[RunRow]]:
    setups = session.scalars(select(SetupRow).where(SetupRow.boat_id == boat_id, SetupRow.deleted_at.is_(None)))
    runs = session.scalars(
        select(RunRow)
        .where(RunRow.boat_id == boat_id, RunRow.deleted_at.is_(None))
        .options(selectinload(RunRow.observations), selectinload(RunRow.track))
        .order_by(RunRow.started_at, RunRow.id)
    )
    return list(setups), list(runs)


def _boat(
    store: Store, setups: Sequence[SetupRow], rows: Sequence[RunRow], swings: Mapping[int, dict[Measure, Measurement]]
) -> TrimBoat:
    _, seen = learned_of(store)
    told = judgements(store)
    evidence = {int(run.key): run for run in seen}
    runs = []
    for row in rows:
        read, rise, outing = dict(swings[row.id]), math.nan, str(row.started_at.date())
        for reading in told[row.id].readings if row.id in told else ():
            seen_run = evidence[row.id]
            if reading.weight <= 0.5 or not math.isfinite(reading.bought.value):
                continue
            if reading.what is What.SPEED:
                spread = next(r.spread for r in seen_run.readings if r.what is What.SPEED)
                read[Measure.SPEED] = Measurement(over=math.log(reading.read / reading.bought.value), spread=spread)
                outing = seen_run.outing
            elif reading.what is What.CASE:
                water = seen_run.setup.conditions.water_c.value
                was, told_k = reading.read - water, reading.bought.value - water
                if was > LEAST_RISE_K and told_k > LEAST_RISE_K:
                    read[Measure.HEAT] = Measurement(over=math.log(was / told_k), spread=KINDS[Measure.HEAT].spread)
                    rise = told_k
        tapped = frozenset(TAPPED[o.words] for o in row.observations if o.words in TAPPED)
        runs.append(
            TrimRun(
                id=row.id,
                setup_id=row.setup_id,
                seen=tapped,
                outing=outing,
                water_state=str(row.conditions.get("water_state") or ""),
                read=read,
                rise_k=rise,
            )
        )
    return TrimBoat(
        setups={row.id: setup_of(document_of(row)) for row in setups},
        parents={row.id: row.parent_id for row in setups},
        runs=tuple(runs),
    )


def _swings(row: RunRow) -> dict[Measure, Measurement]:
    """What the track of a run says of its turns and of how steadily it ran."""
    numbers = track_numbers(row)
    if numbers is None:
        return {}
    found = {
        Measure.TURN_LOSS: read_of(Measure.TURN_LOSS, numbers.turn_loss),
        Measure.SPEED_SWING: read_of(Measure.SPEED_SWING, numbers.speed_swing),
        Measure.COURSE_SWING: read_of(Measure.COURSE_SWING, numbers.course_swing_deg_s),
    }
    return {measure: read for measure, read in found.items() if read is not None}


def _held_back(step: Step, margins: Margins) -> str:
    kind, part = ("torque", margins.torque) if step is Step.DRIVE_DOWN else ("blow_over", margins.blow_over)
    return f"{STEPS[step].do}: no, {HELD_BACK[kind].format(part=f'{100 * (part or 0.0):.0f} %')}."


def _reach(tried: Sequence[Attempt], step: Step) -> int:
    """How many small steps at once: one, or two where the last one went the right way and not far enough."""
    last = next((one for one in reversed(tried) if one.step is step), None)
    return SAFE_STEPS if last is not None and last.helped is not False else 1


def _answer(document: SetupDocument, setup: Setup, answer: Answer, reach: int) -> TrimAnswerOut:
    words, change = STEPS[answer.step], None
    for knob in KNOBS:
        way = 1 if knob.up is answer.step else -1 if knob.down is answer.step else 0
        value = value_at(setup, knob.path)
        if way and value is not None and change is None:
            to = value + way * reach * knob.step
            if knob.path == "hull.rudder_offset":  # out of the wash, further off to the side it stands on already
                clear = setup.propeller.diameter_m.value / 2 + CLEAR_M
                to = math.copysign(max(abs(value) + knob.step, clear), value)
            change = change_to(document, knob.path, to)
    change = change or switch_to(document, answer.step)
    return TrimAnswerOut(
        step=answer.step,
        do=words.do,
        how=FURTHER if reach > 1 and change is not None else words.how,
        costs=words.costs,
        wrong_if=words.wrong_if,
        against=REASONS[answer.against],
        helps=round(answer.helps, 3),
        harms=round(answer.harms, 3),
        change=change,
    )
