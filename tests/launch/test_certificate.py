"""The machine's own certificate, held against two verifiers that are not ours: OpenSSL's, and one after RFC 5280."""

import ipaddress
import os
import socket
import ssl
import threading
from datetime import UTC, datetime, timedelta

import pytest
from cryptography import x509
from cryptography.hazmat.primitives import hashes, serialization
from cryptography.x509.oid import ExtendedKeyUsageOID
from cryptography.x509.verification import PolicyBuilder, Store, VerificationError

from kunstflug.launch import certificate
from kunstflug.launch.certificate import lan_certificate, own_addresses

NOW = datetime.now(UTC)


def certificates(made):
    server, authority = x509.load_pem_x509_certificates(made.server.read_bytes())
    assert authority == x509.load_pem_x509_certificate(made.authority.read_bytes())
    return server, authority


def verified(server, authority, address, when=NOW):
    subject = x509.IPAddress(ipaddress.ip_address(address))
    return PolicyBuilder().store(Store([authority])).time(when).build_server_verifier(subject).verify(server, [])


def test_it_holds_for_its_addresses_and_for_no_other(tmp_path):
    """RFC 5280, section 6, as the cryptography package checks it."""
    server, authority = certificates(lan_certificate(tmp_path, ["192.168.7.5", "10.1.2.3"]))
    assert verified(server, authority, "192.168.7.5") == [server, authority]
    assert verified(server, authority, "10.1.2.3")
    with pytest.raises(VerificationError):
        verified(server, authority, "192.168.7.6")


def test_phones_ask_for_a_short_life_and_a_purpose(tmp_path):
    """At most 825 days, names as alternatives, and the purpose of a server: what both kinds of phone ask for
    (from memory of their makers' notes for administrators)."""
    server, authority = certificates(lan_certificate(tmp_path, ["192.168.7.5"]))
    assert server.not_valid_after_utc - server.not_valid_before_utc <= timedelta(days=825)
    purposes = server.extensions.get_extension_for_class(x509.ExtendedKeyUsage).value
    assert list(purposes) == [ExtendedKeyUsageOID.SERVER_AUTH]
    assert authority.extensions.get_extension_for_class(x509.BasicConstraints).critical


def handshake(made, address, name=None):
    """What OpenSSL says of a server that shows it."""
    context = ssl.SSLContext(ssl.PROTOCOL_TLS_SERVER)
    context.load_cert_chain(made.server, made.key)
    trusting = ssl.create_default_context(cafile=str(made.authority))
    with socket.create_server((address, 0)) as listening:

        def serve():
            ours, _ = listening.accept()
            with ours:
                try:
                    context.wrap_socket(ours, server_side=True).close()
                except (OSError, ssl.SSLError):
                    return

        thread = threading.Thread(target=serve, daemon=True)
        thread.start()
        with socket.create_connection(listening.getsockname()) as raw:
            try:
                with trusting.wrap_socket(raw, server_hostname=name or address) as wrapped:
                    return wrapped.version()
            finally:
                raw.close()
                thread.join(5)


def test_openssl_shakes_hands(tmp_path):
    assert handshake(lan_certificate(tmp_path, ["127.0.0.9"]), "127.0.0.9") in ("TLSv1.2", "TLSv1.3")


def test_openssl_refuses_another_name(tmp_path):
    with pytest.raises(ssl.SSLCertVerificationError):
        handshake(lan_certificate(tmp_path, ["127.0.0.9"]), "127.0.0.9", name="127.0.0.8")


def test_whoever_steals_the_authority_cannot_play_the_wide_world(tmp_path, monkeypatch):
    """It may name private addresses only (RFC 5280, 4.2.1.10): a public one that it signs is refused."""
    made = lan_certificate(tmp_path, ["8.8.8.8"])
    server, authority = certificates(made)
    with pytest.raises(VerificationError):
        verified(server, authority, "8.8.8.8")
    key = serialization.load_pem_private_key((tmp_path / "authority.key").read_bytes(), None)
    bank = x509.SubjectAlternativeName([x509.DNSName("bank.example")])
    forged = (
        certificate._begun(certificate._name("x"), authority.subject, NOW, 10)
        .public_key(key.public_key())
        .add_extension(bank, critical=False)
        .sign(key, hashes.SHA256())
    )
    verifier = PolicyBuilder().store(Store([authority])).time(NOW).build_server_verifier(x509.DNSName("bank.example"))
    with pytest.raises(VerificationError):
        verifier.verify(forged, [])


def test_it_is_kept_and_renewed_in_time(tmp_path):
    first = certificates(lan_certificate(tmp_path, ["192.168.7.5"]))
    assert certificates(lan_certificate(tmp_path, ["192.168.7.5"])) == first
    moved = certificates(lan_certificate(tmp_path, ["192.168.7.6"]))
    assert moved[0] != first[0]
    assert moved[1] == first[1]  # phones trust it still
    later = NOW + timedelta(days=380)
    renewed = certificates(lan_certificate(tmp_path, ["192.168.7.6"], later))
    assert renewed[0] != moved[0]
    assert verified(*renewed, "192.168.7.6", later)
    much_later = NOW + timedelta(days=3640)
    assert certificates(lan_certificate(tmp_path, ["192.168.7.6"], much_later))[1] != first[1]


def test_keys_are_for_their_owner_and_rubbish_is_made_anew(tmp_path):
    made = lan_certificate(tmp_path, ["192.168.7.5"])
    for key in (made.key, tmp_path / "authority.key"):
        assert os.stat(key).st_mode & 0o077 == 0
    made.server.write_bytes(b"rubbish")
    made.authority.write_bytes(b"")
    server, authority = certificates(lan_certificate(tmp_path, ["192.168.7.5"]))
    assert verified(server, authority, "192.168.7.5")


def test_own_addresses_are_private():
    for address in own_addresses():
        assert ipaddress.ip_address(address).is_private
        assert not ipaddress.ip_address(address).is_loopback
