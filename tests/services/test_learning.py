"""Runs that were logged, typed or imported teach the boat that is forecast next."""

import datetime as dt
import re

import pytest
from sqlalchemy import select
from tests import samples
from tests.samples import q

from kunstflug.core.choose.steps import trial
from kunstflug.core.drive.family import parts_of
from kunstflug.core.drive.forecast import forecast
from kunstflug.core.drive.schools import USUAL
from kunstflug.core.drive.values import drive_values
from kunstflug.core.learning.told import told_duty
from kunstflug.core.quantity.errors import NotFound
from kunstflug.core.setup.knowledge import Owner
from kunstflug.core.thermal.duty import passes_duty
from kunstflug.core.thermal.run import run_duty
from kunstflug.documents.run import TypedRun
from kunstflug.documents.setup import setup_of
from kunstflug.services.boats import boats
from kunstflug.services.compare.knowledge import boat_knowledge
from kunstflug.services.learning import learning
from kunstflug.services.learning.learning import Lessons
from kunstflug.services.match import next_change
from kunstflug.services.match.match import forecast_of
from kunstflug.services.run import run
from kunstflug.services.shared.rows import document_of
from kunstflug.store.tables import ForecastRow, SetupRow
from kunstflug.wording.tongue import trimmed

DOCUMENT = samples.document()
BOUGHT = forecast_of(DOCUMENT, None).point


def typed(store, setup_id, speed_mps, *, hours=0, **more):
    at = dt.datetime(2026, 5, 1, 9) + dt.timedelta(hours=hours)
    made = run.type_run(store, setup_id, at)
    peak = {"speed": q(round(speed_mps * 3.6, 2), "km/h")}
    readings, usual = more.pop("readings", []), {"water": q(16, "degC"), "air": q(18, "degC"), "wind": q(0, "m/s")}
    words = TypedRun.model_validate({"peaks": [peak], **more})
    run.set_notes(store, made.id, usual, "", [], readings, made.tag, words)
    learning.forget(store)
    return made.id


@pytest.fixture
def boat(fresh_store):
    made = boats.new_boat(fresh_store, "Learner", DOCUMENT)
    return fresh_store, made


def asked(store, boat_id, document=DOCUMENT):
    return forecast_of(document, learning.knowledge_of(store, boat_id)).point


def test_three_peaks_off_a_display_make_the_fourth_forecast_wiser(boat):
    store, made = boat
    assert learning.knowledge_of(store, made.boat_id) is None
    slow = 0.93 * BOUGHT.speed_mps.value
    for k in range(3):
        typed(store, made.id, slow * 1.025, hours=48 * k)
    found = asked(store, made.boat_id)
    assert found.speed_mps.value == pytest.approx(slow, rel=0.02)
    assert found.speed_mps.high - found.speed_mps.low < 0.6 * (BOUGHT.speed_mps.high - BOUGHT.speed_mps.low)
    assert forecast_of(DOCUMENT, None).point == BOUGHT  # as bought is one switch away


def test_a_guess_that_runs_moved_says_what_it_was(boat):
    """It stood as learnt beside how it had been guessed, as if that were where it came from."""
    store, made = boat
    for k in range(3):
        typed(store, made.id, 0.93 * 1.025 * BOUGHT.speed_mps.value, hours=48 * k)
    bought = {guess.parameter: guess for guess in forecast_of(DOCUMENT, None).guesses}
    known = forecast_of(DOCUMENT, learning.knowledge_of(store, made.boat_id)).guesses
    moved = 0
    for guess in known:
        was = bought[guess.parameter]
        if abs(guess.value - was.value) > 0.01 * was.value:
            moved += 1
            assert re.fullmatch(rf"{re.escape(trimmed(was.value, 3))} ?\S* before the runs(: .+)?", guess.reason)
            assert guess.reason.endswith(was.reason)
        else:
            assert guess.reason == was.reason
    assert 3 <= moved < len(known)


def test_temperatures_count_and_set_aside_runs_do_not(boat):
    store, made = boat
    readings = [("motor front", q(55, "degC"), 1.5), ("motor back", q(57, "degC"), 1.6)]
    typed(store, made.id, BOUGHT.speed_mps.value, readings=readings)
    view = boat_knowledge(store, made.boat_id)
    labels = {r.label for r in view.judged[0].readings}
    assert labels == {"Top speed", "Motor"}
    aside = typed(store, made.id, 2 * BOUGHT.speed_mps.value, hours=48, set_aside=True)
    view = boat_knowledge(store, made.boat_id)
    assert view.runs == 1
    assert view.set_aside == [aside]


def test_the_first_runs_alone_teach_what_was_known_then(boat):
    store, made = boat
    slow = 0.93 * BOUGHT.speed_mps.value
    widths = []
    for k in range(3):
        typed(store, made.id, slow, hours=48 * k)
        point = asked(store, made.boat_id)
        widths.append(point.speed_mps.high - point.speed_mps.low)
    assert learning.knowledge_of(store, made.boat_id, Lessons(first=0)) is None
    assert learning.knowledge_of(store, made.boat_id, Lessons(learnt=False)) is None
    for k in (2, 1, 3, 9):  # to and fro, and past the end
        found = forecast_of(DOCUMENT, learning.knowledge_of(store, made.boat_id, Lessons(first=k)))
        assert found.known_runs == min(k, 3)
        now = found.point.speed_mps.high - found.point.speed_mps.low
        assert now == pytest.approx(widths[min(k, 3) - 1], rel=0.02)


def test_runs_are_set_aside_together_and_count_again(boat):
    store, made = boat
    ids = [typed(store, made.id, 0.93 * BOUGHT.speed_mps.value, hours=48 * k) for k in range(3)]
    taught = asked(store, made.boat_id)
    learning.set_aside(store, ids, True)
    view = boat_knowledge(store, made.boat_id)
    assert (view.runs, sorted(view.set_aside)) == (0, ids)
    assert asked(store, made.boat_id) == BOUGHT
    with pytest.raises(NotFound):
        learning.set_aside(store, [ids[0], 999_999], False)
    assert sorted(boat_knowledge(store, made.boat_id).set_aside) == ids  # all or none
    learning.set_aside(store, ids, False)
    assert asked(store, made.boat_id).speed_mps.value == pytest.approx(taught.speed_mps.value, rel=1e-3)


def test_a_nick_leaves_what_was_learnt_of_the_propellers_pitch(boat):
    store, made = boat
    for k in range(4):  # slower at the same rpm: less pitch than printed
        speed, rpm = 0.85 * BOUGHT.speed_mps.value, BOUGHT.rpm.value
        typed(store, made.id, speed, hours=48 * k, rpm=rpm, current_a=BOUGHT.current_a.value)
    found = []
    known = learning.knowledge_of(store, made.boat_id)
    for condition in ("as_cast", "nicked"):
        setup = setup_of(samples.document(propeller__condition=condition), known)
        found.append((dict(drive_values(setup))["pitch_factor"].value, forecast(setup, 0).point.speed_mps))
    (sound, sound_mps), (nicked, nicked_mps) = found
    assert sound < 0.99
    assert nicked == pytest.approx(sound, rel=1e-9)
    assert nicked_mps < 0.99 * sound_mps


def test_what_is_known_of_a_boat_is_shown_with_its_runs_and_changes(boat):
    store, made = boat
    base = BOUGHT.speed_mps.value
    for k in range(3):
        typed(store, made.id, 0.95 * base, hours=k)
    changed = samples.document(motor__kv=q(2400, "rpm/V"))
    faster = boats.adopt(store, made.id, changed, "more KV", {})
    for k in range(3):
        typed(store, faster.id, 1.04 * base, hours=k + 3 * 0.3)
    view = boat_knowledge(store, made.boat_id)
    assert (view.runs, view.runs_of_boat) == (6, 6)
    taught = [n for n in view.numbers if n.taught]
    assert taught
    assert all(n.before.low <= n.before.value <= n.before.high for n in view.numbers)
    assert view.numbers[0].narrowed == max(n.narrowed for n in view.numbers)
    (change,) = view.changes
    assert (change.before_id, change.after_id, change.things) == (made.id, faster.id, 1)
    assert change.ruling == "real"
    assert change.measured.low < 1.04 / 0.95 - 1 < change.measured.high
    assert change.forecast > 0
    assert {m.wanted for m in view.measure} == {"Top speed", "Motor"}
    assert [s.passes for s in view.seen] == sorted((s.passes for s in view.seen), reverse=True)
    for seen in view.seen:
        assert seen.chances == sorted(seen.chances)  # more passes show more
        enough = [2 + k for k, chance in enumerate(seen.chances) if chance >= 0.8]
        assert not enough or enough[0] == seen.passes


def test_a_run_that_does_not_fit_is_named_with_its_causes(boat):
    store, made = boat
    base = BOUGHT.speed_mps.value
    for k in range(5):
        typed(store, made.id, base, hours=48 * k)
    odd = typed(store, made.id, 1.3 * base, hours=400)
    view = boat_knowledge(store, made.boat_id)
    flagged = [r for r in view.judged if r.off is not None]
    assert [r.run_id for r in flagged] == [odd]
    assert flagged[0].causes


def test_a_page_that_is_opened_again_has_its_single_changes_at_once(boat):
    store, made = boat
    typed(store, made.id, 0.95 * BOUGHT.speed_mps.value)

    def tried():
        before = trial.cache_info().misses
        known = learning.knowledge_of(store, made.boat_id)
        steps = next_change.next_steps(store, DOCUMENT, passes_duty(3, 8, 40), USUAL, known).steps
        return steps, trial.cache_info().misses - before

    steps, first = tried()
    assert first > 20
    assert tried() == (steps, 0)
    typed(store, made.id, 0.9 * BOUGHT.speed_mps.value, hours=48)  # and anew when something new was learnt
    anew, again = tried()
    assert again > 20
    assert anew != steps


def test_a_part_of_the_shelf_is_the_same_in_another_boat(boat):
    store, made = boat
    for k in range(3):
        typed(
            store, made.id, BOUGHT.speed_mps.value, hours=k, current_a=1.2 * BOUGHT.current_a.value,
            rpm=0.97 * BOUGHT.rpm.value, voltage_v=BOUGHT.pack_voltage_v.value,
        )  # fmt: skip
    twin = boats.new_boat(store, "Twin", samples.document(hull={"hull_type": "outrigger", "length": q(700, "mm")}))
    there = learning.knowledge_of(store, twin.boat_id)
    assert (Owner.MOTOR, parts_of(setup_of(made.document))[Owner.MOTOR]) in there.parts


def test_the_setup_that_is_saved_keeps_the_state_of_knowledge(boat):
    store, made = boat
    typed(store, made.id, 0.9 * BOUGHT.speed_mps.value)
    saved = boats.adopt(store, made.id, samples.document(motor__kv=q(2100, "rpm/V")), "less KV", {})
    known = learning.knowledge_of(store, made.boat_id)
    with store.transaction() as session:
        row = session.scalars(select(ForecastRow).where(ForecastRow.setup_id == saved.id)).one()
        assert (row.result["known_runs"], row.result["knew"]) == (1, known.identity)
        assert row.speed_mps == forecast_of(saved.document, known).point.speed_mps.value
        bought = forecast_of(samples.document(motor__kv=q(2100, "rpm/V")), None).point.speed_mps.value
        assert row.speed_mps < 0.97 * bought


def test_a_run_saved_while_others_were_being_learnt_from_is_not_overlooked(boat, monkeypatch):
    store, made = boat
    typed(store, made.id, BOUGHT.speed_mps.value)
    learn = learning.learn

    def slowly(*args, **more):
        monkeypatch.setattr(learning, "learn", learn)
        typed(store, made.id, 0.9 * BOUGHT.speed_mps.value, hours=48)  # another request, meanwhile
        return learn(*args, **more)

    monkeypatch.setattr(learning, "learn", slowly)
    assert len(learning.learned_of(store)[1]) == 1
    assert not learning.fresh(store)
    assert len(learning.learned_of(store)[1]) == 2


def test_compare_sees_a_run_that_another_process_saved_a_moment_ago(boat):
    store, made = boat
    typed(store, made.id, BOUGHT.speed_mps.value)
    assert boat_knowledge(store, made.boat_id).runs_of_boat == 1
    run_of_another = run.type_run(store, made.id, dt.datetime(2026, 5, 9, 9))
    words = TypedRun.model_validate({"peaks": [{"speed": q(70, "km/h")}]})
    run.set_notes(store, run_of_another.id, {}, "", [], [], run_of_another.tag, words)
    assert boat_knowledge(store, made.boat_id).runs_of_boat == 2


def outing(store, made, used_mah, **said):
    """An outing off a display, with what the charger put back; what is then known of the current [A]."""
    made_run = typed(store, made.id, 1.025 * BOUGHT.speed_mps.value, mah_back=round(used_mah), **said)
    found = asked(store, made.boat_id).current_a.value
    learning.set_aside(store, [made_run], True)
    return found


def test_what_the_charger_put_back_says_little_where_nobody_counted_the_passes(boat):
    """Seven passes use three quarters more than the four that are usual; that is no current."""
    store, made = boat
    with store.transaction() as session:
        setup = setup_of(document_of(session.get(SetupRow, made.id)))
    used = 1000 * float(run_duty(setup, passes_duty(7, 6.0, 30.0)).used_ah[0, -1])
    bought = BOUGHT.current_a.value
    # 16 % too high when every outing was taken for four passes, give or take a tenth
    assert outing(store, made, used) == pytest.approx(bought, rel=0.06)
    assert outing(store, made, used, passes=7) == pytest.approx(bought, rel=0.03)
    assert outing(store, made, used, passes=7, minutes=4.5) == pytest.approx(bought, rel=0.03)
    # who counted is believed: so much in four passes is a thirsty boat
    assert outing(store, made, used, passes=4, minutes=2.6) > 1.1 * bought
    less = [outing(store, made, used / 7 * 4, **said) for said in ({}, {"passes": 7}, {"passes": 7, "minutes": 4.5})]
    assert less[0] > less[1] > less[2]


def test_the_duty_is_what_was_typed_of_it(boat):
    store, made = boat
    typed(store, made.id, 20.0, passes=5, minutes=4, held_s=7)
    (seen,) = learning.learned_of(store)[1]
    assert (seen.duty, seen.duty_from) == told_duty(5, 4, 7)
