"""Match: forecast, try changes, adopt; and the boathouse that the setups stand in."""

from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from kunstflug.core.drive.forecast import forecast
from kunstflug.core.drive.schools import USUAL, Schools
from kunstflug.core.errors import InvalidValue
from kunstflug.core.units import Dimension, si_from
from kunstflug.formats.forecast_document import ForecastOut, forecast_document
from kunstflug.formats.setup_document import MODELS, SHELF_PARTS, part_of, require_positive_name, setup_of
from kunstflug.services.changes import (
    SHELF_KINDS,
    SWAPPED_KINDS,
    Change,
    change_document,
    differences,
    name_parts,
    part_name,
)
from kunstflug.services.rows import document_of, local_racer, owned, setup_view
from kunstflug.services.views import BoatView, DraftView, PartView, SetupView
from kunstflug.store.database import Store
from kunstflug.store.tables import Boat, ForecastRow, PartRow, SetupPart, SetupRow


def forecast_of(document: Any, schools: Schools = USUAL) -> ForecastOut:
    """Forecast of a setup document.

    Raises
    ------
    InvalidValue : a value outside its range.
    """
    setup = setup_of(document)
    return forecast_document(setup, forecast(setup, schools=schools))


def draft(document: Any, changes: list[Change], schools: Schools = USUAL) -> DraftView:
    """What a setup would do with some changes; nothing is saved."""
    changed, notes = change_document(document, changes)
    return DraftView(
        document=changed,
        forecast=forecast_of(changed, schools),
        differences=differences(document, changed),
        notes=notes,
    )


def boats(store: Store) -> list[BoatView]:
    """All boats of the local racer, oldest first."""
    with store.transaction() as session:
        owner = local_racer(session)
        rows = session.scalars(select(Boat).where(Boat.owner_id == owner).order_by(Boat.id)).all()
        return [_boat_view(row) for row in rows if row.setups]


def _boat_view(row: Boat) -> BoatView:
    newest = row.setups[-1]
    hull = newest.document["hull"]
    runs = [run for setup in row.setups for run in setup.runs]
    best = [run.track.summary.get("both_ways_mps") or run.track.summary.get("best_2s_mps") for run in runs if run.track]
    speeds = [b for b in best if b]
    return BoatView(
        id=row.id,
        name=row.name,
        hull_type=hull["hull_type"],
        length_m=si_from(hull["length"]["value"], hull["length"]["unit"], Dimension.LENGTH),
        setup_id=newest.id,
        setups=len(row.setups),
        runs=len(runs),
        best_mps=max(speeds) if speeds else None,
        compared=bool(newest.runs) or (len(row.setups) > 1 and bool(runs)),
    )


def new_boat(store: Store, name: str, document: Any) -> SetupView:
    """A boat with its first setup and forecast; its parts go on the shelf.

    Raises
    ------
    InvalidValue : no name, or a value outside its range.
    """
    name, document = require_positive_name(name), name_parts(document)
    made = forecast_of(document)
    with store.transaction() as session:
        owner = local_racer(session)
        boat = Boat(owner_id=owner, name=name)
        session.add(boat)
        session.flush()
        setup_name = document.name or "first setup"
        row = _save_setup(session, owner, boat.id, None, setup_name, document, made)
        for kind in SWAPPED_KINDS:
            if kind not in SHELF_KINDS and not _said(getattr(document, kind)):
                continue
            part = _shelve(session, owner, kind, getattr(document, kind))
            session.add(SetupPart(setup_id=row.id, kind=kind, part_id=part.id, owner_id=owner))
        return setup_view(row)


def _said(document: Any) -> bool:
    """Whether anything was said of a part that joins the drive."""
    return bool(document.model_dump(mode="json", exclude_defaults=True, exclude_none=True))


def _save_setup(
    session: Session, owner: int, boat_id: int, parent_id: int | None, name: str, document: Any, made: ForecastOut
) -> SetupRow:
    stored = document.model_copy(update={"name": name}).model_dump(mode="json", exclude_none=True)
    row = SetupRow(owner_id=owner, boat_id=boat_id, parent_id=parent_id, name=name, document=stored)
    session.add(row)
    session.flush()
    session.add(
        ForecastRow(
            owner_id=owner,
            setup_id=row.id,
            model_version=made.model_version,
            inputs=stored,
            result=made.model_dump(mode="json"),
        )
    )
    return row


def _shelve(session: Session, owner: int, kind: str, document: Any) -> PartRow:
    """The part on the shelf that is the same to the letter, or a new one."""
    stored = document.model_copy(update={"name": part_name(kind, document)}).model_dump(mode="json", exclude_none=True)
    for row in session.scalars(select(PartRow).where(PartRow.owner_id == owner, PartRow.kind == kind)):
        if row.document == stored:
            return row
    row = PartRow(owner_id=owner, kind=kind, name=stored["name"], document=stored)
    session.add(row)
    session.flush()
    return row


def adopt(store: Store, parent_id: int, document: Any, name: str, shelf: dict[str, int]) -> SetupView:
    """A changed document as a new setup below its parent, with its forecast.

    Raises
    ------
    InvalidValue : nothing changed, or a value outside its range.
    NotFound : no such parent or part.
    """
    made = forecast_of(document)
    with store.transaction() as session:
        owner = local_racer(session)
        parent = owned(session, SetupRow, parent_id, owner)
        changed = differences(document_of(parent), document)
        if not changed:
            raise InvalidValue("document", "the same as its parent", "at least one change")
        row = _save_setup(session, owner, parent.boat_id, parent.id, name.strip() or changed[0].label, document, made)
        links = {
            link.kind: link.part_id
            for link in session.scalars(select(SetupPart).where(SetupPart.setup_id == parent.id))
        }
        for kind, part_id in shelf.items():
            if kind in SWAPPED_KINDS:
                links[kind] = owned(session, PartRow, part_id, owner).id
        # A part whose numbers were changed by hand is no longer the one from the shelf.
        touched = {d.part for d in changed} - set(shelf)
        for kind, part_id in links.items():
            if kind not in touched:
                session.add(SetupPart(setup_id=row.id, kind=kind, part_id=part_id, owner_id=owner))
        return setup_view(row)


def setup(store: Store, setup_id: int) -> SetupView:
    """A setup."""
    with store.transaction() as session:
        return setup_view(owned(session, SetupRow, setup_id, local_racer(session)))


def aim(store: Store, boat_id: int) -> dict[str, Any]:
    """What a boat is for; empty where nobody said."""
    with store.transaction() as session:
        return owned(session, Boat, boat_id, local_racer(session)).aim or {}


def set_aim(store: Store, boat_id: int, aim: dict[str, Any]) -> None:
    """Keeps what a boat is for."""
    with store.transaction() as session:
        owned(session, Boat, boat_id, local_racer(session)).aim = aim


def setups(store: Store, boat_id: int) -> list[SetupView]:
    """All setups of a boat, oldest first."""
    with store.transaction() as session:
        boat = owned(session, Boat, boat_id, local_racer(session))
        return [setup_view(row) for row in boat.setups]


def parts(store: Store, kind: str | None) -> list[PartView]:
    """Parts on the shelf, by kind and name."""
    with store.transaction() as session:
        query = select(PartRow).where(PartRow.owner_id == local_racer(session)).order_by(PartRow.kind, PartRow.name)
        if kind:
            query = query.where(PartRow.kind == kind)
        return [_part_view(row) for row in session.scalars(query)]


def _part_view(row: PartRow) -> PartView:
    return PartView(
        id=row.id, kind=row.kind, name=row.name, document=row.document, state=row.state, pieces=row.pieces,
        price=row.price, record=row.record,
    )  # fmt: skip


def add_part(store: Store, kind: str, raw: dict[str, Any]) -> PartView:
    """A part put on the shelf.

    Raises
    ------
    InvalidValue : an unknown kind, or a value outside its range.
    """
    if kind not in SHELF_PARTS:
        raise InvalidValue("kind", kind, ", ".join(SHELF_PARTS))
    document = MODELS[kind].model_validate(raw)
    part_of(kind, document)
    with store.transaction() as session:
        return _part_view(_shelve(session, local_racer(session), kind, document))
