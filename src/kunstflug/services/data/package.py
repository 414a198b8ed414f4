"""Everything of a racer as one open zip, a Data Package: tables as CSV with a schema, boats as JSON, tracks as GPX."""

import base64
import csv
import io
import json
import zipfile
from collections.abc import Callable, Iterator
from datetime import UTC, datetime
from pathlib import Path
from typing import Any, Final

from sqlalchemy import select

from kunstflug import __version__
from kunstflug.core.quantity.errors import FileTooLarge, UnreadableFile
from kunstflug.documents.base import LongAnswer, Out
from kunstflug.documents.boat import BoatDocument, parsed_boat
from kunstflug.files.unpack import BROKEN_ZIP
from kunstflug.services.boats.boat_file import export_boat, import_boat
from kunstflug.services.shared.rows import racer_of
from kunstflug.services.shelf import table as shelf_csv
from kunstflug.store.database import Store
from kunstflug.store.tables import Boat

PROFILE: Final = "data-package"
MANIFEST: Final = "datapackage.json"
MOST_MEMBER: Final = 128 * 1024 * 1024
MOST_BYTES: Final = 4 * 1024 * 1024 * 1024
Heard = Callable[[str, int, int], None]
"""Is told what is written or read, how many of how many."""

_TABLES: Final[dict[str, tuple[tuple[str, str, str], ...]]] = {
    "boats": (
        ("key", "string", "of the boat"), ("name", "string", ""), ("created_at", "datetime", "UTC"),
        ("setups", "integer", ""), ("runs", "integer", ""), ("document", "string", "its file in this package"),
    ),
    "setups": (
        ("key", "string", "of the setup"), ("boat", "string", "key of its boat"),
        ("parent", "string", "key of the setup it was made from"), ("name", "string", ""),
        ("created_at", "datetime", "UTC"),
    ),
    "runs": (
        ("key", "string", "of the run"), ("boat", "string", ""), ("setup", "string", ""),
        ("started_at", "datetime", "UTC"), ("source", "string", ""), ("both_ways_mps", "number", "m/s"),
        ("best_2s_mps", "number", "m/s"), ("best_1s_mps", "number", "m/s"),
        ("best_1s_spread_mps", "number", "standard deviation, m/s"), ("peak_mps", "number", "m/s"),
        ("distance_m", "number", "m"), ("duration_s", "number", "s"), ("current_a", "number", "A"),
        ("rpm", "number", "1/min"), ("voltage_v", "number", "V"), ("charge_mah", "number", "mAh"),
        ("note", "string", ""), ("observations", "string", "parted by semicolons"),
        ("damage", "string", "parted by semicolons"), ("track", "string", "its file in this package"),
        ("log", "string", "its file in this package"), ("picture", "string", "its file in this package"),
    ),
    "readings": (
        ("run", "string", "key of the run"), ("place", "string", ""), ("value", "number", "as typed"),
        ("unit", "string", "as typed"), ("minutes_after", "number", "min after landing"),
    ),
}  # fmt: skip


class PackageCounts(Out):
    """What a package holds, or what of it was new."""

    boats: int
    setups: int
    runs: int
    parts: int


class ImportLine(LongAnswer):
    """One line of the answer to an import: boats read, of how many; what was new on the last line."""

    result: PackageCounts | None = None


def _nobody(what: str, done: int, whole: int) -> None:
    """Hears nothing."""


def export_all(store: Store, path: Path, heard: Heard = _nobody) -> PackageCounts:
    """Writes everything of a racer but what lies in the bin; the file is there whole, or not at all.

    Raises
    ------
    OSError : it cannot be written.
    """
    with store.transaction() as session:
        owner = racer_of(session)
        ids = list(
            session.scalars(select(Boat.id).where(Boat.owner_id == owner, Boat.deleted_at.is_(None)).order_by(Boat.id))
        )
    tables: dict[str, list[list[Any]]] = {name: [] for name in _TABLES}
    beside = path.with_name(path.name + ".writing")
    setups = runs = 0
    try:
        with zipfile.ZipFile(beside, "w", zipfile.ZIP_DEFLATED) as archive:
            parts = shelf_csv.to_csv(store)
            archive.writestr("shelf.csv", parts)
            for k, boat_id in enumerate(ids):
                document = export_boat(store, boat_id)
                heard(document.name, k + 1, len(ids))
                setups, runs = setups + len(document.setups), runs + len(document.runs)
                _write_boat(archive, document, tables)
            for name, columns in _TABLES.items():
                archive.writestr(f"{name}.csv", _csv([c for c, _, _ in columns], tables[name]))
            archive.writestr(MANIFEST, json.dumps(_manifest(), indent=2))
        beside.replace(path)
    finally:
        beside.unlink(missing_ok=True)
    return PackageCounts(boats=len(ids), setups=setups, runs=runs, parts=max(len(parts.splitlines()) - 1, 0))


def _write_boat(archive: zipfile.ZipFile, document: BoatDocument, tables: dict[str, list[list[Any]]]) -> None:
    """A boat's document, with its tracks, logs and pictures as files of their own beside it."""
    home = f"boats/{document.key}.json"
    bare = []
    for run in document.runs:
        files = {"track": "", "log": "", "picture": ""}
        if run.track is not None:
            files["track"] = f"tracks/{run.key}.gpx"
            archive.writestr(files["track"], run.track)
        if run.log is not None:
            files["log"] = f"logs/{run.key}.csv"
            archive.writestr(files["log"], run.log)
        if run.picture is not None:
            files["picture"] = f"pictures/{run.key}.jpg"
            archive.writestr(files["picture"], base64.b64decode(run.picture))
        bare.append(run.model_copy(update={"track": None, "log": None, "picture": None}))
        f, g = run.figures, run.log_figures
        tables["runs"].append(
            [
                run.key, document.key, run.setup, run.started_at.isoformat(), run.source,
                *(getattr(f, n, None) for n in ("both_ways_mps", "best_2s_mps", "best_1s_mps", "best_1s_spread_mps",
                                                "peak_mps", "distance_m", "duration_s")),
                *(getattr(g, n, None) for n in ("current_a", "rpm", "voltage_v", "mah")),
                run.note, "; ".join(run.observations), "; ".join(run.typed.damage),
                files["track"], files["log"], files["picture"],
            ]
        )  # fmt: skip
        tables["readings"] += [
            [run.key, r.place, r.typed.get("value"), r.typed.get("unit"), r.minutes_after] for r in run.readings
        ]
    tables["boats"].append(
        [document.key, document.name, document.created_at.isoformat(), len(document.setups), len(document.runs), home]
    )
    tables["setups"] += [
        [s.key, document.key, s.parent or "", s.name, s.created_at.isoformat()] for s in document.setups
    ]
    archive.writestr(home, document.model_copy(update={"runs": bare}).model_dump_json(indent=1, exclude_defaults=True))


def _csv(header: list[str], rows: list[list[Any]]) -> str:
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow(header)
    writer.writerows([[_cell(cell) for cell in row] for row in rows])
    return out.getvalue()


def _cell(value: Any) -> Any:
    return shelf_csv.safe(value) if isinstance(value, str) else "" if value is None else value


def _manifest() -> dict[str, Any]:
    """What is in the package, as the Data Package form says it [datapackage]."""
    resources: list[dict[str, Any]] = [
        {
            "name": name, "path": f"{name}.csv", "profile": "tabular-data-resource", "format": "csv",
            "encoding": "utf-8",
            "schema": {
                "fields": [
                    {"name": column, "type": kind, **({"description": words} if words else {})}
                    for column, kind, words in columns
                ],
                **({"primaryKey": "key"} if columns[0][0] == "key" else {}),
            },
        }
        for name, columns in _TABLES.items()
    ]  # fmt: skip
    resources.append({"name": "shelf", "path": "shelf.csv", "format": "csv", "encoding": "utf-8"})
    return {
        "profile": PROFILE,
        "name": "kunstflug",
        "title": "Boats, setups, runs and parts",
        "created": datetime.now(UTC).isoformat(timespec="seconds"),
        "kunstflug": {"program": __version__, "version": 1},
        "resources": resources,
    }


def check_package(path: Path) -> None:
    """Looks at a package without taking anything in.

    Raises
    ------
    UnreadableFile : no package, broken, or not of this program.
    """
    try:
        with zipfile.ZipFile(path) as archive:
            _check(archive)
    except BROKEN_ZIP as broken:
        raise UnreadableFile("a zip file that is broken, or no package of this program") from broken


def import_all(store: Store, path: Path, heard: Heard = _nobody) -> PackageCounts:
    """Takes in a package: what is there already stays as it is, only what is missing is added.

    Raises
    ------
    UnreadableFile : no package, broken, or not of this program.
    InvalidDocument, InvalidValue : a boat in it is none; those before it are in.
    """
    try:
        with zipfile.ZipFile(path) as archive:
            _check(archive)
            taken = shelf_csv.from_csv(store, _member(archive, "shelf.csv"))
            boats = setups = runs = 0
            names = sorted(n for n in archive.namelist() if n.startswith("boats/") and n.endswith(".json"))
            parts = taken.added
            for k, (name, document) in enumerate(_boats(archive, names)):
                heard(document.name or name, k + 1, len(names))
                made = import_boat(store, document)
                boats += made.setups > 0
                setups, runs, parts = setups + made.setups, runs + made.runs, parts + made.parts
    except BROKEN_ZIP as broken:
        raise UnreadableFile("a zip file that is broken, or no package of this program") from broken
    return PackageCounts(boats=boats, setups=setups, runs=runs, parts=parts)


def _check(archive: zipfile.ZipFile) -> None:
    if sum(member.file_size for member in archive.infolist()) > MOST_BYTES:
        raise FileTooLarge(f"more than {MOST_BYTES // 2**30} GiB when unpacked")
    if MANIFEST not in archive.namelist():
        raise UnreadableFile(f"no package: there is no {MANIFEST} in it")
    try:
        manifest = json.loads(_member(archive, MANIFEST))
    except (ValueError, RecursionError) as broken:
        raise UnreadableFile(f"{MANIFEST} is not JSON") from broken
    said = manifest.get("kunstflug") if isinstance(manifest, dict) else None
    if not isinstance(said, dict) or said.get("version") != 1:
        raise UnreadableFile("a package of something else, or of a newer program")


def _member(archive: zipfile.ZipFile, name: str) -> bytes:
    with archive.open(name) as file:
        content = file.read(MOST_MEMBER + 1)
    if len(content) > MOST_MEMBER:
        raise FileTooLarge(f"{name} is larger than {MOST_MEMBER // 1048576} MiB")
    return content


def _boats(archive: zipfile.ZipFile, names: list[str]) -> Iterator[tuple[str, BoatDocument]]:
    there = set(archive.namelist())
    for name in names:
        try:
            raw = json.loads(_member(archive, name))
        except (ValueError, RecursionError) as broken:
            raise UnreadableFile(f"{name} is not JSON") from broken
        document = parsed_boat(raw)
        runs = []
        for run in document.runs:
            found = {"track": f"tracks/{run.key}.gpx", "log": f"logs/{run.key}.csv"}
            read = {key: _member(archive, path).decode() for key, path in found.items() if path in there}
            picture = f"pictures/{run.key}.jpg"
            if picture in there:
                read["picture"] = base64.b64encode(_member(archive, picture)).decode()
            runs.append(run.model_copy(update=read))
        yield name, document.model_copy(update={"runs": runs})
