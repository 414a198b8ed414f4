"""One question has one answer: every page that shows a number of a boat shows the same, on random boats with runs.

Match, draft, trail, sheet, Fit, Launch, Live, search, next step, parts compared, the boat's file and the command:
speed, current, rpm, temperature of the case and verdict are equal to the last digit shown.
"""

import json
import math
from datetime import UTC, datetime, timedelta
from pathlib import Path

import numpy as np
import pytest
from fastapi.testclient import TestClient
from sqlalchemy import select
from tests.core.drive.test_population import random_boat
from tests.samples import q
from tests.web.club import OWN
from typer.testing import CliRunner

from kunstflug import cli
from kunstflug.core.drive.verdict import Verdict, worst
from kunstflug.documents.run import TypedRun
from kunstflug.documents.setup import SetupDocument
from kunstflug.services.boats import boat_file, sheet
from kunstflug.services.live import drives
from kunstflug.store.tables import ForecastRow
from kunstflug.web.app import create_app
from kunstflug.wording import METRIC
from kunstflug.wording.choose import ENDS

BEGUN = datetime(2026, 5, 3, 10, tzinfo=UTC)


@pytest.fixture
def client(fresh_store):
    with TestClient(create_app(fresh_store, Path("no-front-end")), base_url=OWN) as made:
        yield made


def answer(response):
    assert response.status_code < 300, response.text
    return response.json()


def boat_that_ran(client, store, rng, runs: int):
    """A random boat with a few runs typed off a display, some with current and a gun."""
    while True:
        document = SetupDocument.model_validate(random_boat(rng)).model_dump(mode="json", exclude_none=True)
        bought = answer(client.post("/api/forecast", json=document, headers={"Lessons": "bought"}))
        if bought["runs"] and bought["point"]["speed_mps"]["value"] > 8:
            break
    made = answer(client.post("/api/boats", json={"name": f"Boat {rng.integers(10**9)}", "document": document}))
    speed, amps = (bought["point"][key]["value"] for key in ("speed_mps", "current_a"))
    level = rng.uniform(0.88, 1.06)
    for k in range(runs):
        typed = {"peaks": [{"speed": q(float(round(speed * level * rng.normal(1, 0.01) * 1.025 * 3.6, 1)), "km/h")}]}
        if rng.random() < 0.5:
            typed["current_a"] = float(round(amps * rng.normal(1, 0.06), 1))
        readings = [{"place": "motor front", "typed": q(float(rng.integers(30, 70)), "degC"), "minutes_after": 1.5}]
        started = (BEGUN + timedelta(hours=30 * k)).isoformat()
        body = {"started_at": started, "typed": typed, "readings": readings if rng.random() < 0.5 else []}
        saved = answer(client.post(f"/api/setups/{made['id']}/runs/typed", json={"started_at": started}))
        url = f"/api/runs/{saved['id']}/notes"
        assert TypedRun.model_validate(typed)
        answer(client.put(url, json={"typed": body["typed"], "readings": body["readings"]}, headers={"If-Match": "*"}))
    return made


@pytest.mark.parametrize("seed", [1, 2, 3, *(pytest.param(seed, marks=pytest.mark.long) for seed in range(4, 16))])
def test_every_page_says_the_same(client, fresh_store, tmp_path, seed):
    rng = np.random.default_rng(seed)
    made = boat_that_ran(client, fresh_store, rng, runs=int(rng.integers(1, 5)))
    boat, plan = made["boat_id"], {"document": made["document"], "duty": {}, "schools": {}}
    aim = {"duty": {"kind": "passes", "passes": 3, "pass_s": 8}, "schools": {"temperature": "hot"}}
    if rng.random() < 0.7:
        answer(client.put(f"/api/boats/{boat}/aim", json=aim, headers={"If-Match": "*"}))
        plan |= aim
    if rng.random() < 0.5:
        circuit = answer(client.get(f"/api/boats/{boat}/circuit"))
        answer(client.put(f"/api/boats/{boat}/circuit", json=circuit, headers={"If-Match": "*"}))
    at = {"boat": boat}

    draft = answer(client.post("/api/draft", json={**plan, "changes": []}, params=at))["forecast"]
    point, verdict = draft["point"], draft["verdict"]
    speed, amps, rpm = (point[key]["value"] for key in ("speed_mps", "current_a", "rpm"))
    assert draft["known_runs"] == draft["known_here"] > 0
    heat = answer(client.post("/api/heat", json=plan, params=at))
    case = max(next(node["middle_c"] for node in heat["nodes"] if node["node"] == "case"))

    assert answer(client.post("/api/forecast", json=made["document"], params=at))["point"] == point
    quick = answer(client.post("/api/draft", json={**plan, "changes": [], "explained": False}, params=at))["forecast"]
    assert (quick["point"], quick["verdict"]) == (point, verdict)

    trail = answer(client.get(f"/api/boats/{boat}/trail"))
    assert [setup["verdict"] for setup in trail["setups"]] == [verdict]

    shown = sheet.sheet_of(fresh_store, made["id"])
    assert (shown.headline, shown.verdict) == (METRIC.speed(speed), ENDS[verdict])
    (rows,) = (dict(block.rows) for block in shown.right if block.heading.startswith("Forecast"))
    assert (rows["Rpm, loaded"], rows["Pack current"]) == (METRIC.rpm(rpm), METRIC.current(amps))

    fit = answer(client.get(f"/api/setups/{made['id']}/fit"))
    said = " ".join(str(joint) for joint in fit["joints"])
    assert answer(client.post("/api/fit", json=plan, params=at))["joints"] == fit["joints"]
    assert f"the drive turns {METRIC.rpm(rpm)}" in said or "the drive turns" not in said

    launch = answer(
        client.post(
            f"/api/setups/{made['id']}/launch", json={"day": "2026-06-01", **{k: plan[k] for k in ("duty", "schools")}}
        )
    )
    if launch["plan"] is not None:
        assert launch["plan"]["cool_s"] == pytest.approx(heat["cool_down_s"], rel=1e-5)

    watch = drives.begin(fresh_store, made["id"]).watch
    live = watch._point
    assert (float(live.speed_mps), float(live.current_a), float(live.rpm)) == pytest.approx(
        (speed, amps, rpm), rel=1e-4
    )

    nothing = dict.fromkeys(("kv", "diameter", "pitch_ratio", "cells", "mass"), False)
    with client.stream("POST", "/api/searches", json={**plan, "over": "ranges", "ranges": nothing}, params=at) as lines:
        last = json.loads([line for line in lines.iter_lines() if line][-1])
    rows = last["result"]["found"]
    if verdict not in ("none", "stop"):  # what stops is on no front
        both = worst([Verdict(verdict), Verdict(heat["verdict"])])  # of the drive, and of the duty's heat
        assert [(row["speed_mps"], row["current_a"], row["verdict"]) for row in rows] == [
            (pytest.approx(speed, abs=6e-4), pytest.approx(amps, abs=0.06), both)
        ]

    for step in answer(client.post("/api/next", json=plan, params=at))["steps"]:
        assert step["speed_mps"] - step["gain_mps"] == pytest.approx(speed, rel=1e-3)
        assert step["case_c"] - step["case_gain_c"] == pytest.approx(case, abs=0.1)

    motor = next(p for p in answer(client.get("/api/parts", params={"kind": "motor"}))["items"])
    (own,) = answer(client.post("/api/parts/compared", json={**plan, "parts": [motor["id"]]}, params=at))
    assert (own["speed_mps"], own["current_a"], own["rpm"]) == pytest.approx((speed, amps, rpm), rel=1e-4)
    assert (own["case_c"], own["verdict"]) == (pytest.approx(case, abs=0.1), verdict)

    file = tmp_path / "boat.json"
    file.write_text(boat_file.export_boat(fresh_store, boat).model_dump_json())
    told = CliRunner().invoke(cli.app, ["forecast", "--boat", str(file)])
    command = json.loads(told.stdout)
    assert (command["point"], command["verdict"], command["margins"]) == (point, verdict, draft["margins"])


@pytest.mark.parametrize("seed", [1, *(pytest.param(seed, marks=pytest.mark.long) for seed in range(2, 8))])
def test_a_new_boat_is_kept_as_it_was_shown_with_what_the_other_boats_taught(client, fresh_store, seed):
    """It was forecast with the lessons of the boat that was open before, and kept so for ever."""
    rng = np.random.default_rng(100 + seed)
    other = boat_that_ran(client, fresh_store, rng, runs=3)
    document = SetupDocument.model_validate(random_boat(rng)).model_dump(mode="json", exclude_none=True)
    shown = answer(client.post("/api/forecast", json=document))
    made = answer(client.post("/api/boats", json={"name": "New", "document": document}))
    with fresh_store.transaction() as session:
        kept = session.scalars(select(ForecastRow).where(ForecastRow.setup_id == made["id"])).one()
        assert kept.result["point"] == shown["point"]
        assert kept.result["knew"] == shown["knew"] != ""
    then = answer(client.post("/api/forecast", json=made["document"], params={"boat": made["boat_id"]}))
    assert then["point"] == shown["point"]
    assert (then["known_runs"], then["known_here"]) == (3, 0)
    with_others = answer(client.post("/api/forecast", json=document, params={"boat": other["boat_id"]}))
    assert with_others["point"] != shown["point"], "the open boat's own lessons are its own"
    bought = answer(client.post("/api/forecast", json=document, headers={"Lessons": "bought"}))
    assert bought["knew"] == ""

    def width(found):
        speed = found["point"]["speed_mps"]
        return math.log(speed["high"] / speed["low"]) if speed["low"] else 1.0

    assert width(shown) > 0.5 * width(bought), "what others taught does not make a new boat known"


def test_what_is_stored_says_what_it_knew(client, fresh_store):
    rng = np.random.default_rng(7)
    made = boat_that_ran(client, fresh_store, rng, runs=2)
    changed = {**made["document"], "all_up_mass": q(float(made["document"]["all_up_mass"]["value"] * 1.02), "g")}
    shown = answer(client.post("/api/draft", json={"document": changed}, params={"boat": made["boat_id"]}))["forecast"]
    # Whatever a header says is counted on the sheet, what is stored knows all there is to know.
    body, header = {"document": changed, "name": "heavier"}, {"Lessons": "bought"}
    adopted = answer(client.post(f"/api/setups/{made['id']}/adopt", json=body, headers=header))
    with fresh_store.transaction() as session:
        kept = session.scalars(select(ForecastRow).where(ForecastRow.setup_id == adopted["id"])).one()
        assert (kept.result["point"], kept.result["knew"]) == (shown["point"], shown["knew"])
