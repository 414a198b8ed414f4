"""Everything in a database as one file, and back: a zip with a table a member, each row a line of JSON.

Written from one snapshot, so that it is consistent while others write. Tables are read and written as the database has
them, not as this program's classes say, so that a backup of an older program can be restored: it is put into the
tables of its own time, which then are brought to today's.
"""

import base64
import hashlib
import json
import os
import zipfile
import zlib
from collections.abc import Iterator
from dataclasses import dataclass
from datetime import UTC, datetime
from pathlib import Path
from typing import Any, Final

from sqlalchemy import Connection, Double, Engine, MetaData, Table, create_engine, event, insert, inspect, select, text
from sqlalchemy.dialects.mysql import DOUBLE

from kunstflug import __version__
from kunstflug.core.quantity.errors import RestoreProblem
from kunstflug.store.cluster import plain
from kunstflug.store.database import LONG_S
from kunstflug.store.revision import is_known, revision_of

FORMAT: Final = "kunstflug-backup"
VERSION: Final = 1
_MANIFEST: Final = "manifest.json"
_STEP_ROWS: Final = 50
_MOST_MANIFEST: Final = 1_000_000
# What a damaged zip makes the library raise; RuntimeError where it says that it is encrypted.
_UNREADABLE: Final = (KeyError, zipfile.BadZipFile, zlib.error, EOFError, OSError, NotImplementedError, RuntimeError)


@dataclass(frozen=True, slots=True, kw_only=True)
class Backup:
    """What a backup says of itself.

    Parameters
    ----------
    revision : of the tables.
    rows : of each table.
    """

    written_at: str
    program: str
    revision: str
    rows: dict[str, int]


def _patient(engine: Engine) -> Engine:
    """An engine for the same database that waits for long statements."""
    waits = {"read_timeout": LONG_S, "write_timeout": LONG_S}
    at = plain([engine.url.host or "localhost"])
    return create_engine(engine.url, isolation_level="REPEATABLE READ", connect_args={**waits, **at})


def write_backup(engine: Engine, path: Path) -> Backup:
    """Writes a backup of a database; the file is there whole, or not at all.

    Raises
    ------
    OSError : it cannot be written.
    RestoreProblem : the database is empty.
    """
    revision = revision_of(engine)
    if revision is None:
        raise RestoreProblem("there is no data yet to back up")
    beside = path.with_name(path.name + ".writing")
    patient = _patient(engine)
    try:
        with patient.connect() as connection, zipfile.ZipFile(beside, "w", zipfile.ZIP_DEFLATED) as archive:
            metadata = _tables(connection)
            # One snapshot for all tables, from here on.
            connection.execute(text("START TRANSACTION WITH CONSISTENT SNAPSHOT"))
            described = {table.name: _write_table(connection, archive, table) for table in metadata.sorted_tables}
            manifest = {
                "format": FORMAT,
                "version": VERSION,
                "written_at": datetime.now(UTC).isoformat(timespec="seconds"),
                "program": __version__,
                "revision": revision,
                "tables": described,
            }
            archive.writestr(_MANIFEST, json.dumps(manifest, indent=2))
        with beside.open("rb") as file:
            os.fsync(file.fileno())
        beside.rename(path)
    finally:
        beside.unlink(missing_ok=True)
        patient.dispose()
    return _described(manifest)


def _tables(connection: Connection) -> MetaData:
    """The tables of a database as they are, without the note of their revision."""
    metadata = MetaData()
    event.listen(metadata, "column_reflect", _as_floats)
    metadata.reflect(connection)
    metadata.remove(metadata.tables["alembic_version"])
    return metadata


def _as_floats(inspector: object, table: object, column: dict[str, Any]) -> None:
    """The dialect would make decimals of doubles."""
    if isinstance(column["type"], DOUBLE):
        column["type"] = Double()


def _write_table(connection: Connection, archive: zipfile.ZipFile, table: Table) -> dict[str, Any]:
    digest, count = hashlib.sha256(), 0
    query = select(table).order_by(*table.primary_key.columns)
    with archive.open(f"{table.name}.jsonl", "w", force_zip64=True) as member:
        for row in connection.execution_options(yield_per=_STEP_ROWS).execute(query):
            line = json.dumps([_plain(value) for value in row]).encode() + b"\n"
            digest.update(line)
            member.write(line)
            count += 1
    return {"columns": [c.name for c in table.columns], "rows": count, "sha256": digest.hexdigest()}


def _plain(value: Any) -> Any:
    if isinstance(value, bytes):
        return {"base64": base64.b64encode(value).decode()}
    if isinstance(value, datetime):
        return {"moment": value.isoformat()}
    return value


def _back(value: Any) -> Any:
    if isinstance(value, dict):
        if "base64" in value:
            return base64.b64decode(value["base64"])
        return datetime.fromisoformat(value["moment"])
    return value


def check_backup(path: Path) -> Backup:
    """Reads a backup through and checks every line of it against what it says of itself.

    Raises
    ------
    RestoreProblem : it is no backup, damaged, or of a newer program.
    """
    with _opened(path) as archive:
        manifest = _manifest(archive)
        for name, table in manifest["tables"].items():
            digest, count = hashlib.sha256(), 0
            for line in _lines(archive, name):
                digest.update(line)
                count += 1
            if count != table["rows"] or digest.hexdigest() != table["sha256"]:
                raise RestoreProblem(f"{path.name} is damaged: the table {name} is not what was written")
        return _described(manifest)


def _opened(path: Path) -> zipfile.ZipFile:
    try:
        return zipfile.ZipFile(path)
    except FileNotFoundError as error:
        raise RestoreProblem(f"there is no file {path}") from error
    except _UNREADABLE as error:
        raise RestoreProblem(f"{path.name} is no backup, or not all of one: {error}") from error


def _manifest(archive: zipfile.ZipFile) -> dict[str, Any]:
    try:
        if archive.getinfo(_MANIFEST).file_size > _MOST_MANIFEST:
            raise ValueError("too large")
        manifest: dict[str, Any] = json.loads(archive.read(_MANIFEST))
        if manifest["format"] != FORMAT:
            raise ValueError("another format")
        known = manifest["version"] <= VERSION and is_known(manifest["revision"])
        _described(manifest)
    except (*_UNREADABLE, ValueError, TypeError, AttributeError) as error:
        raise RestoreProblem(f"{Path(str(archive.filename)).name} is no backup of this program") from error
    if not known:
        raise RestoreProblem(
            f"this backup is of a newer Kunstflug ({manifest['program']}); restore it with that program"
        )
    return manifest


def _described(manifest: dict[str, Any]) -> Backup:
    return Backup(
        written_at=str(manifest["written_at"]),
        program=str(manifest["program"]),
        revision=str(manifest["revision"]),
        rows={name: int(table["rows"]) for name, table in manifest["tables"].items()},
    )


def _lines(archive: zipfile.ZipFile, table: str) -> Iterator[bytes]:
    try:
        with archive.open(f"{table}.jsonl") as member:
            yield from member
    except _UNREADABLE as error:
        raise RestoreProblem(f"the backup is damaged: the table {table} cannot be read") from error


def restore_backup(engine: Engine, path: Path) -> Backup:
    """Puts a backup in place of everything that is in a database.

    It can be repeated: broken off on the way, the same again gives the whole.

    Raises
    ------
    RestoreProblem : the file is no backup, damaged, or of a newer program; the database was not touched.
    """
    backup = check_backup(path)
    from kunstflug.store.migrate import migrate  # with all that migrates: a third of a second of every start

    patient = _patient(engine)
    try:
        _drop_all(patient)
        migrate(patient, backup.revision)
        with _opened(path) as archive, patient.begin() as connection:
            manifest = _manifest(archive)
            metadata = _tables(connection)
            connection.execute(text("SET SESSION foreign_key_checks = 0"))
            for name, table in manifest["tables"].items():
                _read_table(connection, archive, metadata.tables[name], table["columns"])
            connection.execute(text("SET SESSION foreign_key_checks = 1"))
        migrate(patient)
    finally:
        patient.dispose()
    return backup


def _drop_all(engine: Engine) -> None:
    with engine.begin() as connection:
        names = inspect(connection).get_table_names()
        connection.execute(text("SET SESSION foreign_key_checks = 0"))
        for table in names:
            connection.execute(text(f"DROP TABLE IF EXISTS `{table}`"))
        connection.execute(text("SET SESSION foreign_key_checks = 1"))


def _read_table(connection: Connection, archive: zipfile.ZipFile, table: Table, columns: list[str]) -> None:
    rows: list[dict[str, Any]] = []
    for line in _lines(archive, table.name):
        rows.append(dict(zip(columns, map(_back, json.loads(line)), strict=True)))
        if len(rows) >= _STEP_ROWS:
            connection.execute(insert(table), rows)
            rows = []
    if rows:
        connection.execute(insert(table), rows)
