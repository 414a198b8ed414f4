"""The shelf: lives, states, compared in a boat, CSV both ways; fit, circuit and tub test as use cases."""

import re
from pathlib import Path

import pytest
from tests import samples
from tests.core.fit.test_fit import FITTED
from tests.samples import q, refused
from tests.services.common import changed_of

from kunstflug.core.cooling.circuit import PieceKind
from kunstflug.core.drive.schools import USUAL
from kunstflug.core.quantity.errors import InUse, InvalidValue, NotFound, UnreadableFile
from kunstflug.core.thermal.duty import passes_duty
from kunstflug.documents.quantity import Quantity
from kunstflug.documents.setup import SHELF_PARTS
from kunstflug.documents.vocabulary import vocabulary
from kunstflug.documents.water import CircuitIn, PieceIn
from kunstflug.services.bin import bin
from kunstflug.services.boats import boats
from kunstflug.services.fit import fit, prove
from kunstflug.services.match import match, next_change, plan
from kunstflug.services.measure import measure
from kunstflug.services.run import simulated
from kunstflug.services.shared.changes import Change
from kunstflug.services.shelf import candidates, shelf
from kunstflug.services.shelf import table as shelf_csv

DUTY = passes_duty(3, 6, 25)


@pytest.fixture(scope="module")
def boat(store):
    return boats.new_boat(store, "Teal", samples.document(**FITTED))


def part(store, kind, n=0):
    return shelf.shelf(store, kind)[n]


def test_a_new_boats_parts_lie_on_the_shelf(store, boat):
    kinds = {p.kind for p in shelf.shelf(store)}
    assert {"motor", "controller", "propeller", "pack", "hull"} <= kinds
    assert part(store, "motor").boats == ["Teal"]
    assert part(store, "motor").state == "in use"


def test_found_by_size_and_by_words(store, boat):
    assert [p.kind for p in shelf.shelf(store, words="can diameter 36mm")] == ["motor"]
    assert {p.kind for p in shelf.shelf(store, words="teal")} >= {"motor", "pack"}
    assert shelf.shelf(store, words="no such thing") == []


@pytest.mark.parametrize("kind", sorted(SHELF_PARTS))
def test_every_kind_can_be_put_on_the_shelf_by_a_name_alone_or_its_sizes(store, boat, kind):
    needed = {
        "motor": samples.MONO["motor"], "controller": samples.MONO["controller"], "pack": samples.MONO["pack"],
        "propeller": samples.MONO["propeller"], "hull": {"length": q(600, "mm")},
    }.get(kind, {})  # fmt: skip
    made = shelf.add_part(store, kind, {**needed, "name": f"a {kind} of mine"})
    assert shelf.shelf(store, kind, "of mine")[0].id == made.id
    with pytest.raises(Exception, match=r"extra|Extra"):
        shelf.add_part(store, kind, {**needed, "colour": "red"})


def test_runs_and_hours_are_those_of_its_setups(store, boat):
    before = part(store, "motor")
    simulated.simulate(store, boat.id, 1, 3, _weather())
    after = next(p for p in shelf.shelf(store, "motor") if p.id == before.id)
    assert after.runs == before.runs + 1
    assert after.hours > before.hours


def _weather():
    from kunstflug.pond import Weather

    return Weather(water_c=15, air_c=18, wind_mps=1, wind_from_deg=90)


def test_a_shaft_is_due_for_grease_and_after_five_runs_for_a_look(store):
    made = boats.new_boat(store, "Smew", samples.document(**FITTED))
    shaft = shelf.add_part(store, "shaft", {**FITTED["shaft"], "name": "flex of the Smew"})
    document = samples.document(**{**FITTED, "shaft": {**FITTED["shaft"], "name": "flex of the Smew"}})
    changed, _ = changed_of(document, [Change(path="propeller.diameter", value=q(40, "mm"))])
    adopted = boats.adopt(store, made.id, changed, "with its shaft", {"shaft": shaft.id})
    for seed in range(6):
        simulated.simulate(store, adopted.id, seed, 1, _weather())
        view = next(p for p in shelf.shelf(store, "shaft") if p.id == shaft.id)
        assert ("grease" in view.due) if seed < 4 else ("pull it" in view.due), (seed, view.due)
    serviced = shelf.add_event(store, shaft.id, "service", "greased, no broken strand")
    assert serviced.due == ""
    assert serviced.events[-1].words.startswith("greased")


def test_states_prices_notes(store, boat):
    motor = part(store, "motor")
    changed = shelf.change_part(store, motor.id, {"state": "worn", "price": 79.5, "pieces": 2, "note": "rattles"})
    assert (changed.state, changed.price, changed.pieces, changed.record["note"]) == ("worn", 79.5, 2, "rattles")
    with refused(InvalidValue, "one of new"):
        shelf.change_part(store, motor.id, {"state": "sunk"})
    with pytest.raises(NotFound):
        shelf.change_part(store, 10**9, {"price": 1.0})


def test_how_it_died_is_kept_and_it_is_not_put_in_again(store, boat):
    spare = shelf.add_part(store, "controller", {"continuous_current": q(60, "A"), "name": "sixty"})
    with refused(InvalidValue, "how it happened"):
        shelf.add_event(store, spare.id, "died", " ")
    dead = shelf.add_event(store, spare.id, "died", "smoke after two passes, water in the hull")
    assert dead.state == "dead"
    assert "smoke" in dead.record["died_of"]
    steps = next_change.next_steps(store, samples.document(), DUTY, USUAL, None).steps
    assert all(s.shelf_id != spare.id for s in steps)
    assert shelf.add_event(store, spare.id, "repair", "new board").state == "in use"


def test_nothing_goes_that_a_setup_refers_to(store, boat):
    with refused(InUse, "dead or lost"):
        bin.take_out(store, "part", next(p.id for p in shelf.shelf(store, "hull") if p.boats))
    lone = shelf.add_part(store, "collar", {"bore": q(4, "mm"), "name": "lone collar"})
    bin.take_out(store, "part", lone.id)
    assert not shelf.shelf(store, "collar", "lone")


def test_compared_in_this_boat(store, boat):
    ids = []
    for kv, mm, shaft in ((1800, 36, 5), (1500, 40, 8), (2600, 36, 5)):
        made = shelf.add_part(
            store, "motor",
            {**FITTED["motor"], "kv": q(kv, "rpm/V"), "can_diameter": q(mm, "mm"), "shaft": q(shaft, "mm"),
             "name": f"{kv}"},
        )  # fmt: skip
        ids.append(made.id)
    document = samples.document(**FITTED)
    slow, fat, fast = candidates.compare(store, document, ids, DUTY, USUAL, None)
    assert slow.speed_mps < fast.speed_mps
    assert any("too thick" in p for p in fat.fit_problems)
    assert not slow.fit_problems
    changed, _ = changed_of(document, [Change(path="motor", value=part_document(store, ids[0]))])
    assert match.forecast_of(changed, None).point.speed_mps.value == pytest.approx(slow.speed_mps, rel=1e-5)
    with pytest.raises(InvalidValue):
        candidates.compare(store, document, ids * 3, DUTY, USUAL, None)
    big = shelf.add_part(store, "propeller", {"diameter": q(90, "mm"), "pitch_ratio": q(1.4, "1")})
    assert candidates.compare(store, document, [big.id], DUTY, USUAL, None)[0].refusal


def part_document(store, part_id):
    return next(p.document for p in shelf.shelf(store) if p.id == part_id)


# CSV


def test_out_and_in_again_is_the_same_shelf(store, fresh_store, boat):
    text = shelf_csv.to_csv(store)
    taken = shelf_csv.from_csv(fresh_store, text.encode())
    again = shelf_csv.to_csv(fresh_store)
    assert taken.added == len(shelf.shelf(store)) > 10
    assert sorted(again.splitlines()) == sorted(text.splitlines())


@pytest.mark.parametrize(
    ("text", "line", "words"),
    [
        ("name\nx\n", 1, "kind"),
        ("kind,colour\nmotor,red\n", 1, "colour"),
        ("kind,name\nballoon,x\n", 2, "allowed are"),
        ("kind,name,motor.kv [rpm/V]\nmotor,a,2200\n", 2, "can diameter is missing"),
        ("kind,hose.bore [mm]\nhose,4\nhose,wide\n", 3, "not a number"),
        ("kind,hose.bore [mm]\nhose,400\n", 2, "1 to 12 mm"),
        ("kind,state,hose.bore [mm]\nhose,sunk,4\n", 2, "state"),
        ("kind,price,hose.bore [mm]\nhose,-4,4\n", 2, "price"),
    ],
)
def test_a_bad_line_is_named_and_nothing_is_taken(fresh_store, text, line, words):
    with pytest.raises(UnreadableFile) as refused:
        shelf_csv.from_csv(fresh_store, text.encode())
    assert refused.value.line == line
    assert words in str(refused.value)
    assert shelf.shelf(fresh_store) == []


# bench


def test_a_measured_value_goes_on_the_part_with_where_it_comes_from(store, boat):
    motor = shelf.add_part(store, "motor", {**samples.MONO["motor"], "name": "to be measured"})
    found = measure.measure("kv", {"rpm": 1500.0, "volts": 0.50}, {})
    written = measure.write_measure(store, motor.id, "motor.kv", found.value, found.sd)
    kv = written.document["kv"]
    assert kv["source"] == "measured"
    assert kv["value"] == pytest.approx(found.value, rel=1e-5)
    assert kv["spread"] == pytest.approx(found.sd / found.value, rel=0.01)
    with pytest.raises(InvalidValue):
        measure.write_measure(store, motor.id, "pack.capacity", 1.0, 0.1)
    with pytest.raises(InvalidValue):
        measure.write_measure(store, motor.id, "motor.kv", 1e9, 1.0)
    with pytest.raises(NotFound):
        measure.measure("thermometer", {}, {})


# fit


def test_fit_of_a_saved_setup_and_its_ticks(store, boat):
    found = fit.fit(store, boat.id)
    assert found.clashes == 0
    assert found.swap == []
    fit.tick(store, boat.id, "clean", True)
    assert next(s for s in fit.fit(store, boat.id).build if s.key == "clean").done
    fit.tick(store, boat.id, "clean", False)
    assert not next(s for s in fit.fit(store, boat.id).build if s.key == "clean").done


def test_a_40_mm_motor_with_an_8_mm_shaft_in_a_75_cm_boat(store):
    """The swap that is often made: every clash is found, every remedy is right."""
    hull = {"hull_type": "catamaran", "length": q(750, "mm")}
    before = samples.document(
        **{**FITTED, "hull": hull, "placement": {**FITTED["placement"], "room_length": q(100, "mm")}}
    )
    big = {**FITTED["motor"], "kv": q(1500, "rpm/V"), "can_diameter": q(40, "mm"), "can_length": q(92, "mm"),
           "shaft": q(8, "mm"), "circle": q(30, "mm"), "mass": q(430, "g"), "thread_depth": q(4.5, "mm")}  # fmt: skip
    after, _ = changed_of(before, [Change(path="motor", value=big)])
    found = {j.key: j for j in fit.fit_of(after, before, {}, None).joints}
    clashes = {k for k, j in found.items() if j.fit == "clashes"}
    assert clashes == {"motor_coupler", "jacket", "circle", "room", "screw"}
    assert found["motor_coupler"].off_mm == pytest.approx(3.0)
    assert found["jacket"].off_mm == pytest.approx(3.4)
    assert found["circle"].off_mm == pytest.approx(5.0)
    assert found["room"].off_mm == pytest.approx(4.0)
    assert found["screw"].off_mm == pytest.approx(0.5)
    assert found["centre"].fit == "needs"
    # each remedy done as it is said
    remedies = [
        Change(path="coupler.motor_bore", value=q(8, "mm")),
        Change(path="jacket", value={**FITTED["jacket"], "bore": q(40.6, "mm"), "outside": q(46, "mm"),
                                     "ring_inside": q(39, "mm")}),
        Change(path="mount.circle", value=q(30, "mm")),
        Change(path="mount.screw_length", value=q(float(found["screw"].remedy.split(" x ")[1].split()[0]), "mm")),
        Change(path="placement.room_length", value=q(104, "mm")),
        Change(path="placement.pack", value=q(float(found["centre"].remedy.split("middle ")[1].split()[0]), "mm")),
    ]  # fmt: skip
    mended, _ = changed_of(after, remedies)
    final = fit.fit_of(mended, before, {}, None)
    assert final.clashes == 0, [j.sentence for j in final.joints if j.fit == "clashes"]
    assert {j.key for j in final.joints if j.fit == "needs"} <= {"wire", "pins"}
    swap = [s.key for s in final.swap]
    assert "flat" in swap
    assert "gap" in swap  # the coupler changed too, so the shaft is set anew


# water


def test_a_circuit_is_kept_with_the_boat_and_feeds_its_heat(store, boat):
    usual = fit.circuit(store, boat.boat_id)
    assert usual.lines[0][0].kind is PieceKind.PICKUP
    thin = CircuitIn(lines=[[p.model_copy(update={"bore_mm": 2.5}) for p in usual.lines[0]]])
    fit.set_circuit(store, boat.boat_id, thin, "*")
    assert fit.circuit(store, boat.boat_id) == thin
    document = samples.document(**FITTED)
    wide, narrow = (fit.solve(document, c, DUTY, None) for c in (usual, thin))
    assert narrow.full.flow_l_min < wide.full.flow_l_min
    assert narrow.motor_l_min[0] == 0
    assert narrow.motor_l_min == sorted(narrow.motor_l_min)
    assert {c.key for c in wide.cases} == {
        "now",
        "cap",
        "weed",
        "kink",
        "warm",
        "controller_first",
        "two_lines",
        "no_water",
    }
    now = next(c for c in wide.cases if c.key == "now")
    cap = next(c for c in wide.cases if c.key == "cap")
    assert cap.motor_c > now.motor_c
    dry = next(c for c in wide.cases if c.key == "no_water")
    assert dry.seen == "cooled by air alone"
    assert dry.motor_c == pytest.approx(cap.motor_c, abs=1.0)
    assert "come in" in cap.seen
    assert wide.jacket_w_k > 0
    plain, fed = plan.heat(document, DUTY, USUAL, None), plan.heat(document, DUTY, USUAL, None, thin)
    assert fed.limits[1].peak_c > plain.limits[1].peak_c


def test_the_boats_water_cools_steps_and_candidates_alike(store, boat):
    document = samples.document(**FITTED)
    usual = fit.circuit(store, boat.boat_id)
    dry = CircuitIn(lines=[[p.model_copy(update={"open_part": 0.0}) if k == 0 else p for k, p in enumerate(line)]
                           for line in usual.lines])  # fmt: skip
    motor = shelf.add_part(store, "motor", {**FITTED["motor"], "name": "the same in wet and dry"})
    cases = {}
    for name, circuit in (("wet", usual), ("dry", dry)):
        heat = plan.heat(document, DUTY, USUAL, None, circuit).limits[1].peak_c
        (candidate,) = candidates.compare(store, document, [motor.id], DUTY, USUAL, None, circuit)
        step = next(
            s
            for s in next_change.next_steps(store, document, DUTY, USUAL, None, circuit).steps
            if s.label == "Diameter"
        )
        cases[name] = heat, candidate.case_c, step.case_c - step.case_gain_c
    for wet, dry_c in zip(*cases.values(), strict=True):
        assert dry_c > wet + 3
    # the same boat in the same water has the same case on every screen
    for heat, candidate, now in cases.values():
        assert candidate == pytest.approx(heat, abs=1.0)
        assert now == pytest.approx(heat, abs=1.0)


def test_a_stream_is_that_of_its_own_outlet(store, boat):
    document = samples.document(**FITTED)
    usual = fit.circuit(store, boat.boat_id)
    thin = CircuitIn(lines=[[*usual.lines[0][:-1], usual.lines[0][-1].model_copy(update={"bore_mm": 2.0})]])
    wide, narrow = (fit.solve(document, c, DUTY, None).full for c in (usual, thin))
    assert narrow.flow_l_min < wide.flow_l_min
    assert narrow.throw_m > wide.throw_m  # less water, thrown farther: half the bore, a quarter of the section


def test_what_is_no_circuit_is_not_kept(store, boat):
    with refused(InvalidValue, "pickup"):
        fit.set_circuit(store, boat.boat_id, CircuitIn(lines=[[PieceIn(kind=PieceKind.OUTLET)]]), "*")


def test_the_documented_header_is_the_real_one():
    words = (Path(__file__).parents[2] / "docs" / "shelf-csv.md").read_text(encoding="utf-8")
    assert [c for c in shelf_csv.csv_header() if f"`{c}`" not in words] == []
    for row in vocabulary().fields:  # a choice is written as its codes
        if row.type == "choice" and row.part in SHELF_PARTS:
            codes = " / ".join(o.value for o in row.options)
            assert f"`{row.part}.{row.key}`: {codes}" in words, f"{row.part}.{row.key}"
    listed = re.findall(r"`([a-z -]+\.[a-z_0-9]+(?: \[.+?\])?)`", words)
    assert [c for c in listed if c not in ("kind.field [unit]", "kind.field", *shelf_csv.csv_header())] == []


# tub test


def readings(*pairs):
    return [{"seconds": s, "typed": q(c, "degC", "measured"), "place": "case"} for s, c in pairs]


def test_a_test_is_kept_and_what_it_taught_can_be_adopted(store, boat):
    document = samples.document(**FITTED)
    view = prove.tub(
        document, [(30.0 * k, Quantity(value=18 + 3.4 * k, unit="degC")) for k in range(1, 8)], USUAL, None
    )
    assert view.taught
    changes = view.changes
    assert [c.path for c in changes] == [
        f"learnt.{t.name.removesuffix('_w_k').removesuffix('_j_k')}" for t in view.taught if t.moved
    ]
    assert changes
    changed, _ = changed_of(document, changes)
    key = changes[0].path.removeprefix("learnt.")
    assert getattr(changed.learnt, key).source == "learnt"
    kept = prove.keep_test(store, boat.id, document, readings((30, 22), (60, 26)), USUAL, "levelled off", "calm")
    assert prove.tests(store, boat.id)[0].id == kept.id
    with pytest.raises(InvalidValue):
        prove.keep_test(store, boat.id, document, [], USUAL, "levelled off", "")
    with pytest.raises(InvalidValue):
        prove.keep_test(store, boat.id, document, readings((30, 22)), USUAL, "swam away", "")


def test_a_motor_that_died_is_recorded_with_its_curve(store):
    made = boats.new_boat(
        store, "Pochard", samples.document(**{**FITTED, "motor": {**FITTED["motor"], "name": "poor one"}})
    )
    document = made.document
    prove.keep_test(
        store, made.id, document, readings((30, 60), (60, 110), (90, 160)), USUAL, "the motor died", "smoke"
    )
    dead = shelf.shelf(store, "motor", "poor one")[0]
    assert dead.state == "dead"
    assert "after 90 s, at 160 °C on the case" in dead.events[-1].words
    assert len(prove.tests(store, made.id)[0].readings) == 3
