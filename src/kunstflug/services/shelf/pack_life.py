"""A pack over its runs: what each says of its resistance and capacity, and whether it is time for another."""

import statistics
from collections.abc import Sequence
from typing import Final

from sqlalchemy import func, select
from sqlalchemy.orm import Session, joinedload, selectinload

from kunstflug.core.bench.pack_life import (
    CellWeak,
    PackLife,
    PackRun,
    PackStands,
    PackUnread,
    Quantity,
    pack_life,
)
from kunstflug.core.bench.pack_readings import (
    MEASURED_K,
    TEMPERATURE_K,
    WARMS_K,
    Ratio,
    capacity_read,
    charges_logged,
    resistance_logged,
    resistance_typed,
    state_of_charge,
)
from kunstflug.core.parts.conditions import pack_temperature_c
from kunstflug.core.parts.pack import Pack, resistance, series_cells, usable_ah
from kunstflug.core.quantity.errors import InvalidValue
from kunstflug.core.quantity.facts import Fact
from kunstflug.core.quantity.value import Array
from kunstflug.core.tracks.log import ControllerLog
from kunstflug.documents.pack_life import PackLifeOut, PackRunOut, course_out, reading_out
from kunstflug.documents.run import TypedRun, kept_typed
from kunstflug.documents.setup import part_of, setup_of, stored_part
from kunstflug.services.shared.rows import document_of, owned, racer_of
from kunstflug.store.blocks import log_of
from kunstflug.store.database import Store
from kunstflug.store.tables import ControllerLogRow, PartRow, RunRow, SetupPart
from kunstflug.wording import Tongue, say, sentence

MOST_RUNS: Final = 300
"""The newest ones of a pack that are read."""
USED_SPREAD: Final = 0.15
"""Of the state of charge meanwhile, where nobody wrote down what went back."""
START_SPREAD: Final = 0.02


def life_of(store: Store, part_id: int, tongue: Tongue) -> PackLifeOut:
    """The life of a pack of the shelf.

    Raises
    ------
    NotFound : no such part.
    InvalidValue : it is no pack.
    """
    with store.transaction() as session:
        row = owned(session, PartRow, part_id, racer_of(session))
        if row.kind != "pack":
            raise InvalidValue("part", row.name, "a pack")
        new, rows, read = _read_all(session, row)
        life = pack_life(read)
        ohm, ah = resistance(new).value / series_cells(new), usable_ah(new)
        return PackLifeOut(
            health=life.health,
            words=_words(life, read, tongue),
            runs=[
                PackRunOut(
                    run_id=one.id,
                    number=run.number,
                    at=one.started_at.isoformat(),
                    resistance_ohm=reading_out(run.ratio.get(Quantity.RESISTANCE), ohm),
                    capacity_ah=reading_out(run.ratio.get(Quantity.CAPACITY), ah),
                )
                for one, run in zip(rows, read, strict=True)
                if run.ratio
            ],
            resistance_ohm=course_out(life.courses.get(Quantity.RESISTANCE), ohm),
            capacity_ah=course_out(life.courses.get(Quantity.CAPACITY), ah),
        )


def capacity_of(session: Session, setup_id: int) -> float:
    """Capacity of a setup's pack over the printed one, as its runs say [1]: 1 at most, and where none says it."""
    pack_of = select(SetupPart.part_id).where(SetupPart.setup_id == setup_id, SetupPart.kind == "pack")
    row = session.scalar(select(PartRow).where(PartRow.id.in_(pack_of)))
    if row is None:
        return 1.0
    capacity = pack_life(_read_all(session, row)[2]).courses.get(Quantity.CAPACITY)
    return 1.0 if capacity is None else min(float(capacity.value[-1]), 1.0)


def _read_all(session: Session, row: PartRow) -> tuple[Pack, list[RunRow], list[PackRun]]:
    """A pack as it is described, its runs, and what each says of it."""
    new: Pack = part_of("pack", stored_part("pack", row.document))
    rows, before = _runs(session, row.id)
    return new, rows, [_read(new, one, before + k) for k, one in enumerate(rows, start=1)]


def _runs(session: Session, part_id: int) -> tuple[list[RunRow], int]:
    """The newest runs of a pack in their order, and how many there were before them."""
    flown = (
        RunRow.setup_id.in_(select(SetupPart.setup_id).where(SetupPart.part_id == part_id)),
        RunRow.deleted_at.is_(None),
    )
    rows = session.scalars(
        select(RunRow)
        .where(*flown)
        .options(
            joinedload(RunRow.setup),
            joinedload(RunRow.log).undefer(ControllerLogRow.block),
            selectinload(RunRow.readings),
        )
        .order_by(RunRow.started_at.desc(), RunRow.id.desc())
        .limit(MOST_RUNS)
    ).all()[::-1]
    every = session.scalar(select(func.count()).select_from(RunRow).where(*flown)) or 0
    return list(rows), every - len(rows)


def _read(new: Pack, row: RunRow, number: int) -> PackRun:
    """What a run says of its pack; nothing of one that was set aside."""
    typed = kept_typed(row.typed)
    apart = max(typed.rest_v) - min(typed.rest_v) if len(typed.rest_v) > 1 else None
    if typed.set_aside:
        return PackRun(number=number, ratio={})
    conditions = setup_of(document_of(row.setup)).conditions
    charge = conditions.state_of_charge.value
    log = log_of(row.log.block) if row.log is not None and row.log.deleted_at is None else None
    warm = _warm(row, pack_temperature_c(conditions).value)
    found = {
        Quantity.CAPACITY: _capacity(new, typed, log, charge),
        Quantity.RESISTANCE: _resistance(new, typed, log, charge, warm),
    }
    return PackRun(number=number, ratio={what: read for what, read in found.items() if read}, apart_v=apart)


def _warm(row: RunRow, start_c: float) -> Ratio:
    """Temperature of the cells on average, and its spread [degC, K]."""
    after = [reading.celsius for reading in row.readings if reading.place == "pack"]
    if after and max(after) > start_c:
        return (start_c + max(after)) / 2.0, MEASURED_K
    return start_c + WARMS_K, TEMPERATURE_K


def _capacity(new: Pack, typed: TypedRun, log: ControllerLog | None, charge: float) -> Ratio | None:
    """By what went back and the cells at rest, else by a log that rests at both ends."""
    if typed.mah_back and typed.rest_v:
        after = state_of_charge(statistics.fmean(typed.rest_v))
        return capacity_read(new, typed.mah_back / 1000.0, (charge, START_SPREAD), after)
    columns = _columns(log)
    charges = charges_logged(new, *columns) if columns is not None else None
    return capacity_read(new, *charges) if charges is not None else None


def _resistance(new: Pack, typed: TypedRun, log: ControllerLog | None, charge: float, warm: Ratio) -> Ratio | None:
    """By a log, else by volts and amperes of full throttle as they were typed."""
    columns = _columns(log)
    if columns is not None:
        return resistance_logged(new, *columns, charge, warm)
    if not typed.voltage_v or not typed.current_a or typed.feathered:
        return None
    out = typed.mah_back / 1000.0 / usable_ah(new) if typed.mah_back else 2.0 * USED_SPREAD
    soc = max(charge - min(out, charge) / 2.0, 0.0), max(min(out, charge) / 4.0, START_SPREAD)
    return resistance_typed(new, typed.voltage_v, typed.current_a, soc, warm)


def _columns(log: ControllerLog | None) -> tuple[Array, Array, Array] | None:
    if log is None or not {"voltage_v", "current_a"} <= log.columns.keys():
        return None
    return log.time_s, log.columns["voltage_v"], log.columns["current_a"]


def _words(life: PackLife, read: Sequence[PackRun], tongue: Tongue) -> list[str]:
    """What to do with it; and the cells that stand apart."""
    found: list[Fact] = []
    if life.courses:
        resistance, capacity = (life.courses.get(what) for what in Quantity)
        found.append(
            PackStands(
                health=life.health,
                resistance=None if resistance is None else float(resistance.value[-1] / resistance.value[0]),
                capacity=None if capacity is None else float(capacity.value[-1]),
                left=life.left,
            )
        )
    if life.weak_cell:
        found.append(CellWeak(apart_v=next(run.apart_v for run in reversed(read) if run.apart_v is not None)))
    return [sentence(say(fact, tongue)) for fact in found or [PackUnread()]]
