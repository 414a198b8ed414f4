"""The certificate of this machine for its local network: an authority of its own, and what it signs.

The authority may sign for private addresses and ``.local`` names only, so that whoever trusts it on a phone trusts it
for nothing else.
"""

import contextlib
import ipaddress
import os
import socket
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Final

from cryptography import x509
from cryptography.hazmat.primitives import hashes, serialization
from cryptography.hazmat.primitives.asymmetric import ec
from cryptography.x509.oid import ExtendedKeyUsageOID, NameOID

AUTHORITY_DAYS: Final = 3650
SERVER_DAYS: Final = 397  # phones refuse what lasts much longer
RENEW_DAYS: Final = 30
PRIVATE: Final = ("10.0.0.0/8", "172.16.0.0/12", "192.168.0.0/16", "169.254.0.0/16", "127.0.0.0/8")
Address = ipaddress.IPv4Address


@dataclass(frozen=True, slots=True, kw_only=True)
class LanCertificate:
    """Where the files lie: what the phone is to trust, and what the server shows."""

    authority: Path
    server: Path
    key: Path


def own_addresses() -> list[str]:
    """IPv4 addresses of this machine in its local networks (RFC 1918, RFC 3927)."""
    found = set()
    with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as probe, contextlib.suppress(OSError):
        probe.connect(("10.255.255.255", 9))  # sends nothing; says which address would be used
        found.add(probe.getsockname()[0])
    with contextlib.suppress(OSError):
        found |= {str(info[4][0]) for info in socket.getaddrinfo(socket.gethostname(), None, socket.AF_INET)}
    near = [ipaddress.ip_network(net) for net in PRIVATE if not net.startswith("127.")]
    return sorted(a for a in found if any(Address(a) in net for net in near))


def lan_certificate(folder: Path, addresses: list[str], today: datetime | None = None) -> LanCertificate:
    """The machine's certificate for some addresses; made where there is none, where it is soon over or for others.

    Parameters
    ----------
    folder : where the files are kept; keys can be read by their owner only.
    addresses : IPv4, as they stand in the address that a phone is given.
    """
    now = today or datetime.now(UTC)
    folder.mkdir(parents=True, exist_ok=True)
    made = LanCertificate(authority=folder / "authority.pem", server=folder / "server.pem", key=folder / "server.key")
    signing = folder / "authority.key"
    if not (_lasts(made.authority, now) and signing.exists()):
        _make_authority(made.authority, signing, now)
        made.server.unlink(missing_ok=True)
    if not (_lasts(made.server, now) and made.key.exists() and _names(made.server) == set(addresses)):
        _make_server(made, signing, addresses, now)
    return made


def _lasts(path: Path, now: datetime) -> bool:
    try:
        found = x509.load_pem_x509_certificate(path.read_bytes())
    except (OSError, ValueError):
        return False
    return found.not_valid_before_utc <= now < found.not_valid_after_utc - timedelta(days=RENEW_DAYS)


def _names(path: Path) -> set[str]:
    found = x509.load_pem_x509_certificate(path.read_bytes())
    names = found.extensions.get_extension_for_class(x509.SubjectAlternativeName).value
    return {str(address) for address in names.get_values_for_type(x509.IPAddress)}


def _name(words: str) -> x509.Name:
    return x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, words)])


def _write_key(path: Path, key: ec.EllipticCurvePrivateKey) -> None:
    data = key.private_bytes(
        serialization.Encoding.PEM, serialization.PrivateFormat.PKCS8, serialization.NoEncryption()
    )
    path.unlink(missing_ok=True)
    with os.fdopen(os.open(path, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600), "wb") as out:
        out.write(data)


def _begun(subject: x509.Name, issuer: x509.Name, now: datetime, days: int) -> x509.CertificateBuilder:
    return (
        x509.CertificateBuilder()
        .subject_name(subject)
        .issuer_name(issuer)
        .serial_number(x509.random_serial_number())
        .not_valid_before(now - timedelta(days=1))
        .not_valid_after(now + timedelta(days=days))
    )


def _usage(*, signs_certificates: bool) -> x509.KeyUsage:
    return x509.KeyUsage(
        digital_signature=not signs_certificates, content_commitment=False, key_encipherment=False,
        data_encipherment=False, key_agreement=False, key_cert_sign=signs_certificates, crl_sign=signs_certificates,
        encipher_only=False, decipher_only=False,
    )  # fmt: skip


def _make_authority(path: Path, signing: Path, now: datetime) -> None:
    key = ec.generate_private_key(ec.SECP256R1())
    name = _name("Kunstflug, this machine only")
    allowed = [x509.IPAddress(ipaddress.ip_network(net)) for net in PRIVATE]
    own = x509.SubjectKeyIdentifier.from_public_key(key.public_key())
    authority = (
        _begun(name, name, now, AUTHORITY_DAYS)
        .public_key(key.public_key())
        .add_extension(x509.BasicConstraints(ca=True, path_length=0), critical=True)
        .add_extension(_usage(signs_certificates=True), critical=True)
        .add_extension(x509.NameConstraints([x509.DNSName("local"), *allowed], None), critical=True)
        .add_extension(own, critical=False)
        .sign(key, hashes.SHA256())
    )
    _write_key(signing, key)
    path.write_bytes(authority.public_bytes(serialization.Encoding.PEM))


def _make_server(made: LanCertificate, signing: Path, addresses: list[str], now: datetime) -> None:
    authority = x509.load_pem_x509_certificate(made.authority.read_bytes())
    signer = serialization.load_pem_private_key(signing.read_bytes(), None)
    assert isinstance(signer, ec.EllipticCurvePrivateKey)
    key = ec.generate_private_key(ec.SECP256R1())
    names = [x509.IPAddress(Address(address)) for address in addresses]
    own = authority.extensions.get_extension_for_class(x509.SubjectKeyIdentifier).value
    server = (
        _begun(_name("Kunstflug"), authority.subject, now, SERVER_DAYS)
        .public_key(key.public_key())
        .add_extension(x509.SubjectAlternativeName(names), critical=False)
        .add_extension(x509.BasicConstraints(ca=False, path_length=None), critical=True)
        .add_extension(_usage(signs_certificates=False), critical=True)
        .add_extension(x509.ExtendedKeyUsage([ExtendedKeyUsageOID.SERVER_AUTH]), critical=False)
        .add_extension(x509.AuthorityKeyIdentifier.from_issuer_subject_key_identifier(own), critical=False)
        .sign(signer, hashes.SHA256())
    )
    _write_key(made.key, key)
    pem = serialization.Encoding.PEM
    made.server.write_bytes(server.public_bytes(pem) + authority.public_bytes(pem))
