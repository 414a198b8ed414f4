"""Every number of a forecast can be asked where it comes from, and what it names stands in the references."""

import re
from pathlib import Path

from kunstflug.core.drive.limits import LimitKey
from kunstflug.documents.forecast import PointOut
from kunstflug.documents.origins import origins
from kunstflug.wording.origins import LIMITS, OTHERS, POINT, SOURCES

REFERENCES = (Path(__file__).parents[2] / "docs" / "references.md").read_text()


def test_every_number_and_every_limit_has_an_origin():
    assert set(POINT) == set(PointOut.model_fields)
    assert set(LIMITS) == set(LimitKey)
    assert len({(one.of, one.key) for one in origins()}) == len(POINT) + len(LIMITS) + len(OTHERS)


def test_every_source_stands_in_the_references():
    keys = {key for row in re.findall(r"^\| ([^|]+) \|", REFERENCES, re.M) for key in row.split(", ")}
    used = {source for one in (*POINT.values(), *LIMITS.values(), *OTHERS.values()) for source in one.sources}
    assert used <= keys
    assert used == set(SOURCES)


def test_what_has_no_source_says_so_or_is_plain_arithmetic():
    for key, one in LIMITS.items():
        assert one.sources or "ractice" in one.weak or "usual" in one.weak, key


def test_each_is_said_in_whole_short_sentences():
    for one in (*POINT.values(), *LIMITS.values(), *OTHERS.values()):
        for words in filter(None, (one.how, one.weak, one.narrow)):
            assert words[0].isupper() or words[0].isdigit(), words
            assert words.endswith("."), words
            assert len(words) < 220, words


def test_what_stands_beside_the_forecast_names_its_screens_and_what_narrows_it_or_how_it_is_known():
    screens = {"aim", "match", "fit", "launch", "live", "run", "compare", "trim", "ponds", "shelf"}
    assert {mark for one in OTHERS.values() for mark in one.marks} == screens
    for name, one in OTHERS.items():
        assert one.marks, name
        assert one.narrow or one.sources, name


def test_what_a_button_of_the_page_asks_about_is_there():
    page = Path(__file__).parents[2] / "frontend" / "src"
    asked = {name for file in page.rglob("*.svelte") for name in re.findall(r'<Asks of="([^"]+)"', file.read_text())}
    assert asked >= {"run.gun", "compare.effect", "trim.cause", "launch.word", "aim.power", "fit.tub", "ponds.water"}
    assert asked <= set(OTHERS) | {f"point.{key}" for key in POINT}
