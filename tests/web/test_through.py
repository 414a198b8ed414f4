"""What carries no header (pictures, downloads, streams) through a share: the share goes before the path."""

from pathlib import Path

import pytest
from fastapi.testclient import TestClient
from tests import samples
from tests.web.club import a_club, joined, somebody

from kunstflug.web.app import create_app
from kunstflug.web.observe import _registry


@pytest.fixture(scope="module")
def club(store):
    with a_club(store) as client:
        client.kim, client.sam, client.ada = (joined(client, name, role) for name, role in
                                              (("kim", "keeper"), ("sam", "racer"), ("ada", "racer")))  # fmt: skip
        yield client


@pytest.fixture(scope="module")
def boats(club):
    """Two boats of Kim's with a run each; Sam is shown the first."""
    made = []
    for name in ("Shown", "Private"):
        boat = club.kim.post("/api/boats", json={"name": name, "document": samples.raw()}).json()
        run = club.kim.post(f"/api/setups/{boat['id']}/simulate", json={"seed": 3, "passes": 1, "water_c": 12}).json()
        made.append((boat, run))
    return made


def share(club, boat, **how):
    answer = club.kim.post(f"/api/boats/{boat['boat_id']}/shares", json=how)
    assert answer.status_code == 201, answer.text
    return answer.json()


def test_a_friend_downloads_what_is_shown_and_nothing_else(club, boats):
    (shown, run), (private, other) = boats
    share(club, shown, with_name="sam")
    number = club.sam.get("/api/club").json()["shared"][0]["share_id"]
    through = f"/through/{number}/api"
    before = counted()
    for path in (f"/runs/{run['id']}/track.gpx", f"/runs/{run['id']}/picture.png", f"/setups/{shown['id']}/document",
                 f"/setups/{shown['id']}/sheet.pdf"):  # fmt: skip
        answer = club.sam.get(through + path)
        assert answer.status_code == 200, (path, answer.text)
        assert answer.headers["cache-control"] == "no-store"
        assert answer.content == club.kim.get(f"/api{path}").content or path.endswith("pdf")
        assert club.sam.get(f"/api{path}").status_code == 404
        assert club.ada.get(through + path).status_code == 404, "it is Sam's share"
        assert somebody(club).get(through + path).status_code == 404
    assert counted() >= before + 2, "it is counted under the route that answered"
    for path in (f"/runs/{other['id']}/track.gpx", f"/setups/{private['id']}/document"):
        assert club.sam.get(through + path).status_code == 404


def counted():
    """Documents of setups that were answered."""
    found = [s for family in _registry.collect() for s in family.samples if s.name == "kunstflug_requests_total"]
    return sum(s.value for s in found if s.labels["route"].endswith("/document") and s.labels["status"] == "200")


def test_a_link_s_secret_is_in_no_address(club, boats):
    (shown, run), (_, other) = boats
    token = share(club, shown)["path"].partition("#")[2]
    guest = somebody(club)
    picture = f"/through/link/api/runs/{run['id']}/picture.png"
    assert guest.get(picture).status_code == 404, "nobody has come by a link yet"
    seen = guest.get(f"/api/setups/{shown['id']}", headers={"share": token})
    cookie = seen.headers["set-cookie"]
    assert "Path=/through/link; Secure; HttpOnly; SameSite=Strict" in cookie
    assert "Max-Age" not in cookie
    assert "Expires" not in cookie
    assert guest.get(picture).status_code == 200
    assert "set-cookie" not in guest.get(picture).headers
    assert guest.get(f"/through/link/api/runs/{other['id']}/picture.png").status_code == 404
    # the cookie opens nothing but that way, and only to read
    assert guest.get(f"/api/setups/{shown['id']}").status_code == 401
    assert guest.delete(f"/through/link/api/runs/{run['id']}").status_code in (403, 404, 405)
    assert club.kim.get(f"/api/runs/{run['id']}").status_code == 200


@pytest.mark.parametrize("path", [
    "/through/", "/through//api/boats", "/through/link/", "/through/link", "/through/1/",
    "/through/1/api/account/security",
    "/through/1/through/1/api/boats", "/through/%2e%2e/api/boats", "/through/1/../../api/boats", "/through/-/api/boats",
    "/through/club/api/export.zip", "/through/1/api/club", "/through/1/assets/../../etc/passwd",
])  # fmt: skip
def test_crooked_ways_lead_nowhere(club, boats, path):
    for who in (club.ada, somebody(club)):
        answer = who.get(path)
        if answer.status_code == 200:  # one's own affairs are one's own through whatever share
            assert who is club.ada
            assert "Shown" not in answer.text
            assert "Private" not in answer.text
        else:
            assert answer.status_code in (401, 404), (path, answer.status_code)


def test_alone_there_is_no_such_way(fresh_store):
    with TestClient(create_app(fresh_store, Path("no-front-end")), base_url="http://127.0.0.1:8417") as client:
        assert client.get("/api/boats").status_code == 200
        assert client.get("/through/1/api/boats").status_code == 404
