"""The tables. Every row has its owner, so that accounts can come later without a rewrite."""

from datetime import UTC, datetime
from typing import Any, ClassVar

from sqlalchemy import JSON, DateTime, Double, ForeignKey, Index, MetaData, String, Text
from sqlalchemy.dialects.mysql import LONGBLOB
from sqlalchemy.orm import DeclarativeBase, Mapped, mapped_column, relationship


def now() -> datetime:
    """This instant, UTC, as the database keeps it: without a zone."""
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


class Owned:
    """Columns that every table but ``racers`` has."""

    id: Mapped[int] = mapped_column(primary_key=True)
    owner_id: Mapped[int] = mapped_column(ForeignKey("racers.id"))
    created_at: Mapped[datetime] = mapped_column(default=now)


class Racer(Base):
    """Somebody with boats; one local racer for now."""

    __tablename__ = "racers"
    id: Mapped[int] = mapped_column(primary_key=True)
    name: Mapped[str] = mapped_column(String(120), unique=True)
    created_at: Mapped[datetime] = mapped_column(default=now)


class Boat(Owned, Base):
    """A boat, under whose name its setups stand."""

    __tablename__ = "boats"
    name: Mapped[str] = mapped_column(String(120))
    aim: Mapped[dict[str, Any] | None]  # purpose, duty, wish, locks, schools; as typed
    circuit: Mapped[dict[str, Any] | None]  # the water circuit's document
    setups: Mapped[list["SetupRow"]] = relationship(back_populates="boat", order_by="SetupRow.id")


class PartRow(Owned, Base):
    """A part on the shelf; ``document`` is the part's document, as typed."""

    __tablename__ = "parts"
    kind: Mapped[str] = mapped_column(String(20))
    name: Mapped[str] = mapped_column(String(120))
    document: Mapped[dict[str, Any]]
    state: Mapped[str] = mapped_column(String(20), default="in use")
    pieces: Mapped[int] = mapped_column(default=1)
    price: Mapped[float | None]
    record: Mapped[dict[str, Any]] = mapped_column(default=dict)  # hours, how it died, a note
    events: Mapped[list["PartEventRow"]] = relationship(
        order_by="PartEventRow.happened_at", cascade="all, delete-orphan"
    )
    __table_args__ = (Index("ix_parts_owner_kind", "owner_id", "kind"),)


class PartEventRow(Owned, Base):
    """Something that happened to a part: service, damage, repair, death."""

    __tablename__ = "part_events"
    part_id: Mapped[int] = mapped_column(ForeignKey("parts.id"))
    happened_at: Mapped[datetime]
    kind: Mapped[str] = mapped_column(String(20))
    words: Mapped[str] = mapped_column(String(1000))


class SetupRow(Owned, Base):
    """A setup. Never edited: a change makes a new row with its parent."""

    __tablename__ = "setups"
    boat_id: Mapped[int] = mapped_column(ForeignKey("boats.id"))
    parent_id: Mapped[int | None] = mapped_column(ForeignKey("setups.id"))
    name: Mapped[str] = mapped_column(String(120))
    document: Mapped[dict[str, Any]]
    ticks: Mapped[dict[str, Any] | None]  # steps of the build list that are done
    boat: Mapped[Boat] = relationship(back_populates="setups")
    forecasts: Mapped[list["ForecastRow"]] = relationship(order_by="ForecastRow.id")
    runs: Mapped[list["RunRow"]] = relationship(back_populates="setup", order_by="RunRow.id")


class SetupPart(Base):
    """Which part from the shelf a setup uses."""

    __tablename__ = "setup_parts"
    setup_id: Mapped[int] = mapped_column(ForeignKey("setups.id"), primary_key=True)
    kind: Mapped[str] = mapped_column(String(20), primary_key=True)
    part_id: Mapped[int] = mapped_column(ForeignKey("parts.id"))
    owner_id: Mapped[int] = mapped_column(ForeignKey("racers.id"))


class ForecastRow(Owned, Base):
    """A forecast, with the model's version and the inputs it was made from."""

    __tablename__ = "forecasts"
    setup_id: Mapped[int] = mapped_column(ForeignKey("setups.id"))
    model_version: Mapped[str] = mapped_column(String(20))
    inputs: Mapped[dict[str, Any]]
    result: Mapped[dict[str, Any]]


class RunRow(Owned, Base):
    """A run of a setup with its conditions, as typed."""

    __tablename__ = "runs"
    setup_id: Mapped[int] = mapped_column(ForeignKey("setups.id"))
    started_at: Mapped[datetime]
    source: Mapped[str] = mapped_column(String(200))
    conditions: Mapped[dict[str, Any]]
    note: Mapped[str] = mapped_column(Text, default="")
    setup: Mapped[SetupRow] = relationship(back_populates="runs")
    track: Mapped["TrackRow | None"] = relationship(back_populates="run")
    log: Mapped["ControllerLogRow | None"] = relationship()
    readings: Mapped[list["ReadingRow"]] = relationship(order_by="ReadingRow.position", cascade="all, delete-orphan")
    observations: Mapped[list["ObservationRow"]] = relationship(
        order_by="ObservationRow.id", cascade="all, delete-orphan"
    )


class TrackRow(Owned, Base):
    """A track as one compressed block; what was read from it stands beside, so that lists need not open it."""

    __tablename__ = "tracks"
    run_id: Mapped[int] = mapped_column(ForeignKey("runs.id"), unique=True)
    format: Mapped[str] = mapped_column(String(20))
    samples: Mapped[int]
    block: Mapped[bytes] = mapped_column(LONGBLOB)
    summary: Mapped[dict[str, Any]]
    damages: Mapped[dict[str, Any]]
    run: Mapped[RunRow] = relationship(back_populates="track")


class ControllerLogRow(Owned, Base):
    """A controller log as one compressed block."""

    __tablename__ = "controller_logs"
    run_id: Mapped[int] = mapped_column(ForeignKey("runs.id"), unique=True)
    samples: Mapped[int]
    block: Mapped[bytes] = mapped_column(LONGBLOB)
    summary: Mapped[dict[str, Any]]


class ReadingRow(Owned, Base):
    """A reading of the temperature gun, in gun order."""

    __tablename__ = "temperature_readings"
    run_id: Mapped[int] = mapped_column(ForeignKey("runs.id"))
    position: Mapped[int]
    place: Mapped[str] = mapped_column(String(40))
    celsius: Mapped[float]
    typed: Mapped[dict[str, Any]]  # the quantity as typed
    minutes_after: Mapped[float]


class ObservationRow(Owned, Base):
    """Something the boat did."""

    __tablename__ = "observations"
    run_id: Mapped[int] = mapped_column(ForeignKey("runs.id"))
    words: Mapped[str] = mapped_column(String(500))


class TubTestRow(Owned, Base):
    """A held-back test: readings in gun order with their seconds, and what became of it."""

    __tablename__ = "tub_tests"
    setup_id: Mapped[int] = mapped_column(ForeignKey("setups.id"))
    water_c: Mapped[float]
    air_c: Mapped[float]
    readings: Mapped[list[dict[str, Any]]] = mapped_column(JSON)
    outcome: Mapped[dict[str, Any]]
    note: Mapped[str] = mapped_column(String(1000), default="")
