"""Accounts: joining, signing in and out, forgotten passwords, what is kept of secrets, what a thief gets."""

import base64
import hashlib
import json
import os
import random
import struct

import argon2
import cbor2
import pytest
from cryptography.hazmat.primitives import hashes
from cryptography.hazmat.primitives.asymmetric import ec
from sqlalchemy import text
from tests import samples
from tests.amount import amount
from tests.fuzz.generate import Maker
from tests.fuzz.test_requests import body_schema
from tests.web.club import OWN, REAL_HASHER, WORDS, a_club, joined, somebody, store_of

from kunstflug.services.account import accounts, attempts
from kunstflug.store.acting import BOUND, EVERY_RACER
from kunstflug.store.base import now
from kunstflug.store.people import AttemptRow, DeviceRow, Racer, RecoveryCodeRow
from kunstflug.web.who import COOKIE, KNOWN


@pytest.fixture
def club(fresh_store):
    with a_club(fresh_store) as made:
        yield made


def me(client):
    return client.get("/api/account").json()["name"]


def sign_in(client, name, password=None):
    return client.post("/api/account/sign-in", json={"name": name, "password": password or WORDS[name]})


# --- published vectors


@pytest.mark.parametrize(
    ("version", "cost", "memory", "password", "salt", "wanted"),
    [
        # test vectors of the Argon2 reference implementation (src/test.c, "Argon2id"), version 0x13, one lane
        (19, 2, 2**16, "password", "somesalt", "09316115d5cf24ed5a15a31a3ba326e5cf32edc24702987c02b6566f61913cf7"),
        (19, 2, 2**8, "password", "somesalt", "9dfeb910e80bad0311fee20f9c0e2b12c17987b4cac90c2ef54d5b3021c68bfe"),
        (19, 1, 2**16, "password", "somesalt", "f6a5adc1ba723dddef9b5ac1d464e180fcd9dffc9d1cbf76cca2fed795d9ca98"),
        (19, 4, 2**16, "password", "somesalt", "9025d48e68ef7395cca9079da4c4ec3affb3c8911fe4f86d1a2520856f63172c"),
        (19, 2, 2**16, "password", "diffsalt", "bdf32b05ccc42eb15d58fd19b1f856b113da1e9a5874fdcc544308565aa8141c"),
    ],
)
def test_argon2id_gives_what_the_reference_implementation_publishes(version, cost, memory, password, salt, wanted):
    raw = argon2.low_level.hash_secret_raw(
        password.encode(), salt.encode(), cost, memory, 1, 32, argon2.low_level.Type.ID, version
    )
    assert raw.hex() == wanted


def test_passwords_are_kept_as_rfc_9106_says(monkeypatch):
    """RFC 9106 section 4, second recommended option: argon2id, 3 passes, 64 MiB, 4 lanes; 128 bits of salt."""
    monkeypatch.setattr(accounts, "_hasher", REAL_HASHER)
    kept = accounts.hashed("whatever it is")
    found = argon2.extract_parameters(kept)
    assert (found.type, found.version) == (argon2.Type.ID, 19)
    assert (found.time_cost, found.memory_cost, found.parallelism) == (3, 65536, 4)
    assert found.salt_len == 16
    assert kept != accounts.hashed("whatever it is")  # salted


# --- in and out


def test_somebody_joins_leaves_and_comes_back(club):
    kim = joined(club, "kim", "keeper")
    assert kim.get("/api/account").json() == {
        "accounts": True, "demo": False, "name": "kim", "role": "keeper", "sees": "", "writes": True, "boat_id": None,
        "news": [],
    }  # fmt: skip
    assert kim.get("/api/boats").json()["items"] == []
    assert kim.post("/api/account/sign-out").status_code == 204
    assert me(kim) is None
    assert kim.get("/api/boats").status_code == 401
    assert sign_in(kim, "kim").status_code == 204
    assert me(kim) == "kim"


def test_an_invitation_holds_once_and_for_a_week(club):
    token = accounts.invite(store_of(club), "racer").path.partition("#")[2]
    body = {"token": token, "name": "kim", "password": WORDS["kim"]}
    assert somebody(club).post("/api/account/join", json=body).status_code == 201
    assert somebody(club).post("/api/account/join", json={**body, "name": "sam"}).status_code == 403
    late = accounts.invite(store_of(club), "racer").path.partition("#")[2]
    with store_of(club).transaction() as session:
        session.execute(text("UPDATE invitations SET expires_at = UTC_TIMESTAMP() - INTERVAL 1 SECOND"))
    assert somebody(club).post("/api/account/join", json={**body, "token": late}).status_code == 403
    assert somebody(club).post("/api/account/join", json={**body, "token": "guess"}).status_code == 403


def test_a_name_is_taken_once(club):
    joined(club, "kim")
    for name in ("kim", "KIM", "club", "Local"):
        token = accounts.invite(store_of(club), "racer").path.partition("#")[2]
        body = {"token": token, "name": name, "password": WORDS["sam"]}
        assert somebody(club).post("/api/account/join", json=body).status_code == 409, name


@pytest.mark.parametrize("password", ["kettle", "aaaaaaaaaaaaaaaa", "password1234", "kunstflugkim", "123456789012345"])
def test_a_password_that_is_guessed_is_refused(club, password):
    token = accounts.invite(store_of(club), "racer").path.partition("#")[2]
    answer = somebody(club).post("/api/account/join", json={"token": token, "name": "kim", "password": password})
    assert answer.status_code == 422
    assert answer.json()["field"] == "password"
    assert password not in answer.text


def test_the_first_keeper_takes_over_what_was_there_without_accounts(fresh_store):
    from kunstflug.documents.setup import SetupDocument
    from kunstflug.services.boats import boats

    boats.new_boat(fresh_store, "Teal", SetupDocument.model_validate(samples.raw()))
    with a_club(fresh_store) as club:
        sam = joined(club, "sam", "racer")
        assert sam.get("/api/boats").json()["items"] == []
        kim = joined(club, "kim", "keeper")
        assert [b["name"] for b in kim.get("/api/boats").json()["items"]] == ["Teal"]
        ada = joined(club, "ada", "keeper")
        assert ada.get("/api/boats").json()["items"] == []


# --- a forgotten password


def test_a_recovery_code_holds_once_and_signs_out_everywhere(club):
    kim = joined(club, "kim")
    codes = kim.codes
    assert len(codes) == len(set(codes)) == 10
    fresh = somebody(club)
    new = "lanterns swing over cold water"
    body = {"name": "kim", "code": codes[3].upper().replace("-", " "), "password": new}
    assert fresh.post("/api/account/recover", json=body).status_code == 204
    assert me(fresh) == "kim"
    assert me(kim) is None  # whoever had stolen the password is out
    assert somebody(club).post("/api/account/recover", json=body).status_code == 401
    assert sign_in(somebody(club), "kim").status_code == 401
    assert sign_in(somebody(club), "kim", new).status_code == 204


def test_a_code_is_of_one_racer(club):
    kim, sam = joined(club, "kim"), joined(club, "sam")
    body = {"name": "sam", "code": kim.codes[0], "password": "lanterns swing over cold water"}
    assert somebody(club).post("/api/account/recover", json=body).status_code == 401
    assert me(sam) == "sam"


def test_the_operators_link_sets_a_password_within_the_hour(club):
    joined(club, "kim")
    link = accounts.reset_link(store_of(club), "kim")
    assert (link.expires_at.replace(tzinfo=None) - now()).total_seconds() <= 3600
    token = link.path.partition("#")[2]
    asked = {"token": token, "name": "sam", "password": WORDS["sam"]}
    assert somebody(club).post("/api/account/join", json=asked).status_code == 403  # no invitation
    body = {"name": "kim", "code": token, "password": "lanterns swing over cold water"}
    assert somebody(club).post("/api/account/recover", json=body).status_code == 204
    assert somebody(club).post("/api/account/recover", json=body).status_code == 401


def test_new_codes_take_the_place_of_the_old(club):
    kim = joined(club, "kim")
    assert kim.post("/api/account/codes", json={"password": "not mine"}).status_code == 403
    new = kim.post("/api/account/codes", json={"password": WORDS["kim"]}).json()["recovery_codes"]
    assert kim.get("/api/account/security").json()["codes_left"] == 10
    body = {"name": "kim", "password": "lanterns swing over cold water"}
    assert somebody(club).post("/api/account/recover", json={**body, "code": kim.codes[0]}).status_code == 401
    assert somebody(club).post("/api/account/recover", json={**body, "code": new[0]}).status_code == 204


def test_another_password_signs_out_elsewhere_only(club):
    kim, phone = joined(club, "kim"), somebody(club)
    sign_in(phone, "kim")
    new = {"old": WORDS["kim"], "new": "lanterns swing over cold water"}
    assert kim.put("/api/account/password", json={**new, "old": "no"}).status_code == 403
    assert kim.put("/api/account/password", json=new).status_code == 204
    assert (me(kim), me(phone)) == ("kim", None)


# --- a thief


def test_what_is_kept_of_secrets_signs_nobody_in(club):
    kim = joined(club, "kim")
    with store_of(club).transaction() as session:
        kept = session.query(DeviceRow).execution_options(**EVERY_RACER).one().token_hash
        codes = {row.code_hash for row in session.query(RecoveryCodeRow).execution_options(**EVERY_RACER)}
    token = kim.cookies[COOKIE]
    assert kept == hashlib.sha256(token.encode()).hexdigest()
    assert not codes & set(kim.codes)
    thief = somebody(club)
    for stolen in (kept, *list(codes)[:1], token[:-1], token + "A", token[:-1] + ("A" if token[-1] != "A" else "B")):
        thief.cookies.set(COOKIE, stolen)
        assert thief.get("/api/boats").status_code == 401


def test_a_cookie_that_somebody_planted_is_worth_nothing(club):
    """Session fixation: ASVS 3.2.1, a new token is given whenever somebody signs in."""
    joined(club, "kim")
    planted = "A" * 43
    victim, thief = somebody(club), somebody(club)
    victim.cookies.set(COOKIE, planted)
    sign_in(victim, "kim")
    thief.cookies.set(COOKIE, planted)
    assert me(thief) is None
    assert victim.cookies.get(COOKIE, domain="127.0.0.1") != planted


def test_the_cookie_is_out_of_reach(club):
    """ASVS 3.4.1 to 3.4.5: Secure, HttpOnly, SameSite, the __Host- prefix, path /."""
    joined(club, "kim")
    said = sign_in(somebody(club), "kim").headers["set-cookie"]
    assert said.startswith("__Host-")
    for word in ("Secure", "HttpOnly", "SameSite=strict", "Path=/"):
        assert word.lower() in said.lower()
    assert "domain" not in said.lower()


def test_no_word_tells_an_unknown_name_from_a_wrong_password_and_both_are_checked(club, monkeypatch):
    joined(club, "kim")
    verified = []
    real = accounts._hasher
    monkeypatch.setattr(accounts, "_hasher", Counting(real, verified))
    wrong = sign_in(somebody(club), "kim", "not the password")
    unknown = sign_in(somebody(club), "nobody", "not the password")
    assert wrong.status_code == unknown.status_code == 401
    assert wrong.json() == unknown.json()
    # the same work for both: time tells nothing
    assert [argon2.extract_parameters(kept) for kept in verified] == [argon2.extract_parameters(verified[0])] * 2


class Counting:
    """A hasher that tells what it was asked to verify."""

    def __init__(self, real, verified):
        self._real, self._verified = real, verified

    def verify(self, kept, password):
        self._verified.append(kept)
        return self._real.verify(kept, password)

    def __getattr__(self, name):
        return getattr(self._real, name)


@pytest.fixture
def waits(monkeypatch):
    """How long each sign-in was made to wait; nobody does."""
    found = []

    async def noted(seconds):
        found.append(seconds)

    monkeypatch.setattr("kunstflug.web.api.account.asyncio.sleep", noted)
    return found


def test_guesses_get_slower_and_lock_nobody_out(club, waits):
    """Eight wrong guesses by anybody once locked a racer out for a quarter of an hour, whoever they were."""
    kim = joined(club, "kim")
    thief = somebody(club)
    said = [sign_in(thief, "Kim", f"guess number {n}").status_code for n in range(12)]
    assert said == [401] * 12
    assert waits == [0.0] * attempts.FREE + [0.5, 1.0, 2.0, 4.0] + [attempts.LONGEST_S] * 4
    waits.clear()
    assert sign_in(somebody(club), "kim").status_code == 204  # a browser that nobody knows waits, and comes in
    assert waits == [attempts.LONGEST_S]
    kim.post("/api/account/sign-out")
    assert sign_in(kim, "kim").status_code == 204  # one that was in before does not even wait
    assert waits[1:] == [0.0]
    assert kim.put(
        "/api/account/password", json={"old": WORDS["kim"], "new": "lanterns swing over cold water"}
    ).is_success


def test_what_a_browser_is_known_by_signs_nobody_in_and_holds_for_one_password(club, waits):
    kim, sam = joined(club, "kim"), joined(club, "sam")
    mark = kim.cookies[KNOWN]
    thief = somebody(club)
    thief.cookies.set(KNOWN, mark)
    assert thief.get("/api/boats").status_code == 401
    for n in range(attempts.BY_LOGIN + 1):  # stolen, it is good for a few guesses at this name
        said = sign_in(thief, "kim", f"guess {n}").status_code
    assert said == 429
    waits.clear()
    for n in range(6):
        sign_in(thief, "sam", f"guess {n}")
    assert waits[-1] > 0  # and for none at another
    assert sign_in(sam, "sam").status_code == 204
    kim.put("/api/account/password", json={"old": WORDS["kim"], "new": "lanterns swing over cold water"})
    assert not accounts._knows(racer_called(club, "kim"), mark)


def racer_called(club, name):
    with store_of(club).transaction() as session:
        return session.query(Racer).filter_by(name=name).one()


def test_good_sign_ins_from_one_address_lock_no_club_out(club, waits):
    """Forty racers behind one address once were all that could sign in in a quarter of an hour."""
    joined(club, "kim")
    assert [sign_in(somebody(club), "kim").status_code for _ in range(attempts.BY_ADDRESS + 5)] == [204] * 45


def test_guesses_at_ones_own_password_end_by_login_and_concern_nobody_else(club):
    kim, phone = joined(club, "kim"), somebody(club)
    sign_in(phone, "kim")
    body = {"old": "no", "new": "lanterns swing over cold water"}
    said = [phone.put("/api/account/password", json=body).status_code for _ in range(attempts.BY_LOGIN + 1)]
    assert said == [403] * attempts.BY_LOGIN + [429]
    assert kim.put("/api/account/password", json={**body, "old": WORDS["kim"]}).status_code == 204


def test_guessing_is_stopped_by_address_whatever_the_names(club, waits):
    thief = somebody(club)
    said = [sign_in(thief, f"name {n}", "guess").status_code for n in range(attempts.BY_ADDRESS + 1)]
    assert said[-1] == 429
    assert said[:-1] == [401] * attempts.BY_ADDRESS


def test_tries_are_counted_for_all_processes_and_forgotten_in_time(club):
    store = store_of(club)
    for _ in range(3):
        attempts.count(store, "name", "kim", 3)
    with pytest.raises(attempts.TooOften) as stopped:
        attempts.count(store, "name", "KIM", 3)
    assert 0 < stopped.value.wait_s <= 900
    with store.transaction() as session:
        session.execute(text("UPDATE attempts SET until = UTC_TIMESTAMP() - INTERVAL 1 SECOND"))
    attempts.count(store, "name", "kim", 3)
    with store.transaction() as session:
        assert session.query(AttemptRow).one().times == 1
    attempts.clean(store)


def test_a_login_ends_by_itself_and_can_be_taken_back(club):
    kim, phone = joined(club, "kim"), somebody(club)
    sign_in(phone, "kim")
    logins = kim.get("/api/account/security").json()["logins"]
    assert [entry["this"] for entry in logins].count(True) == 1
    other = next(entry["id"] for entry in logins if not entry["this"])
    assert kim.delete(f"/api/account/logins/{other}").status_code == 204
    assert (me(kim), me(phone)) == ("kim", None)
    for column, ago in (("seen_at", accounts.IDLE), ("expires_at", accounts.IDLE - accounts.IDLE)):
        sign_in(phone, "kim")
        with store_of(club).transaction() as session:
            session.execute(text(f"UPDATE devices SET {column} = :at"), {"at": now() - ago})
        assert me(phone) is None, column


def test_an_account_is_closed_and_opened_by_a_keeper_only(club):
    kim, sam = joined(club, "kim", "keeper"), joined(club, "sam")
    members = {m["name"]: m["id"] for m in kim.get("/api/club").json()["members"]}
    assert sam.patch(f"/api/club/members/{members['kim']}", json={"disabled": True}).status_code == 403
    assert kim.patch(f"/api/club/members/{members['kim']}", json={"role": "guest"}).status_code == 403
    assert kim.patch(f"/api/club/members/{members['sam']}", json={"disabled": True}).status_code == 204
    assert me(sam) is None
    assert sign_in(somebody(club), "sam").status_code == 401
    assert kim.patch(f"/api/club/members/{members['sam']}", json={"disabled": False}).status_code == 204
    assert me(sam) is None  # its old logins are gone for good
    assert sign_in(sam, "sam").status_code == 204


def test_all_that_was_done_is_written_down_without_secrets(club):
    kim, sam = joined(club, "kim", "keeper"), joined(club, "sam")
    sign_in(somebody(club), "sam", "wrong guess")
    own = [entry["what"] for entry in sam.get("/api/account/security").json()["entries"]]
    assert own == ["sign-in refused", "signed in", "joined"]
    assert sam.get("/api/club/entries").status_code == 403
    entries = kim.get("/api/club/entries")
    assert {entry["name"] for entry in entries.json()} >= {"kim", "sam", "club"}
    for secret in (*WORDS.values(), *kim.codes, sam.cookies[COOKIE]):
        assert secret not in entries.text


def test_an_account_goes_with_all_that_is_its_own_and_nothing_else(club):
    kim, sam = joined(club, "kim", "keeper"), joined(club, "sam")
    for one in (kim, sam):
        made = one.post("/api/boats", json={"name": "Teal", "document": samples.raw()}).json()
        assert one.post(f"/api/setups/{made['id']}/simulate", json={"seed": 1, "passes": 1}).status_code == 201
        one.post(f"/api/boats/{made['boat_id']}/shares", json={"with_name": "sam" if one is kim else "kim"})
        one.post(f"/api/boats/{made['boat_id']}/shares", json={})
    before = kim.get("/api/boats").json()
    assert sam.get("/api/export.zip").status_code == 200  # what an account may be deleted after
    assert sam.post("/api/account/delete", json={"password": "no"}).status_code == 403
    assert sam.post("/api/account/delete", json={"password": WORDS["sam"]}).status_code == 204
    assert me(sam) is None
    assert sign_in(somebody(club), "sam").status_code == 401
    assert kim.get("/api/boats").json() == before
    assert kim.get("/api/club").json()["shared"] == []
    assert kim.post("/api/account/delete", json={"password": WORDS["kim"]}).status_code == 403  # the last keeper
    with store_of(club).transaction() as session:
        tables = session.execute(
            text("SELECT table_name FROM information_schema.columns WHERE table_schema = DATABASE() "
                 "AND column_name = 'owner_id'")
        ).scalars()  # fmt: skip
        owners = {
            owner for t in tables.all() for owner in session.execute(text(f"SELECT owner_id FROM `{t}`")).scalars()
        }
        names = {n for (n,) in session.execute(text("SELECT name FROM racers"))}
        assert names == {"kim", "club"}
        assert len(owners) <= 2


def test_answers_are_not_kept_on_the_way(club):
    """ASVS 8.2.1, RFC 9111 section 5.2.2.5: no cache between keeps them, nor the browser's own."""
    kim = joined(club, "kim")
    for path in ("/api/boats", "/api/account", "/api/parts", "/api/export.zip"):
        assert kim.get(path).headers["cache-control"] == "no-store"


# --- passkeys


class Key:
    """An authenticator of our own: makes and uses a key of P-256 as WebAuthn level 2 says (sections 6.1, 6.5, 7)."""

    def __init__(self, origin=OWN, host="127.0.0.1"):
        self.origin, self.host = origin, host
        self.private = ec.generate_private_key(ec.SECP256R1())
        self.id = os.urandom(32)
        self.signs = 0
        self.verified = True

    def _client(self, kind, challenge):
        return json.dumps({"type": kind, "challenge": challenge, "origin": self.origin, "crossOrigin": False}).encode()

    def _data(self, more=b""):
        flags = 0x01 | (0x04 if self.verified else 0) | (0x40 if more else 0)
        return hashlib.sha256(self.host.encode()).digest() + struct.pack(">BI", flags, self.signs) + more

    def _public(self):
        numbers = self.private.public_key().public_numbers()
        return {1: 2, 3: -7, -1: 1, -2: numbers.x.to_bytes(32, "big"), -3: numbers.y.to_bytes(32, "big")}

    def made(self, options):
        attested = bytes(16) + struct.pack(">H", len(self.id)) + self.id + cbor2.dumps(self._public())
        whole = cbor2.dumps({"fmt": "none", "attStmt": {}, "authData": self._data(attested)})
        told = self._client("webauthn.create", options["challenge"])
        return self._answer(clientDataJSON=told, attestationObject=whole)

    def used(self, options):
        self.signs += 1
        told, data = self._client("webauthn.get", options["challenge"]), self._data()
        signature = self.private.sign(data + hashlib.sha256(told).digest(), ec.ECDSA(hashes.SHA256()))
        return self._answer(clientDataJSON=told, authenticatorData=data, signature=signature)

    def _answer(self, **response):
        def b64(raw):
            return base64.urlsafe_b64encode(raw).rstrip(b"=").decode()

        return {
            "id": b64(self.id), "rawId": b64(self.id), "type": "public-key", "clientExtensionResults": {},
            "response": {key: b64(value) for key, value in response.items()},
        }  # fmt: skip


def proof(name="kim"):
    return {"password": WORDS[name]}


def with_key(club, name="kim"):
    client, key = joined(club, name), Key()
    options = client.post("/api/account/passkeys/question", json=proof(name)).json()
    answer = client.post("/api/account/passkeys", json=key.made(options))
    assert answer.status_code == 201, answer.text
    return client, key, answer.json()["id"]


def asked(client):
    return client.post("/api/account/passkey").json()


def answered(client, credential):
    return client.post("/api/account/passkey/answer", json=credential)


def test_a_passkey_signs_in_and_can_be_taken_away(club):
    kim, key, number = with_key(club)
    fresh = somebody(club)
    assert answered(fresh, key.used(asked(fresh))).status_code == 204
    assert me(fresh) == "kim"
    assert kim.post(f"/api/account/passkeys/{number}/forget", json=proof()).status_code == 204
    other = somebody(club)
    assert answered(other, key.used(asked(other))).status_code == 401


def test_a_passkeys_answer_holds_once_for_its_question(club):
    """WebAuthn level 2, section 7.2 steps 11 to 21: challenge, origin, host, user verified, signature, counter."""
    _, key, _ = with_key(club)
    thief = somebody(club)
    used = key.used(asked(thief))
    assert answered(thief, used).status_code == 204
    assert answered(somebody(club), used).status_code == 401  # replayed
    assert answered(somebody(club), key.used({"challenge": "AAAA"})).status_code == 401  # never asked
    for field, value in (("origin", "https://elsewhere.example"), ("host", "elsewhere.example"), ("verified", False)):
        wrong, before = somebody(club), getattr(key, field)
        setattr(key, field, value)
        assert answered(wrong, key.used(asked(wrong))).status_code == 401, field
        setattr(key, field, before)
    forged = Key()
    forged.id, forged.signs = key.id, key.signs
    assert answered(thief, forged.used(asked(thief))).status_code == 401  # another key under the same name
    copied = somebody(club)
    key.signs = 0
    assert answered(copied, key.used(asked(copied))).status_code == 401  # the counter went back: a copy


def test_a_question_to_one_racer_is_not_answered_by_another(club):
    kim, sam = joined(club, "kim"), joined(club, "sam")
    options = kim.post("/api/account/passkeys/question", json=proof()).json()
    assert sam.post("/api/account/passkeys", json=Key().made(options)).status_code == 403
    assert sam.post("/api/account/passkeys", json=Key().made(asked(sam))).status_code == 403
    assert kim.post("/api/account/passkeys", json={}).status_code == 403


def test_a_login_alone_changes_no_keys(club):
    """Whoever had stolen a session registered a passkey of their own, which outlived every new password."""
    kim, key, number = with_key(club)
    sam, others, _ = with_key(club, "sam")
    for wrong in ({}, {"password": "not hers"}, {"passkey": {}}, {"passkey": others.used(asked(sam))}):
        assert kim.post("/api/account/passkeys/question", json=wrong).status_code in (401, 403), wrong
        assert kim.post(f"/api/account/passkeys/{number}/forget", json=wrong).status_code in (401, 403), wrong
    assert kim.post("/api/account/passkeys", json=Key().made({"challenge": "AAAA"})).status_code == 403  # never asked
    assert len(kim.get("/api/account/security").json()["passkeys"]) == 1
    by_key = {"passkey": key.used(asked(kim))}  # who knows no password any more has a passkey
    assert kim.post("/api/account/passkeys/question", json=by_key).status_code == 200
    assert kim.post("/api/account/passkeys/question", json=by_key).status_code == 401  # it holds once


def test_the_next_sign_in_tells_what_was_done_with_the_keys(club):
    kim, _, _ = with_key(club)
    kim.post("/api/account/codes", json=proof())
    elsewhere = somebody(club)
    assert elsewhere.get("/api/account").json()["news"] == []
    sign_in(elsewhere, "kim")
    told = elsewhere.get("/api/account").json()["news"]
    assert [one["what"] for one in told] == ["new recovery codes", "passkey added"]
    assert all(one["address"] == "testclient" for one in told)
    with store_of(club).transaction() as session:
        session.execute(text("UPDATE audit_entries SET at = at - INTERVAL 31 DAY"), execution_options=BOUND)
    assert elsewhere.get("/api/account").json()["news"] == []


# --- rubbish


def test_rubbish_to_the_ways_in_is_refused_and_never_a_fault(club):
    kim = joined(club, "kim", "keeper")
    description = kim.get("/api/openapi.json").json()
    maker, rng = Maker(description, 1), random.Random(1)
    tried = 0
    for path, item in description["paths"].items():
        for method, operation in item.items():
            if operation["tags"][0] not in ("account", "club") or path in ("/api/account/sign-out",):
                continue
            schema = body_schema(operation)
            for _ in range(amount(3, 6, 6) if schema else 1):
                where = path.replace("{name}", "x").replace("{", "").replace("}", "")
                where = "/".join(str(rng.choice([0, -1, 10**20])) if w.endswith("_id") else w for w in where.split("/"))
                body = maker.instance(schema) if schema else None
                answer = kim.request(method.upper(), where, json=body)
                assert answer.status_code < 500, (method, path, body, answer.text)
                tried += 1
    assert tried > amount(40, 80, 80)
