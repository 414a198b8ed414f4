"""What an attack found, each with a test that failed before: no 5xx, nothing false kept, every refusal a problem."""

import json
import threading
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

import pytest
from fastapi.testclient import TestClient
from tests import samples
from tests.samples import q
from tests.web.test_rubbish import is_problem

from kunstflug.files.controller_csv import write_controller_csv
from kunstflug.files.gpx import write_gpx
from kunstflug.pond import run_outing
from kunstflug.web import guard
from kunstflug.web.app import DIST, create_app

OWN = "http://127.0.0.1:8417"
ANY = {"if-match": "*"}


@pytest.fixture(scope="module")
def client(store):
    with TestClient(create_app(store, Path("no-front-end")), base_url=OWN, raise_server_exceptions=False) as made:
        yield made


@pytest.fixture(scope="module")
def boat(client):
    return client.post("/api/boats", json={"name": "Teal", "document": samples.raw()}).json()


@pytest.fixture(scope="module")
def driven(client, boat):
    return client.post(f"/api/setups/{boat['id']}/simulate", json={"seed": 2, "passes": 2}).json()


# --- JSON that is none, and values that are none of their field

WHOLE = json.dumps(samples.raw())


@pytest.mark.parametrize("number", ["NaN", "Infinity", "-Infinity", "1e999", "9" * 5000, '"\\ud800"', '"\\udfff x"'])
@pytest.mark.parametrize("path", ["/api/forecast", "/api/boats"])
def test_numbers_and_letters_that_json_does_not_have(client, path, number):
    body = WHOLE.replace("2200", number, 1)
    if path == "/api/boats":
        body = f'{{"name": "x", "document": {body}}}'
    answer = client.post(path, content=body, headers={"content-type": "application/json"})
    assert is_problem(answer), answer.text


@pytest.mark.parametrize("name", ["\\ud800", "a\\udc00b"])
def test_a_lone_surrogate_is_no_name(client, name):
    body = f'{{"name": "{name}", "document": {WHOLE}}}'
    answer = client.post("/api/boats", content=body, headers={"content-type": "application/json"})
    assert is_problem(answer), answer.text


def test_bottomless_nesting_is_refused(client):
    deep = "[" * 100_000 + "]" * 100_000
    assert is_problem(client.post("/api/forecast", content=deep, headers={"content-type": "application/json"}))


@pytest.mark.parametrize("value", [None, "fast", [1], {"a": 1}, True, {"value": None, "unit": "rpm/V"}, 3])
@pytest.mark.parametrize("path", ["motor.kv", "propeller.pitch", "pack.cells", "motor", "all_up_mass", "hull.length"])
def test_a_draft_with_a_value_that_is_none_of_its_field(client, boat, path, value):
    changes = [{"path": path, "value": value}, {"path": "pack.cells", "value": 4}]
    answer = client.post("/api/draft", json={"document": boat["document"], "changes": changes})
    assert answer.status_code == 200 or is_problem(answer), answer.text
    if value is None and path in ("motor.kv", "motor", "all_up_mass"):
        assert answer.status_code == 422


@pytest.mark.parametrize(
    "change",
    [
        pytest.param({"pack__second_cells": 24}, marks=pytest.mark.long),
        {"pack__second_cells": 24, "pack__cells": 24},
        pytest.param({"controller__bus_limit": q(80, "A", "guessed")}, marks=pytest.mark.long),
        {"controller__phase_limit": q(80, "A", "guessed")},
        {"controller__temperature_limit": q(80, "degC", "guessed")},
        {"conditions": {"water": q(0, "degC"), "air": q(0, "degC"),
                        "headwind": q(0, "m/s"), "state_of_charge": q(75, "%"), "winding": q(20, "degC")}},
    ],
)  # fmt: skip
@pytest.mark.parametrize("path", ["forecast", "heat", "next", "map", "tub", "fit", "circuit", "backward"])
def test_values_at_their_edges_are_computed_or_refused(client, boat, path, change):
    document = samples.raw(**change)
    body = {"document": document}
    if path == "forecast":
        body = document
    if path == "backward":
        body["wanted_mps"] = 20
    if path == "circuit":
        body["circuit"] = client.get(f"/api/boats/{boat['boat_id']}/circuit").json()
    answer = client.post(f"/api/{path}", json=body)
    assert answer.status_code == 200 or is_problem(answer), answer.text


@pytest.mark.parametrize("change", [{"pieces": None}, {"document": None}, {"state": None}, {"price": None}, {}])
def test_nulls_on_a_part_change_nothing_that_must_be(client, change):
    made = client.post("/api/parts", json={"kind": "hose", "document": {"bore": q(4, "mm"), "name": "null"}}).json()
    answer = client.patch(f"/api/parts/{made['id']}", json=change, headers=ANY)
    assert answer.status_code == 200, answer.text
    assert (answer.json()["pieces"], answer.json()["state"]) == (1, "in use")


# --- what is stored was checked


@pytest.mark.parametrize(
    "conditions",
    [
        {"water": q(60, "degC")},
        {"water": q(-1, "degC")},
        {"water": q(16, "mm")},
        {"air": q(100, "degC")},
        {"wind": q(200, "km/h")},
        {"wind": q(-3, "m/s")},
    ],
)
def test_impossible_conditions_are_not_kept(client, driven, conditions):
    url = f"/api/runs/{driven['id']}/notes"
    answer = client.put(url, json={"conditions": conditions}, headers=ANY)
    assert is_problem(answer), answer.text
    assert answer.json()["field"].startswith("conditions.")
    assert client.get(f"/api/runs/{driven['id']}").json()["conditions"] == driven["conditions"]


def test_a_run_in_freezing_water_is_driven_and_compared(client, boat):
    body = {"seed": 4, "passes": 2, "water_c": 0, "air_c": -10}
    answer = client.post(f"/api/setups/{boat['id']}/simulate", json=body)
    assert answer.status_code == 201, answer.text
    trail = client.get(f"/api/boats/{boat['boat_id']}/trail")
    assert trail.status_code == 200, trail.text
    run = next(r for s in trail.json()["setups"] for r in s["runs"] if r["run_id"] == answer.json()["id"])
    assert run["measured"]
    assert run["odd"] == ""


@pytest.mark.parametrize(
    ("conditions", "words"),
    [
        ({"water": q(60, "degC")}, "the water of 60 °C is outside 0 to 40 °C; it is not used"),
        ({"air": q(-4, "mm")}, "the air is not a temperature"),
        ({"water": "warm"}, "the water is not a temperature"),
    ],
)
def test_what_is_stored_and_odd_is_said_to_be_odd_and_the_rest_lives(client, store, conditions, words):
    """Older programs kept anything; one such run once stopped Compare for the whole boat."""
    from kunstflug.store.tables import RunRow

    own = client.post("/api/boats", json={"name": "Odd", "document": samples.raw()}).json()
    made = client.post(f"/api/setups/{own['id']}/simulate", json={"seed": 1, "passes": 2}).json()
    with store.transaction() as session:
        session.get_one(RunRow, made["id"]).conditions = conditions
    trail = client.get(f"/api/boats/{own['boat_id']}/trail")
    assert trail.status_code == 200, trail.text
    (run,) = trail.json()["setups"][0]["runs"]
    assert words in run["odd"]
    assert run["measured"]
    view = client.get(f"/api/runs/{made['id']}").json()
    assert words in view["odd"][0]


# --- files


@pytest.mark.parametrize(
    "content",
    [b"\xef\xbb\xbf", b"\r\r\r", b"kind,name\r" + b"hose," + b"x" * 140_000, b'kind,name\nhose,"open', b"kind\n\x00"],
)
def test_csv_that_is_none_is_a_problem(client, content):
    assert is_problem(client.post("/api/parts.csv", files={"file": ("a.csv", content)}))


def test_a_long_shelf_is_taken_whole_or_not_at_all(client, fresh_store):
    """Of 1 500 rows in 4.5 MB once 1 328 arrived, with 201."""
    padding = "x" * 950  # once the first 4 000 000 bytes were read, and the rest was not
    rows = "".join(f'hose,"hose {k}",{padding},{padding},{2 + k % 9}\n' for k in range(1500))
    text = ("kind,name,note,died of,hose.bore [mm]\n" + rows).encode()
    assert len(text) > 2.8e6
    with TestClient(create_app(fresh_store, Path("none")), base_url=OWN) as own:
        taken = own.post("/api/parts.csv", files={"file": ("a.csv", text)})
        assert taken.json() == {"added": 1500, "changed": 0, "same": 0}
        count, after = 0, ""
        while after is not None:
            page = own.get("/api/parts", params={"after": after}).json()
            count, after = count + len(page["items"]), page["next"]
        assert count == 1500
        again = own.post("/api/parts.csv", files={"file": ("a.csv", text)})
        assert again.json() == {"added": 0, "changed": 0, "same": 1500}
        many = own.post("/api/parts.csv", files={"file": ("a.csv", b"kind\n" + b"hose\n" * 5001)})
        assert is_problem(many)
        assert "more than 5000" in many.json()["detail"]


def test_formulas_do_not_go_out(client):
    names = ["=1+2", "+3", "-4", "@sum", "'quoted", "plain"]
    for name in names:
        made = client.post("/api/parts", json={"kind": "hose", "document": {"bore": q(4, "mm"), "name": name}}).json()
        client.patch(f"/api/parts/{made['id']}", json={"note": name}, headers=ANY)
    out = client.get("/api/parts.csv").content
    cells = [cell.strip(b'"') for line in out.split(b"\r\n") for cell in line.split(b",")]
    assert not [c for c in cells if c[:1] in (b"=", b"+", b"@") or (c[:1] == b"-" and not c[1:2].isdigit())]
    assert client.post("/api/parts.csv", files={"file": ("a.csv", out)}).json()["changed"] == 0
    assert {p["name"] for p in client.get("/api/parts", params={"kind": "hose"}).json()["items"]} >= set(names)


def test_decimal_commas_in_the_shelfs_csv(client):
    for text in (
        b"kind;name;hose.bore [mm]\nhose;comma one;3,5\n",
        b'kind,name,hose.bore [mm]\nhose,comma two,"3,5"\n',
    ):
        assert client.post("/api/parts.csv", files={"file": ("a.csv", text)}).status_code == 201
    found = client.get("/api/parts", params={"words": "comma"}).json()["items"]
    assert [p["document"]["bore"]["value"] for p in found] == [3.5, 3.5]


def test_csv_keeps_events_sources_and_causes_of_death(client, fresh_store):
    part = client.post("/api/parts", json={"kind": "motor", "document": samples.MONO["motor"]}).json()["id"]
    client.post(f"/api/parts/{part}/measured", json={"path": "motor.kv", "value": 2180.0, "sd": 20})
    client.post(f"/api/parts/{part}/events", json={"kind": "died", "words": "smoke, then silence"})
    out = client.get("/api/parts.csv").content
    with TestClient(create_app(fresh_store, Path("none")), base_url=OWN) as own:
        own.post("/api/parts.csv", files={"file": ("a.csv", out)})
        (motor,) = [p for p in own.get("/api/parts?kind=motor").json()["items"] if p["state"] == "dead"]
        assert motor["record"]["died_of"] == "smoke, then silence"
        assert [e["kind"] for e in motor["events"]] == ["died"]
        assert motor["document"]["kv"]["source"] == "measured"
        assert motor["document"]["kv"]["spread"] == pytest.approx(20 / 2180, rel=1e-3)
        assert own.get("/api/parts.csv").content == out


def test_a_file_of_thirty_days_answers_at_once(client, boat):
    def points(first, count):
        return "".join(
            f'<trkpt lat="{47 + k * 1e-5:.6f}" lon="-30"><time>{first}:{k // 10:02d}.{k % 10}Z</time></trkpt>'
            for k in range(count)
        )

    data = "<gpx><trk><trkseg>" + points("2026-05-01T10:00", 100) + points("2026-05-31T10:00", 20)
    answer = client.post(
        f"/api/setups/{boat['id']}/runs",
        files={"file": ("a.gpx", data + "</trkseg></trk></gpx>")},
        data={"accept_damage": "true"},
    )
    assert answer.status_code == 201, answer.text
    assert answer.json()["summary"]["duration_s"] < 11
    assert "another run" in answer.json()["damages"][0]["reason"]
    assert client.get(f"/api/runs/{answer.json()['id']}/track").status_code == 200


# --- addresses, methods, who may


@pytest.mark.parametrize(
    "path", ["/%00", "/" + "x" * 5000, "/..%2f..%2fetc/passwd", "/%ff%fe", "/a%0ab", "/api", "/api/", "/assets/none.js"]
)
def test_addresses_that_are_none(store, path):
    assert (DIST / "index.html").is_file()
    with TestClient(create_app(store), base_url=OWN, raise_server_exceptions=False) as whole:
        answer = whole.get(path)
        assert answer.status_code == 404
        assert answer.headers["content-type"] == "application/problem+json"
        assert answer.headers["x-content-type-options"] == "nosniff"


@pytest.mark.parametrize(
    ("method", "path", "status"),
    [("GET", "/api/nothing", 404), ("DELETE", "/api/boats", 405), ("PUT", "/api/fit", 405)],
)
def test_refusals_of_the_framework_are_problems_too(client, method, path, status):
    answer = client.request(method, path)
    assert answer.status_code == status
    assert answer.headers["content-type"] == "application/problem+json"
    assert answer.json()["status"] == status


@pytest.mark.parametrize(
    "headers",
    [
        {"sec-fetch-site": "cross-site", "sec-fetch-mode": "navigate"},
        {"sec-fetch-site": "same-site", "sec-fetch-mode": "navigate"},
        {"origin": "http://[not-an-address"},
    ],
)
def test_a_form_elsewhere_cannot_post(client, headers):
    answer = client.post("/api/boats", json={"name": "x", "document": samples.raw()}, headers=headers)
    assert answer.status_code == 403
    assert answer.headers["content-security-policy"]


def test_a_link_from_elsewhere_leads_here(client):
    headers = {"sec-fetch-site": "cross-site", "sec-fetch-mode": "navigate"}
    assert client.get("/api/health", headers=headers).status_code == 200


@pytest.mark.parametrize("length", ["-1", "many", "1" * 400])
def test_a_content_length_that_is_none(client, length):
    answer = client.post("/api/boats", content=b"{}", headers={"content-length": length})
    assert answer.status_code in (400, 413)


def test_a_fault_of_our_own_is_said_to_be_one(client, boat, monkeypatch, caplog):
    """A wrong model of ours was once answered as "impossible value"."""
    from kunstflug.documents.setup import SetupDocument
    from kunstflug.services.boats import boats

    def breaks(*words, **more):
        SetupDocument.model_validate({"hull": 1})

    monkeypatch.setattr(boats, "setup", breaks)
    answer = client.get(f"/api/setups/{boat['id']}")
    assert answer.status_code == 500
    assert answer.headers["content-type"] == "application/problem+json"
    assert answer.headers["content-security-policy"]
    body = answer.json()
    assert body["title"] == "fault of the program"
    number = body["detail"].rsplit(" ", 1)[1].rstrip(".")
    assert number in caplog.text  # and the log has it
    assert "hull" not in answer.text


# --- many at once


def test_twenty_logs_at_once_on_one_run(client, driven):
    log = write_controller_csv(run_outing(samples.setup(), seed=3, start_unix_s=1.78e9, passes=1).controller)
    url = f"/api/runs/{driven['id']}/controller-log"
    with ThreadPoolExecutor(20) as pool:
        answers = list(pool.map(lambda _: client.post(url, files={"file": ("a.csv", log)}), range(20)))
    assert [a.status_code for a in answers] == [200] * 20
    assert client.get(f"/api/runs/{driven['id']}").json()["log"]["samples"] > 100


def test_twenty_ticks_at_once_are_all_kept(client, boat):
    url = f"/api/setups/{boat['id']}/ticks"
    keys = [f"step {k}" for k in range(20)]
    with ThreadPoolExecutor(20) as pool:
        answers = list(pool.map(lambda key: client.put(url, json={"key": key, "done": True}), keys))
    assert [a.status_code for a in answers] == [204] * 20
    from kunstflug.store.tables import SetupTick

    with client.app.api.state.store.transaction() as session:
        kept = {t.step for t in session.query(SetupTick).filter_by(setup_id=boat["id"], done=True)}
    assert kept >= set(keys)


def test_two_tabs_cannot_overwrite_each_other(client, boat):
    url = f"/api/boats/{boat['boat_id']}/aim"
    first = client.get(url)
    aim, tag = first.json(), {"if-match": first.headers["etag"]}
    assert client.put(url, json={**aim, "note": "tab one"}, headers=tag).status_code == 200
    late = client.put(url, json={**aim, "note": "tab two"}, headers=tag)
    assert late.status_code == 412
    assert late.json()["current"]["note"] == "tab one"  # both states are there to choose from
    assert client.get(url).json()["note"] == "tab one"
    again = client.put(url, json={**aim, "note": "tab two"}, headers={"if-match": late.json()["tag"]})
    assert again.status_code == 200
    assert client.put(url, json=aim).status_code == 428


def test_readings_of_three_clients_are_never_mixed(client, boat):
    made = client.post(f"/api/setups/{boat['id']}/simulate", json={"seed": 9, "passes": 1}).json()
    url = f"/api/runs/{made['id']}/notes"
    start = threading.Barrier(3)

    def write(celsius):
        rows = [{"place": f"place {k}", "typed": q(celsius, "degC"), "minutes_after": k} for k in range(6)]
        start.wait()
        return client.put(url, json={"readings": rows}, headers={"if-match": made["tag"]}).status_code

    with ThreadPoolExecutor(3) as pool:
        answers = sorted(pool.map(write, (30, 40, 50)))
    assert answers == [200, 412, 412]
    kept = client.get(f"/api/runs/{made['id']}").json()["readings"]
    assert len(kept) == 6
    assert len({r["celsius"] for r in kept}) == 1


# --- once


def test_a_request_sent_twice_makes_one_thing(client):
    body = {"name": "Once", "document": samples.raw()}
    key = {"idempotency-key": "k" * 20}
    with ThreadPoolExecutor(8) as pool:
        answers = list(pool.map(lambda _: client.post("/api/boats", json=body, headers=key), range(8)))
    assert {a.status_code for a in answers} == {201}
    assert len({a.json()["id"] for a in answers}) == 1
    other = client.post("/api/boats", json={**body, "name": "Other"}, headers=key)
    assert other.status_code == 409
    assert is_problem(client.post("/api/boats", json=body, headers={"idempotency-key": "x y"}))


@pytest.mark.parametrize("path", ["simulate", "adopt", "events", "parts", "tub-tests"])
def test_every_request_that_makes_something_can_be_sent_twice(client, boat, path):
    key = {"idempotency-key": f"twice-{path}-0001"}
    part = client.post("/api/parts", json={"kind": "hose", "document": {"bore": q(5, "mm"), "name": "twice"}}).json()
    changed = {**boat["document"], "all_up_mass": q(2345, "g")}
    reading = {"seconds": 30, "typed": q(30, "degC")}
    url, body = {
        "simulate": (f"/api/setups/{boat['id']}/simulate", {"seed": 5, "passes": 1}),
        "adopt": (f"/api/setups/{boat['id']}/adopt", {"document": changed}),
        "events": (f"/api/parts/{part['id']}/events", {"kind": "service", "words": ""}),
        "parts": ("/api/parts", {"kind": "hose", "document": {"bore": q(6, "mm"), "name": "new"}}),
        "tub-tests": (
            f"/api/setups/{boat['id']}/tub-tests",
            {"document": boat["document"], "readings": [reading], "end": "ended early"},
        ),
    }[path]
    one, two = (client.post(url, json=body, headers=key) for _ in range(2))
    assert (one.status_code, two.status_code) == (201, 201), one.text
    assert one.json() == two.json()
    if path == "events":
        assert len(two.json()["events"]) == 1


def test_the_same_file_is_the_same_run(client, boat):
    data = write_gpx(run_outing(samples.setup(), seed=11, start_unix_s=1.78e9, passes=2).track, "x")
    url = f"/api/setups/{boat['id']}/runs"
    with ThreadPoolExecutor(5) as pool:
        answers = list(pool.map(lambda _: client.post(url, files={"file": ("a.gpx", data)}), range(5)))
    assert {a.status_code for a in answers} == {201}
    assert len({a.json()["id"] for a in answers}) == 1
    changed = {**boat["document"], "all_up_mass": q(2222, "g")}
    other = client.post(f"/api/setups/{boat['id']}/adopt", json={"document": changed}).json()
    elsewhere = client.post(f"/api/setups/{other['id']}/runs", files={"file": ("b.gpx", data)})
    assert elsewhere.status_code == 409
    assert elsewhere.json()["run_id"] == answers[0].json()["id"]
    moved = client.patch(f"/api/runs/{elsewhere.json()['run_id']}", json={"setup_id": other["id"]})
    assert moved.json()["setup_id"] == other["id"]
    client.delete(f"/api/runs/{moved.json()['id']}")  # what lies in the bin is not in the way
    assert client.post(url, files={"file": ("a.gpx", data)}).json()["id"] != moved.json()["id"]


def test_moments_say_their_zone(client, boat, driven):
    for moment in (boat["created_at"], driven["started_at"]):
        assert moment.endswith("Z")


def test_the_guard_lets_nothing_out_without_its_headers():
    assert set(guard._HEADERS) == {
        "content-security-policy", "x-content-type-options", "referrer-policy", "cross-origin-resource-policy"
    }  # fmt: skip
