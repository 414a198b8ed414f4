"""The planning routes: what they refuse and what they keep."""

import json
from concurrent.futures import ThreadPoolExecutor
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
        return next(m["limit"] for m in body["forecast"]["margins"] if m["key"] == "pack_current")

    # 5 Ah x 50 C, believed to 60 or 85 %: common practice, no source
    assert limit({"pack": "doubting"}) == pytest.approx(150)
    assert limit({"pack": "believing"}) == pytest.approx(212.5)


def test_aim_there_and_back(client):
    boat = client.post("/api/boats", json={"name": "Teal", "document": samples.raw()}).json()["boat_id"]
    first = client.get(f"/api/boats/{boat}/aim")
    usual, tag = first.json(), first.headers["etag"]
    assert usual["wanted"] is None
    aim = {**usual, "wanted": q(92, "km/h"), "locked": ["pack"], "budget": 120}
    saved = client.put(f"/api/boats/{boat}/aim", json=aim, headers={"if-match": tag})
    assert saved.status_code == 200
    kept = client.get(f"/api/boats/{boat}/aim")
    assert kept.headers["etag"] == saved.headers["etag"] != tag
    assert kept.json()["wanted"]["value"] == 92
    assert kept.json()["locked"] == ["pack"]
    assert client.put(f"/api/boats/{boat}/aim", json={**aim, "budget": -3}).status_code == 422


def lines_of(answer) -> list[dict]:
    return [json.loads(line) for line in answer.iter_lines()]


def test_a_search_answers_with_its_progress_and_its_result(client):
    body = {"document": samples.raw(), "over": "ranges", "ranges": {"fineness": 12}}
    with client.stream("POST", "/api/searches", json=body) as answer:
        assert answer.headers["content-type"].startswith("application/x-ndjson")
        lines = lines_of(answer)
    assert {line["state"] for line in lines[:-1]} <= {"waiting", "running"}
    assert lines[-1]["state"] == "done"
    assert lines[-1]["result"]["tried"] == 144


def test_thirty_searches_at_once_are_all_answered(client):
    body = {"document": samples.raw(), "over": "ranges", "ranges": {"fineness": 6}}

    def search(_):
        with client.stream("POST", "/api/searches", json=body) as answer:
            return lines_of(answer)[-1]["result"]["tried"]

    with ThreadPoolExecutor(30) as pool:
        assert list(pool.map(search, range(30))) == [36] * 30


def test_a_search_too_large_is_refused_before_it_waits(client):
    ranges = {"cells": True, "pitch_ratio": True, "mass": True, "fineness": 200}
    answer = client.post("/api/searches", json={"document": samples.raw(), "over": "ranges", "ranges": ranges})
    assert answer.status_code == 422
    assert answer.json()["field"] == "sweep"
    assert "fineness" in answer.json()["allowed"]
