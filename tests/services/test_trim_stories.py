"""Four boats with a fault, each brought to a better setting on the simulated pond by following what the screen says.

The pond's boats sit and run by laws of their own (``sitting``); the racer does what stands first on the screen.
"""

import datetime as dt

import pytest
from tests import samples
from tests.amount import rarely
from tests.samples import q
from tests.services.sitting import attitude

from kunstflug.core.trim.signs import Behaviour
from kunstflug.documents.run import TypedRun
from kunstflug.documents.setup import setup_of
from kunstflug.pond.world import World
from kunstflug.services.boats import boats
from kunstflug.services.learning import learning
from kunstflug.services.run import run
from kunstflug.services.shared.changes import Change, change_document
from kunstflug.services.trim import trim
from kunstflug.wording.trim import BEHAVIOURS

pytestmark = pytest.mark.no_cover
PLACES = {"shell": q(170, "mm"), "shell_mass": q(900, "g")}
STORIES = {
    "hops at the stern after more cells": (
        {
            "hull": {**samples.MONO["hull"], "strut_angle": q(3, "deg"), "mass_centre": q(172, "mm")},
            "propeller": {**samples.MONO["propeller"], "rake": q(8, "deg")}, "pack__cells": 4,
        },
        {Behaviour.HOPS},
    ),
    "runs wet": (
        {"placement": {**PLACES, "pack": q(235, "mm")}, "hull": {**samples.MONO["hull"], "strut_angle": q(1, "deg")}},
        {Behaviour.WET},
    ),
    "catamaran that porpoises": (
        {
            "hull": {"hull_type": "catamaran", "length": q(750, "mm"), "rudder_offset": q(0, "mm")},
            "placement": {**PLACES, "shell": q(205, "mm"), "pack": q(200, "mm")},
            "pack__cells": 4, "all_up_mass": q(2600, "g"),
        },
        {Behaviour.PORPOISES},
    ),
    "blew over": (
        {
            "hull": {"hull_type": "catamaran", "length": q(750, "mm"), "rudder_offset": q(35, "mm"),
                     "strut_angle": q(1, "deg")},
            "placement": {**PLACES, "shell": q(215, "mm"), "shell_mass": q(800, "g"), "pack": q(148, "mm")},
            "pack__cells": 6, "motor__kv": q(1950, "rpm/V"), "all_up_mass": q(2100, "g"),
        },
        {Behaviour.BLEW_OVER},
    ),
}  # fmt: skip
SEED = 4
MOST_RUNS = 12


def pond(document):
    """How fast it is on the pond, and what it does."""
    setup = setup_of(document)
    world = World(setup, SEED)
    steady = world.steady()
    sits = attitude(setup, SEED, steady.speed_mps, world.drag(steady.speed_mps))
    slower = sits.drag ** (-1.0 / 3.0)  # power goes with the cube of the speed
    return steady.speed_mps * slower, sits


def drive(store, setup, minutes):
    speed, sits = pond(setup.document)
    made = run.type_run(store, setup.id, dt.datetime(2026, 6, 1, 9) + dt.timedelta(minutes=minutes))
    words = TypedRun.model_validate(
        {"there": q(round(speed * 3.62, 2), "km/h"), "back": q(round(speed * 3.58, 2), "km/h")}
    )
    usual = {"water": q(16, "degC"), "air": q(18, "degC"), "wind": q(0, "m/s"), "water_state": "glass"}
    seen = [BEHAVIOURS[sign] for sign in sits.seen()]
    run.set_notes(store, made.id, usual, "", seen, [], made.tag, words)
    learning.forget(store)
    return speed, sits


@pytest.mark.parametrize("story", rarely(STORIES, but={"catamaran that porpoises"}))
def test_followed_to_a_better_setting(fresh_store, story):
    changes, first = STORIES[story]
    setup = boats.new_boat(fresh_store, "Story", samples.document(**changes))
    said, speeds = [], []
    for n in range(MOST_RUNS):
        speed, sits = drive(fresh_store, setup, 7 * n)
        speeds.append(speed)
        if n == 0:
            assert first <= sits.seen()
            start = sits
        if not sits.seen():
            break
        told = trim.trim(fresh_store, setup.id, None)
        answer = next(a for a in told.answers if a.change is not None)
        said.append((answer.do, answer.change.words))
        change = Change(path=answer.change.path, value=answer.change.value.model_dump(mode="json"))
        setup = boats.adopt(fresh_store, setup.id, change_document(setup.document, [change]).document, "", {})
    print(f"{story}: {[f'{v * 3.6:.1f}' for v in speeds]} km/h, {said}")
    assert sits.seen() == frozenset(), "calm at last"
    if Behaviour.BLEW_OVER in first:
        assert sits.air < min(start.air, 1.0)  # speed may be paid for it
        assert speeds[-1] > 0.97 * speeds[0]
    else:
        assert speeds[-1] > speeds[0] * 1.002
