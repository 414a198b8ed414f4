"""The tables of boats, parts, runs and days. Every row has its owner; ``store/acting.py`` binds every query to one."""

from datetime import datetime
from typing import Any

from sqlalchemy import JSON, ForeignKey, Index, String, Text, UniqueConstraint
from sqlalchemy.dialects.mysql import LONGBLOB
from sqlalchemy.orm import Mapped, mapped_column, relationship

from kunstflug.store import people as people
from kunstflug.store.base import Base as Base  # whoever asks the base for its tables asks here: all are loaded
from kunstflug.store.base import Binned, HasOwner, Owned, new_uid, now


class Boat(Owned, Binned, Base):
    """A boat, under whose name its setups stand."""

    __tablename__ = "boats"
    uid: Mapped[str] = mapped_column(String(32), default=new_uid)
    name: Mapped[str] = mapped_column(String(120))
    archived_at: Mapped[datetime | None]
    aim: Mapped[dict[str, Any] | None]  # purpose, duty, wish, locks, schools; as typed
    circuit: Mapped[dict[str, Any] | None]  # the water circuit's document
    __table_args__ = (Index("ix_boats_owner_uid", "owner_id", "uid", unique=True),)


class PartRow(Owned, Binned, Base):
    """A part on the shelf; ``document`` is the part's document, as typed."""

    __tablename__ = "parts"
    uid: Mapped[str] = mapped_column(String(32), default=new_uid)  # so that a CSV taken in twice adds nothing
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
    __table_args__ = (
        Index("ix_parts_owner_kind", "owner_id", "kind"),
        Index("ix_parts_owner_uid", "owner_id", "uid", unique=True),
    )


class PartEventRow(Owned, Base):
    """Something that happened to a part: service, damage, repair, death."""

    __tablename__ = "part_events"
    part_id: Mapped[int] = mapped_column(ForeignKey("parts.id"))
    happened_at: Mapped[datetime]
    kind: Mapped[str] = mapped_column(String(20))
    words: Mapped[str] = mapped_column(String(1000))


class SetupRow(Owned, Binned, Base):
    """A setup. Never edited but for its name: a change makes a new row with its parent."""

    __tablename__ = "setups"
    uid: Mapped[str] = mapped_column(String(32), default=new_uid)
    boat_id: Mapped[int] = mapped_column(ForeignKey("boats.id"))
    parent_id: Mapped[int | None] = mapped_column(ForeignKey("setups.id"))
    name: Mapped[str] = mapped_column(String(120))
    document: Mapped[dict[str, Any]]
    boat: Mapped[Boat] = relationship()
    __table_args__ = (Index("ix_setups_owner_uid", "owner_id", "uid", unique=True),)


class SetupTick(HasOwner, Base):
    """A step of a setup's build list that was ticked, or was and is no more; a row each, so that ticks add up."""

    __tablename__ = "setup_ticks"
    setup_id: Mapped[int] = mapped_column(ForeignKey("setups.id"), primary_key=True)
    step: Mapped[str] = mapped_column(String(60), primary_key=True)
    owner_id: Mapped[int] = mapped_column(ForeignKey("racers.id"))
    done: Mapped[bool]


class DayTick(HasOwner, Base):
    """A check of a pond day that was ticked, or was and is no more; a row each, so that ticks add up."""

    __tablename__ = "day_ticks"
    owner_id: Mapped[int] = mapped_column(ForeignKey("racers.id"), primary_key=True)
    day: Mapped[str] = mapped_column(String(10), primary_key=True)
    boat_id: Mapped[int] = mapped_column(ForeignKey("boats.id"), primary_key=True)
    check: Mapped[str] = mapped_column(String(40), primary_key=True)
    done: Mapped[bool]


class PondDay(HasOwner, Base):
    """A planned day: packs, chargers and runs as they were asked for."""

    __tablename__ = "pond_days"
    owner_id: Mapped[int] = mapped_column(ForeignKey("racers.id"), primary_key=True)
    day: Mapped[str] = mapped_column(String(10), primary_key=True)
    plan: Mapped[dict[str, Any]]


class LiveDrive(Owned, Base):
    """A boat that is or was followed while it was driven: by what device, and the run that became of it."""

    __tablename__ = "live_drives"
    setup_id: Mapped[int] = mapped_column(ForeignKey("setups.id"))
    source: Mapped[dict[str, Any]]
    relay: Mapped[str | None] = mapped_column(String(40))  # where the process that listens tells what it knows
    ended_at: Mapped[datetime | None]
    run_id: Mapped[int | None] = mapped_column(ForeignKey("runs.id"))
    soak: Mapped[dict[str, Any] | None]  # what each place should read after landing


class LiveBlock(Owned, Base):
    """Lines of a device as they came, compressed; in the order of their ids. What is here was acknowledged."""

    __tablename__ = "live_blocks"
    drive_id: Mapped[int] = mapped_column(ForeignKey("live_drives.id"))
    part: Mapped[str] = mapped_column(String(32))  # of one listening, from its start to its end
    number: Mapped[int]
    lines: Mapped[int]
    block: Mapped[bytes] = mapped_column(LONGBLOB)
    __table_args__ = (UniqueConstraint("drive_id", "part", "number"),)


class PondRow(Owned, Base):
    """A pond's shore, drawn or driven round, corners in metres; and what was read of its water."""

    __tablename__ = "ponds"
    name: Mapped[str] = mapped_column(String(60))
    shore: Mapped[list[list[float]]] = mapped_column(JSON)
    water: Mapped[list[dict[str, Any]] | None] = mapped_column(JSON)
    __table_args__ = (UniqueConstraint("owner_id", "name"),)


class ChangeMark(HasOwner, Base):
    """What a racer's log looked like when it was last changed: another mark, another log."""

    __tablename__ = "change_marks"
    owner_id: Mapped[int] = mapped_column(ForeignKey("racers.id"), primary_key=True)
    mark: Mapped[str] = mapped_column(String(32))


class SetupPart(HasOwner, Base):
    """Which part from the shelf a setup uses."""

    __tablename__ = "setup_parts"
    setup_id: Mapped[int] = mapped_column(ForeignKey("setups.id"), primary_key=True)
    kind: Mapped[str] = mapped_column(String(20), primary_key=True)
    part_id: Mapped[int] = mapped_column(ForeignKey("parts.id"))
    owner_id: Mapped[int] = mapped_column(ForeignKey("racers.id"))


class ForecastRow(Owned, Base):
    """A setup's forecast, with the model's version and the inputs it was made from; its headline stands beside."""

    __tablename__ = "forecasts"
    setup_id: Mapped[int] = mapped_column(ForeignKey("setups.id"))
    model_version: Mapped[str] = mapped_column(String(20))
    inputs: Mapped[dict[str, Any]] = mapped_column(deferred=True)
    result: Mapped[dict[str, Any]] = mapped_column(deferred=True)
    speed_mps: Mapped[float | None]
    low_mps: Mapped[float | None]
    high_mps: Mapped[float | None]
    verdict: Mapped[str] = mapped_column(String(20), default="")


class RunRow(Owned, Binned, Base):
    """A run of a setup with its conditions, as typed; what lists show of it stands beside."""

    __tablename__ = "runs"
    uid: Mapped[str] = mapped_column(String(32), default=new_uid)
    boat_id: Mapped[int] = mapped_column(ForeignKey("boats.id"))
    setup_id: Mapped[int] = mapped_column(ForeignKey("setups.id"))
    started_at: Mapped[datetime]
    source: Mapped[str] = mapped_column(String(200))
    content_hash: Mapped[str | None] = mapped_column(String(64))  # of the file it came from
    conditions: Mapped[dict[str, Any]]
    typed: Mapped[dict[str, Any] | None]  # what was read off displays and written down
    note: Mapped[str] = mapped_column(Text, default="")
    best_mps: Mapped[float | None]  # both ways, else the best held 2 s, else what a display says of it
    duration_s: Mapped[float | None]
    setup: Mapped[SetupRow] = relationship()
    track: Mapped["TrackRow | None"] = relationship(back_populates="run")
    log: Mapped["ControllerLogRow | None"] = relationship()
    photo: Mapped["PhotoRow | None"] = relationship()
    readings: Mapped[list["ReadingRow"]] = relationship(order_by="ReadingRow.position", cascade="all, delete-orphan")
    observations: Mapped[list["ObservationRow"]] = relationship(
        order_by="ObservationRow.id", cascade="all, delete-orphan"
    )
    __table_args__ = (
        Index("ix_runs_boat_started", "boat_id", "deleted_at", "started_at", "id", "best_mps"),
        Index("ix_runs_setup_started", "setup_id", "deleted_at", "started_at", "id", "duration_s"),
        Index("ix_runs_owner_started", "owner_id", "deleted_at", "started_at", "id"),
        Index("ix_runs_owner_hash", "owner_id", "content_hash"),
        Index("ix_runs_owner_uid", "owner_id", "uid", unique=True),
    )


class TrackRow(Owned, Base):
    """A track as one compressed block; what was read from it stands beside, so that lists need not open it."""

    __tablename__ = "tracks"
    run_id: Mapped[int] = mapped_column(ForeignKey("runs.id"), unique=True)
    format: Mapped[str] = mapped_column(String(20))
    samples: Mapped[int]
    block: Mapped[bytes] = mapped_column(LONGBLOB, deferred=True)
    summary: Mapped[dict[str, Any]]
    damages: Mapped[dict[str, Any]]
    run: Mapped[RunRow] = relationship(back_populates="track")


class ControllerLogRow(Owned, Binned, Base):
    """A controller log as one compressed block."""

    __tablename__ = "controller_logs"
    run_id: Mapped[int] = mapped_column(ForeignKey("runs.id"), unique=True)
    samples: Mapped[int]
    block: Mapped[bytes] = mapped_column(LONGBLOB, deferred=True)
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


class TubTestRow(Owned, Binned, Base):
    """A tub test: readings in gun order with their seconds, and what became of it."""

    __tablename__ = "tub_tests"
    uid: Mapped[str] = mapped_column(String(32), default=new_uid)
    setup_id: Mapped[int] = mapped_column(ForeignKey("setups.id"))
    water_c: Mapped[float]
    air_c: Mapped[float]
    readings: Mapped[list[dict[str, Any]]] = mapped_column(JSON)
    outcome: Mapped[dict[str, Any]]
    note: Mapped[str] = mapped_column(String(1000), default="")
    __table_args__ = (Index("ix_tub_tests_owner_uid", "owner_id", "uid", unique=True),)


class CsvShapeRow(HasOwner, Base):
    """What a racer said of the columns of a CSV file, for the next one that is written alike."""

    __tablename__ = "csv_shapes"
    owner_id: Mapped[int] = mapped_column(ForeignKey("racers.id"), primary_key=True)
    shape: Mapped[str] = mapped_column(String(32), primary_key=True)
    mapping: Mapped[dict[str, Any]]


class PhotoRow(Owned, Base):
    """A picture of a run, scaled, with nothing in it but the picture."""

    __tablename__ = "run_photos"
    run_id: Mapped[int] = mapped_column(ForeignKey("runs.id"), unique=True)
    width: Mapped[int]
    height: Mapped[int]
    jpeg: Mapped[bytes] = mapped_column(LONGBLOB, deferred=True)


class IdempotencyRow(HasOwner, Base):
    """A request that made something: sent again with the same key, it gives what it made then."""

    __tablename__ = "idempotency_keys"
    owner_id: Mapped[int] = mapped_column(ForeignKey("racers.id"), primary_key=True)
    key: Mapped[str] = mapped_column(String(80), primary_key=True)
    digest: Mapped[str] = mapped_column(String(64))  # of the request
    made_id: Mapped[int | None]
    created_at: Mapped[datetime] = mapped_column(default=now)
