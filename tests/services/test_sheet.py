"""A boat on one page and a run in a picture: read back by another library, the same numbers, and no place."""

import io
import re

import numpy as np
import pypdfium2
import pytest
from PIL import Image
from tests import samples
from tests.samples import q

from kunstflug.core.quantity.errors import NotFound
from kunstflug.files.sheet import PICTURE, Block, Sheet, write_sheet
from kunstflug.pond import Weather
from kunstflug.services.boats import boats, sheet
from kunstflug.services.learning import learning
from kunstflug.services.match.match import forecast_of
from kunstflug.services.run import run, simulated
from kunstflug.wording import METRIC, Tongue, Units


@pytest.fixture(scope="module")
def boat(store):
    made = boats.new_boat(store, "Möwe & <Söhne>", samples.document(motor__resistance=q(12, "mohm")))
    for seed in (1, 2):
        simulated.simulate(store, made.id, seed, 3, Weather())
    learning.forget(store)
    return made


def read(data):
    """Pages and words of a PDF, by PDFium."""
    document = pypdfium2.PdfDocument(data)
    words = " ".join(page.get_textpage().get_text_range() for page in document)
    size = document[0].get_size()
    return len(document), re.sub(r"\s+", " ", words), size


def test_the_sheet_is_one_page_of_a4_with_the_numbers_of_the_screen(store, boat):
    pages, words, size = read(sheet.sheet(store, boat.id))
    assert pages == 1
    assert size == pytest.approx((595.28, 841.89), abs=0.01)  # ISO 216: 210 x 297 mm
    found = forecast_of(boat.document, learning.knowledge_of(store, boat.boat_id))
    point = found.point
    for said in (
        "Möwe & <Söhne>", METRIC.speed(point.speed_mps.value), METRIC.speed(point.speed_mps.low),
        METRIC.current(point.current_a.value), METRIC.rpm(point.rpm.value), "2 runs count", "2200 rpm/V", "12 mΩ",
    ):  # fmt: skip
        assert re.sub(r"\s+", " ", said) in words, (said, words)
    for margin in found.margins:
        assert margin.title in words
    assert "Propellers are sharp" in words
    assert words.count("km/h") >= 5  # headline, band, both runs


def test_it_is_written_in_the_racers_units(store, boat):
    _, words, _ = read(sheet.sheet(store, boat.id, Tongue(units=Units.IMPERIAL)))
    assert "mph" in words
    assert "km/h" not in words


@pytest.mark.parametrize("rows", [0, 1, 30, 200])
def test_it_stays_one_page_however_much_is_said(rows):
    many = [Block(heading="Much", rows=[(f"field {k}", "a value of some length " * 2) for k in range(rows)])]
    page = Sheet(
        title="x" * 80, under="u", headline="80 km/h", band="band", verdict="holds", left=many, right=many * 2,
        cautions=["Take care of everything. " * 20], foot="foot",
    )  # fmt: skip
    pages, words, _ = read(write_sheet(page))
    assert pages == 1
    assert rows == 0 or f"field {rows - 1}" in words
    assert "Take care" in words


def test_neither_tells_where_it_was(store, boat):
    _, words, _ = read(sheet.sheet(store, boat.id))
    assert not re.search(r"\d\.\d{4,}|°[NS]\b", words)  # no degrees of latitude
    item = run.runs(store, boat.boat_id).items[0]
    image = sheet.picture(store, item.id)
    shown = Image.open(io.BytesIO(image))
    assert not shown.getexif()
    assert set(shown.info) <= {"dpi", "srgb", "gamma"}


def test_the_picture_shows_the_run_and_its_shape_only_where_that_is_wanted(store, boat):
    item = run.runs(store, boat.boat_id).items[0]
    plain, shaped = (Image.open(io.BytesIO(sheet.picture(store, item.id, shape=s))) for s in (False, True))
    assert plain.size == shaped.size == PICTURE
    assert plain.format == "PNG"

    def drawn(image, box):
        part = np.asarray(image.convert("L").crop(box))
        return (part < 100).mean()

    right = (PICTURE[0] * 2 // 3 + 20, 170, PICTURE[0] - 45, PICTURE[1] - 85)
    assert drawn(plain, (80, 165, PICTURE[0] - 45, PICTURE[1] - 85)) > 0.003  # a line from end to end
    assert drawn(shaped, right) > 0.001
    assert sheet.picture(store, item.id) == sheet.picture(store, item.id)


def test_what_is_not_there_is_not_found(store, boat):
    with pytest.raises(NotFound):
        sheet.sheet(store, 10**6)
    with pytest.raises(NotFound):
        sheet.picture(store, 10**6)
