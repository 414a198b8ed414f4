"""The boathouse: boats, their setups and what they are for."""

from typing import Any, Final

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from kunstflug.core.parts.hull import HullType
from kunstflug.core.quantity.errors import InUse, InvalidValue
from kunstflug.core.quantity.units import Dimension, si_from
from kunstflug.documents.forecast import ForecastOut
from kunstflug.documents.setup import SetupDocument, part_in, require_name, stored_part
from kunstflug.documents.versions import aim_today
from kunstflug.services.learning.learning import knowledge_of
from kunstflug.services.shared.changes import FIRST_KINDS, SWAPPED_KINDS, differences, name_parts
from kunstflug.services.shared.forecasts import forecast_of
from kunstflug.services.shared.rows import (
    RequestKey,
    check_tag,
    document_of,
    once,
    owned,
    racer_of,
    setup_view,
    tag_of,
)
from kunstflug.services.shared.stock import alike, shelve
from kunstflug.services.shared.views import BoatView, Page, SetupItem, SetupView, utc
from kunstflug.store.base import now
from kunstflug.store.database import Store, retried
from kunstflug.store.tables import Boat, ForecastRow, PartRow, RunRow, SetupPart, SetupRow

PAGE: Final = 200


def boats(store: Store, after: int = 0, limit: int = PAGE, *, archived: bool = False) -> Page[BoatView]:
    """Boats of the local racer, oldest first; the same number of statements for any number of runs.

    Parameters
    ----------
    after : id of the boat after which the page begins.
    archived : those that were put away, in place of those that are raced.
    """
    with store.transaction() as session:
        owner = racer_of(session)
        put_away = Boat.archived_at.is_not(None) if archived else Boat.archived_at.is_(None)
        rows = session.scalars(
            select(Boat)
            .where(Boat.owner_id == owner, Boat.deleted_at.is_(None), put_away, Boat.id > after)
            .order_by(Boat.id)
            .limit(limit + 1)
        ).all()
        items = _boat_views(session, rows[:limit])
    return Page(items=items, next=str(rows[limit - 1].id) if len(rows) > limit else None)


def _boat_views(session: Session, rows: Any) -> list[BoatView]:
    ids = [row.id for row in rows]
    setups = {
        boat_id: (count, newest)
        for boat_id, count, newest in session.execute(
            select(SetupRow.boat_id, func.count(), func.max(SetupRow.id))
            .where(SetupRow.boat_id.in_(ids), SetupRow.deleted_at.is_(None))
            .group_by(SetupRow.boat_id)
        )
    }
    runs = {
        boat_id: (count, best)
        for boat_id, count, best in session.execute(
            select(RunRow.boat_id, func.count(), func.max(RunRow.best_mps))
            .where(RunRow.boat_id.in_(ids), RunRow.deleted_at.is_(None))
            .group_by(RunRow.boat_id)
        )
    }
    newest = [at for _, at in setups.values()]
    documents: dict[int, dict[str, Any]] = dict(
        session.execute(select(SetupRow.id, SetupRow.document).where(SetupRow.id.in_(newest))).all()
    )
    ran = set(
        session.scalars(
            select(RunRow.setup_id).where(RunRow.setup_id.in_(newest), RunRow.deleted_at.is_(None)).distinct()
        )
    )
    return [
        _boat_view(row, setups[row.id], runs.get(row.id, (0, None)), documents[setups[row.id][1]], ran)
        for row in rows
        if row.id in setups
    ]


def _boat_view(
    row: Boat, setups: tuple[int, int], runs: tuple[int, float | None], document: dict[str, Any], ran: set[int]
) -> BoatView:
    (count, newest), hull = setups, document["hull"]
    return BoatView(
        id=row.id,
        name=row.name,
        hull_type=HullType(hull["hull_type"]),
        length_m=si_from(hull["length"]["value"], hull["length"]["unit"], Dimension.LENGTH),
        setup_id=newest,
        setups=count,
        runs=runs[0],
        best_mps=runs[1],
        compared=newest in ran or (count > 1 and runs[0] > 0),
        archived=row.archived_at is not None,
    )


@retried
def new_boat(store: Store, name: str, document: SetupDocument, request: RequestKey | None = None) -> SetupView:
    """A boat with its first setup and forecast; its parts go on the shelf.

    The forecast knows what the racer's other boats taught, as it does for a boat that is not saved yet.

    Raises
    ------
    InvalidValue : no name, or a value outside its range.
    """
    name, document = require_name(name), name_parts(document)
    made = forecast_of(document, knowledge_of(store))

    def make() -> int:
        boat = Boat(owner_id=owner, name=name)
        session.add(boat)
        session.flush()
        row = save_setup(session, owner, boat.id, None, document.name or "first setup", document, made)
        for kind in SWAPPED_KINDS:
            if kind not in FIRST_KINDS and not _said(part_in(document, kind)):
                continue
            part = shelve(session, owner, kind, part_in(document, kind))
            session.add(SetupPart(setup_id=row.id, kind=kind, part_id=part.id, owner_id=owner))
        return row.id

    with store.transaction() as session:
        owner = racer_of(session)
        return setup_view(owned(session, SetupRow, once(session, owner, request, make), owner))


def _said(document: Any) -> bool:
    """Whether anything was said of a part that joins the drive."""
    return bool(document.model_dump(mode="json", exclude_defaults=True, exclude_none=True))


def save_setup(
    session: Session,
    owner: int,
    boat_id: int,
    parent_id: int | None,
    name: str,
    document: SetupDocument,
    made: ForecastOut,
) -> SetupRow:
    """A row for a setup with its forecast."""
    stored = document.model_copy(update={"name": name[:120]}).model_dump(mode="json", exclude_none=True)
    row = SetupRow(owner_id=owner, boat_id=boat_id, parent_id=parent_id, name=name[:120], document=stored)
    session.add(row)
    session.flush()
    speed = made.point.speed_mps
    session.add(
        ForecastRow(
            owner_id=owner,
            setup_id=row.id,
            model_version=made.model_version,
            inputs=stored,
            result=made.model_dump(mode="json"),
            speed_mps=speed.value,
            low_mps=speed.low,
            high_mps=speed.high,
            verdict=made.verdict,
        )
    )
    return row


@retried
def adopt(
    store: Store,
    parent_id: int,
    document: SetupDocument,
    name: str,
    shelf: dict[str, int],
    request: RequestKey | None = None,
) -> SetupView:
    """A changed document as a new setup below its parent, with its forecast.

    Parameters
    ----------
    shelf : parts that were taken from the shelf, by their place; a part is linked where it is of that kind and the same
        to the letter as what the document holds, whatever was sent.

    Raises
    ------
    InvalidValue : nothing changed, or a value outside its range.
    NotFound : no such parent or part.
    """
    with store.transaction() as session:
        boat_id = owned(session, SetupRow, parent_id, racer_of(session)).boat_id
    made = forecast_of(document, knowledge_of(store, boat_id))

    def make() -> int:
        parent = owned(session, SetupRow, parent_id, owner)
        changed = differences(document_of(parent), document)
        if not changed:
            raise InvalidValue("document", "the same setup", "different from its parent in at least one field")
        row = save_setup(session, owner, parent.boat_id, parent.id, name.strip() or changed[0].label, document, made)
        links = {
            link.kind: link.part_id
            for link in session.scalars(select(SetupPart).where(SetupPart.setup_id == parent.id))
        }
        links |= {kind: owned(session, PartRow, part_id, owner).id for kind, part_id in shelf.items()}
        for kind, part_id in links.items():
            part = session.get_one(PartRow, part_id)
            # A part whose numbers were changed by hand is no longer the one from the shelf.
            if kind in SWAPPED_KINDS and part.kind == kind and _is_part(document, part):
                session.add(SetupPart(setup_id=row.id, kind=kind, part_id=part_id, owner_id=owner))
        session.flush()
        return row.id

    with store.transaction() as session:
        owner = racer_of(session)
        return setup_view(owned(session, SetupRow, once(session, owner, request, make), owner))


def _is_part(document: SetupDocument, part: PartRow) -> bool:
    """Whether a setup holds a part of the shelf as it lies there."""
    return alike(stored_part(part.kind, part.document), part_in(document, part.kind))


def setup(store: Store, setup_id: int) -> SetupView:
    """A setup."""
    with store.transaction() as session:
        return setup_view(owned(session, SetupRow, setup_id, racer_of(session)))


def setups(store: Store, boat_id: int, after: int = 0, limit: int = PAGE) -> Page[SetupItem]:
    """Setups of a boat, oldest first."""
    with store.transaction() as session:
        boat = owned(session, Boat, boat_id, racer_of(session))
        rows = session.execute(
            select(SetupRow.id, SetupRow.parent_id, SetupRow.name, SetupRow.created_at)
            .where(SetupRow.boat_id == boat.id, SetupRow.deleted_at.is_(None), SetupRow.id > after)
            .order_by(SetupRow.id)
            .limit(limit + 1)
        ).all()
        ids = [row.id for row in rows[:limit]]
        runs = dict(
            session.execute(
                select(RunRow.setup_id, func.count())
                .where(RunRow.setup_id.in_(ids), RunRow.deleted_at.is_(None))
                .group_by(RunRow.setup_id)
            ).all()
        )
    items = [
        SetupItem(
            id=row.id, parent_id=row.parent_id, name=row.name, created_at=utc(row.created_at), runs=runs.get(row.id, 0)
        )
        for row in rows[:limit]
    ]
    return Page(items=items, next=str(ids[-1]) if len(rows) > limit else None)


@retried
def change_boat(store: Store, boat_id: int, *, name: str | None = None, archived: bool | None = None) -> BoatView:
    """A boat by another name, put away or taken out again.

    Raises
    ------
    InvalidValue : no name.
    """
    with store.transaction() as session:
        row = owned(session, Boat, boat_id, racer_of(session), lock=True)
        if name is not None:
            row.name = require_name(name)[:120]
        if archived is not None:
            row.archived_at = now() if archived else None
        session.flush()
        views = _boat_views(session, [row])
        if not views:
            raise InUse("this boat has no setup left; put one of them back first")
        return views[0]


@retried
def rename_setup(store: Store, setup_id: int, name: str) -> SetupView:
    """A setup by another name: the only thing of it that can be changed.

    Raises
    ------
    InvalidValue : no name.
    """
    with store.transaction() as session:
        row = owned(session, SetupRow, setup_id, racer_of(session), lock=True)
        row.name = require_name(name)[:120]
        row.document = {**row.document, "name": row.name}
        session.flush()
        return setup_view(row)


def aim(store: Store, boat_id: int) -> dict[str, Any]:
    """What a boat is for; empty where nobody said."""
    with store.transaction() as session:
        return aim_today(owned(session, Boat, boat_id, racer_of(session)).aim or {})


@retried
def set_aim(store: Store, boat_id: int, aim: dict[str, Any], expected: str | None) -> str:
    """Keeps what a boat is for, and gives its new tag.

    Parameters
    ----------
    expected : tag of the aim that this changes.

    Raises
    ------
    Changed, TagMissing : it is another by now, or nobody said which.
    """
    with store.transaction() as session:
        row = owned(session, Boat, boat_id, racer_of(session), lock=True)
        check_tag(expected, aim_today(row.aim or {}), "what the boat is for")
        row.aim = aim
    return tag_of(aim)
