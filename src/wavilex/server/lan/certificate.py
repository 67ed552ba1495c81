"""This installation's own certificate, for the names and addresses of its machine; renewed when they change."""

from __future__ import annotations

import contextlib
import datetime
import ipaddress
import os
from dataclasses import dataclass
from pathlib import Path

from cryptography import x509
from cryptography.hazmat.primitives import hashes, serialization
from cryptography.hazmat.primitives.asymmetric import ec
from cryptography.x509.oid import ExtendedKeyUsageOID, NameOID

from wavilex.server.lan.addresses import Here

DAYS = 397  # browsers refuse longer ones
RENEWED_DAYS = 30  # before it ends
_FILE = "lan_certificate.pem"


@dataclass(frozen=True, slots=True)
class Certificate:
    """file: certificate and key as one PEM, for the owner alone. fingerprint: what a browser shows, to compare."""

    file: Path
    fingerprint: str


def certificate(folder: Path, here: Here, now: datetime.datetime) -> Certificate:
    """The one that is there, or a new one where it is missing, ends soon, or lacks a name or an address."""
    file = folder / _FILE
    old = _read(file)
    if old is None or not _serves(old, here, now):
        old = _make(file, here, now)
    digest = old.fingerprint(hashes.SHA256()).hex().upper()
    return Certificate(file, ":".join(digest[n : n + 2] for n in range(0, len(digest), 2)))


def _read(file: Path) -> x509.Certificate | None:
    try:
        data = file.read_bytes()
        serialization.load_pem_private_key(data, None)
        return x509.load_pem_x509_certificate(data)
    except (OSError, ValueError, TypeError):
        return None


def _serves(old: x509.Certificate, here: Here, now: datetime.datetime) -> bool:
    left = old.not_valid_after_utc - now
    named = old.extensions.get_extension_for_class(x509.SubjectAlternativeName).value
    return left > datetime.timedelta(days=RENEWED_DAYS) and set(_named(here)) <= set(named)


def _named(here: Here) -> list[x509.GeneralName]:
    return [
        *(x509.DNSName(n) for n in here.names),
        *(x509.IPAddress(ipaddress.ip_address(a)) for a in here.addresses),
    ]


def _make(file: Path, here: Here, now: datetime.datetime) -> x509.Certificate:
    """A new key and a certificate signed by itself: of no use to sign others with."""
    key = ec.generate_private_key(ec.SECP256R1())
    name = x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, f"Wavilex on {here.names[0]}"[:64])])
    made = (
        x509.CertificateBuilder().subject_name(name).issuer_name(name).public_key(key.public_key())
        .serial_number(x509.random_serial_number()).not_valid_before(now - datetime.timedelta(days=1))
        .not_valid_after(now + datetime.timedelta(days=DAYS - 1))
        .add_extension(x509.SubjectAlternativeName(_named(here)), critical=False)
        .add_extension(x509.BasicConstraints(ca=False, path_length=None), critical=True)
        .add_extension(x509.ExtendedKeyUsage([ExtendedKeyUsageOID.SERVER_AUTH]), critical=False)
        .sign(key, hashes.SHA256())
    )  # fmt: skip
    secret = key.private_bytes(
        serialization.Encoding.PEM, serialization.PrivateFormat.PKCS8, serialization.NoEncryption()
    )
    half = file.with_suffix(".part")
    with contextlib.suppress(FileNotFoundError):
        half.unlink()
    handle = os.open(half, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600)
    with os.fdopen(handle, "wb") as out:
        out.write(secret + made.public_bytes(serialization.Encoding.PEM))
    os.replace(half, file)
    return made
