"""What a bench instrument says, and how it goes on a part."""

from collections.abc import Mapping

from kunstflug.core.bench import instruments
from kunstflug.core.quantity.errors import InvalidValue, NotFound
from kunstflug.core.quantity.fields import QuantitySpec
from kunstflug.core.quantity.value import Source, Value
from kunstflug.documents.quantity import quantity_of
from kunstflug.documents.setup import parsed_part, part_of, spec_of, stored_part
from kunstflug.services.shared.rows import owned, racer_of
from kunstflug.services.shared.stock import dumped
from kunstflug.services.shared.views import MeasuredResult, PartView
from kunstflug.services.shelf.shelf import one_view
from kunstflug.store.database import Store, retried
from kunstflug.store.tables import PartRow


def measure(key: str, readings: Mapping[str, float], spreads: Mapping[str, float]) -> MeasuredResult:
    """What an instrument says.

    Raises
    ------
    NotFound : no such instrument.
    InvalidValue : readings that cannot be.
    """
    instrument = instruments.BY_KEY.get(key)
    if instrument is None:
        raise NotFound("instrument", key)
    found = instruments.measure(instrument, readings, spreads)
    return MeasuredResult(value=found.value, sd=found.sd, widest=found.widest)


@retried
def write_measure(store: Store, part_id: int, path: str, value_si: float, sd: float) -> PartView:
    """Puts a measured value on a part, with where it comes from.

    Raises
    ------
    InvalidValue : a field that the part does not have, or a value out of its range.
    """
    kind, _, key = path.partition(".")
    with store.transaction() as session:
        row = owned(session, PartRow, part_id, racer_of(session), lock=True)
        spec = _quantity_spec(row.kind, path)
        spread = min(max(sd / abs(value_si), 0.0005), 1.0) if value_si else 0.03
        value = Value(value=value_si, source=Source.MEASURED, spread=round(spread, 5))
        quantity = quantity_of(value, spec.unit, spec.dimension)
        raw = {**dumped(stored_part(kind, row.document)), key: quantity.model_dump(mode="json", exclude_none=True)}
        if path == "propeller.pitch":
            raw.pop("pitch_ratio", None)
        document = parsed_part(kind, raw)
        part_of(kind, document)
        row.document = dumped(document)
        session.flush()
        return one_view(session, row)


def _quantity_spec(kind: str, path: str) -> QuantitySpec:
    """What a quantity of a part may be.

    Raises
    ------
    InvalidValue : the part has no such quantity.
    """
    try:
        spec = spec_of(path)
    except KeyError:
        spec = None
    if not path.startswith(f"{kind}.") or not isinstance(spec, QuantitySpec):
        raise InvalidValue("path", path, f"a quantity of a {kind}")
    return spec
