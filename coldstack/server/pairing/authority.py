"""A local authority, made on first use, and the certificate by which this machine answers phones over TLS.

The authority's key stays on this machine, readable by its user only. Name constraints bind it to private
addresses and to this machine's own names, so that a phone that trusts it trusts it for nothing else.
"""

from __future__ import annotations

import ipaddress
import os
import socket
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from pathlib import Path

from cryptography import x509
from cryptography.exceptions import InvalidSignature
from cryptography.hazmat.primitives import hashes, serialization
from cryptography.hazmat.primitives.asymmetric import ec
from cryptography.x509.oid import ExtendedKeyUsageOID, NameOID

from coldstack.core.errors import DomainError

AUTHORITY_DAYS, LEAF_DAYS, RENEW_DAYS = 3650, 397, 30
"""A browser takes no certificate of a server that is good for longer than 398 days."""
PRIVATE = (
    "10.0.0.0/8",
    "172.16.0.0/12",
    "192.168.0.0/16",
    "169.254.0.0/16",
    "127.0.0.0/8",
    "fc00::/7",
    "fe80::/10",
    "::1/128",
)
Name = x509.DNSName | x509.IPAddress


@dataclass(frozen=True, slots=True)
class Certified:
    """Files of this machine's certificate and key and of the authority's certificate, and that one's
    fingerprint."""

    certificate: Path
    key: Path
    authority: Path
    fingerprint: str


def certified(folder: Path, addresses: Sequence[str], *, now: datetime) -> Certified:
    """A certificate for these addresses of this machine, made or renewed where there is none that will do.

    Raises
    ------
    DomainError
        If the authority was made for other addresses.
    """
    folder.mkdir(parents=True, exist_ok=True)
    authority, authority_key = folder / "authority.crt", folder / "authority.key"
    if not (authority.exists() and authority_key.exists()):
        _write(authority_key, authority, *_new_authority(addresses, now))
    issuer = x509.load_pem_x509_certificate(authority.read_bytes())
    if not all(_permitted(issuer, x) for x in addresses) or issuer.not_valid_after_utc < now:
        raise DomainError(
            "tls",
            f"The authority in {folder} was made for other addresses, or is too old. Remove that folder, "
            "start again, and let the phones trust the new one.",
        )
    certificate, key = folder / "server.crt", folder / "server.key"
    names = _names(addresses)
    if not _will_do(certificate, key, names, issuer, now):
        signer = serialization.load_pem_private_key(authority_key.read_bytes(), None)
        assert isinstance(signer, ec.EllipticCurvePrivateKey)
        _write(key, certificate, *_new_leaf(names, issuer, signer, now))
    print_ = issuer.fingerprint(hashes.SHA256()).hex(":").upper()
    return Certified(certificate, key, authority, print_)


def _names(addresses: Sequence[str]) -> list[Name]:
    own = socket.gethostname().split(".")[0].lower()
    hosts = [x for x in ("localhost", own, f"{own}.local") if x]
    return [
        *(x509.DNSName(x) for x in dict.fromkeys(hosts)),
        *(x509.IPAddress(ipaddress.ip_address(x)) for x in addresses),
    ]


def _new_authority(
    addresses: Sequence[str], now: datetime
) -> tuple[ec.EllipticCurvePrivateKey, x509.Certificate]:
    key = ec.generate_private_key(ec.SECP256R1())
    name = x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, "Cold Stack, on one computer")])
    own = [str(ipaddress.ip_network(x)) for x in addresses]
    networks = [ipaddress.ip_network(x) for x in dict.fromkeys((*PRIVATE, *own))]
    hosts = [x for x in _names([]) if isinstance(x, x509.DNSName)]
    allowed: list[x509.GeneralName] = [*(x509.IPAddress(n) for n in networks), *hosts]
    made = (
        _builder(name, name, key, now, AUTHORITY_DAYS)
        .add_extension(x509.BasicConstraints(ca=True, path_length=0), critical=True)
        .add_extension(x509.NameConstraints(allowed, None), critical=True)
        .add_extension(_usage(signs=True), critical=True)
        .sign(key, hashes.SHA256())
    )
    return key, made


def _new_leaf(
    names: list[Name], issuer: x509.Certificate, signer: ec.EllipticCurvePrivateKey, now: datetime
) -> tuple[ec.EllipticCurvePrivateKey, x509.Certificate]:
    key = ec.generate_private_key(ec.SECP256R1())
    # no host or address in it: that would be held against the constraints
    name = x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, "Cold Stack server")])
    made = (
        _builder(name, issuer.subject, key, now, LEAF_DAYS)
        .add_extension(x509.SubjectAlternativeName(names), critical=False)
        .add_extension(x509.BasicConstraints(ca=False, path_length=None), critical=True)
        .add_extension(_usage(signs=False), critical=True)
        .add_extension(x509.ExtendedKeyUsage([ExtendedKeyUsageOID.SERVER_AUTH]), critical=False)
        .sign(signer, hashes.SHA256())
    )
    return key, made


def _builder(
    subject: x509.Name, issuer: x509.Name, key: ec.EllipticCurvePrivateKey, now: datetime, days: int
) -> x509.CertificateBuilder:
    return (
        x509.CertificateBuilder()
        .subject_name(subject)
        .issuer_name(issuer)
        .public_key(key.public_key())
        .serial_number(x509.random_serial_number())
        # clocks of phones are off by a little
        .not_valid_before(now - timedelta(hours=1))
        .not_valid_after(now + timedelta(days=days) - timedelta(hours=2))
    )


def _usage(*, signs: bool) -> x509.KeyUsage:
    return x509.KeyUsage(
        digital_signature=not signs,
        key_cert_sign=signs,
        crl_sign=signs,
        content_commitment=False,
        key_encipherment=False,
        data_encipherment=False,
        key_agreement=False,
        encipher_only=False,
        decipher_only=False,
    )


def _permitted(issuer: x509.Certificate, address: str) -> bool:
    allowed = issuer.extensions.get_extension_for_class(x509.NameConstraints).value.permitted_subtrees or []
    found = ipaddress.ip_address(address)
    networks = [x.value for x in allowed if isinstance(x, x509.IPAddress)]
    return any(found in ipaddress.ip_network(n) for n in networks)


def _will_do(
    certificate: Path, key: Path, names: list[Name], issuer: x509.Certificate, now: datetime
) -> bool:
    """Whether what is there can be gone on with; a kill amid the writing may have left half of it."""
    try:
        found = x509.load_pem_x509_certificate(certificate.read_bytes())
        its_key = serialization.load_pem_private_key(key.read_bytes(), None).public_key()
        found.verify_directly_issued_by(issuer)
        there = found.extensions.get_extension_for_class(x509.SubjectAlternativeName).value
    except (OSError, ValueError, TypeError, InvalidSignature, x509.ExtensionNotFound):
        return False
    if its_key != found.public_key():
        return False
    in_time = found.not_valid_after_utc - timedelta(days=RENEW_DAYS) > now
    return in_time and all(x in list(there) for x in names)


def _write(
    key_file: Path, certificate_file: Path, key: ec.EllipticCurvePrivateKey, certificate: x509.Certificate
) -> None:
    """The key readable by its user only; the certificate last, so that one never stands without its key."""
    pem = key.private_bytes(
        serialization.Encoding.PEM, serialization.PrivateFormat.PKCS8, serialization.NoEncryption()
    )
    handle = os.open(key_file, os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o600)
    with os.fdopen(handle, "wb") as file:
        file.write(pem)
    certificate_file.write_bytes(certificate.public_bytes(serialization.Encoding.PEM))
