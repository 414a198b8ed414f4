"""The planning routes: what they refuse and what they keep."""

import time
from pathlib import Path

import pytest
from fastapi.testclient import TestClient
from tests import samples
from tests.samples import q

from kunstflug.web.app import create_app


@pytest.fixture(scope="module")
def client(store):
    with TestClient(create_app(store, Path("no-front-end")), base_url="http://127.0.0.1:8417") as made:
        yield made


@pytest.mark.parametrize("path", ["heat", "next", "map"])
def test_plans_answer(client, path):
    answer = client.post(f"/api/{path}", json={"document": samples.raw()})
    assert answer.status_code == 200, answer.text
    assert answer.json()


@pytest.mark.parametrize(
    ("path", "body", "field"),
    [
        ("heat", {"duty": {"kind": "passes", "passes": 0}}, "duty.passes"),
        ("heat", {"duty": {"kind": "swim"}}, "duty.kind"),
        ("heat", {"schools": {"temperature": "lava"}}, "schools.temperature"),
        ("backward", {"wanted_mps": 500}, "wanted_mps"),
        ("backward", {"wanted_mps": 20, "locked": ["hull"]}, "locked"),
        ("backward", {"wanted_mps": 20, "locked": ["motor", "propeller", "pack"]}, "locks"),
    ],
)
def test_impossible_plans_are_problems(client, path, body, field):
    answer = client.post(f"/api/{path}", json={"document": samples.raw(), **body})
    assert answer.status_code == 422
    assert answer.json()["field"] == field


def test_draft_is_judged_by_the_schools_asked_for(client):
    def limit(schools):
        body = client.post("/api/draft", json={"document": samples.raw(), "schools": schools}).json()
        return next(m["limit"] for m in body["forecast"]["margins"] if m["title"] == "Pack current")

    # 5 Ah x 50 C, believed to 60 or 85 %: common practice, no source
    assert limit({"pack": "doubting"}) == pytest.approx(150)
    assert limit({"pack": "believing"}) == pytest.approx(212.5)


def test_aim_there_and_back(client):
    boat = client.post("/api/boats", json={"name": "Teal", "document": samples.raw()}).json()["boat_id"]
    usual = client.get(f"/api/boats/{boat}/aim").json()
    assert usual["wanted"] is None
    aim = {**usual, "wanted": q(92, "km/h"), "locked": ["pack"], "budget": 120}
    assert client.put(f"/api/boats/{boat}/aim", json=aim).status_code == 200
    kept = client.get(f"/api/boats/{boat}/aim").json()
    assert kept["wanted"]["value"] == 92
    assert kept["locked"] == ["pack"]
    assert client.put(f"/api/boats/{boat}/aim", json={**aim, "budget": -3}).status_code == 422


def test_a_search_runs_in_the_background(client):
    made = client.post("/api/searches", json={"document": samples.raw(), "over": "ranges", "ranges": {"fineness": 12}})
    assert made.status_code == 202
    for _ in range(200):
        job = client.get(f"/api/searches/{made.json()['id']}").json()
        if job["state"] == "done":
            break
        time.sleep(0.02)
    assert job["result"]["tried"] == 144
    assert client.delete(f"/api/searches/{made.json()['id']}").status_code == 200
    assert client.get("/api/searches/nobody").status_code == 404


def test_a_search_too_large_is_refused_before_it_waits(client):
    ranges = {"cells": True, "pitch_ratio": True, "mass": True, "fineness": 200}
    answer = client.post("/api/searches", json={"document": samples.raw(), "over": "ranges", "ranges": ranges})
    assert answer.status_code == 422
    assert answer.json()["field"] == "sweep"
    assert "fineness" in answer.json()["allowed"]
