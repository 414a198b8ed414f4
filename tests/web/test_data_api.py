"""Everything out and in over the API: a zip that comes back with its progress told."""

import io
import json
import zipfile
from pathlib import Path

import pytest
from fastapi.testclient import TestClient
from tests import samples

from kunstflug.web.app import create_app

OWN = "http://127.0.0.1:8417"


@pytest.fixture(scope="module")
def client(store):
    with TestClient(create_app(store, Path("no-front-end")), base_url=OWN) as made:
        yield made


@pytest.fixture(scope="module")
def boat(client):
    return client.post("/api/boats", json={"name": "Goes out", "document": samples.raw()}).json()


def sent(client, content: bytes):
    return client.post("/api/import", files={"file": ("all.zip", content, "application/zip")})


def test_an_import_says_how_far_it_is_and_what_was_new(client, boat):
    package = client.get("/api/export.zip").content
    client.delete(f"/api/boats/{boat['boat_id']}")
    answer = sent(client, package)
    assert answer.status_code == 200
    lines = [json.loads(line) for line in answer.text.splitlines()]
    assert {line["state"] for line in lines[:-1]} <= {"waiting", "running"}
    assert lines[-1]["state"] == "done"
    assert lines[-1]["done"] == lines[-1]["total"]
    assert set(lines[-1]["result"]) == {"boats", "setups", "runs", "parts"}


def test_what_is_no_package_is_refused_before_anything_is_read(client):
    answer = sent(client, b"PK\x03\x04 nothing")
    assert 400 <= answer.status_code < 500
    assert "package" in answer.json()["detail"]


def test_a_boat_that_cannot_be_read_is_said_on_the_last_line(client, boat):
    package, broken = client.get("/api/export.zip").content, io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(package)) as old, zipfile.ZipFile(broken, "w") as new:
        for name in old.namelist():
            new.writestr(name, b"{" if name.startswith("boats/") else old.read(name))
    last = json.loads(sent(client, broken.getvalue()).text.splitlines()[-1])
    assert last["state"] == "failed"
    assert "not JSON" in last["problem"]
    assert last.get("result") is None
