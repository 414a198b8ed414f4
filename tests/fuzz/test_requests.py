"""Thousands of requests, made from the description or mutated from good ones: no 5xx, no answer outside its schema."""

import json
import random
import time
from pathlib import Path
from typing import Any

import jsonschema_rs
import pytest
from fastapi.testclient import TestClient

from kunstflug.files.controller_csv import write_controller_csv
from kunstflug.files.gpx import write_gpx
from kunstflug.pond import run_outing
from kunstflug.web.app import create_app
from kunstflug.web.streams import MEDIA_TYPE
from tests import samples
from tests.amount import SEEDS, amount
from tests.fuzz.generate import ODD_NUMBERS, Maker
from tests.samples import q

REQUESTS = amount(60, 250, 2000)
"""With each seed; ten seeds in the slow run."""
LONGEST_CPU_S = 2.0
LONG_WORK = "/api/searches"  # answers line by line for as long as it takes


class Api:
    """The API with its description, its validators, and what is really there."""

    def __init__(self, client: TestClient) -> None:
        self.client = client
        self.description = client.get("/api/openapi.json").json()
        self.operations = [
            (method.upper(), path, operation)
            for path, item in self.description["paths"].items()
            for method, operation in item.items()
        ]
        self._validators: dict[tuple[str, str, str], Any] = {}
        boat = client.post("/api/boats", json={"name": "Fuzzed", "document": samples.raw()}).json()
        driven = client.post(f"/api/setups/{boat['id']}/simulate", json={"seed": 1, "passes": 1}).json()
        part = client.post("/api/parts", json={"kind": "hose", "document": {"bore": q(4, "mm")}}).json()
        self.motor = client.get("/api/parts", params={"kind": "motor"}).json()["items"][0]["id"]
        self.document = boat["document"]
        self.circuit = client.get(f"/api/boats/{boat['boat_id']}/circuit").json()
        self.ids = {"boat_id": boat["boat_id"], "setup_id": boat["id"], "run_id": driven["id"], "part_id": part["id"]}
        self.ids["day"] = "2026-05-04"
        outing = run_outing(samples.setup(), seed=1, start_unix_s=1.78e9, passes=1)
        self.files = [
            write_gpx(outing.track, "x"), write_controller_csv(outing.controller), client.get("/api/parts.csv").content,
        ]  # fmt: skip

    def path(self, path: str, rng: random.Random, true: float) -> str:
        """An address with its numbers filled in, mostly with what is there."""
        words = {
            "key": rng.choice(["kv", "shim", "wire", "1", "none"]),
            "kind": rng.choice(["boat", "run", "part", "setup", "controller-log", "tub-test", "shoe"]),
            "test_id": "1",
            "day": rng.choice(["2026-02-30", "today", "20260504", "0001-01-01"]),
        }
        for name in [p[1:-1] for p in path.split("/") if p.startswith("{")]:
            there = self.ids.get(name)
            found = (
                there if there and rng.random() < true else words.get(name, rng.choice([0, -1, 999999, 10**20, "x"]))
            )
            path = path.replace(f"{{{name}}}", str(found))
        return path

    def check(self, method: str, path: str, operation: dict[str, Any], answer: Any, took: float, told: str) -> None:
        """An answer is one of those described, in its shape, in time, and no fault of ours."""
        where = f"{method} {path} {told}\n{answer.status_code} {answer.text[:400]}"
        assert answer.status_code < 500, where
        assert took < LONGEST_CPU_S or path == LONG_WORK, f"{took:.1f} s: {where}"
        described = operation["responses"].get(str(answer.status_code))
        assert described is not None, f"not described: {where}"
        if "$ref" in described:
            described = self.description["components"]["responses"][described["$ref"].rsplit("/", 1)[1]]
        content = described.get("content", {})
        if not content:
            assert not answer.content, where
            return
        kind = answer.headers["content-type"].split(";")[0]
        assert kind in content, f"{kind} not described: {where}"
        if kind.endswith("json") and content[kind]["schema"].get("format") != "binary":  # a file is a file
            validator = self._validator(method, path, str(answer.status_code), content[kind]["schema"])
            lines = answer.text.splitlines() if kind == MEDIA_TYPE else [answer.text]
            assert all(validator.is_valid(json.loads(line)) for line in lines), where

    def _validator(self, method: str, path: str, status: str, schema: dict[str, Any]) -> Any:
        key = (method, path, status)
        if key not in self._validators:
            whole = {"components": self.description["components"], **schema}
            self._validators[key] = jsonschema_rs.validator_for(whole)
        return self._validators[key]

    def send(self, method: str, path: str, rng: random.Random, true: float, **request: Any) -> tuple[Any, float]:
        """Sends it; the answer and the processor time that it took."""
        headers = {"if-match": "*"} if rng.random() < 0.8 else {}
        if rng.random() < 0.1:
            headers["idempotency-key"] = rng.choice(["fuzzed-key-1", "fuzzed-key-2", "no good", ""])
        start = time.process_time()
        answer = self.client.request(method, self.path(path, rng, true), headers=headers, **request)
        return answer, time.process_time() - start


@pytest.fixture(scope="module")
def api(store):
    app = create_app(store, Path("no-front-end"))
    with TestClient(app, base_url="http://127.0.0.1:8417", raise_server_exceptions=False) as client:
        client.post("/api/heat", json={"document": samples.raw()})  # what is compiled, is compiled
        client.post("/api/backward", json={"document": samples.raw(), "wanted_mps": 20})
        made = Api(client)
        # where there are no accounts they are not found; tests/web/test_accounts.py sends them rubbish
        made.operations = [one for one in made.operations if one[2]["tags"][0] not in ("account", "club")]
        yield made


def body_schema(operation: dict[str, Any]) -> dict[str, Any] | None:
    content = operation.get("requestBody", {}).get("content", {})
    found: dict[str, Any] | None = content.get("application/json", {}).get("schema")
    return found


def takes_file(operation: dict[str, Any]) -> bool:
    return "multipart/form-data" in operation.get("requestBody", {}).get("content", {})


def query(operation: dict[str, Any], maker: Maker) -> dict[str, Any]:
    found = {}
    for parameter in operation.get("parameters", []):
        if parameter["in"] == "query" and maker.random.random() < 0.5:
            value = maker.instance(parameter["schema"])
            if value is not None:
                found[parameter["name"]] = value
    return found


@pytest.mark.parametrize("seed", SEEDS)
def test_requests_made_from_the_description(api, seed):
    maker = Maker(api.description, seed)
    for k in range(REQUESTS):
        method, path, operation = api.operations[k % len(api.operations)]
        if method == "DELETE":
            continue
        request: dict[str, Any] = {"params": query(operation, maker)}
        schema = body_schema(operation)
        if schema is not None:
            request["json"] = maker.instance(schema)
        elif takes_file(operation):
            request["files"] = {"file": ("a", maker.random.choice([b"", b"x", *api.files]))}
        answer, took = api.send(method, path, maker.random, 0.7, **request)
        api.check(method, path, operation, answer, took, json.dumps(request.get("json"))[:600])


A_DAY = {
    "starts_min": 480, "water_min": 600, "hands_min": 10,
    "chargers": [{"name": "c", "most_current_a": 10, "power_w": None, "most_cells": 8}],
    "packs": [{"name": "p", "cells": 3, "capacity_ah": 5, "cell_ohm": 0.002, "charge": 0.4, "most_c": 1}],
    "runs": [{"setup_id": 1, "pack": "p", "late_min": 5, "not_before_min": 0}],
}  # fmt: skip


def good_bodies(api: Api) -> dict[tuple[str, str], Any]:
    """A good request for every operation that takes JSON."""
    document, plan = api.document, {"document": api.document}
    reading = {"seconds": 30, "typed": q(30, "degC"), "place": "case"}
    return {
        ("POST", "/api/boats"): {"name": "x", **plan},
        ("PATCH", "/api/boats/{boat_id}"): {"name": "y", "archived": False},
        ("PUT", "/api/boats/{boat_id}/aim"): {"wanted": q(90, "km/h"), "duty": {"kind": "passes", "passes": 3}},
        ("PATCH", "/api/setups/{setup_id}"): {"name": "z"},
        ("POST", "/api/setups/{setup_id}/adopt"): {"document": {**document, "all_up_mass": q(2222, "g")}, "shelf": {}},
        ("POST", "/api/forecast"): document,
        ("POST", "/api/draft"): {
            **plan,
            "changes": [{"path": "motor.kv", "value": q(2000, "rpm/V")}, {"path": "pack", "value": document["pack"]}],
        },
        ("POST", "/api/heat"): {**plan, "duty": {"kind": "lap_race", "minutes": 2}},
        ("POST", "/api/map"): plan,
        ("POST", "/api/backward"): {**plan, "wanted_mps": 22, "locked": ["pack"]},
        ("POST", "/api/fit"): {**plan, "before": document},
        ("POST", "/api/setups/{setup_id}/drives"): {"kind": "udp", "port": 10124},
        ("POST", "/api/shore"): {"corners": [[0, 0], [120, 0], [100, 60]]},
        ("PUT", "/api/ponds/{name}"): {
            "corners": [[0, 0], [120, 0], [100, 60]],
            "water": [{"on": "2026-05-02", "celsius": 15.5}],
        },
        ("POST", "/api/circuit"): {**plan, "circuit": api.circuit},
        ("PUT", "/api/boats/{boat_id}/circuit"): api.circuit,
        ("PUT", "/api/setups/{setup_id}/ticks"): {"key": "clean", "done": True},
        ("POST", "/api/tub"): {**plan, "readings": [reading, {**reading, "seconds": 60}]},
        ("POST", "/api/setups/{setup_id}/tub-tests"): {**plan, "readings": [reading], "end": "ended early"},
        ("POST", "/api/setups/{setup_id}/runs/typed"): {"started_at": "2026-06-06T09:00:00Z"},
        ("POST", "/api/setups/{setup_id}/simulate"): {"seed": 3, "passes": 1, "water_c": 12},
        ("POST", "/api/runs/{run_id}/mended"): {"damage": "nicked blade"},
        ("POST", "/api/setups/{setup_id}/trim"): {"seen": ["hops", "wet"]},
        ("POST", "/api/setups/{setup_id}/launch"): {"day": "2026-05-04", "wind_mps": 3, "waves": "chop"},
        ("PUT", "/api/days/{day}/ticks"): {"boat_id": 1, "key": "drain", "done": True},
        ("PUT", "/api/days/{day}"): A_DAY,
        ("POST", "/api/days"): A_DAY,
        ("PUT", "/api/trim/rules"): {"changes": {"sign.mass_forward.wet": 0.5}},
        ("POST", "/api/stopped"): {"signs": ["dead"], "swaps": [{"part": "pack", "runs": False}]},
        ("PATCH", "/api/runs/{run_id}"): {"setup_id": api.ids["setup_id"]},
        ("PUT", "/api/aside"): {"runs": [1], "aside": False},
        ("POST", "/api/runs/{run_id}/put-right"): {"cause": "unit"},
        ("PUT", "/api/runs/{run_id}/notes"): {
            "conditions": {"water": q(14, "degC"), "wind": q(2, "m/s"), "wind_from_deg": 20, "water_state": "glass"},
            "note": "n",
            "observations": ["hops"],
            "readings": [{"place": "pack", "typed": q(30, "degC"), "minutes_after": 2}],
            "typed": {
                "peaks": [{"speed": q(70, "km/h"), "instrument": "the small one"}],
                "second": q(69, "km/h"),
                "held_s": 5,
                "feathered": False,
                "current_a": 60,
                "rest_v": [3.8, 3.79],
                "damage": ["nicked blade"],
            },
        },
        ("POST", "/api/parts"): {"kind": "motor", "document": document["motor"]},
        ("PATCH", "/api/parts/{part_id}"): {"state": "worn", "price": 3, "document": {"bore": q(4, "mm")}},
        ("POST", "/api/parts/{part_id}/events"): {"kind": "damage", "words": "x"},
        ("POST", "/api/parts/{part_id}/measured"): {"path": "hose.bore", "value": 0.004, "sd": 1e-5},
        ("POST", "/api/parts/compared"): {**plan, "parts": [api.motor]},
        ("POST", "/api/parts/swaps"): {"document": plan["document"], "kind": "motor"},
        ("POST", "/api/instruments/{key}"): {"readings": {"rpm": 1500, "volts": 0.5}, "spreads": {"volts": 0.01}},
        ("POST", "/api/finders/{key}"): {"readings": {"shaft": 4, "bore": 4.76}},
        ("POST", "/api/searches"): {**plan, "over": "ranges", "ranges": {"fineness": 4}},
        ("POST", "/api/searches/size"): {**plan, "over": "shelf"},
        ("POST", "/api/next"): plan,
    }


def test_every_operation_that_takes_json_has_a_good_request(api):
    bodies = good_bodies(api)
    wanted = {(method, path) for method, path, operation in api.operations if body_schema(operation) is not None}
    assert set(bodies) == wanted
    for method, path, operation in api.operations:
        if (method, path) in bodies:
            answer, took = api.send(method, path, random.Random(3), 1.0, json=bodies[method, path])
            api.check(method, path, operation, answer, took, "good")
            # What a path names may not be there, and no run of these has a slip.
            fine = {200, 404, 422} if "{key}" in path or path.endswith("/put-right") else {200, 201, 204}
            assert answer.status_code in fine, (method, path, answer.text)


@pytest.mark.parametrize("seed", SEEDS)
def test_good_requests_with_something_changed(api, seed):
    maker, bodies = Maker(api.description, seed), good_bodies(api)
    operations = {(method, path): operation for method, path, operation in api.operations}
    light = [key for key in bodies if key[1] not in ("/api/next", LONG_WORK)]
    for k in range(REQUESTS):
        # the two that compute for long are tried less often
        method, path = light[k % len(light)] if k % 50 else ("POST", "/api/next")
        body = maker.mutated(bodies[method, path])
        answer, took = api.send(method, path, maker.random, 0.95, json=body)
        api.check(method, path, operations[method, path], answer, took, json.dumps(body)[:800])
    still = api.client.get(f"/api/setups/{api.ids['setup_id']}")
    assert still.json()["document"]["motor"] == api.document["motor"]  # setups are never edited


def test_odd_numbers_are_json(api):
    assert all(json.loads(json.dumps(n)) == n for n in ODD_NUMBERS)
