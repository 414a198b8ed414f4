"""Writing through each kind of share: every operation with a good body that says something new, in both orders."""

import asyncio
import contextlib
import itertools

import pytest
from sqlalchemy import select, text
from tests import samples
from tests.samples import q
from tests.web.club import a_club, joined, somebody, store_of
from tests.web.test_strangers import Whole, ask, fingerprint, ids_in

from kunstflug.core.quantity.errors import NotFound, NotSignedIn, OnlyToLookAt, OwnersAlone
from kunstflug.services.live import drives
from kunstflug.services.live.listening import Ear
from kunstflug.store.acting import Acting, acting
from kunstflug.store.tables import Boat, PartRow, PondDay

_turns = itertools.count(1)
OWNERS_OWN = ("parts", "part_events", "pond_days", "ponds", "csv_shapes", "shares", "pairings", "class_rules",
              "invitations", "recovery_codes", "passkeys", "summaries")  # fmt: skip


def fresh() -> dict[tuple[str, str], object]:
    """Bodies that change something each time: what repeats what is there shows no hole."""
    n = next(_turns)
    return {
        ("PATCH", "/api/boats/{boat_id}"): {"name": f"renamed {n}", "archived": True},
        ("PUT", "/api/boats/{boat_id}/aim"): {"wanted": q(60 + n, "km/h"), "duty": {"kind": "passes", "passes": 3}},
        ("PATCH", "/api/setups/{setup_id}"): {"name": f"setup {n}"},
        ("PUT", "/api/setups/{setup_id}/ticks"): {"key": "clean", "done": bool(n % 2)},
        ("PUT", "/api/days/{day}/ticks"): {"boat_id": 1, "key": f"drain {n}", "done": True},
        ("PUT", "/api/trim/rules"): {"changes": {"sign.mass_forward.wet": round(0.30 + 0.001 * n, 3)}},
        ("PUT", "/api/ponds/{name}"): {"corners": [[0, 0], [120 + n, 0], [100, 60]]},
        ("PUT", "/api/days/{day}"): {
            "starts_min": 480 + n % 30, "water_min": 600, "hands_min": 10,
            "chargers": [{"name": f"c{n}", "most_current_a": 10, "power_w": None, "most_cells": 8}],
            "packs": [{"name": "p", "cells": 3, "capacity_ah": 5, "cell_ohm": 0.002, "charge": 0.4, "most_c": 1}],
            "runs": [],
        },
        ("PUT", "/api/aside"): {"runs": [], "aside": bool(n % 2)},
        ("PATCH", "/api/parts/{part_id}"): {"price": n, "document": {"bore": q(4, "mm")}},
        ("POST", "/api/parts/{part_id}/events"): {"kind": "damage", "words": f"dropped {n} times"},
        ("POST", "/api/setups/{setup_id}/runs/typed"): {"started_at": f"2026-06-06T09:{n % 60:02d}:00Z"},
    }  # fmt: skip


@pytest.fixture(scope="module")
def club(store):
    with a_club(store) as made:
        made.keeper = joined(made, "kim", "keeper")
        joined(made, "ada", "guest")
        made.friend = joined(made, "bo")
        joined(made, "sam")
        made.whole = Whole(made.keeper)
        yield made


def told_of_owner(club):
    """All of the owner's rows, and what stands with their name."""
    with store_of(club).engine.connect() as connection:
        racer = connection.execute(text("SELECT * FROM racers WHERE name = 'kim'")).one()
    return fingerprint(store_of(club), "kim") | {"racers": [repr(tuple(racer))]}


def share(club, **asked):
    answer = club.keeper.post(f"/api/boats/{club.whole.ids['boat_id']}/shares", json=asked)
    assert answer.status_code == 201, answer.text
    return answer.json()


def walked(club, client, through, backwards):
    """Each operation that changes something, with a new body; what was answered."""
    operations = [
        one for one in club.whole.operations if one[0] != "GET" and not one[1].startswith("/api/account/")
    ]  # an account is never gone through with a share, and signing out ends the walk
    for method, path, operation in reversed(operations) if backwards else operations:
        bodies = fresh()
        if (method, path) in bodies:
            address = path
            for name in ids_in(path):
                words = {"day": "2026-05-04", "name": "the long one"}
                address = address.replace(f"{{{name}}}", str(club.whole.ids.get(name, words.get(name))))
            answer = client.request(method, address, json=bodies[method, path], headers={"if-match": "*", **through})
        else:
            answer = ask(club.whole, client, method, path, operation, **through)
        assert answer.status_code < 500, (method, path, answer.text[:300])
        yield method, path, answer


@pytest.mark.parametrize("backwards", [False, True])
@pytest.mark.parametrize("kind", ["link", "look"])
def test_what_only_shows_changes_nothing_in_any_table(club, kind, backwards):
    """Once a link set the owner's rules of thumb and ended the owner's running drive."""
    made = share(club) if kind == "link" else share(club, with_name="bo")
    client = somebody(club) if kind == "link" else club.friend
    through = {"share": made["path"].partition("#")[2] if kind == "link" else str(made["id"])}
    running = club.keeper.post(f"/api/setups/{club.whole.ids['setup_id']}/drives", json={"kind": "udp", "port": 10131})
    ended, club.whole.ids["drive_id"] = club.whole.ids["drive_id"], running.json()["id"]
    own = told_of_owner(club)
    for method, path, answer in walked(club, client, through, backwards):
        if told_of_owner(club) != own:
            pytest.fail(f"{method} {path} changed something: {answer.status_code} {answer.text[:200]}")
    club.whole.ids["drive_id"] = ended
    club.keeper.post(f"/api/drives/{running.json()['id']}/end")
    assert club.keeper.delete(f"/api/shares/{made['id']}").status_code == 204


@pytest.mark.parametrize("backwards", [False, True])
def test_together_adds_to_the_boat_and_takes_nothing_of_the_owners(club, backwards):
    """Shelf, day plan, ponds and rules of thumb are the owner's alone; nothing goes into a bin or an archive."""
    made = share(club, with_name="bo", together=True)
    through = {"share": str(made["id"])}
    before, done, refused = told_of_owner(club), 0, 0
    for method, path, answer in walked(club, club.friend, through, backwards):
        done += answer.status_code in (200, 201, 204)
        refused += answer.status_code == 403
        after = told_of_owner(club)
        for table in (*OWNERS_OWN, "racers"):
            assert after.get(table) == before.get(table), (method, path, table)
    assert done > 20, done
    assert refused > 5
    with store_of(club).engine.connect() as connection:
        for table in ("boats", "setups", "runs", "parts", "tub_tests", "controller_logs"):
            gone = connection.execute(text(f"SELECT COUNT(*) FROM {table} WHERE deleted_at IS NOT NULL")).scalar()
            assert gone == 0, table
        assert connection.execute(text("SELECT COUNT(*) FROM boats WHERE archived_at IS NOT NULL")).scalar() == 0
    said = club.friend.patch(
        f"/api/boats/{club.whole.ids['boat_id']}", json={"name": "y", "archived": True}, headers=through
    )
    assert said.json()["detail"] == (
        "Nothing was changed: what throws something away, and all else of its owner's, is the owner's alone."
    )
    assert club.keeper.delete(f"/api/shares/{made['id']}").status_code == 204


def test_a_club_shelf_is_not_written_by_a_racer(club):
    own = told_of_owner(club)
    for method, path, answer in walked(club, club.friend, {"share": "club"}, backwards=False):
        assert told_of_owner(club) == own, (method, path, answer.text[:200])
    with store_of(club).engine.connect() as connection:
        of_club = connection.execute(text("SELECT id FROM racers WHERE role = 'club'")).scalar()
        for table in ("parts", "ponds", "boats", "class_rules"):
            found = connection.execute(text(f"SELECT COUNT(*) FROM {table} WHERE owner_id = :o"), {"o": of_club})
            assert found.scalar() == 0, table


def test_every_statement_is_bound_not_only_that_of_classes(club):
    store = store_of(club)
    with store.engine.connect() as connection:
        kim, sam = (
            connection.execute(text("SELECT id FROM racers WHERE name = :n"), {"n": name}).scalar_one()
            for name in ("kim", "sam")
        )
    table, boat = Boat.__table__, club.whole.ids["boat_id"]
    with acting(Acting(racer=sam)), store.transaction() as session:
        assert session.execute(select(table.c.name)).all() == []
        assert session.execute(table.update().values(name="mine")).rowcount == 0
        assert session.execute(table.delete()).rowcount == 0
        with pytest.raises(RuntimeError, match="does not say whose"):
            session.execute(text("SELECT name FROM boats"))
        with pytest.raises(NotFound):
            session.execute(PondDay.__table__.insert().values(owner_id=kim, day="2026-01-01", plan={}))
    with pytest.raises(NotSignedIn), store.transaction() as session:
        session.execute(select(table.c.name))
    with acting(Acting(racer=kim, boat=boat)), store.transaction() as session:
        for told in (
            select(PartRow.__table__.c.name), PondDay.__table__.insert().values(owner_id=kim, day="x", plan={}),
            table.update().values(archived_at=None), table.delete(),
        ):  # fmt: skip
            with pytest.raises(OwnersAlone):
                session.execute(told)
    looks = Acting(racer=kim, boat=boat, writes=False)
    with acting(looks), store.transaction() as session, pytest.raises(OnlyToLookAt):
        session.execute(table.update().values(name="mine"))


def test_who_looks_first_sees_the_drive_and_cannot_end_it(club):
    """A guest's look had the listening claimed as the guest's, which may write nothing: it broke for everybody."""
    store, setup = store_of(club), club.whole.ids["setup_id"]
    drive = club.keeper.post(f"/api/setups/{setup}/drives", json={"kind": "udp", "port": 10132}).json()["id"]
    with store.engine.connect() as connection:
        kim = connection.execute(text("SELECT id FROM racers WHERE name = 'kim'")).scalar_one()
    guest = Acting(racer=kim, boat=club.whole.ids["boat_id"], writes=False)

    async def looks():
        ear = Ear(store)
        try:
            with acting(guest):
                async with contextlib.aclosing(ear.follow(drive)) as states:
                    async for _ in states:
                        break
                with pytest.raises(OnlyToLookAt):
                    await ear.end(drive)
            with acting(Acting(racer=kim)):
                assert drives.drive(store, drive).ended_at is None
                assert drives.relay_of(store, drive) is not None
                return await ear.end(drive)
        finally:
            await ear.close()

    assert asyncio.run(asyncio.wait_for(looks(), 60)).ended_at is not None


def test_a_boat_shared_together_keeps_to_itself(club):
    """A friend's setups and runs are of that boat, whatever number is asked for."""
    other = club.keeper.post("/api/boats", json={"name": "Private", "document": samples.raw()}).json()
    made = share(club, with_name="bo", together=True)
    through = {"share": str(made["id"])}
    for path in (f"/api/setups/{other['id']}/runs/typed", f"/api/setups/{other['id']}/simulate"):
        body = {"started_at": "2026-06-06T09:00:00Z"} if path.endswith("typed") else {"seed": 1, "passes": 1}
        assert club.friend.post(path, json=body, headers=through).status_code == 404
    assert club.friend.patch(f"/api/boats/{other['boat_id']}", json={"name": "z"}, headers=through).status_code == 404
    club.keeper.delete(f"/api/shares/{made['id']}")


def nobody_drives(club):
    for one in drives.open_ones(store_of(club)):
        club.keeper.post(f"/api/drives/{one.id}/end")


def test_a_racer_of_a_club_follows_two_boats_and_nobody_elses_port(club):
    nobody_drives(club)
    setup = club.whole.ids["setup_id"]
    mine = club.friend.post("/api/boats", json={"name": "Mine", "document": samples.raw()}).json()["id"]
    opened = [
        club.keeper.post(f"/api/setups/{setup}/drives", json={"kind": "udp", "port": 10120 + k}) for k in range(3)
    ]
    assert [one.status_code for one in opened] == [201, 201, 409]
    assert "you follow 2 boats already" in opened[2].json()["detail"].lower()
    taken = club.friend.post(f"/api/setups/{mine}/drives", json={"kind": "udp", "port": 10120})
    assert taken.status_code == 409
    again = club.keeper.post(f"/api/setups/{setup}/drives", json={"kind": "udp", "port": 10120})
    assert again.status_code == 201  # the same device: what it told of before is ended
    assert club.keeper.get(f"/api/drives/{opened[0].json()['id']}").json()["ended_at"]
    for one in (opened[1], again):
        club.keeper.post(f"/api/drives/{one.json()['id']}/end")
    tcp = club.friend.post(f"/api/setups/{mine}/drives", json={"kind": "tcp", "host": "127.0.0.1", "port": 3306})
    assert tcp.status_code == 422
    assert "named" in tcp.json()["detail"]


def test_a_link_that_is_taken_back_streams_no_further(club, monkeypatch):
    monkeypatch.setattr("kunstflug.web.api.live.STILL_EVERY_S", 0.0)
    nobody_drives(club)
    made, setup = share(club), club.whole.ids["setup_id"]
    drive = club.keeper.post(f"/api/setups/{setup}/drives", json={"kind": "udp", "port": 10125}).json()["id"]
    heard = []
    through = {"share": made["path"].partition("#")[2]}
    with somebody(club).stream("GET", f"/api/drives/{drive}/live", headers=through) as answer:
        for line in answer.iter_lines():
            heard += [line] if line.startswith("data") else []
            if len(heard) == 1:
                club.keeper.delete(f"/api/shares/{made['id']}")
    assert len(heard) <= 2
    club.keeper.post(f"/api/drives/{drive}/end")
