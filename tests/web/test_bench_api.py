"""The routes of shelf, fit, water circuit, bench and tub test: what they answer, keep and refuse."""

import csv
import io
from pathlib import Path

import pytest
from fastapi.testclient import TestClient
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from tests import samples
from tests.core.fit.test_fit import FITTED
from tests.samples import q
from tests.web.test_rubbish import JSON, is_problem

from kunstflug.web.app import create_app

ANY = {"if-match": "*"}
QUIET = settings(max_examples=25, suppress_health_check=[HealthCheck.function_scoped_fixture])


@pytest.fixture(scope="module")
def client(store):
    app = create_app(store, Path("no-front-end"))
    with TestClient(app, base_url="http://127.0.0.1:8417", raise_server_exceptions=False) as made:
        yield made


@pytest.fixture(scope="module")
def boat(client):
    return client.post("/api/boats", json={"name": "Bench boat", "document": samples.raw(**FITTED)}).json()


def put(client, kind, **document):
    answer = client.post("/api/parts", json={"kind": kind, "document": document})
    assert answer.status_code == 201, answer.text
    return answer.json()["id"]


# Shelf


def test_a_part_lives_and_dies(client):
    part = put(client, "bearing", name="ten by five", bore=q(5, "mm"))
    change = {"state": "worn", "price": 3.5, "pieces": 4, "note": "gritty"}
    changed = client.patch(f"/api/parts/{part}", json=change, headers=ANY)
    assert changed.status_code == 200, changed.text
    body = changed.json()
    assert (body["state"], body["price"], body["pieces"], body["record"]["note"]) == ("worn", 3.5, 4, "gritty")
    dead = client.post(f"/api/parts/{part}/events", json={"kind": "died", "words": "balls fell out"})
    assert dead.status_code == 201
    assert dead.json()["state"] == "dead"
    assert dead.json()["events"][-1]["words"] == "balls fell out"
    assert client.delete(f"/api/parts/{part}").json()["name"] == "bearing ten by five"
    assert part not in [p["id"] for p in client.get("/api/parts").json()["items"]]


@pytest.mark.parametrize(
    ("change", "field"),
    [
        ({"state": "haunted"}, "state"),
        ({"price": -1}, "price"),
        ({"pieces": 4000}, "pieces"),
        ({"document": {"bore": q(-3, "mm")}}, "bore"),
        ({"document": {"bore": q(5, "volts")}}, "bore"),
        ({"document": {"sparkle": 1}}, "sparkle"),
    ],
)
def test_impossible_changes_of_a_part(client, change, field):
    part = put(client, "bearing", name="plain", bore=q(5, "mm"))
    answer = client.patch(f"/api/parts/{part}", json=change, headers=ANY)
    assert is_problem(answer), answer.text
    assert field in answer.json()["field"]
    assert client.get("/api/parts", params={"words": "plain"}).json()["items"][0]["state"] == "in use"


def test_unknown_parts_and_events(client):
    assert client.patch("/api/parts/999999", json={"state": "new"}, headers=ANY).status_code == 404
    assert client.delete("/api/parts/999999").status_code == 404
    part = put(client, "hose", name="three", bore=q(3, "mm"))
    assert is_problem(client.post(f"/api/parts/{part}/events", json={"kind": "sang", "words": ""}))


def test_a_measured_value_carries_its_origin(client):
    part = put(client, "motor", name="unknown winding", **FITTED["motor"])
    written = client.post(f"/api/parts/{part}/measured", json={"path": "motor.kv", "value": 230.0, "sd": 4.6})
    assert written.status_code == 200, written.text
    kv = written.json()["document"]["kv"]
    assert kv["source"] == "measured"
    assert kv["spread"] == pytest.approx(0.02, rel=0.01)
    assert is_problem(client.post(f"/api/parts/{part}/measured", json={"path": "motor.charm", "value": 1, "sd": 0}))


def test_six_parts_side_by_side_and_a_seventh_refused(client):
    ids = [put(client, "propeller", name=f"p{d}", diameter=q(d, "mm"), pitch_ratio=q(1.4, "1")) for d in range(36, 43)]
    body = {"document": samples.raw(**FITTED), "parts": ids[:6]}
    answer = client.post("/api/parts/compared", json=body)
    assert answer.status_code == 200, answer.text
    speeds = [c["speed_mps"] for c in answer.json()]
    assert len(speeds) == 6
    assert speeds == sorted(speeds)  # on this boat, far from its limits, a larger propeller is faster
    assert is_problem(client.post("/api/parts/compared", json={**body, "parts": ids}))
    assert is_problem(client.post("/api/parts/compared", json={**body, "parts": [987654]}))


def test_csv_goes_out_and_comes_back(client):
    put(client, "hose", name="blue, soft", bore=q(2.5, "mm"))
    out = client.get("/api/parts.csv")
    assert out.headers["content-type"].startswith("text/csv")
    rows = list(csv.DictReader(io.StringIO(out.text)))
    mine = [r for r in rows if r["name"] == "blue, soft"]
    assert len(mine) == 1
    again = io.StringIO()
    writer = csv.DictWriter(again, fieldnames=list(rows[0]))
    writer.writeheader()
    writer.writerow({**mine[0], "id": "", "name": "red, hard"})
    for added in (1, 0):  # taken in twice it adds nothing
        answer = client.post("/api/parts.csv", files={"file": ("shelf.csv", again.getvalue(), "text/csv")})
        assert answer.status_code == 201, answer.text
        assert answer.json() == {"added": added, "changed": 0, "same": 1 - added}
    assert len(client.get("/api/parts", params={"words": "red, hard"}).json()["items"]) == 1


@pytest.mark.parametrize(
    "content",
    [b"", b"\x00\xff\xfe", b"not,a,shelf\n1,2,3\n", b"kind,name\ncannon,big\n", b"kind,name,bore\nhose,x,wide\n"],
)
def test_a_csv_that_is_none_is_refused_whole(client, content):
    before = len(client.get("/api/parts").json()["items"])
    answer = client.post("/api/parts.csv", files={"file": ("shelf.csv", content, "text/csv")})
    assert is_problem(answer), answer.text
    assert len(client.get("/api/parts").json()["items"]) == before


# Fit and water


def test_fit_of_a_setup_and_its_ticks(client, boat):
    fit = client.get(f"/api/setups/{boat['id']}/fit").json()
    assert fit["joints"]
    key = fit["build"][0]["key"]
    assert client.put(f"/api/setups/{boat['id']}/ticks", json={"key": key, "done": True}).status_code == 204
    again = client.get(f"/api/setups/{boat['id']}/fit").json()
    assert [s["done"] for s in again["build"] if s["key"] == key] == [True]
    assert client.get("/api/setups/999999/fit").status_code == 404


def test_circuit_is_kept_with_the_boat_and_solved(client, boat):
    circuit = client.get(f"/api/boats/{boat['boat_id']}/circuit").json()
    narrow = [[{**p, "bore_mm": 1.5} if p["kind"] == "hose" else p for p in line] for line in circuit["lines"]]
    changed = {**circuit, "lines": narrow}
    assert client.put(f"/api/boats/{boat['boat_id']}/circuit", json=changed, headers=ANY).status_code == 200
    assert client.get(f"/api/boats/{boat['boat_id']}/circuit").json() == changed
    flows = []
    for one in (circuit, changed):
        answer = client.post("/api/circuit", json={"document": boat["document"], "circuit": one})
        assert answer.status_code == 200, answer.text
        flows.append(answer.json()["motor_l_min"][-1])
    assert flows[1] < 0.5 * flows[0]


@pytest.mark.parametrize(
    "circuit",
    [
        {"lines": []},
        {"lines": [[]]},
        {"lines": [[{"kind": "outlet", "bore_mm": 3}]]},
        {"lines": [[{"kind": "volcano", "bore_mm": 3}]]},
        {"lines": [[{"kind": "pickup", "bore_mm": -1}]]},
    ],
)
def test_a_circuit_that_is_none(client, boat, circuit):
    assert is_problem(client.post("/api/circuit", json={"document": boat["document"], "circuit": circuit}))


# Bench


def test_instruments_and_finders_answer_with_what_stands_there_at_first(client):
    for place in ("instruments", "finders"):
        for tool in client.get(f"/api/{place}").json():
            usual = {r["key"]: r["usual"] for r in tool["readings"]}
            answer = client.post(f"/api/{place}/{tool['key']}", json={"readings": usual})
            assert answer.status_code == 200, (tool["key"], answer.text)
            gone = dict(list(usual.items())[1:])
            assert is_problem(client.post(f"/api/{place}/{tool['key']}", json={"readings": gone}))


def test_an_unknown_instrument(client):
    assert client.post("/api/instruments/divining-rod", json={"readings": {}}).status_code == 404
    assert client.post("/api/finders/treasure", json={"readings": {}}).status_code == 404


# Tub test


def test_a_hot_reading_says_stop_and_the_test_is_kept(client, boat):
    readings = [{"seconds": 30, "typed": q(38, "degC")}, {"seconds": 60, "typed": q(64, "degC")}]
    body = {"document": boat["document"], "readings": readings}
    tub = client.post("/api/tub", json=body)
    assert tub.status_code == 200, tub.text
    assert tub.json()["stop"] is True
    kept = client.post(f"/api/setups/{boat['id']}/tub-tests", json={**body, "end": "the motor died", "note": "smoke"})
    assert kept.status_code == 201, kept.text
    assert client.get(f"/api/setups/{boat['id']}/tub-tests").json()[-1]["note"] == "smoke"
    assert is_problem(client.post(f"/api/setups/{boat['id']}/tub-tests", json={**body, "end": "vanished"}))


@pytest.mark.parametrize(
    "reading",
    [
        {"seconds": -1, "typed": q(30, "degC")},
        {"seconds": 30, "typed": q(30, "mm")},
        {"seconds": 30, "typed": q(-400, "degC")},
        {"seconds": 30, "typed": q(30, "degC"), "place": "x" * 60},
    ],
)
def test_impossible_readings(client, boat, reading):
    assert is_problem(client.post("/api/tub", json={"document": boat["document"], "readings": [reading]}))


@QUIET
@given(st.sampled_from(["fit", "circuit", "tub", "parts/compared", "instruments/kv", "finders/shim", "searches"]), JSON)
def test_any_json_is_refused_in_words(client, where, body):
    assert is_problem(client.post(f"/api/{where}", json=body))


# Who may


@pytest.mark.parametrize(
    ("verb", "path"),
    [
        ("PATCH", "/api/parts/1"), ("DELETE", "/api/parts/1"), ("POST", "/api/parts/1/events"),
        ("POST", "/api/parts.csv"), ("PUT", "/api/boats/1/circuit"), ("PUT", "/api/setups/1/ticks"),
        ("POST", "/api/setups/1/tub-tests"), ("POST", "/api/searches"),
    ],
)  # fmt: skip
def test_a_page_elsewhere_changes_nothing(client, verb, path):
    before = client.get("/api/parts").json()
    answer = client.request(verb, path, json={"state": "lost"}, headers={"origin": "http://elsewhere.example"})
    assert answer.status_code == 403
    assert client.get("/api/parts").json() == before


@pytest.mark.parametrize(
    "path",
    ["/api/setups/{}/fit", "/api/boats/{}/circuit", "/api/setups/{}/tub-tests", "/api/boats/{}/trail"],
)
def test_what_is_not_there_is_404(client, path):
    for number in ("999999", "0", "-1"):
        assert client.get(path.format(number)).status_code == 404
    assert client.get(path.format("9" * 40)).status_code == 404
    assert client.get(path.format("one")).status_code == 422
