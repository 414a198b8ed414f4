"""Plan: heat, next step, map, wish, and what a boat is for."""

from itertools import islice

import pytest
from tests import samples
from tests.benchmarks.advice import documents
from tests.samples import q, refused
from tests.services.common import changed_of

from kunstflug.core.choose.backward import FreePart, Wish
from kunstflug.core.choose.class_rules import ClassLimits, Raced
from kunstflug.core.choose.steps import Intent
from kunstflug.core.choose.stock import Need
from kunstflug.core.drive.forecast import forecast
from kunstflug.core.drive.schools import USUAL, Schools, TemperatureSchool
from kunstflug.core.drive.verdict import ORDER, Verdict
from kunstflug.core.quantity.errors import NotFound
from kunstflug.core.thermal.duty import lap_race_duty, passes_duty
from kunstflug.documents.setup import setup_of
from kunstflug.services.aim import wish
from kunstflug.services.boats import boats
from kunstflug.services.match import match, next_change, plan
from kunstflug.services.match.tried_changes import Bench
from kunstflug.services.shared.changes import Change, change_document
from kunstflug.services.shared.rows import tag_of
from kunstflug.services.shelf import shelf

DUTY = passes_duty(4, 6, 25)


def test_heat_is_a_document_with_its_phases_and_limits():
    found = plan.heat(samples.document(), DUTY, USUAL, None)
    shown = ["winding", "case", "controller", "pack", "connector", "magnets", "junction"]
    assert [n.node for n in found.nodes] == shown
    assert len(found.time_s) == len(found.nodes[0].middle_c) <= 420
    assert [p.name for p in found.phases if p.full] == ["Pass 1", "Pass 2", "Pass 3", "Pass 4"]
    for node, limit in zip(found.nodes, found.limits, strict=True):
        assert node.node == limit.node
        assert all(low <= high for low, high in zip(node.low_c, node.high_c, strict=True))


def test_a_hotter_school_does_not_cool_the_boat():
    race = lap_race_duty(3)
    cautious = plan.heat(samples.document(), race, USUAL, None)
    hot = plan.heat(samples.document(), race, Schools(temperature=TemperatureSchool.HOT), None)
    assert [x.peak_c for x in cautious.limits] == [x.peak_c for x in hot.limits]
    assert all(a.ceiling_c < b.ceiling_c for a, b in zip(cautious.limits, hot.limits, strict=True))


def test_next_steps_are_ranked_and_each_is_one_change(store):
    boats.new_boat(store, "Teal", samples.document())
    part = shelf.add_part(store, "propeller", {"diameter": q(45, "mm"), "pitch_ratio": q(1.4, "1")})
    document = samples.document()
    now = match.forecast_of(document, None).point.speed_mps.value
    found = next_change.next_steps(store, document, DUTY, USUAL, None)
    steps = found.steps
    assert len(steps) > 10
    assert any(s.shelf_id == part.id for s in steps)
    assert [s.place[found.wanted] for s in steps] == list(range(len(steps)))
    for intent in Intent:
        assert sorted(s.place[intent] for s in steps) == list(range(len(steps)))
        assert found.said[intent]
        # the boat as it is, then one thing after the other, each a change of the list and of a part of its own
        plan_of = found.outings[intent]
        assert plan_of[0].do == ""
        assert 1 <= len(plan_of) <= 3
        named = {f"{s.label} {s.text}": s.path.partition(".")[0] for s in steps}
        parts = [named[one.do] for one in plan_of[1:]]
        assert len(set(parts)) == len(parts)
    # those that hold and are faster stand first where that is wanted, the fastest for what it costs to make first
    faster = sorted(steps, key=lambda s: s.place[Intent.FASTER])
    good = [s.verdict is Verdict.HOLDS and s.gain_mps > 0 for s in faster]
    assert good == sorted(good, reverse=True)
    assert all(s.chance <= USUAL.risk for s in faster[: sum(good)])
    for step in [s for s in steps if s.then is None][:6]:
        changed, _ = changed_of(document, [Change(path=step.path, value=step.value)])
        again = match.forecast_of(changed, None).point.speed_mps.value
        # what was said is what one gets on trying it
        assert again - now == pytest.approx(step.gain_mps, abs=1e-3)
        assert step.sentence.startswith(f"{step.gain_mps * 3.6:+.1f} km/h".replace("-", "−"))


def test_the_map_is_centred_on_today_and_marks_what_does_not_run():
    found = plan.sweep_map(samples.document(), USUAL, None)
    assert found.kv_rpm_per_v[0] < 2200 < found.kv_rpm_per_v[-1]
    assert len(found.speed_mps) == len(found.diameter_m)
    assert {v for row in found.verdict for v in row} >= {Verdict.HOLDS, Verdict.SHORT, Verdict.STOP}
    # by rising use: nobody on it is faster with more margin, and its last is the fastest that runs, but for one step
    front = [(found.speed_mps[r][c], found.use[r][c]) for r, c in found.front]
    assert front == sorted(front)
    runs = [
        speed
        for speeds, verdicts in zip(found.speed_mps, found.verdict, strict=True)
        for speed, verdict in zip(speeds, verdicts, strict=True)
        if verdict is not Verdict.NONE
    ]
    assert front[-1][0] > 0.97 * max(runs)


def test_a_wish_is_answered(store):
    found = wish.wish(store, samples.document(), Wish(speed_mps=25.0), DUTY, USUAL, None)
    assert found.possible
    assert 1 <= len(found.answers) <= 6
    assert found.speed_mps[0] == 0
    assert max(found.speed_mps) > 25


def test_what_lies_on_the_shelf_comes_before_what_is_bought(store):
    boats.new_boat(store, "Wishing", samples.document())
    wanted = Wish(speed_mps=26.0, locked=frozenset({FreePart.MOTOR, FreePart.PACK}))
    first = wish.wish(store, samples.document(), wanted, DUTY, USUAL, None).answers[0]
    assert first.changed == [FreePart.PROPELLER]
    assert {p.kind: p.need for p in first.pieces}["propeller"] is Need.BUY
    # The very part that it asks for is put on the shelf: now it is found there, and taken as it lies.
    wheel = {"name": "wished", "diameter": q(first.diameter_m * 1e3, "mm"), "pitch_ratio": q(first.pitch_ratio, "1")}
    shelf.add_part(store, "propeller", wheel)
    again = wish.wish(store, samples.document(), wanted, DUTY, USUAL, None).answers[0]
    found = {p.kind: p for p in again.pieces}["propeller"]
    assert found.need is Need.SHELF
    assert found.name == "wished"
    (taken,) = (c.value for c in again.changes if c.path == "propeller")
    assert taken["diameter"] == pytest.approx(wheel["diameter"])


def test_what_a_shop_sells_is_bought_as_it_is_sold_and_has_its_price(fresh_store):
    wanted = Wish(speed_mps=26.0, locked=frozenset({FreePart.MOTOR, FreePart.PACK}))

    def first():
        return wish.wish(fresh_store, samples.document(), wanted, DUTY, USUAL, None).answers[0]

    asked = first()
    assert (asked.price, asked.price_per_mps) == (None, None)  # nobody knows what it costs
    wheel = {"name": "sold", "diameter": q(asked.diameter_m * 1e3, "mm"), "pitch_ratio": q(asked.pitch_ratio, "1")}
    part = shelf.add_part(fresh_store, "propeller", wheel)
    shelf.change_part(fresh_store, part.id, {"state": "for sale", "price": 24.0})
    assert first().price is None  # the controller's is not known yet
    rated = {"name": "rated", "continuous_current": q(asked.controller_class_a, "A"), "max_cells": 6}
    esc = shelf.add_part(fresh_store, "controller", rated)
    shelf.change_part(fresh_store, esc.id, {"state": "for sale", "price": 96.0})
    sold = first()
    piece = {p.kind: p for p in sold.pieces}["propeller"]
    assert (piece.need, piece.name, piece.price) == (Need.BUY, "sold", 24.0)
    assert sold.price == pytest.approx(120.0)
    now = Bench.of(samples.document(), None, DUTY, USUAL).now
    assert sold.price_per_mps == pytest.approx(120.0 / (sold.speed_mps - now.speed_mps), rel=1e-4)
    shelf.add_part(fresh_store, "propeller", {**wheel, "name": "mine"})
    mine = {p.kind: p for p in first().pieces}["propeller"]
    assert (mine.need, mine.name, mine.price) == (Need.SHELF, "mine", 0.0)


def test_what_is_for_sale_is_offered_to_buy(fresh_store):
    wheel = {"name": "sold", "diameter": q(39, "mm"), "pitch_ratio": q(1.4, "1")}
    part = shelf.add_part(fresh_store, "propeller", wheel)
    shelf.change_part(fresh_store, part.id, {"state": "for sale"})
    steps = next_change.next_steps(fresh_store, samples.document(), DUTY, USUAL, None).steps
    assert any(step.label == "Propeller to buy" and step.text == "sold" for step in steps)


def test_what_holds_and_is_not_dangerous_comes_first_then_the_least_to_buy(store):
    answers = wish.wish(store, samples.document(), Wish(speed_mps=22.0), DUTY, USUAL, None).answers
    order = [(bool(a.danger), ORDER.index(a.verdict), sum(p.need is Need.BUY for p in a.pieces)) for a in answers]
    assert len(order) > 2
    assert order == sorted(order)


@pytest.mark.parametrize("factor", [1.0, 1.2])
def test_an_answer_is_what_match_says_of_the_boat_that_it_makes(store, factor):
    """Its speed left out the motor it names, and the pack it kept was never judged."""
    for document in islice(documents(33), 3):
        wanted = factor * float(forecast(setup_of(document), 0).point.speed_mps)
        found = wish.wish(store, document, Wish(speed_mps=wanted), DUTY, USUAL, None)
        for answer in found.answers:
            made = change_document(document, [Change(path=c.path, value=c.value) for c in answer.changes]).document
            now = Bench.of(made, None, DUTY, USUAL).now
            assert answer.speed_mps == pytest.approx(now.speed_mps, rel=1e-9)
            assert answer.speed_mps >= 0.98 * wanted or not found.possible
            assert answer.verdict is now.verdict or now.burns
            assert answer.boat_kg == pytest.approx(setup_of(made).all_up_mass_kg.value)
            assert made.propeller.diameter.value == pytest.approx(document.propeller.diameter.value) or (
                made.propeller.diameter.value == pytest.approx(round(made.propeller.diameter.value))
            )
            if answer.verdict is Verdict.HOLDS:
                assert answer.chance <= USUAL.risk


def test_an_aim_is_kept_with_its_boat(store):
    boat = boats.new_boat(store, "Aimed", samples.document())
    assert boats.aim(store, boat.boat_id) == {}
    boats.set_aim(store, boat.boat_id, {"wanted": q(90, "km/h"), "locked": ["pack"]}, tag_of({}))
    assert boats.aim(store, boat.boat_id)["wanted"]["value"] == 90
    with refused(NotFound, "boat"):
        boats.set_aim(store, 10**9, {}, "*")


def test_what_a_class_does_not_allow_comes_last(fresh_store):
    """Whatever it gains: more than any verdict is weighed."""
    document = samples.document()
    raced = Raced(limits=ClassLimits(name="Mono 4", most_cells=4, least_mass_kg=2.05))
    steps = next_change.next_steps(fresh_store, document, DUTY, USUAL, None, raced=raced).steps
    breaks = [bool(step.breaks) for step in steps]
    assert {step.path for step in steps if step.breaks} >= {"pack.cells", "all_up_mass"}
    assert breaks == sorted(breaks)
    free = next_change.next_steps(fresh_store, document, DUTY, USUAL, None).steps
    lighter = next(step for step in free if step.path == "all_up_mass" and step.gain_mps > 0)
    assert lighter.place[Intent.FASTER] < len(free) - sum(breaks), "without its class it stands further up"
