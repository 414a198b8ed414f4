"""Every operation, walked by those who may not: nobody, a stranger with another's numbers, a guest with a share."""

import io
from typing import Any

import pytest
from PIL import Image
from sqlalchemy import text
from tests import samples
from tests.fuzz.test_requests import Api, body_schema, good_bodies, takes_file
from tests.samples import q
from tests.web.club import WORDS, a_club, joined, somebody, store_of

from kunstflug.store.acting import Acting, acting
from kunstflug.store.tables import Boat

NAMED = ("boat_id", "setup_id", "run_id", "part_id", "test_id", "drive_id", "share_id", "login_id", "passkey_id",
         "device_id", "member_id")  # fmt: skip


class Whole(Api):
    """The API with one of everything in it, of one racer."""

    def __init__(self, client: Any) -> None:
        super().__init__(client)
        boat, setup = self.ids["boat_id"], self.ids["setup_id"]
        reading = {"seconds": 30, "typed": q(30, "degC"), "place": "case"}
        tub = {"document": self.document, "readings": [reading, {**reading, "seconds": 60}], "end": "ended early"}
        self.ids["test_id"] = client.post(f"/api/setups/{setup}/tub-tests", json=tub).json()["id"]
        drive = client.post(f"/api/setups/{setup}/drives", json={"kind": "udp", "port": 10129})
        self.ids["drive_id"] = drive.json()["id"]
        client.post(f"/api/drives/{self.ids['drive_id']}/end")
        shared = client.post(f"/api/boats/{boat}/shares", json={"with_name": "ada"})
        self.ids["share_id"] = shared.json()["id"]
        self.ids["login_id"] = client.get("/api/account/security").json()["logins"][0]["id"]
        self.ids["passkey_id"] = self.ids["device_id"] = 1
        members = client.get("/api/club").json()["members"]
        self.ids["member_id"] = next(m["id"] for m in members if m["name"] == "sam")
        client.put("/api/ponds/the%20long%20one", json={"corners": [[0, 0], [120, 0], [100, 60]]})


@pytest.fixture(scope="module")
def club(store):
    with a_club(store) as made:
        made.keeper = joined(made, "kim", "keeper")
        made.stranger = joined(made, "sam")
        made.guest = joined(made, "ada", "guest")
        made.whole = Whole(made.keeper)
        yield made


def fingerprint(store, racer: str) -> dict[str, Any]:
    """Every row of a racer, in every table; but when a login was last seen."""
    with store.transaction() as session:
        of = "table_schema = DATABASE() AND column_name = 'owner_id'"
        tables = session.execute(text(f"SELECT table_name FROM information_schema.columns WHERE {of}")).scalars().all()
        owner = session.execute(text("SELECT id FROM racers WHERE name = :n"), {"n": racer}).scalar_one()
        found = {}
        for table in sorted(tables):
            if table != "devices":  # seen a moment ago
                rows = session.execute(text(f"SELECT * FROM `{table}` WHERE owner_id = :o"), {"o": owner})
                found[table] = sorted(repr(tuple(row)) for row in rows)
    return found


def ids_in(path: str) -> list[str]:
    return [w[1:-1] for w in path.split("/") if w.startswith("{")]


def picture() -> bytes:
    out = io.BytesIO()
    Image.new("RGB", (20, 20)).save(out, "JPEG")
    return out.getvalue()


def ask(whole: Api, client: Any, method: str, path: str, operation: dict[str, Any], **headers: str) -> Any:
    """A good request, with the numbers of the one racer."""
    request: dict[str, Any] = {"headers": {"if-match": "*", **headers}}
    bodies = good_bodies(whole) | OWN_BODIES
    if (method, path) in bodies:
        request["json"] = bodies[method, path]
    elif takes_file(operation):
        kind = path.rsplit("/", 1)[1]
        good = {"controller-log": whole.files[1], "parts.csv": whole.files[2], "photo": picture()}
        request["files"] = {"file": ("a", io.BytesIO(good.get(kind, whole.files[0])))}
    for name in ids_in(path):
        words = {"key": "kv", "kind": "boat", "day": "2026-05-04", "name": "the long one"}
        path = path.replace(f"{{{name}}}", str(whole.ids.get(name, words.get(name))))
    if method == "GET":
        request["params"] = {"before": None}
    return client.request(method, path, **request)


OWN_BODIES: dict[tuple[str, str], Any] = {
    ("POST", "/api/boats/{boat_id}/shares"): {"with_name": "sam"},
    ("PATCH", "/api/club/members/{member_id}"): {"role": "keeper"},
    ("POST", "/api/club/invitations"): {"role": "keeper"},
    ("PUT", "/api/club/classes/{name}"): {"most_cells": 4},
    ("PUT", "/api/account/password"): {"old": "not hers", "new": "lanterns swing over cold water"},
    ("POST", "/api/account/codes"): {"password": "not hers"},
    ("POST", "/api/account/delete"): {"password": "not hers"},
    ("POST", "/api/account/passkeys"): {},
    ("POST", "/api/account/passkeys/question"): {"password": "not hers"},
    ("POST", "/api/account/passkeys/{passkey_id}/forget"): {"password": WORDS["sam"]},
    ("POST", "/api/account/passkey/answer"): {},
    ("POST", "/api/account/sign-in"): {"name": "kim", "password": "not hers"},
    ("POST", "/api/account/join"): {"token": "guess", "name": "thief", "password": "lanterns swing over water"},
    ("POST", "/api/account/recover"): {"name": "kim", "code": "guess", "password": "lanterns swing over water"},
}
WAYS_IN = {"account", "sign_in", "join", "recover", "passkey_question", "passkey_answer", "health", "live", "ready"}


def test_nobody_is_answered_anything_but_the_ways_in(club):
    whole, nobody = club.whole, somebody(club)
    for method, path, operation in whole.operations:
        answer = ask(whole, nobody, method, path, operation)
        if operation["operationId"] in WAYS_IN:
            assert answer.status_code in (200, 204, 401, 403), (path, answer.status_code)
        else:
            assert answer.status_code == 401, (method, path, answer.status_code)
            assert answer.json()["detail"] == "Sign in first."


def test_a_stranger_finds_nothing_under_anothers_numbers(club):
    """Each operation that takes a number, with a good request and the numbers of somebody else's things."""
    whole, stranger = club.whole, club.stranger
    before = fingerprint(store_of(club), "kim")
    walked = 0
    for method, path, operation in whole.operations:
        named = [name for name in ids_in(path) if name in NAMED]
        if not named:
            continue
        answer = ask(whole, stranger, method, path, operation)
        keepers = path.startswith("/api/club/members")
        if takes_file(operation) and answer.status_code == 422:
            # a file is read before it is put anywhere; then it says nothing that it would not say of no run at all
            there, whole.ids = whole.ids, dict.fromkeys(whole.ids, 10**6)
            nothing = ask(whole, stranger, method, path, operation)
            whole.ids = there
            assert nothing.text == answer.text, path
            continue
        assert answer.status_code == (403 if keepers else 404), (method, path, answer.status_code, answer.text[:300])
        assert "Fuzzed" not in answer.text
        walked += 1
    assert walked > 50
    assert fingerprint(store_of(club), "kim") == before


def test_a_stranger_finds_nothing_by_numbers_in_a_request(club):
    whole, stranger = club.whole, club.stranger
    mine = stranger.post("/api/boats", json={"name": "Mine", "document": samples.raw()}).json()
    theirs = whole.ids
    before = fingerprint(store_of(club), "kim")
    changed = {**mine["document"], "all_up_mass": q(2222, "g")}
    day = good_bodies(whole)["PUT", "/api/days/{day}"]
    refused = [
        ("POST", f"/api/setups/{mine['id']}/adopt", {"document": changed, "shelf": {"motor": whole.motor}}),
        ("POST", "/api/parts/compared", {"document": changed, "parts": [whole.motor]}),
        ("PUT", "/api/aside", {"runs": [theirs["run_id"]], "aside": True}),
        ("PUT", "/api/days/2026-05-04/ticks", {"boat_id": theirs["boat_id"], "key": "drain", "done": True}),
        ("POST", "/api/days", {**day, "runs": [{**day["runs"][0], "setup_id": theirs["setup_id"]}]}),
    ]
    for method, path, body in refused:
        answer = stranger.request(method, path, json=body)
        assert answer.status_code in (404, 422), (path, answer.status_code, answer.text[:300])
    run = stranger.post(f"/api/setups/{mine['id']}/simulate", json={"seed": 2, "passes": 1}).json()
    moved = stranger.patch(f"/api/runs/{run['id']}", json={"setup_id": theirs["setup_id"]})
    assert moved.status_code == 404, moved.text
    assert fingerprint(store_of(club), "kim") == before


def test_a_strangers_lists_hold_nothing_of_anothers(club):
    whole, stranger = club.whole, joined_once(club)
    for method, path, operation in whole.operations:
        if method != "GET" or ids_in(path) or path in ("/api/openapi.json",):
            continue
        answer = ask(whole, stranger, method, path, operation)
        if answer.status_code == 200 and "json" in answer.headers["content-type"]:
            assert "Fuzzed" not in answer.text, path
            assert answer.json() not in ({}, None), path
    assert b"Fuzzed" not in stranger.get("/api/export.zip").content
    for boat in (whole.ids["boat_id"], 10**6):
        computed = stranger.post("/api/forecast", json=samples.raw(), headers={"boat": str(boat)})
        bare = stranger.post("/api/forecast", json=samples.raw())
        assert computed.json() == bare.json()  # another's runs teach a stranger nothing


def joined_once(club):
    if not hasattr(club, "second"):
        club.second = joined(club, "bo")
    return club.second


def test_without_a_word_the_store_itself_refuses(club):
    """A use case that forgot to ask who it acts for sees no row at all."""
    from sqlalchemy import select

    from kunstflug.core.quantity.errors import NotFound, NotSignedIn

    store = store_of(club)
    with pytest.raises(NotSignedIn), store.transaction() as session:
        session.scalars(select(Boat)).all()
    with acting(Acting(racer=10**6)), store.transaction() as session:
        assert session.scalars(select(Boat)).all() == []
        assert session.get(Boat, club.whole.ids["boat_id"]) is None
    with pytest.raises(NotFound), acting(Acting(racer=10**6)), store.transaction() as session:
        session.add(Boat(owner_id=1, name="planted"))


# --- shared to be looked at


def shares(club, **asked):
    answer = club.keeper.post(f"/api/boats/{club.whole.ids['boat_id']}/shares", json=asked)
    assert answer.status_code == 201, answer.text
    return answer.json()


@pytest.mark.long
def test_a_link_shows_one_boat_and_changes_nothing(club):
    whole, nobody = club.whole, somebody(club)
    other = club.keeper.post("/api/boats", json={"name": "Private", "document": samples.raw()}).json()
    made = shares(club)
    token = made["path"].partition("#")[2]
    through = {"share": token}
    before = fingerprint(store_of(club), "kim")
    assert [b["name"] for b in nobody.get("/api/boats", headers=through).json()["items"]] == ["Fuzzed"]
    assert nobody.get("/api/account", headers=through).json()["sees"] == "kim"
    for path in (f"/api/setups/{other['id']}", f"/api/boats/{other['boat_id']}/setups"):
        assert nobody.get(path, headers=through).status_code == 404
    seen = 0
    for method, path, operation in whole.operations:
        answer = ask(whole, nobody, method, path, operation, **through)
        assert answer.status_code < 500, (method, path, answer.text[:300])
        assert "Private" not in answer.text, path
        if method == "GET" and set(ids_in(path)) <= {"boat_id", "setup_id"} and ids_in(path):
            seen += answer.status_code == 200
    assert seen >= 8  # the boat, its setups, forecast, log, heat, sheet
    assert fingerprint(store_of(club), "kim") == before
    assert club.keeper.delete(f"/api/shares/{made['id']}").status_code == 204
    assert nobody.get("/api/boats", headers=through).status_code == 404


def test_figures_of_an_older_program_are_seen_through_a_share_and_left_as_they_are(club):
    """Where its owner looks they are worked out anew and kept; who only looks sees the same and keeps nothing."""
    made, run = shares(club), club.whole.ids["run_id"]
    through = {"share": made["path"].partition("#")[2]}
    with store_of(club).engine.begin() as connection:
        old = "UPDATE tracks SET summary = JSON_SET(summary, '$.version', 0) WHERE run_id = :run"
        assert connection.execute(text(old), {"run": run}).rowcount == 1
    before = fingerprint(store_of(club), "kim")
    seen = somebody(club).get(f"/api/runs/{run}", headers=through)
    assert seen.status_code == 200, seen.text
    assert fingerprint(store_of(club), "kim") == before
    assert club.keeper.get(f"/api/runs/{run}").json()["summary"] == seen.json()["summary"]
    assert fingerprint(store_of(club), "kim") != before
    club.keeper.delete(f"/api/shares/{made['id']}")


def test_a_shared_boat_is_computed_as_its_owner_computes_it(club):
    """Two ways to the same answer: what the owner's runs taught counts for whoever looks, too."""
    token = shares(club)["path"].partition("#")[2]
    boat, setup = club.whole.ids["boat_id"], club.whole.ids["setup_id"]
    asked = {"json": club.keeper.get(f"/api/setups/{setup}").json()["document"]}
    own = club.keeper.post("/api/forecast", **asked, headers={"boat": str(boat)}).json()
    seen = somebody(club).post("/api/forecast", **asked, headers={"boat": str(boat), "share": token}).json()
    assert own == seen


@pytest.mark.parametrize("token", ["", "x", "1", "club", "-1", "A" * 43, "'; DROP TABLE shares; --", "9" * 400])
def test_a_share_that_was_never_given_shows_nothing(club, token):
    shown = somebody(club).get("/api/boats", headers={"share": token})
    assert shown.status_code in (401, 404)


def test_a_share_with_one_racer_is_of_no_use_to_another(club):
    number = str(club.whole.ids["share_id"])  # with ada
    assert club.guest.get("/api/boats", headers={"share": number}).json()["items"][0]["name"] == "Fuzzed"
    assert club.stranger.get("/api/boats", headers={"share": number}).status_code == 404
    assert somebody(club).get("/api/boats", headers={"share": number}).status_code == 404


def test_together_means_changing_it_and_nothing_else_of_the_owners(club):
    whole, friend = club.whole, joined_once(club)
    made = shares(club, with_name="bo", together=True)
    through = {"share": str(made["id"])}
    setup, boat = whole.ids["setup_id"], whole.ids["boat_id"]
    document = {**whole.document, "all_up_mass": q(2345, "g")}
    adopted = friend.post(f"/api/setups/{setup}/adopt", json={"document": document, "shelf": {}}, headers=through)
    assert adopted.status_code == 201, adopted.text
    assert club.keeper.get(f"/api/setups/{adopted.json()['id']}").json()["boat_id"] == boat
    again = {**through, "idempotency-key": "together-1"}
    for _ in range(2):
        run = friend.post(f"/api/setups/{setup}/simulate", json={"seed": 9, "passes": 1}, headers=again)
        assert run.status_code == 201, run.text
    assert friend.post("/api/boats", json={"name": "x", "document": document}, headers=through).status_code == 403
    assert friend.delete(f"/api/boats/{boat}", headers=through).status_code == 403  # it is not theirs to throw away
    assert friend.post(f"/api/boats/{boat}/shares", json={"with_name": "sam"}, headers=through).status_code == 404
    assert friend.get("/api/boats").json()["items"] == []  # it is not theirs
    assert club.keeper.delete(f"/api/shares/{made['id']}").status_code == 204
    assert friend.get("/api/boats", headers=through).status_code == 404


def test_a_setup_that_is_looked_at_becomes_ones_own(club):
    friend = joined_once(club)
    made = shares(club, with_name="bo")
    through = {"share": str(made["id"])}
    setup = club.whole.ids["setup_id"]
    before = fingerprint(store_of(club), "kim")
    taken = friend.post(f"/api/account/takeover/{setup}", headers=through)
    assert taken.status_code == 201, taken.text
    mine = friend.get(f"/api/boats/{taken.json()['boat_id']}/setups").json()["items"]
    own = friend.get(f"/api/setups/{mine[0]['id']}").json()
    theirs = friend.get(f"/api/setups/{setup}", headers=through).json()
    assert own["document"]["motor"] == theirs["document"]["motor"]
    assert own["id"] != theirs["id"]
    assert friend.get("/api/boats").json()["items"][0]["runs"] == 0
    assert all(part["price"] is None for part in friend.get("/api/parts").json()["items"])
    assert fingerprint(store_of(club), "kim") == before
    assert friend.post(f"/api/account/takeover/{setup}").status_code == 404  # without the share there is no setup
    club.keeper.delete(f"/api/shares/{made['id']}")


def test_a_guest_looks_and_changes_nothing(club):
    guest = club.guest
    assert guest.post("/api/boats", json={"name": "x", "document": samples.raw()}).status_code == 403
    number = str(club.whole.ids["share_id"])
    setup = club.whole.ids["setup_id"]
    taken = guest.post(f"/api/account/takeover/{setup}", headers={"share": number})
    assert taken.status_code == 403
    assert guest.post("/api/forecast", json=samples.raw()).status_code == 200
    assert guest.get("/api/account/security").status_code == 200


# --- the club


def test_the_clubs_shelf_is_kept_by_keepers_and_taken_by_racers(club):
    through = {"share": "club"}
    prop = {"kind": "propeller", "document": {"name": "club's 40", "diameter": q(40, "mm"), "pitch_ratio": q(1.5, "1")}}
    assert club.stranger.post("/api/parts", json=prop, headers=through).status_code == 403
    part = club.keeper.post("/api/parts", json=prop, headers=through)
    assert part.status_code == 201, part.text
    seen = club.stranger.get("/api/parts", headers=through).json()["items"]
    assert [p["name"] for p in seen] == ["club's 40"]
    assert "club's 40" not in club.stranger.get("/api/parts").text
    taken = club.stranger.post(f"/api/club/parts/{part.json()['id']}/take")
    assert taken.status_code == 201
    assert "club's 40" in club.stranger.get("/api/parts").text
    assert club.stranger.post(f"/api/club/parts/{club.whole.motor}/take").status_code == 404  # a racer's own


def test_the_clubs_ponds_and_classes(club):
    through, shore = {"share": "club"}, {"corners": [[0, 0], [120, 0], [100, 60]]}
    assert club.stranger.put("/api/ponds/bay", json=shore, headers=through).status_code == 403
    assert club.keeper.put("/api/ponds/bay", json=shore, headers=through).status_code == 200
    read = {**shore, "water": [{"on": "2026-05-02", "celsius": 15.5}]}
    assert club.stranger.put("/api/ponds/bay", json=read, headers=through).status_code == 403
    assert club.keeper.put("/api/ponds/bay", json=read, headers=through).status_code == 200
    (bay,) = club.stranger.get("/api/ponds?on=2026-05-02", headers=through).json()
    assert (bay["name"], bay["water"], bay["asked"]["day"]) == ("bay", read["water"], 122)
    assert bay["asked"]["celsius"] == pytest.approx(15.5, abs=1)
    assert club.stranger.get("/api/ponds").json() == []  # the club's are not one's own
    rule = {"most_cells": 4, "most_length_m": 0.62, "least_mass_kg": 1.8}
    assert club.stranger.put("/api/club/classes/Mono%204", json=rule).status_code == 403
    assert club.keeper.put("/api/club/classes/Mono%204", json=rule).status_code == 200
    assert club.keeper.put("/api/club/classes/Mono%204", json={**rule, "most_cells": 6}).status_code == 200
    (seen,) = club.stranger.get("/api/club").json()["classes"]
    assert (seen["name"], seen["rule"]["most_cells"]) == ("Mono 4", 6)
    assert club.keeper.delete("/api/club/classes/Mono%204").status_code == 204
    assert club.keeper.delete("/api/club/classes/Mono%204").status_code == 404


def test_numbers_of_rows_are_not_guessed_from_an_answers_size_or_words(club):
    """A row that is another's and a row that was never there are answered word for word alike."""
    stranger = club.stranger
    for path in ("/api/setups/{}", "/api/boats/{}/setups", "/api/runs/{}"):
        name = {"/api/setups/{}": "setup_id", "/api/boats/{}/setups": "boat_id", "/api/runs/{}": "run_id"}[path]
        theirs = stranger.get(path.format(club.whole.ids[name]))
        nothing = stranger.get(path.format(10**6))
        assert theirs.status_code == nothing.status_code == 404
        assert theirs.text.replace(str(club.whole.ids[name]), "#") == nothing.text.replace(str(10**6), "#")


def test_bodies_of_the_walk_are_good(club):
    """A walk with requests that are refused for another reason would prove nothing."""
    missing = [
        (method, path)
        for method, path, operation in club.whole.operations
        if body_schema(operation) is not None and (method, path) not in good_bodies(club.whole) | OWN_BODIES
    ]
    assert missing == []


@pytest.mark.long
def test_a_class_is_respected_and_named_by_next_step_and_aim(club):
    racer = club.stranger
    boat = racer.post("/api/boats", json={"name": "In class", "document": samples.raw()}).json()
    club.keeper.put("/api/club/classes/Mono%204", json={"most_cells": 4, "least_mass_kg": 2.05})
    plan = {"document": boat["document"], "class_name": "Mono 4"}
    steps = racer.post("/api/next", json=plan).json()["steps"]
    free = racer.post("/api/next", json={"document": boat["document"]}).json()["steps"]
    alone = [{s["label"] + s["text"] for s in found if s["then"] is None} for found in (steps, free)]
    assert alone[0] == alone[1]
    assert not any(s["breaks"] for s in free)
    five = next(s for s in steps if s["path"] == "pack.cells" and s["text"] == "5" and s["then"] is None)
    assert five["breaks"] == "Mono 4 allows 4 cells, this has 5"
    light = next(s for s in steps if s["path"] == "all_up_mass" and s["breaks"])
    assert light["breaks"] == "Mono 4 wants at least 2050 g, this has 1990 g"
    assert [bool(s["breaks"]) for s in steps] == sorted(bool(s["breaks"]) for s in steps)  # last
    answers = racer.post("/api/backward", json={**plan, "wanted_mps": 28}).json()
    assert answers["breaks"] == ""
    assert all(bool(a["breaks"]) == (a["cells"] > 4 or a["boat_kg"] < 2.05) for a in answers["answers"])
    assert [bool(a["breaks"]) for a in answers["answers"]] == sorted(bool(a["breaks"]) for a in answers["answers"])
    club.keeper.put("/api/club/classes/Mono%204", json={"most_length_m": 0.5})
    long = racer.post("/api/backward", json={**plan, "wanted_mps": 28}).json()
    assert long["breaks"] == "Mono 4 allows a hull of 500 mm, this has 620 mm"  # said once, of the boat as it is
    assert not any(a["breaks"] for a in long["answers"])
    assert not any(s["breaks"] for s in racer.post("/api/next", json=plan).json()["steps"])
    club.keeper.put("/api/club/classes/Mono%204", json={"most_noise_db": 80, "noise_at_m": 10})
    heard = racer.post("/api/backward", json={**plan, "wanted_mps": 28}).json()
    assert (heard["noise"]["limit_db"], heard["noise"]["at_m"], heard["noise"]["measured"]) == (80, 10, False)
    assert heard["noise"]["low_db"] < heard["noise"]["level_db"] < heard["noise"]["high_db"]
    loud = {**plan, "noise": {"level_db": 79.8, "law_db": heard["noise"]["law_db"]}}
    measured = racer.post("/api/backward", json={**loud, "wanted_mps": 28}).json()
    assert measured["noise"] | {"level_db": 79.8, "measured": True} == measured["noise"]
    assert measured["noise"]["high_db"] - measured["noise"]["low_db"] < 5
    louder = [s for s in racer.post("/api/next", json=loud).json()["steps"] if s["breaks"]]
    assert {s["path"] for s in louder} >= {"pack.cells", "motor.kv"}  # five cells and more KV are louder
    assert all("Mono 4 allows 80 dB(A) at 10 m, this makes about" in s["breaks"] for s in louder)
    assert all(s["gain_mps"] > 0 or s["current_a"] > 0 for s in louder)
    club.keeper.delete("/api/club/classes/Mono%204")
    assert racer.post("/api/backward", json={**plan, "wanted_mps": 28}).json()["breaks"] == ""  # taken away
