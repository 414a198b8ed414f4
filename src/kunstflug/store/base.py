"""What all tables share: names of constraints, whose a row is, the bin."""

import uuid
from datetime import UTC, datetime
from typing import Any, ClassVar

from sqlalchemy import JSON, DateTime, Double, ForeignKey, MetaData
from sqlalchemy.dialects.mysql import DATETIME
from sqlalchemy.orm import DeclarativeBase, Mapped, mapped_column


def now() -> datetime:
    """The present instant, UTC, as the database keeps it: without a zone."""
    return datetime.now(UTC).replace(tzinfo=None)


class Base(DeclarativeBase):
    """Base of all tables; constraints have predictable names, so that migrations can drop them."""

    metadata = MetaData(
        naming_convention={
            "ix": "ix_%(table_name)s_%(column_0_name)s",
            "uq": "uq_%(table_name)s_%(column_0_name)s",
            "fk": "fk_%(table_name)s_%(column_0_name)s",
            "pk": "pk_%(table_name)s",
        }
    )
    type_annotation_map: ClassVar = {dict[str, Any]: JSON, float: Double, datetime: DateTime}


class HasOwner:
    """A row that is somebody's: seen by whoever acts for them, and by nobody else."""

    owner_id: Mapped[int] = mapped_column(ForeignKey("racers.id"))


class Owned(HasOwner):
    """Columns that nearly every table has."""

    id: Mapped[int] = mapped_column(primary_key=True)
    created_at: Mapped[datetime] = mapped_column(default=now)


def new_uid() -> str:
    """A name for a row that no other database gives either."""
    return uuid.uuid4().hex


class Binned:
    """A row that can lie in the bin: hidden from every list, and there to be put back.

    What goes into the bin with something (a setup's runs) bears the same moment, and comes back with it.
    """

    deleted_at: Mapped[datetime | None] = mapped_column(DATETIME(fsp=6))  # to the microsecond: it tells acts apart
