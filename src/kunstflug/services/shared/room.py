"""How much room a racer takes on a club's server: tracks, logs, pictures, what was heard live."""

from typing import Any, Final

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from kunstflug.core.quantity.errors import NoRoom
from kunstflug.services.shared.rows import racer_of
from kunstflug.store.database import Store
from kunstflug.store.tables import ControllerLogRow, LiveBlock, PhotoRow, TrackRow

_BLOCKS: Final[tuple[Any, ...]] = (TrackRow.block, ControllerLogRow.block, PhotoRow.jpeg, LiveBlock.block)


def taken(session: Session, owner: int) -> int:
    """Bytes that a racer's tracks, logs, pictures and live lines take."""
    sums = [
        select(func.coalesce(func.sum(func.length(block)), 0)).where(block.class_.owner_id == owner).scalar_subquery()
        for block in _BLOCKS
    ]
    return int(session.scalar(select(sums[0] + sums[1] + sums[2] + sums[3])) or 0)


def make_room(session: Session, owner: int, more: int) -> None:
    """Lets something be kept that there is room for; where there are no accounts, the disk is the limit.

    Raises
    ------
    NoRoom
    """
    most: int | None = session.info.get("room")
    if most is not None and taken(session, owner) + more > most:
        raise NoRoom(most)


def room(store: Store) -> tuple[int, int | None]:
    """Bytes taken, and how many there may be."""
    with store.transaction() as session:
        return taken(session, racer_of(session)), session.info.get("room")
