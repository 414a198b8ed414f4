"""What a server says of itself: request ids, log lines, metrics, health and readiness, room for each racer."""

import io
import json
import logging
from pathlib import Path

import pytest
from fastapi.testclient import TestClient
from PIL import Image
from prometheus_client.parser import text_string_to_metric_families
from sqlalchemy import text
from tests import samples
from tests.web.club import a_club, joined, store_of

from kunstflug.store.database import Store
from kunstflug.web import observe
from kunstflug.web.app import create_app

TOKEN = "a token of the tests"


@pytest.fixture
def client(store, monkeypatch):
    monkeypatch.setenv("KUNSTFLUG_METRICS_TOKEN", TOKEN)
    with TestClient(create_app(store, Path("no-front-end")), base_url="http://127.0.0.1:8417") as made:
        yield made


@pytest.fixture
def lines(monkeypatch):
    """What is logged, as it is written."""
    out = io.StringIO()
    root, level, handlers = logging.getLogger(), logging.getLogger().level, logging.getLogger().handlers[:]
    monkeypatch.setattr(observe.sys, "stderr", out)
    observe.log_as_json()
    # but for the client of the tests, which logs beside the server here
    yield lambda: [one for one in map(json.loads, out.getvalue().splitlines()) if one["logger"].startswith("kunstflug")]
    root.handlers[:], root.level = handlers, level
    observe.log_quietly()


def test_each_answer_has_the_id_that_stands_in_the_log(client, lines):
    given = client.get("/api/vocabulary", headers={"x-request-id": "from-the-proxy-1"})
    assert given.headers["x-request-id"] == "from-the-proxy-1"
    own = client.get("/api/setups/999999")
    told = [line for line in lines() if line["event"] == "request"]
    assert [line["request_id"] for line in told] == ["from-the-proxy-1", own.headers["x-request-id"]]
    assert [(line["route"], line["status"]) for line in told] == [
        ("/api/vocabulary", 200),
        ("/api/setups/{setup_id}", 404),
    ]
    assert all(line["level"] == "info" and line["timestamp"].endswith("Z") for line in told)


@pytest.mark.parametrize("odd", ["x", "a" * 65, "with space in it", 'quo"te-quo"te', "new\tline-new"])
def test_an_id_that_could_forge_a_log_is_not_taken_over(client, odd):
    assert client.get("/api/health", headers={"x-request-id": odd}).headers["x-request-id"] != odd


def test_no_line_holds_what_somebody_typed(fresh_store, lines):
    with a_club(fresh_store) as club:
        kim = joined(club, "kim")
        kim.post("/api/boats", json={"name": "A secret boat", "document": samples.raw()})
        kim.get("/api/runs/5?token=hidden")
    written = json.dumps(lines())
    assert len(lines()) >= 3
    for word in ("kim", "secret", "hidden", "herons"):
        assert word not in written


def test_metrics_are_read_by_the_parser_of_their_makers_and_by_the_token_only(client):
    """Prometheus' own parser of its text format (prometheus_client)."""
    for _ in range(3):
        client.get("/api/vocabulary")
    client.get("/api/setups/999999")
    assert client.get("/metrics").status_code == 401
    answer = client.get("/metrics", headers={"authorization": f"Bearer {TOKEN}"})
    found = {f.name: f for f in text_string_to_metric_families(answer.text)}
    counted = {
        tuple(sorted(s.labels.items())): s.value
        for s in found["kunstflug_requests"].samples
        if s.name.endswith("_total")
    }
    key = (("method", "GET"), ("route", "/api/vocabulary"), ("status", "200"))
    assert counted[key] >= 3
    buckets = [s for s in found["kunstflug_request_seconds"].samples
               if s.name.endswith("_bucket") and s.labels["route"] == "/api/vocabulary"]  # fmt: skip
    values = [s.value for s in buckets]
    assert values == sorted(values)  # cumulative
    assert buckets[-1].labels["le"] == "+Inf"
    written = {value for family in found.values() for s in family.samples for value in s.labels.values()}
    assert not [value for value in written if "999999" in value]  # a number in an address makes no series of its own


def test_without_a_token_there_are_no_metrics(store, monkeypatch):
    monkeypatch.delenv("KUNSTFLUG_METRICS_TOKEN", raising=False)
    with TestClient(create_app(store, Path("no-front-end")), base_url="http://127.0.0.1:8417") as client:
        assert client.get("/metrics").status_code == 404


def test_slow_statements_are_told_without_their_values(store, lines):
    watched = Store(store.engine.url.render_as_string(hide_password=False))
    observe.watch_statements(watched)
    with watched.transaction() as session:
        session.execute(text("SELECT SLEEP(0.3), :secret"), {"secret": "hidden"})
        session.execute(text("SELECT 1"))
    watched.close()
    (told,) = [line for line in lines() if line["event"] == "slow statement"]
    assert told["seconds"] >= 0.3
    assert "SLEEP" in told["statement"]
    assert "hidden" not in json.dumps(told)


def test_ready_only_with_tables_of_todays(client, store):
    assert client.get("/api/live").status_code == 204
    assert client.get("/api/ready").status_code == 204
    with store.engine.begin() as connection:
        was = connection.execute(text("SELECT version_num FROM alembic_version")).scalar_one()
        connection.execute(text("UPDATE alembic_version SET version_num = '0012'"))
    assert client.get("/api/ready").status_code == 503
    assert client.get("/api/live").status_code == 204
    with store.engine.begin() as connection:
        connection.execute(text("UPDATE alembic_version SET version_num = :v"), {"v": was})
    assert client.get("/api/ready").status_code == 204


def test_a_racer_has_so_much_room_and_no_more(fresh_store):
    with a_club(fresh_store) as club:
        store_of(club).room = 120_000
        kim, sam = joined(club, "kim"), joined(club, "sam")
        boat = kim.post("/api/boats", json={"name": "Teal", "document": samples.raw()}).json()
        said = [kim.post(f"/api/setups/{boat['id']}/simulate", json={"seed": n, "passes": 4}) for n in range(8)]
        assert said[0].status_code == 201
        assert said[-1].status_code == 413
        assert "full" in said[-1].json()["detail"]
        seen = kim.get("/api/account/security").json()
        assert 0 < seen["room_taken"] <= seen["room"] == 120_000
        out = io.BytesIO()
        Image.effect_noise((1200, 900), 90).convert("RGB").save(out, "JPEG", quality=95)
        run = said[0].json()["id"]
        assert kim.put(f"/api/runs/{run}/photo", files={"file": ("a.jpg", out.getvalue())}).status_code == 413
        other = sam.post("/api/boats", json={"name": "Own", "document": samples.raw()}).json()
        assert sam.post(f"/api/setups/{other['id']}/simulate", json={"seed": 1, "passes": 1}).status_code == 201
