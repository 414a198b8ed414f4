"""The advice on random boats, as the benchmark reads it: no wall, nothing burnt above another, back within limits."""

from collections import defaultdict
from itertools import islice

import pytest
from tests import samples
from tests.benchmarks.advice import DUTY, documents, read
from tests.samples import q

from kunstflug.core.choose.outings import MOST_PASSES
from kunstflug.core.choose.steps import Intent
from kunstflug.core.drive.schools import USUAL, Schools
from kunstflug.core.drive.verdict import Verdict
from kunstflug.core.learning.attribution import passes_needed
from kunstflug.core.quantity.progress import unheard
from kunstflug.core.thermal.heat_forecast import heat_forecast
from kunstflug.documents.setup import setup_of
from kunstflug.services.boats import boats
from kunstflug.services.compare import knowledge
from kunstflug.services.match import match, next_change, search
from kunstflug.services.match.tried_changes import Bench
from kunstflug.services.run import run
from kunstflug.services.shared.changes import Change, change_document


def test_what_must_hold_of_every_list_holds_on_random_boats():
    counts = defaultdict(int)
    for document in islice(documents(19), 8):
        read(document, counts)
    assert counts["boats"] == 8
    assert counts["past a wall"] == counts["a burnt one above another"] == 0
    assert counts["broken"] >= 2
    assert counts["first three lower it"] == counts["broken"]
    assert counts["first does, where one can"] == counts["one change can"] > 0


def test_a_pair_is_offered_where_it_does_what_neither_does_alone():
    pairs = 0
    for document in islice(documents(7), 4):
        bench = Bench.of(document, None, DUTY, USUAL)
        every = bench.every([])
        for pair in (one for one in every if len(one.changes) == 2):
            pairs += 1
            assert len(pair.alone) == 2
            assert pair.changes[0].change.path.partition(".")[0] != pair.changes[1].change.path.partition(".")[0]
            alone = [one for change in pair.changes for one in every if one.changes == (change,)]
            assert any(pair.place(bench.now, i) < min(a.place(bench.now, i) for a in alone) for i in Intent)
    assert pairs


def test_a_hot_reading_of_the_newest_run_asks_for_cooler_first(fresh_store):
    document = samples.document(propeller__diameter=q(36, "mm"))
    boat = boats.new_boat(fresh_store, "Warm", document)

    def wanted():
        return next_change.next_steps(fresh_store, document, DUTY, USUAL, None, boat_id=boat.boat_id)

    assert wanted().wanted is Intent.FASTER
    assert wanted().outings[Intent.FASTER][0].do == ""  # it never ran as it is
    made = run.type_run(fresh_store, boat.id)
    run.set_notes(fresh_store, made.id, {}, "", [], [("motor front", q(80, "degC"), 0.5)], made.tag)
    hot = wanted()
    assert hot.wanted is Intent.WITHIN
    assert "motor case above its ceiling" in hot.said[Intent.WITHIN]
    assert hot.steps[0].case_gain_c < 0
    (first, *_) = hot.outings[Intent.WITHIN]
    assert first.do == f"{hot.steps[0].label} {hot.steps[0].text}"
    same = knowledge.repeats(fresh_store, boat.boat_id)
    part = hot.steps[0].gain_mps / (hot.steps[0].speed_mps - hot.steps[0].gain_mps)
    passes = passes_needed(abs(part), same)
    assert f"{passes} passes before" in first.teaches or passes > MOST_PASSES or hot.steps[0].then


@pytest.mark.parametrize("risk", [0.02, 0.1, 0.4])
def test_holds_means_at_most_the_risk_that_is_taken(risk):
    """In the forecast, in the heat, in what is tried and in a search alike."""
    schools = Schools(risk=risk)
    for document in islice(documents(3), 5):
        setup = setup_of(document)
        f, heat = match.forecast_of(document, None, schools), heat_forecast(setup, DUTY, schools)
        assert (f.verdict is Verdict.HOLDS) <= all(m.chance <= risk for m in f.margins)
        assert (heat.verdict is Verdict.HOLDS) <= (heat.chance <= risk)
        now = Bench.of(document, None, DUTY, schools).now
        assert now.holds == (f.verdict is Verdict.HOLDS and heat.verdict is Verdict.HOLDS)
        assert now.holds == (now.chance <= risk and now.over == 0) or now.chance > risk


def test_what_a_search_shows_is_what_match_says_of_it_in_sizes_that_are_sold():
    document = next(documents(5))
    found = search.search_ranges(document, USUAL, search.RangesIn(fineness=8, cells=True), None, unheard, duty=DUTY)
    assert len({row.words for row in found.found}) == len(found.found) > 2
    for row in found.found[:6]:
        changes = [
            Change(path=c.path, value=c.value.model_dump(exclude_none=True) if hasattr(c.value, "unit") else c.value)
            for c in row.changes
        ]
        made = change_document(document, changes).document
        now = Bench.of(made, None, DUTY, USUAL).now
        assert (row.verdict, row.chance) == (now.verdict, pytest.approx(now.chance, abs=0.03))
        assert row.speed_mps == pytest.approx(now.speed_mps, abs=1e-3)
        assert made.motor.kv.value % 50 == 0
        assert made.propeller.diameter.value == pytest.approx(round(made.propeller.diameter.value))
        if row.verdict is Verdict.HOLDS:
            assert row.chance <= USUAL.risk
    held = [row.verdict is Verdict.HOLDS for row in found.found]
    assert held == sorted(held, reverse=True)


def test_what_lies_at_the_end_of_what_was_searched_says_so():
    document = next(documents(5))
    found = search.search_ranges(document, USUAL, search.RangesIn(fineness=3), None, unheard)
    assert any(row.edges for row in found.found)
    low, high = 0.5 * document.motor.kv.value, 1.8 * document.motor.kv.value
    for row in found.found:
        (kv,) = (c.value.value for c in row.changes if c.path == "motor.kv")
        assert ("KV" in row.edges) == (min(abs(kv / low - 1), abs(kv / high - 1)) < 0.05)
