"""Pairing by a code: short-lived, few tries, once; tokens that are taken back."""

import base64
from datetime import timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st
from sqlalchemy import select

from kunstflug.core.quantity.errors import NotFound, TooOften
from kunstflug.services.account import devices
from kunstflug.services.account.devices import (
    ALPHABET,
    BY_ADDRESS,
    CODE_LONG,
    MOST_TRIES,
    device_of,
    forget_device,
    new_code,
    pair,
)
from kunstflug.store.people import Pairing


def test_a_code_pairs_one_device(fresh_store):
    code = new_code(fresh_store)
    token = pair(fresh_store, code, "my phone")
    assert device_of(fresh_store, token) == devices.devices(fresh_store)[0].id
    assert [d.name for d in devices.devices(fresh_store)] == ["my phone"]
    assert pair(fresh_store, code, "another") is None


def test_it_is_read_as_people_write(fresh_store):
    code = new_code(fresh_store)
    assert pair(fresh_store, f" {code[:4].lower()} {code[4:]}", "")
    assert devices.devices(fresh_store)[0].name == "a phone"


def test_wrong_tries_end_for_an_address_and_keep_no_phone_from_pairing(fresh_store):
    """Five wrong tries by any neighbour once took the code back: of six pairings none went through."""
    code = new_code(fresh_store)
    for _ in range(BY_ADDRESS):
        assert pair(fresh_store, "A" * 8, "x", "10.0.0.9") is None
    with pytest.raises(TooOften):
        pair(fresh_store, code, "x", "10.0.0.9")
    assert pair(fresh_store, code, "mine", "10.0.0.7")
    assert [one.name for one in devices.devices(fresh_store)] == ["mine"]


def test_a_code_is_no_good_after_a_hundred_thousand_tries(fresh_store):
    code = new_code(fresh_store)
    with fresh_store.transaction() as session:
        session.scalar(select(Pairing)).tries = MOST_TRIES
    assert pair(fresh_store, code, "x") is None


def test_it_is_over_after_five_minutes_and_when_another_is_made(fresh_store, monkeypatch):
    first = new_code(fresh_store)
    second = new_code(fresh_store)
    assert pair(fresh_store, first, "x") is None
    then = devices.now() + timedelta(seconds=devices.CODE_S + 1)
    monkeypatch.setattr(devices, "now", lambda: then)
    assert pair(fresh_store, second, "x") is None


def test_what_is_taken_back_is_answered_no_more(fresh_store):
    token = pair(fresh_store, new_code(fresh_store), "x")
    forget_device(fresh_store, device_of(fresh_store, token))
    assert device_of(fresh_store, token) is None
    with pytest.raises(NotFound):
        forget_device(fresh_store, 1)
    with pytest.raises(NotFound):
        forget_device(fresh_store, 10**30)


def test_a_code_is_forty_bits_and_a_token_two_hundred_and_fifty_six(fresh_store):
    """NIST SP 800-63B asks of a secret that is looked up and tried at most a hundred times for 20 bits, of a session's
    for 64; a token is base64url without filling (RFC 4648, section 5)."""
    assert len(ALPHABET) ** CODE_LONG >= 2**40 > 2**20 * MOST_TRIES
    token = pair(fresh_store, new_code(fresh_store), "x")
    assert len(base64.urlsafe_b64decode(token + "=")) == 32
    assert base64.urlsafe_b64encode(base64.urlsafe_b64decode(token + "=")).rstrip(b"=").decode() == token


def test_the_database_has_no_token(fresh_store):
    token = pair(fresh_store, new_code(fresh_store), "x")
    with fresh_store.transaction() as session:
        row = session.scalars(devices.select(devices.DeviceRow)).one()
        assert token not in (row.token_hash, row.name)


@given(st.text(max_size=60))
def test_no_words_are_a_token(store, words):
    assert device_of(store, words) is None
