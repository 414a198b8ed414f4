"""Measure: bench instruments and finders."""

from typing import Annotated

from fastapi import Path

from kunstflug.core.bench import finders, instruments
from kunstflug.core.quantity.errors import NotFound
from kunstflug.documents.bench import (
    FinderFoundOut,
    FinderOut,
    InstrumentOut,
    finder_out,
    found_out,
    instrument_out,
)
from kunstflug.services.measure import measure
from kunstflug.services.shared import views
from kunstflug.web import schemas
from kunstflug.web.api.deps import TongueOf, routes_of

router = routes_of("measure")

Key = Annotated[str, Path(max_length=60)]


@router.get("/instruments")
def get_instruments() -> list[InstrumentOut]:
    """The bench instruments."""
    return [instrument_out(i) for i in instruments.INSTRUMENTS]


@router.post("/instruments/{key}")
def use_instrument(key: Key, body: schemas.MeasureIn) -> views.MeasuredResult:
    """What an instrument says of some readings."""
    return measure.measure(key, body.readings, body.spreads)


@router.get("/finders")
def get_finders() -> list[FinderOut]:
    """The finders."""
    return [finder_out(f) for f in finders.FINDERS]


@router.post("/finders/{key}")
def use_finder(key: Key, body: schemas.MeasureIn, tongue: TongueOf) -> list[FinderFoundOut]:
    """What a finder finds, best first."""
    finder = finders.BY_KEY.get(key)
    if finder is None:
        raise NotFound("finder", key)
    return [found_out(f, tongue) for f in finders.find(finder, body.readings)]
