"""The shelf as CSV, both ways; the table is described in docs/shelf-csv.md."""

import csv
import io
import json
import math
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Any, Final

from sqlalchemy import select
from sqlalchemy.orm import Session, selectinload

from kunstflug.core.quantity.errors import FileTooLarge, InvalidDocument, InvalidValue, UnreadableFile
from kunstflug.core.quantity.facts import NumberBetween, OneOf
from kunstflug.core.quantity.fields import CountSpec, QuantitySpec, Spec, field_key, fields_of
from kunstflug.core.quantity.units import number_in
from kunstflug.core.quantity.value import Source
from kunstflug.documents.names import part_name
from kunstflug.documents.setup import SHELF_PARTS, parsed_part, part_of, stored_part
from kunstflug.documents.versions import choice_today, kind_today
from kunstflug.files.csv_table import CsvTable, read_table
from kunstflug.services.shared.rows import RequestKey, once, racer_of
from kunstflug.services.shared.stock import STATES, dumped
from kunstflug.services.shared.views import PartView
from kunstflug.services.shelf.shelf import EVENT_KINDS, MOST_EVENTS, shelf
from kunstflug.store.base import new_uid
from kunstflug.store.database import Store, retried
from kunstflug.store.tables import PartEventRow, PartRow
from kunstflug.wording import say_error

MOST_BYTES: Final = 16 * 1024 * 1024
MOST_ROWS: Final = 5000
_FIXED: Final = ("id", "kind", "name", "state", "pieces", "price", "note", "died of")
_LAST: Final = ("sources", "events")
# A spreadsheet takes a cell that begins so for a formula.
_FORMULA: Final = ("=", "+", "-", "@", "\t", "\r", "'")


@dataclass(frozen=True, slots=True, kw_only=True)
class CsvTaken:
    """What came of a CSV: parts that were added, changed, and there already as they are."""

    added: int
    changed: int
    same: int


def csv_header() -> list[str]:
    """Columns of the shelf's CSV: the fixed ones, each field as ``kind.field [unit]``, what is beside."""
    fields = [_column(kind, name, spec) for kind in SHELF_PARTS for name, spec in fields_of(SHELF_PARTS[kind])]
    return [*_FIXED, *fields, *_LAST]


def _column(kind: str, name: str, spec: Spec) -> str:
    unit = f" [{spec.unit}]" if isinstance(spec, QuantitySpec) else ""
    return f"{kind}.{field_key(name, spec)}{unit}"


def to_csv(store: Store) -> str:
    """The whole shelf as CSV, UTF-8, one line a part; quantities in the unit of their column."""
    uids = _uids(store)
    out = io.StringIO()
    writer = csv.DictWriter(out, csv_header(), lineterminator="\r\n")
    writer.writeheader()
    for view in shelf(store):
        writer.writerow(_line(view, uids.get(view.id, "")))
    return out.getvalue()


def _uids(store: Store) -> dict[int, str]:
    with store.transaction() as session:
        rows = session.execute(select(PartRow.id, PartRow.uid).where(PartRow.owner_id == racer_of(session)))
        return dict(rows.all())


def _line(view: PartView, uid: str) -> dict[str, Any]:
    line: dict[str, Any] = {
        "id": uid,
        "kind": view.kind,
        "name": safe(view.name),
        "state": view.state,
        "pieces": view.pieces,
        "price": "" if view.price is None else view.price,
        "note": safe(str(view.record.get("note", ""))),
        "died of": safe(str(view.record.get("died_of", ""))),
        "events": _events_text(view),
    }
    part = part_of(view.kind, stored_part(view.kind, view.document))
    sources: dict[str, list[Any]] = {}
    for name, spec in fields_of(SHELF_PARTS[view.kind]):
        key, column = field_key(name, spec), _column(view.kind, name, spec)
        raw = view.document.get(key)
        if raw is None:
            continue
        if not isinstance(spec, QuantitySpec):
            line[column] = raw
            continue
        line[column] = f"{number_in(getattr(part, name).value, spec.unit, spec.dimension):.10g}"
        if raw.get("source", "typed") != "typed" or raw.get("spread") is not None:
            sources[key] = [raw.get("source", "typed"), raw.get("spread")]
    line["sources"] = json.dumps(sources, sort_keys=True) if sources else ""
    return line


def _events_text(view: PartView) -> str:
    if not view.events:
        return ""
    events = [{"at": e.happened_at.isoformat(), "kind": e.kind, "words": e.words} for e in view.events]
    return json.dumps(events, ensure_ascii=False)


def safe(text: str) -> str:
    """Words as a cell that no spreadsheet takes for a formula."""
    return f"'{text}" if text.startswith(_FORMULA) else text


def _words(cell: str) -> str:
    """Words of a cell, as they were before ``safe``."""
    return cell[1:] if cell.startswith("'") and cell[1:].startswith(_FORMULA) else cell


@dataclass(frozen=True, slots=True, kw_only=True)
class _Part:
    """One line as a part."""

    uid: str
    kind: str
    document: dict[str, Any]
    state: str
    pieces: int
    price: float | None
    record: dict[str, Any]
    events: tuple[tuple[datetime, str, str], ...]


@retried
def from_csv(store: Store, data: bytes, request: RequestKey | None = None) -> CsvTaken:
    """Parts of a CSV put on the shelf: all of them, or none and the line that is wrong.

    A line with an ``id`` that is here already changes that part, or nothing where it says the same; a line without one
    is a part that is here already where one says the same to the letter.

    Raises
    ------
    UnreadableFile : a column that is not known, a line that is no part, or more than can be taken at once.
    """
    parts = _parts(data)
    taken = CsvTaken(added=0, changed=0, same=0)

    def make() -> int:
        nonlocal taken
        taken = _take(session, owner, parts)
        return len(parts)

    with store.transaction() as session:
        owner = racer_of(session)
        once(session, owner, request, make)
    return taken


def _parts(data: bytes) -> list[_Part]:
    if len(data) > MOST_BYTES:
        raise FileTooLarge(f"{len(data) / 1048576:.1f} MiB; at most {MOST_BYTES // 1048576} MiB are accepted")
    table = read_table(data)
    header, known = [h.strip() for h in table.header], set(csv_header())
    unknown = [c for c in header if c not in known]
    if "kind" not in header or unknown:
        raise UnreadableFile(f"unknown column {unknown[0][:60]!r}" if unknown else "no column 'kind'", 1)
    made: list[_Part] = []
    for number, cells in table.rows():
        if len(cells) > len(header):
            raise UnreadableFile(f"{len(cells)} cells, but {len(header)} columns", number)
        if len(made) >= MOST_ROWS:
            raise UnreadableFile(f"more than {MOST_ROWS} parts; nothing was taken. Cut the file in two", number)
        made.append(_part(dict(zip(header, cells, strict=False)), table, number))
    uids = [p.uid for p in made if p.uid]
    if len(uids) != len(set(uids)):
        twice = next(u for k, u in enumerate(uids) if u in uids[:k])
        raise UnreadableFile(f"the id {twice} stands on two lines", None)
    return made


def _take(session: Session, owner: int, parts: Sequence[_Part]) -> CsvTaken:
    rows = session.scalars(select(PartRow).where(PartRow.owner_id == owner).options(selectinload(PartRow.events))).all()
    by_uid = {row.uid: row for row in rows}
    by_content: dict[str, PartRow] = {_content(row.kind, _kept(row)): row for row in rows if row.deleted_at is None}
    added = changed = 0
    for part in parts:
        row = by_uid.get(part.uid) or (None if part.uid else by_content.get(_content(part.kind, part.document)))
        if row is None or row.kind != part.kind:
            uid = part.uid if part.uid and part.uid not in by_uid else new_uid()
            row = PartRow(owner_id=owner, uid=uid, kind=part.kind, record={}, events=[])
            session.add(row)
            added += 1
        elif part.uid and not _says(row, part):
            changed += 1
        else:
            continue
        _write(row, part, owner)
    session.flush()
    return CsvTaken(added=added, changed=changed, same=len(parts) - added - changed)


def _kept(row: PartRow) -> dict[str, Any]:
    return dumped(stored_part(row.kind, row.document))


def _content(kind: str, document: dict[str, Any]) -> str:
    return json.dumps([kind, document], sort_keys=True)


def _says(row: PartRow, part: _Part) -> bool:
    """Whether a row says all that a line says."""
    events = {(e.happened_at, e.kind, e.words) for e in row.events}
    return (
        row.deleted_at is None
        and _kept(row) == part.document
        and (row.state, row.pieces, row.price) == (part.state, part.pieces, part.price)
        and all(row.record.get(key, "") == value for key, value in part.record.items())
        and set(part.events) <= events
    )


def _write(row: PartRow, part: _Part, owner: int) -> None:
    row.deleted_at = None
    row.name, row.document = part.document["name"][:120], part.document
    row.state, row.pieces, row.price = part.state, part.pieces, part.price
    row.record = {**row.record, **{key: value for key, value in part.record.items() if value or key in row.record}}
    there = {(e.happened_at, e.kind, e.words) for e in row.events}
    for at, kind, words in part.events:
        if (at, kind, words) not in there:
            row.events.append(PartEventRow(owner_id=owner, happened_at=at, kind=kind, words=words))


def _part(line: dict[str, str], table: CsvTable, number: int) -> _Part:
    """The part of a line.

    Raises
    ------
    UnreadableFile : it is none.
    """
    kind = kind_today(line.get("kind", "").strip())
    if kind not in SHELF_PARTS:
        raise UnreadableFile(f"kind is {kind[:40]!r}; allowed are {', '.join(SHELF_PARTS)}", number)
    try:
        return _Part(
            uid=_uid(line),
            kind=kind,
            document=_document(kind, line, number),
            state=_state(line),
            pieces=int(_number(line, "pieces", 1, 0, 1000)),
            price=_number(line, "price", None, 0, 1e6),
            record={
                "note": _words(line.get("note", "").strip())[:1000],
                "died_of": _words(line.get("died of", ""))[:1000],
            },
            events=_events(line),
        )
    except InvalidDocument as error:
        raise UnreadableFile(say_error(error), number) from error
    except InvalidValue as error:
        raise UnreadableFile(say_error(error), number) from error


def _uid(line: dict[str, str]) -> str:
    uid = line.get("id", "").strip().lower()
    if uid and (len(uid) > 32 or not uid.isalnum()):
        raise InvalidValue("id", uid[:40], "letters and digits, 32 at most; leave it empty for a new part")
    return uid


def _state(line: dict[str, str]) -> str:
    state = line.get("state", "").strip() or "in use"
    if state not in STATES:
        raise InvalidValue("state", state[:40], OneOf(words=STATES))
    return state


def _number(line: dict[str, str], name: str, otherwise: float | None, low: float, high: float) -> Any:
    text = line.get(name, "").strip()
    if not text:
        return otherwise
    try:
        value = float(text.replace(",", "."))
    except ValueError:
        value = math.nan
    if not low <= value <= high:
        raise InvalidValue(name, repr(text[:40]), NumberBetween(low=low, high=high))
    return value


def _document(kind: str, line: dict[str, str], number: int) -> dict[str, Any]:
    raw: dict[str, Any] = {"name": _words(line.get("name", "").strip())[:120]}
    sources = _json(line, "sources", dict)
    for name, spec in fields_of(SHELF_PARTS[kind]):
        text = line.get(_column(kind, name, spec), "").strip()
        if text:
            key = field_key(name, spec)
            raw[key] = _cell(f"{kind}.{key}", spec, text, sources.get(key), number)
    document = parsed_part(kind, raw)
    part_of(kind, document)
    return dumped(document.model_copy(update={"name": part_name(kind, document)[:120]}))


def _cell(path: str, spec: Spec, text: str, source: Any, number: int) -> Any:
    if not isinstance(spec, QuantitySpec | CountSpec):
        return choice_today(*path.split(".", 1), text)  # type: ignore[call-arg]  # a kind and a field
    try:
        value = float(text.replace(",", "."))
    except ValueError:
        value = math.nan
    if not math.isfinite(value):
        raise UnreadableFile(f"{path} is {text[:40]!r}, not a number", number)
    if isinstance(spec, CountSpec):
        if value != int(value):
            raise UnreadableFile(f"{path} is {text[:40]!r}, not a whole number", number)
        return int(value)
    quantity = {"value": value, "unit": spec.unit, "source": "typed"}
    if isinstance(source, list) and len(source) == 2 and source[0] in tuple(Source):
        quantity |= {"source": source[0], "spread": source[1]}
    return quantity


def _json(line: dict[str, str], name: str, kind: type[Any]) -> Any:
    text = line.get(name, "").strip()
    if not text:
        return kind()
    try:
        found = json.loads(text)
    except ValueError as error:
        raise InvalidValue(name, text[:40], "what the program wrote there, or nothing") from error
    if not isinstance(found, kind):
        raise InvalidValue(name, text[:40], "what the program wrote there, or nothing")
    return found


def _events(line: dict[str, str]) -> tuple[tuple[datetime, str, str], ...]:
    found = []
    for event in _json(line, "events", list)[:MOST_EVENTS]:
        try:
            at, kind, words = datetime.fromisoformat(event["at"]), str(event["kind"]), str(event["words"])[:1000]
            at = at.astimezone(UTC).replace(tzinfo=None, microsecond=0)
        except (KeyError, TypeError, ValueError, OverflowError) as error:
            raise InvalidValue("events", str(event)[:60], "at, kind and words of each") from error
        if kind not in EVENT_KINDS:
            raise InvalidValue("events", kind[:40], OneOf(words=EVENT_KINDS))
        found.append((at, kind, words))
    return tuple(found)
