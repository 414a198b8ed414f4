"""Pairing by a code: short-lived, few tries, once; tokens that are taken back."""

import base64
from datetime import timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from kunstflug.core.quantity.errors import NotFound
from kunstflug.services import devices
from kunstflug.services.devices import ALPHABET, CODE_LONG, MOST_TRIES, device_of, forget_device, new_code, pair


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


def test_five_tries_and_no_more(fresh_store):
    code = new_code(fresh_store)
    for _ in range(MOST_TRIES):
        assert pair(fresh_store, "A" * 8, "x") is None
    assert pair(fresh_store, code, "x") is None
    assert devices.devices(fresh_store) == []


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
