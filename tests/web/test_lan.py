"""From the local network: nothing is answered without pairing, and a phone is not the machine."""

import base64
import io
import itertools
from pathlib import Path
from urllib.parse import unquote

import pytest
import segno
import zxingcpp
from fastapi.testclient import TestClient
from PIL import Image
from tests import samples

from kunstflug.services.account import devices
from kunstflug.web.api import live as live_api
from kunstflug.web.app import Lan, create_app, create_lan_app
from kunstflug.web.lan import COOKIE

HOST = "192.168.7.5"


@pytest.fixture
def machine(fresh_store):
    return create_app(fresh_store, Path("no-front-end"), extra_hosts=frozenset({"testserver"}))


@pytest.fixture
def laptop(machine, fresh_store):
    with TestClient(machine, base_url="http://127.0.0.1:8417") as client:
        client.door = create_lan_app(machine.api, fresh_store, Lan(hosts=(HOST,), port=8418, authority=b"PEM"))
        yield client


def a_phone(laptop, **more):
    return TestClient(laptop.door, base_url=f"https://{HOST}:8418", follow_redirects=False, **more)


@pytest.fixture
def phone(laptop):
    return a_phone(laptop)


def paired(laptop, phone, name="mine"):
    code = laptop.post("/api/pairing").json()["code"]
    answer = phone.post("/pair", data={"code": code, "name": name})
    assert answer.status_code == 303, answer.text
    return answer


def test_without_pairing_nothing_is_answered(phone):
    paths = [
        "/api/boats",
        "/api/health",
        "/api/openapi.json",
        "/setups/1/run",
        "/assets/x.js",
        "/api/pairing",
        "/sw.js",
    ]
    for method, path in itertools.product(["GET", "POST", "PUT", "DELETE", "PATCH", "OPTIONS", "HEAD"], paths):
        answer = phone.request(method, path)
        assert answer.status_code == 401, (method, path)
        assert "boat" not in answer.text


def test_the_way_in_is_shown(phone):
    assert phone.get("/").headers["location"] == "/pair"
    page = phone.get("/pair", params={"code": "<script>alert(1)"})
    assert page.status_code == 200
    assert "<script>" not in page.text
    assert phone.get("/pair/kunstflug-authority.crt").content == b"PEM"


def test_paired_it_is_answered_until_it_is_forgotten(laptop, phone):
    answer = paired(laptop, phone)
    cookie = answer.headers["set-cookie"]
    # The prefix binds it to this host and to HTTPS (RFC 6265bis, 4.1.3.2).
    assert cookie.startswith("__Host-")
    assert {"Secure", "HttpOnly", "Path=/", "SameSite=strict"} <= {part.strip() for part in cookie.split(";")}
    assert "Domain" not in cookie
    made = phone.post("/api/boats", json={"name": "From the phone", "document": samples.raw()})
    assert made.status_code == 201
    told = laptop.get("/api/network").json()
    assert [d["name"] for d in told["devices"]] == ["mine"]
    assert laptop.delete(f"/api/devices/{told['devices'][0]['id']}").status_code == 204
    assert phone.get("/api/boats").status_code == 401


def test_a_phone_pairs_and_forgets_nobody(laptop, phone):
    paired(laptop, phone)
    assert phone.post("/api/pairing").status_code == 403
    assert phone.get("/api/network").status_code == 403
    assert phone.delete("/api/devices/1").status_code == 403


def test_wrong_codes_are_said_and_counted(laptop, phone):
    code = laptop.post("/api/pairing").json()["code"]
    for _ in range(devices.BY_ADDRESS):
        answer = phone.post("/pair", data={"code": "AAAA AAAA"})
        assert answer.status_code == 403
        assert "Ask the laptop for a new one" in answer.text
    late = phone.post("/pair", data={"code": code})
    assert late.status_code == 429
    assert "Wait a quarter of an hour" in late.text


def test_a_phone_that_is_forgotten_streams_no_further(laptop, phone, monkeypatch):
    """Once it went on for 13 to 16 events."""
    monkeypatch.setattr(live_api, "STILL_EVERY_S", 0.0)
    setup = laptop.post("/api/boats", json={"name": "Live", "document": samples.raw()}).json()["id"]
    drive = laptop.post(f"/api/setups/{setup}/drives", json={"kind": "udp", "port": 18461}).json()["id"]
    paired(laptop, phone)
    number = laptop.get("/api/network").json()["devices"][0]["id"]
    heard = []
    with phone.stream("GET", f"/api/drives/{drive}/live") as answer:
        for line in answer.iter_lines():
            if line.startswith("data"):
                heard.append(line)
            if len(heard) == 1:
                laptop.delete(f"/api/devices/{number}")
    assert len(heard) <= 2
    laptop.post(f"/api/drives/{drive}/end")


def test_made_up_tokens_are_none(laptop):
    for token in ["x", "A" * 43, "../../etc", "%00" * 20, ""]:
        assert a_phone(laptop, cookies={COOKIE: token}).get("/api/boats").status_code == 401


def test_another_name_or_page_is_refused(laptop, phone):
    paired(laptop, phone)
    assert phone.get("/api/boats", headers={"host": "evil.example:8418"}).status_code == 403
    assert phone.post("/api/boats", headers={"origin": "https://evil.example"}).status_code == 403
    assert phone.get("/api/boats", headers={"sec-fetch-site": "cross-site"}).status_code == 403


def test_a_huge_form_is_refused(phone):
    assert phone.post("/pair", data={"code": "x" * 5000}).status_code == 413


def test_a_closed_program_has_no_code(fresh_store):
    with TestClient(create_app(fresh_store, Path("no")), base_url="http://127.0.0.1:8417") as client:
        answer = client.post("/api/pairing")
        assert answer.status_code == 409
        assert "kunstflug serve --lan" in answer.json()["detail"]
        assert client.get("/api/network").json() == {"open": False, "addresses": [], "devices": []}


def test_the_picture_is_the_address_with_the_code(laptop):
    """Read by another library's reader of ISO/IEC 18004."""
    told = laptop.post("/api/pairing").json()
    kind, data = told["picture"].split(",", 1)
    assert kind.startswith("data:image/svg+xml")
    svg = unquote(data) if "base64" not in kind else base64.b64decode(data).decode()
    assert "<svg" in svg
    code = told["code"].replace(" ", "")
    wanted = f"https://{HOST}:8418/pair?code={code}"
    out = io.BytesIO()
    segno.make(wanted, error="m").save(out, kind="png", scale=6, border=4)
    found = zxingcpp.read_barcodes(Image.open(out))
    assert [one.text for one in found] == [wanted]
    # The same symbol is in the picture that is shown.
    assert segno.make(wanted, error="m").svg_data_uri(scale=6, border=4) == told["picture"]
