"""The shelf: parts with their state and life, compared in a boat, as CSV, and measured on the bench."""

import csv
import io
import math
from collections.abc import Mapping
from datetime import UTC, datetime
from typing import Any, Final

from pydantic import ValidationError
from sqlalchemy import func, select
from sqlalchemy.orm import Session

from kunstflug.core import bench
from kunstflug.core.drive.duty import Duty, run_duty
from kunstflug.core.drive.forecast import forecast
from kunstflug.core.drive.heat_forecast import with_magnets_c
from kunstflug.core.drive.schools import Schools
from kunstflug.core.errors import InvalidValue, NotFound, UnreadableFile
from kunstflug.core.fit.joints import Fit, joints
from kunstflug.core.units import Dimension, number_in
from kunstflug.core.values import Source, field_key, fields_of
from kunstflug.formats.circuit_document import CircuitIn
from kunstflug.formats.setup_document import MODELS, SHELF_PARTS, field_table, part_of, quantity_for, setup_of
from kunstflug.services.changes import Change, change_document, part_name
from kunstflug.services.fit import cooling_of
from kunstflug.services.rows import local_racer, owned
from kunstflug.services.views import (
    STATES,
    CandidateView,
    EventView,
    MeasuredResult,
    ShelfPartView,
)
from kunstflug.store.database import Store
from kunstflug.store.tables import Boat, PartEventRow, PartRow, RunRow, SetupPart, SetupRow, TrackRow

SERVICE_EVERY: Final = {"shaft": 5, "bearing": 15, "motor": 20}
"""Runs after which a part wants a look: flex shafts are pulled every five or six (common practice, no source)."""
SERVICE_WORDS: Final = {
    "shaft": "pull it, clean, look for broken strands, grease",
    "bearing": "spin it by hand, change what grinds",
    "motor": "bearings, magnets, screws",
}
EVENT_KINDS: Final = ("service", "damage", "repair", "died", "note")
GREASE_EACH: Final = ("shaft",)
MOST_COMPARED: Final = 6
MOST_ROWS: Final = 2000


def shelf(store: Store, kind: str | None = None, words: str = "") -> list[ShelfPartView]:
    """Parts with their lives, found by kind and by words or sizes."""
    with store.transaction() as session:
        owner = local_racer(session)
        query = select(PartRow).where(PartRow.owner_id == owner).order_by(PartRow.kind, PartRow.name)
        if kind:
            query = query.where(PartRow.kind == kind)
        lives, boats = _lives(session, owner), _boats_of(session, owner)
        views = [_view(row, lives.get(row.id, (0, 0.0)), boats.get(row.id, [])) for row in session.scalars(query)]
    wanted = words.lower().split()
    return [v for v in views if all(word in _haystack(v) for word in wanted)]


def _lives(session: Session, owner: int) -> dict[int, tuple[int, float]]:
    """Runs and hours of each part: those of all setups that it was in."""
    rows = session.execute(
        select(SetupPart.part_id, RunRow.id, TrackRow.summary)
        .join(RunRow, RunRow.setup_id == SetupPart.setup_id)
        .join(TrackRow, TrackRow.run_id == RunRow.id, isouter=True)
        .where(SetupPart.owner_id == owner)
    )
    lives: dict[int, tuple[int, float]] = {}
    for part_id, _, summary in rows:
        runs, hours = lives.get(part_id, (0, 0.0))
        lives[part_id] = (runs + 1, hours + (summary or {}).get("duration_s", 0.0) / 3600.0)
    return lives


def _boats_of(session: Session, owner: int) -> dict[int, list[str]]:
    """Boats whose newest setup holds a part."""
    newest = select(func.max(SetupRow.id)).where(SetupRow.owner_id == owner).group_by(SetupRow.boat_id)
    rows = session.execute(
        select(SetupPart.part_id, Boat.name)
        .join(SetupRow, SetupRow.id == SetupPart.setup_id)
        .join(Boat, Boat.id == SetupRow.boat_id)
        .where(SetupPart.setup_id.in_(newest))
    )
    found: dict[int, list[str]] = {}
    for part_id, name in rows:
        found.setdefault(part_id, []).append(name)
    return found


def _view(row: PartRow, life: tuple[int, float], boats: list[str]) -> ShelfPartView:
    runs, hours = life
    events = [EventView(id=e.id, kind=e.kind, words=e.words, happened_at=e.happened_at) for e in row.events]
    serviced = int(row.record.get("runs_at_service", 0))
    every = SERVICE_EVERY.get(row.kind)
    due = ""
    if every is not None and row.state in ("in use", "worn") and runs - serviced >= every:
        due = f"{runs - serviced} runs since the last look: {SERVICE_WORDS[row.kind]}"
    elif row.kind in GREASE_EACH and row.state == "in use" and runs > int(row.record.get("runs_at_grease", 0)):
        due = "grease it after the last run"
    return ShelfPartView(
        id=row.id,
        kind=row.kind,
        name=row.name,
        document=row.document,
        state=row.state,
        pieces=row.pieces,
        price=row.price,
        record=row.record,
        runs=runs,
        hours=round(hours, 2),
        due=due,
        boats=boats,
        events=events,
    )


def _haystack(view: ShelfPartView) -> str:
    words = [view.kind, view.name, view.state, *view.boats, str(view.record.get("note", ""))]
    for key, raw in view.document.items():
        if isinstance(raw, dict):
            words.append(f"{key.replace('_', ' ')} {raw['value']:g} {raw['unit']} {raw['value']:g}{raw['unit']}")
        elif raw is not None:
            words.append(f"{key.replace('_', ' ')} {raw}")
    return " ".join(words).lower()


def change_part(store: Store, part_id: int, given: Mapping[str, Any]) -> ShelfPartView:
    """A part with another state, price, number of pieces, note, or other sizes.

    Sizes of a part that a run refers to may still be measured better: setups keep the document they were made with.

    Raises
    ------
    InvalidValue : a state there is not, or a size out of range.
    """
    with store.transaction() as session:
        owner = local_racer(session)
        row = owned(session, PartRow, part_id, owner)
        state = given.get("state")
        if state is not None:
            if state not in STATES:
                raise InvalidValue("state", state, ", ".join(STATES))
            row.state = state
        for name in ("price", "pieces"):
            if name in given:
                setattr(row, name, given[name])
        if "document" in given:
            document = MODELS[row.kind].model_validate(given["document"])
            part_of(row.kind, document)
            name = part_name(row.kind, document)
            row.document = document.model_copy(update={"name": name}).model_dump(mode="json", exclude_none=True)
            row.name = name[:120]
        if "note" in given:
            row.record = {**row.record, "note": str(given["note"])[:1000]}
        session.flush()
        return _view(row, _lives(session, owner).get(row.id, (0, 0.0)), [])


def add_event(store: Store, part_id: int, kind: str, words: str, happened_at: datetime | None = None) -> ShelfPartView:
    """Something that happened to a part; a death sets its state, a service sets back what is due.

    Raises
    ------
    InvalidValue : a kind there is not, or no words.
    """
    if kind not in EVENT_KINDS:
        raise InvalidValue("kind", kind, ", ".join(EVENT_KINDS))
    if kind in ("damage", "died") and not words.strip():
        raise InvalidValue("words", "nothing", "how it happened: that is what the next part learns from")
    with store.transaction() as session:
        owner = local_racer(session)
        row = owned(session, PartRow, part_id, owner)
        when = (happened_at or datetime.now(UTC)).replace(tzinfo=None)
        row.events.append(PartEventRow(owner_id=owner, happened_at=when, kind=kind, words=words.strip()[:1000]))
        runs = _lives(session, owner).get(row.id, (0, 0.0))[0]
        if kind == "died":
            row.state, row.record = "dead", {**row.record, "died_of": words.strip()[:1000]}
        elif kind == "service":
            row.record = {**row.record, "runs_at_service": runs, "runs_at_grease": runs}
        elif kind == "repair":
            row.state = "in use"
        session.flush()
        return _view(row, (runs, 0.0), [])


def remove_part(store: Store, part_id: int) -> None:
    """Takes a part off the shelf.

    Raises
    ------
    InvalidValue : a setup refers to it; its state can be dead or lost instead.
    """
    with store.transaction() as session:
        row = owned(session, PartRow, part_id, local_racer(session))
        used = session.scalar(select(func.count()).select_from(SetupPart).where(SetupPart.part_id == row.id))
        if used:
            raise InvalidValue(
                "part", f"in {used} setups", "parts that no setup refers to; call it dead or lost instead"
            )
        session.delete(row)


def compare(
    store: Store, document: Any, part_ids: list[int], duty: Duty, schools: Schools, circuit: CircuitIn | None = None
) -> list[CandidateView]:
    """Up to six parts, each in this boat with its water: forecast, heat, margins, mass, fit and price side by side.

    Raises
    ------
    InvalidValue : more than six, or a part that is no part of a drive.
    """
    if not 1 <= len(part_ids) <= MOST_COMPARED:
        raise InvalidValue("parts", len(part_ids), f"1 to {MOST_COMPARED}")
    with store.transaction() as session:
        owner = local_racer(session)
        rows = [owned(session, PartRow, part_id, owner) for part_id in part_ids]
        picked = [(r.id, r.kind, r.name, r.document, r.price) for r in rows]
    return [_candidate(document, *part, duty=duty, schools=schools, circuit=circuit) for part in picked]


def _candidate(
    document: Any,
    part_id: int,
    kind: str,
    name: str,
    raw: dict[str, Any],
    price: float | None,
    *,
    duty: Duty,
    schools: Schools,
    circuit: CircuitIn | None,
) -> CandidateView:
    if kind not in type(document).model_fields:
        raise InvalidValue("kind", kind, "a part of the drive")
    try:
        changed, notes = change_document(document, [Change(path=kind, value=raw)])
        setup = setup_of(changed)
    except InvalidValue as error:
        return CandidateView(part_id=part_id, kind=kind, name=name, price=price, refusal=str(error))
    f = forecast(setup, 60, schools)
    if not f.runs:
        return CandidateView(part_id=part_id, kind=kind, name=name, price=price, refusal=f.refusal)
    run = run_duty(setup, duty, step_s=0.1, stride=3, cooling=cooling_of(setup, circuit, f.point))
    peaks = with_magnets_c(setup, run.temperature_c[0]).max(axis=0)
    worst = max(f.margins, key=lambda m: m.use)
    found = joints(setup, float(f.point.rpm), float(f.point.current_a), setup_of(document))
    trouble = [f"{j.title}: {j.sentence}" for j in found if j.fit is Fit.CLASHES]
    trouble += [f"{j.title}: {j.remedy or j.sentence}" for j in found if j.fit is Fit.NEEDS]
    return CandidateView(
        part_id=part_id,
        kind=kind,
        name=name,
        price=price,
        speed_mps=float(f.point.speed_mps),
        low_mps=float(f.low.speed_mps),
        high_mps=float(f.high.speed_mps),
        current_a=float(f.point.current_a),
        rpm=float(f.point.rpm),
        case_c=float(peaks[1]),
        controller_c=float(peaks[2]),
        mass_kg=setup.all_up_mass_kg.value,
        verdict=f.verdict,
        use=worst.use,
        tightest=worst.title,
        fit_problems=trouble,
        notes=notes,
    )


# CSV

_FIXED: Final = ("kind", "name", "state", "pieces", "price", "note")


def csv_header() -> list[str]:
    """Columns of the shelf's CSV: the fixed ones, then every field of every kind as ``kind.field [unit]``."""
    columns = list(_FIXED)
    for row in field_table():
        if row["part"] in SHELF_PARTS:
            unit = f" [{row['unit']}]" if row["type"] == "quantity" else ""
            columns.append(f"{row['part']}.{row['key']}{unit}")
    return columns


def to_csv(store: Store) -> str:
    """The whole shelf as CSV, UTF-8, one line a part; quantities in the unit of their column."""
    out = io.StringIO()
    writer = csv.DictWriter(out, csv_header(), lineterminator="\r\n")
    writer.writeheader()
    table = {(r["part"], r["key"]): r for r in field_table()}
    for view in shelf(store):
        line: dict[str, Any] = {
            "kind": view.kind,
            "name": view.name,
            "state": view.state,
            "pieces": view.pieces,
            "price": "" if view.price is None else view.price,
            "note": view.record.get("note", ""),
        }
        for key, raw in view.document.items():
            row = table.get((view.kind, key))
            if row is None:
                continue
            if row["type"] == "quantity":
                si = MODELS[view.kind].model_validate(view.document)
                value = getattr(part_of(view.kind, si), _core_name(view.kind, key))
                number = number_in(value.value, row["unit"], Dimension(row["dimension"]))
                line[f"{view.kind}.{key} [{row['unit']}]"] = f"{number:.6g}"
            else:
                line[f"{view.kind}.{key}"] = raw
        writer.writerow(line)
    return out.getvalue()


def _core_name(kind: str, key: str) -> str:
    return next(name for name, spec in fields_of(SHELF_PARTS[kind]) if field_key(name, spec) == key)


def from_csv(store: Store, text: str) -> list[ShelfPartView]:
    """Parts of a CSV put on the shelf: all of them, or none and the line that is wrong.

    Raises
    ------
    UnreadableFile : a column that is not known, or a line that is no part.
    """
    reader = csv.DictReader(io.StringIO(text.lstrip("\ufeff")))
    header, known = reader.fieldnames or [], set(csv_header())
    unknown = [c for c in header if c not in known]
    if "kind" not in header or unknown:
        raise UnreadableFile(f"unknown column {unknown[0]!r}" if unknown else "no column 'kind'", 1)
    made: list[tuple[dict[str, str], dict[str, Any]]] = []
    for number, line in enumerate(reader, 2):
        if number > MOST_ROWS + 1:
            raise UnreadableFile(f"more than {MOST_ROWS} parts", number)
        made.append((line, _document_of(line, number)))
    ids = []
    with store.transaction() as session:
        owner = local_racer(session)
        for line, document in made:
            price = (line.get("price") or "").strip()
            row = PartRow(
                owner_id=owner,
                kind=line["kind"].strip(),
                name=document["name"][:120],
                document=document,
                state=(line.get("state") or "").strip() or "in use",
                pieces=int(line.get("pieces") or 1),
                price=float(price) if price else None,
                record={"note": (line.get("note") or "")[:1000]},
            )
            session.add(row)
            session.flush()
            ids.append(row.id)
    return [v for v in shelf(store) if v.id in set(ids)]


def _document_of(line: dict[str, str], number: int) -> dict[str, Any]:
    kind = (line.get("kind") or "").strip()
    if kind not in SHELF_PARTS:
        raise UnreadableFile(f"kind is {kind!r}; allowed are {', '.join(SHELF_PARTS)}", number)
    raw: dict[str, Any] = {"name": (line.get("name") or "").strip()}
    for row in field_table():
        if row["part"] != kind:
            continue
        unit = f" [{row['unit']}]" if row["type"] == "quantity" else ""
        text = (line.get(f"{kind}.{row['key']}{unit}") or "").strip()
        if text:
            raw[row["key"]] = _cell(row, text, number)
    try:
        document = MODELS[kind].model_validate(raw)
        part_of(kind, document)
        if (line.get("state") or "in use").strip() not in STATES:
            raise InvalidValue("state", line["state"], ", ".join(STATES))
        if not 0 <= float(line.get("price") or 0) <= 1e6 or not 0 <= int(line.get("pieces") or 1) <= 1000:
            raise InvalidValue("price", line.get("price"), "0 to 1 000 000, and 0 to 1000 pieces")
    except ValidationError as error:
        first = error.errors()[0]
        where = ".".join(str(p) for p in first["loc"])
        raise UnreadableFile(f"{kind}.{where}: {first['msg']}", number) from error
    except (ValueError, InvalidValue) as error:
        raise UnreadableFile(str(error).splitlines()[0], number) from error
    named = document.model_copy(update={"name": part_name(kind, document)})
    dumped: dict[str, Any] = named.model_dump(mode="json", exclude_none=True)
    return dumped


def _cell(row: dict[str, Any], text: str, number: int) -> Any:
    if row["type"] == "choice":
        return text
    try:
        value = float(text.replace(",", "."))
    except ValueError as error:
        raise UnreadableFile(f"{row['part']}.{row['key']} is {text!r}, not a number", number) from error
    if not math.isfinite(value):
        raise UnreadableFile(f"{row['part']}.{row['key']} is {text!r}, not a number", number)
    return int(value) if row["type"] == "count" else {"value": value, "unit": row["unit"], "source": "typed"}


# bench


def measure(key: str, readings: Mapping[str, float], spreads: Mapping[str, float]) -> MeasuredResult:
    """What an instrument says.

    Raises
    ------
    NotFound : no such instrument.
    InvalidValue : readings that cannot be.
    """
    instrument = bench.BY_KEY.get(key)
    if instrument is None:
        raise NotFound("instrument", key)
    found = bench.measure(instrument, readings, spreads)
    return MeasuredResult(value=found.value, sd=found.sd, widest=found.widest)


def write_measure(store: Store, part_id: int, path: str, value_si: float, sd: float) -> ShelfPartView:
    """Puts a measured value on a part, with where it comes from.

    Raises
    ------
    InvalidValue : a field that the part does not have, or a value out of its range.
    """
    kind, _, key = path.partition(".")
    with store.transaction() as session:
        owner = local_racer(session)
        row = owned(session, PartRow, part_id, owner)
        field = next((r for r in field_table() if r["part"] == row.kind and r["key"] == key), None)
        if row.kind != kind or field is None or field["type"] != "quantity":
            raise InvalidValue("path", path, f"a quantity of a {row.kind}")
        spread = min(max(sd / abs(value_si), 0.0005), 1.0) if value_si else 0.03
        dimension = Dimension(field["dimension"])
        quantity = quantity_for(value_si, field["unit"], dimension, Source.MEASURED, round(spread, 5))
        raw = {**row.document, key: quantity.model_dump(mode="json", exclude_none=True)}
        if path == "propeller.pitch":
            raw.pop("pitch_ratio", None)
        document = MODELS[kind].model_validate(raw)
        part_of(kind, document)
        row.document = document.model_dump(mode="json", exclude_none=True)
        session.flush()
        return _view(row, _lives(session, owner).get(row.id, (0, 0.0)), [])
