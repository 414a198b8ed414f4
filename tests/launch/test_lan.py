"""The program open to the local network, as a phone meets it: its certificate, its code, its page."""

import json
import ssl
import urllib.error
import urllib.request

import pytest
from playwright.sync_api import expect, sync_playwright
from tests.chromium import debians_chromium
from tests.launch.whole import Whole

from kunstflug.launch.mariadb import free_port

# Starts the whole program once more; tests/web/test_lan.py asks the same of the program in one process.
pytestmark = pytest.mark.long

ADDRESS = "127.0.0.7"


@pytest.fixture(scope="module")
def lan(tmp_path_factory):
    port = free_port()
    folder = tmp_path_factory.mktemp("lan")
    more = {"KUNSTFLUG_LAN_ADDRESS": ADDRESS, "KUNSTFLUG_LAN_PORT": str(port)}
    running = Whole(folder, 2, ("serve", "--lan"), **more).start()
    running.url = f"https://{ADDRESS}:{port}"
    yield running
    running.stop()
    assert running.left() == []


def asked(lan, path):
    """Status and body as a phone that trusts the machine is answered."""
    trusting = ssl.create_default_context(cafile=str(lan.folder / "demo" / "lan" / "authority.pem"))
    try:
        with urllib.request.urlopen(lan.url + path, timeout=20, context=trusting) as answer:
            return answer.status, answer.read()
    except urllib.error.HTTPError as error:
        with error:
            return error.code, error.read()


def test_it_says_where_and_has_no_demo_in_it(lan):
    assert f"Open to the local network at {lan.url}" in lan.said()
    assert lan.ask("GET", "/api/boats")[1]["items"] == []
    assert lan.ask("GET", "/api/network")[1]["addresses"] == [lan.url]


def test_a_stranger_is_answered_nothing(lan):
    for path in ("/api/boats", "/api/health", "/assets/x.js", "/setups/1/run"):
        assert asked(lan, path) == (401, b"This device is not paired.")
    status, page = asked(lan, "/pair/kunstflug-authority.crt")
    assert (status, page) == (200, (lan.folder / "demo" / "lan" / "authority.pem").read_bytes())


def test_a_phone_is_paired_by_the_code_on_the_laptop_and_forgotten(lan):
    code = lan.ask("POST", "/api/pairing")[1]["code"]
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=debians_chromium())
        context = browser.new_context(
            base_url=lan.url, viewport={"width": 390, "height": 844}, has_touch=True, ignore_https_errors=True
        )
        phone = context.new_page()
        phone.goto("/")
        phone.get_by_label("Code on the laptop's screen").fill(code.lower())
        phone.get_by_label("What to call this phone").fill("the test's")
        phone.get_by_role("button", name="Pair").tap()
        expect(phone.get_by_role("link", name="Kunstflug").or_(phone.get_by_role("main")).first).to_be_visible()
        assert phone.evaluate("fetch('/api/boats').then((a) => a.status)") == 200
        assert phone.evaluate("document.cookie") == ""  # no script reads the token
        network = lan.ask("GET", "/api/network")[1]
        assert [d["name"] for d in network["devices"]] == ["the test's"]
        assert lan.ask("DELETE", f"/api/devices/{network['devices'][0]['id']}")[0] == 204
        assert phone.evaluate("fetch('/api/boats').then((a) => a.status)") == 401
        browser.close()


def test_without_the_word_it_stays_on_loopback(lan, tmp_path):
    told = lan.here("serve", "--help")
    assert "--lan" in told.stdout
    with Whole(tmp_path / "closed", 1, ("serve",)).start() as closed:
        assert json.dumps(closed.ask("GET", "/api/network")[1]) == json.dumps(
            {"open": False, "addresses": [], "devices": []}
        )
        assert "local network" not in closed.said()
