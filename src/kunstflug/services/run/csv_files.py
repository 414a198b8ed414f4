"""CSV files of any dialect: looked at, read as the racer says, and that remembered for the next of its shape."""

from dataclasses import replace
from typing import Any, Final

import numpy as np
from pydantic import ValidationError
from sqlalchemy.dialects.mysql import insert
from sqlalchemy.orm import Session

from kunstflug.core.parts.motor import Motor
from kunstflug.core.quantity.errors import InvalidValue
from kunstflug.documents.column_words import reads
from kunstflug.documents.columns import (
    ROLES_OF,
    UNITS,
    ColumnChoice,
    ColumnOptionOut,
    ColumnOut,
    CsvLookOut,
    CsvMapping,
    Kind,
    Role,
    RoleOut,
)
from kunstflug.documents.run import TypedRun, kept_typed
from kunstflug.documents.setup import SetupDocument, part_of
from kunstflug.files.columns import Option, Proposal
from kunstflug.files.headings import is_electric
from kunstflug.files.kinds import kind_in
from kunstflug.files.mapped_csv import (
    Look,
    in_core_unit,
    look,
    read_mapped_charge,
    read_mapped_log,
    read_mapped_track,
)
from kunstflug.services.run.run import keep_log, keep_track
from kunstflug.services.shared.rows import RequestKey, document_of, owned, racer_of
from kunstflug.services.shared.run_rows import headline, run_of, run_view
from kunstflug.services.shared.views import RunView
from kunstflug.store.database import Store, retried
from kunstflug.store.tables import CsvShapeRow, SetupRow

PLOTTED: Final = 120
"""Points of a column's curve."""


def look_at(store: Store, data: bytes, setup_id: int | None = None) -> CsvLookOut:
    """A CSV file at a glance, with what was said of the last one of its shape.

    Parameters
    ----------
    setup_id : of the boat it is for; the poles of its motor make turns of the shaft from those of the field.

    Raises
    ------
    UnreadableFile : no table of numbers in it.
    NotFound : no such setup.
    """
    seen = look(data)
    with store.transaction() as session:
        owner = racer_of(session)
        row = session.get(CsvShapeRow, (owner, seen.shape))
        raw = row.mapping if row is not None else None
        poles = None if setup_id is None else _poles(document_of(owned(session, SetupRow, setup_id, owner)))
    if poles is not None:
        told = zip(seen.headings, seen.proposals, strict=True)
        seen = replace(seen, proposals=[_by_poles(heading, proposal, poles) for heading, proposal in told])
    return _look_out(seen, _kept(raw))


def _poles(document: SetupDocument) -> int | None:
    """Poles of a setup's motor; None where nobody said."""
    motor: Motor = part_of("motor", document.motor)
    return motor.poles


def _by_poles(heading: str, proposal: Proposal, poles: int) -> Proposal:
    """Where a heading says turns of the field: by the poles that the setup tells."""
    unit = f"field, {poles} poles"
    turns = proposal.role is Role.RPM and is_electric(heading) and unit in UNITS[Role.RPM]
    return Proposal(role=Role.RPM, unit=unit, sure=True) if turns else proposal


def _look_out(seen: Look, remembered: CsvMapping | None) -> CsvLookOut:
    """Document of a glance; what was said of the last file of this shape stands in place of the proposals."""
    width = seen.dialect.width
    told = dict(enumerate(seen.proposals))
    if remembered is not None:
        told = dict.fromkeys(range(width), Proposal(role=None, unit="", sure=True))
        told |= {c.column: _recalled(c, seen.proposals[c.column]) for c in remembered.columns if c.column < width}
    kind, plain = (remembered.kind, True) if remembered else kind_in(seen.proposals, seen.columns)
    return CsvLookOut(
        kind=kind,
        delimiter=seen.dialect.delimiter,
        decimal_comma=seen.dialect.decimal_comma,
        columns=[
            ColumnOut(
                heading=seen.headings[k][:80],
                role=told[k].role,
                unit=told[k].unit,
                sure=told[k].sure,
                options=[ColumnOptionOut(role=o.role, unit=o.unit, reads=_reads(seen, k, o)) for o in told[k].options],
                plot=_thin(c),
            )
            for k, c in enumerate(seen.columns)
        ],
        rows=[[cell[:40] for cell in row] for row in seen.rows],
        roles=[RoleOut(role=role, units=list(units)) for role, units in UNITS.items()],
        remembered=remembered is not None,
        sure=kind is not None and plain and not any(_asked(p, kind) for p in told.values()),
    )


def _asked(proposal: Proposal, kind: Kind) -> bool:
    """Whether a column has to be asked about in a file of a kind."""
    may_be = {proposal.role, *(option.role for option in proposal.options)}
    return not proposal.sure and bool(may_be & ROLES_OF[kind])


def _recalled(said: ColumnChoice, proposal: Proposal) -> Proposal:
    """What was said of a column before; where this file itself says another unit, both, and it is asked about."""
    mine = Option(role=said.role, unit=said.unit)
    here = (Option(role=proposal.role, unit=proposal.unit),) if proposal.sure else proposal.options
    if proposal.role is not said.role or mine in here:
        return Proposal(role=said.role, unit=said.unit, sure=True)
    return Proposal(role=said.role, unit=proposal.unit, sure=False, options=(*here, mine))


def _reads(seen: Look, column: int, option: Option) -> str:
    """What the numbers of a column are when it is read one way."""
    if option.role is None:
        return ""
    cells = [row[column] for row in seen.rows]
    return reads(option.role, in_core_unit(option.role, option.unit, cells, seen.columns[column]))


def _thin(values: "np.typing.NDArray[np.float64]") -> list[float | None]:
    keep = values[:: max(len(values) // PLOTTED, 1)][: PLOTTED + 1]
    return [float(f"{v:.6g}") if np.isfinite(v) else None for v in keep.tolist()]


def _kept(raw: Any) -> CsvMapping | None:
    """A mapping that was kept; None where there is none, or it is of another time."""
    try:
        return CsvMapping.model_validate(raw)
    except ValidationError:
        return None


def _remember(session: Session, owner: int, data: bytes, mapping: CsvMapping) -> None:
    raw = mapping.model_dump(mode="json")
    statement = insert(CsvShapeRow).values(owner_id=owner, shape=look(data).shape, mapping=raw)
    session.execute(statement.on_duplicate_key_update(mapping=raw))


def _of_kind(mapping: CsvMapping, kind: str) -> None:
    if mapping.kind != kind:
        raise InvalidValue("mapping.kind", mapping.kind, kind)


def import_csv(
    store: Store,
    setup_id: int,
    data: bytes,
    file_name: str,
    mapping: CsvMapping,
    *,
    accept_damage: bool,
    request: RequestKey | None = None,
) -> RunView:
    """A run from a CSV track.

    Raises
    ------
    UnreadableFile : not readable so; ``PartlyReadable`` where part of it is and ``accept_damage`` is false.
    InvalidValue : the mapping is of something else.
    """
    _of_kind(mapping, "track")
    read = read_mapped_track(data, mapping.columns)
    made = keep_track(store, setup_id, read, data, file_name, accept_damage=accept_damage, request=request)
    remember(store, data, mapping)
    return made


def add_csv_log(store: Store, run_id: int, data: bytes, mapping: CsvMapping, *, accept_damage: bool) -> RunView:
    """A controller log put to a run, in place of one that was there.

    Raises
    ------
    UnreadableFile, InvalidValue : as for a track.
    """
    _of_kind(mapping, "log")
    made = keep_log(store, run_id, read_mapped_log(data, mapping.columns), accept_damage=accept_damage)
    remember(store, data, mapping)
    return made


@retried
def add_charge(store: Store, run_id: int, data: bytes, mapping: CsvMapping) -> RunView:
    """What a charger's log says, written down on a run: charge put back, cells at rest.

    Raises
    ------
    UnreadableFile, InvalidValue : as for a track.
    """
    _of_kind(mapping, "charge")
    found = read_mapped_charge(data, mapping.columns)
    with store.transaction() as session:
        owner = racer_of(session)
        row = run_of(session, run_id, owner, lock=True)
        typed = kept_typed(row.typed).model_dump(mode="json", exclude_defaults=True)
        if found.mah is not None:
            typed["mah_back"] = found.mah
        if found.rest_v:
            typed["rest_v"] = found.rest_v[:24]
        row.typed = TypedRun.model_validate(typed).model_dump(mode="json", exclude_defaults=True)
        headline(row)
        _remember(session, owner, data, mapping)
        session.flush()
        return run_view(run_of(session, run_id, owner))


@retried
def remember(store: Store, data: bytes, mapping: CsvMapping) -> None:
    """Keeps what was said of a file's columns for the next file of its shape."""
    with store.transaction() as session:
        _remember(session, racer_of(session), data, mapping)
