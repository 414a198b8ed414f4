"""The logbook: outings cut by hours, filters, the season, damage that stays open until it is mended."""

from datetime import datetime, timedelta

import pytest
from tests import samples
from tests.files import makers
from tests.files.test_readers import pond
from tests.samples import q

from kunstflug.core.bench.stopped import Sign, Suspect
from kunstflug.core.quantity.errors import InvalidValue, NotFound
from kunstflug.documents.run import StoppedIn, SwapIn, TypedRun
from kunstflug.documents.stopped import stopped_out
from kunstflug.services.bin import bin
from kunstflug.services.boats import boats
from kunstflug.services.logbook import logbook
from kunstflug.services.run import run

NOON = datetime(2026, 5, 3, 12, 0)


@pytest.fixture
def two(fresh_store):
    """Setups of two boats."""
    return [boats.new_boat(fresh_store, name, samples.document()) for name in ("Reader", "Other")]


def typed(store, setup, when, observations=(), conditions=None, **fields):
    made = run.type_run(store, setup.id, when)
    written = run.set_notes(
        store, made.id, conditions or {}, fields.pop("note", ""), list(observations), [], made.tag,
        TypedRun.model_validate(fields),
    )  # fmt: skip
    return written.id


def peak(kmh):
    return [{"speed": {"value": kmh, "unit": "km/h", "source": "measured"}}]


def test_runs_of_a_day_are_one_outing_with_its_conditions(fresh_store, two):
    cold = {"water": q(14, "degC"), "wind": q(3, "m/s")}
    typed(fresh_store, two[0], NOON, conditions=cold)
    typed(fresh_store, two[1], NOON + timedelta(hours=3), conditions={"water": q(16, "degC")})
    typed(fresh_store, two[0], NOON + timedelta(hours=6))
    typed(fresh_store, two[0], NOON + timedelta(days=7))
    found = logbook.logbook(fresh_store)
    assert [len(o.runs) for o in found.outings] == [1, 3]
    first = found.outings[1]
    assert [r.boat for r in first.runs] == ["Reader", "Other", "Reader"]
    assert (first.water_c, first.wind_mps, first.air_c) == (14.0, 3.0, None)
    assert len(found.season) == 4


def test_a_run_that_is_typed_in_has_the_conditions_of_its_outing(fresh_store, two):
    cold = {"water": q(14, "degC"), "wind": q(3, "m/s")}
    typed(fresh_store, two[0], NOON, conditions=cold)
    assert run.type_run(fresh_store, two[1].id, NOON + timedelta(hours=2)).conditions == cold
    assert run.type_run(fresh_store, two[1].id, NOON + timedelta(hours=9)).conditions == {}
    assert run.type_run(fresh_store, two[1].id, NOON - timedelta(hours=1)).conditions == {}


def test_pages_join_without_a_hole(fresh_store, two):
    ids = [typed(fresh_store, two[0], NOON + timedelta(minutes=5 * k)) for k in range(7)]
    typed(fresh_store, two[0], NOON - timedelta(hours=9))
    seen, before, goes_on = [], None, []
    while True:
        page = logbook.logbook(fresh_store, before, limit=3)
        goes_on.append(page.goes_on)
        seen += [r.id for o in page.outings for r in o.runs]
        before = page.next
        if before is None:
            break
    assert seen[:-1] == ids[::-1]
    assert goes_on == [False, True, True]


def test_words_and_filters(fresh_store, two):
    plain = typed(fresh_store, two[0], NOON, note="calm evening", peaks=peak(60))
    hit = typed(fresh_store, two[1], NOON, observations=["porpoises"], damage=["propeller nicked"])
    dead = typed(fresh_store, two[1], NOON, stopped={"signs": ["dead"], "found": "leads", "cure": "new plug"})
    track = run.import_track(fresh_store, two[0].id, makers.gpx10(pond()), "a.gpx", accept_damage=False).id

    def ids(**kwargs):
        return {r.id for o in logbook.logbook(fresh_store, **kwargs).outings for r in o.runs}

    assert ids(words="evening") == {plain}
    assert ids(words="other porp") == {hit}
    assert ids(words="100%") == set()
    assert ids(boat_id=two[0].boat_id) == {plain, track}
    assert ids(only="damage") == {hit}
    assert ids(only="stopped") == {dead}
    assert ids(only="track") == {track}
    with pytest.raises(InvalidValue):
        logbook.logbook(fresh_store, only="all")
    stopped = [r.stopped for o in logbook.logbook(fresh_store, only="stopped").outings for r in o.runs]
    assert stopped == ["stopped: plugs and leads; new plug"]


def test_damage_is_open_until_it_is_mended(fresh_store, two):
    made = typed(fresh_store, two[0], NOON, peaks=peak(70), damage=["propeller nicked", "rudder damaged"])
    boat = two[0].boat_id
    assert logbook.open_damage(fresh_store, boat) == ["propeller nicked", "rudder damaged"]
    logbook.mend(fresh_store, made, "propeller nicked")
    assert logbook.open_damage(fresh_store, boat) == ["rudder damaged"]
    found = logbook.logbook(fresh_store)
    (here,) = [b for b in found.boats if b.boat_id == boat]
    assert (here.open, here.runs, here.best_run_id) == (["rudder damaged"], 1, made)
    assert [s.broke for s in found.season] == [True]
    logbook.mend(fresh_store, made, "propeller nicked", mended=False)
    assert logbook.open_damage(fresh_store, boat) == ["propeller nicked", "rudder damaged"]
    with pytest.raises(InvalidValue):
        logbook.mend(fresh_store, made, "flex broke")
    with pytest.raises(NotFound):
        logbook.mend(fresh_store, 999_999, "flex broke")


def test_what_lies_in_the_bin_is_not_in_the_book(fresh_store, two):
    made = typed(fresh_store, two[0], NOON, damage=["rudder damaged"])
    bin.take_out(fresh_store, "run", made)
    found = logbook.logbook(fresh_store)
    assert (found.outings, found.season, found.boats[0].open) == ([], [], [])


def test_what_to_swap_next_is_said():
    first = stopped_out(StoppedIn(signs=[Sign.DEAD]))
    assert first.next is Suspect.LEADS
    assert first.words.startswith("Pull at every plug")
    done = stopped_out(StoppedIn(signs=[Sign.DEAD], swaps=[SwapIn(part=Suspect.PACK, runs=True)]))
    assert done.next is None
    assert done.words == "It is as good as sure: pack."
    assert "propeller off" in done.caution
