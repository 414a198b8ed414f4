"""Rubbish fed to the API: refused with a problem or answered, never an error of ours."""

import copy
import json
import math
from pathlib import Path

import pytest
from fastapi.testclient import TestClient
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from tests import samples
from tests.samples import q

from kunstflug.documents.vocabulary import vocabulary
from kunstflug.web.app import create_app


@pytest.fixture(scope="module")
def client(store):
    app = create_app(store, Path("no-front-end"))
    with TestClient(app, base_url="http://127.0.0.1:8417", raise_server_exceptions=False) as made:
        yield made


QUIET = settings(max_examples=40, suppress_health_check=[HealthCheck.function_scoped_fixture])
PLACES = {k.kind for k in vocabulary().kinds if k.place}
FIELDS = [f for f in vocabulary().fields if f.part in PLACES and f.part != "conditions"]
# Edges that contradict the rest of the boat: beam below propeller, parts heavier than the boat, pitch past 2.2 D.
CONTRADICT = {
    ("hull", "beam", "low"), ("motor", "mass", "high"), ("propeller", "diameter", "high"),
    ("propeller", "pitch", "low"), ("propeller", "pitch", "high"), ("pack", "mass", "high"),
}  # fmt: skip
JSON = st.recursive(
    st.none()
    | st.booleans()
    | st.integers(-(10**9), 10**9)
    | st.floats(allow_nan=False, allow_infinity=False)
    | st.text(max_size=20),
    lambda inner: st.lists(inner, max_size=4) | st.dictionaries(st.text(max_size=12), inner, max_size=4),
    max_leaves=12,
)


def is_problem(answer) -> bool:
    return (
        answer.status_code in (400, 404, 413, 422)
        and answer.headers["content-type"] == "application/problem+json"
        and bool(answer.json()["detail"])
    )


@QUIET
@given(JSON)
def test_any_json_is_refused_in_words(client, body):
    assert is_problem(client.post("/api/forecast", json=body))
    assert is_problem(client.post("/api/draft", json=body))
    assert is_problem(client.post("/api/backward", json=body))


@QUIET
@given(st.sampled_from(FIELDS), JSON)
def test_any_json_in_any_field_is_refused_or_computed(client, row, value):
    document = copy.deepcopy(samples.MONO)
    document.setdefault(row.part, {})[row.key] = value
    answer = client.post("/api/forecast", json=document)
    assert answer.status_code == 200 or is_problem(answer), answer.text


EDGES = [(row, edge) for row in FIELDS if row.type == "quantity" for edge in ("low", "high")]


@pytest.mark.parametrize(("row", "edge"), EDGES, ids=[f"{r.part}.{r.key} {e}" for r, e in EDGES])
def test_the_edge_of_every_range_gives_a_forecast_without_a_hole(client, row, edge):
    document = copy.deepcopy(samples.MONO)
    document.setdefault(row.part, {})[row.key] = q(getattr(row, edge), row.unit)
    answer = client.post("/api/forecast", json=document)
    if (row.part, row.key, edge) in CONTRADICT:
        assert is_problem(answer), answer.text
        return
    assert answer.status_code == 200, answer.text
    body = answer.json()
    if body["runs"]:
        speed = body["point"]["speed_mps"]
        assert speed["value"] > 0
        assert math.isfinite(speed["low"])
        assert math.isfinite(speed["high"])
    else:
        assert body["refusal"]
    assert "NaN" not in json.dumps(body, allow_nan=True)


@pytest.mark.parametrize(
    ("method", "path"),
    [("GET", "/api/nothing"), ("DELETE", "/api/boats"), ("GET", "/api/setups/x"), ("GET", "/api/runs/-1")],
)
def test_wrong_addresses_and_methods(client, method, path):
    assert client.request(method, path).status_code in (404, 405, 422)


@pytest.mark.parametrize("content", [b"", b"{", b"[1,", b"\xff\xfe", b"null"])
def test_bodies_that_are_no_json(client, content):
    answer = client.post("/api/forecast", content=content, headers={"content-type": "application/json"})
    assert is_problem(answer), answer.text
