"""A certificate of the workshop's own, made beside its data file, for the shop's network."""

import ipaddress
import os
import socket
from contextlib import suppress
from datetime import datetime, timedelta
from pathlib import Path

from cryptography import x509
from cryptography.hazmat.primitives.asymmetric import ec
from cryptography.hazmat.primitives.hashes import SHA256
from cryptography.hazmat.primitives.serialization import Encoding, NoEncryption, PrivateFormat
from cryptography.x509.oid import ExtendedKeyUsageOID, NameOID

from lone_pike.core.bike.faults import invalid
from lone_pike.core.messages import Message, Raw
from lone_pike.store.database import OWNER_ALONE

LASTS, RENEWED_BEFORE = timedelta(days=730), timedelta(days=30)
NOWHERE = ("192.0.2.1", 9)
"""An address that nobody has. A socket that is connected to it knows this machine's own address; nothing is sent."""


def certificate_of(data: Path, now: datetime) -> tuple[Path, Path]:
    """The certificate and its key beside a data file; made if they are missing or expire soon."""
    cert, key = (data.with_name(f"{data.name}.{end}.pem") for end in ("cert", "key"))
    if cert.exists() and key.exists() and read_certificate(cert).not_valid_after_utc - now > RENEWED_BEFORE:
        return cert, key
    secret = ec.generate_private_key(ec.SECP256R1())
    _written(key, secret.private_bytes(Encoding.PEM, PrivateFormat.PKCS8, NoEncryption()))
    _written(cert, _signed(secret, now).public_bytes(Encoding.PEM))
    return cert, key


def read_certificate(cert: Path) -> x509.Certificate:
    """Reads a certificate. Raises: InvalidInput if the file is not one."""
    try:
        return x509.load_pem_x509_certificate(cert.read_bytes())
    except (OSError, ValueError) as error:
        raise invalid("cert", Raw(str(cert)), Message("readable_file", problem=str(error)[:80])) from None


def fingerprint_of(cert: Path) -> str:
    """A certificate's fingerprint: its SHA-256, in pairs of digits."""
    return read_certificate(cert).fingerprint(SHA256()).hex(":").upper()


def own_names() -> tuple[str, ...]:
    """The host names of this machine."""
    name = socket.gethostname()
    return tuple(dict.fromkeys(["localhost", name, f"{name.partition('.')[0]}.local"]))


def own_addresses() -> tuple[str, ...]:
    """The addresses that this machine has in its network, the one that it sends from first."""
    found = []
    with suppress(OSError), socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as asking:
        asking.connect(NOWHERE)
        found.append(asking.getsockname()[0])
    with suppress(OSError):
        found += [str(one[4][0]) for one in socket.getaddrinfo(socket.gethostname(), None, socket.AF_INET)]
    return tuple(dict.fromkeys([*found, "127.0.0.1"]))


def _signed(secret: ec.EllipticCurvePrivateKey, now: datetime) -> x509.Certificate:
    name = x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, "Lone Pike")])
    places = [x509.DNSName(one) for one in own_names()]
    places += [x509.IPAddress(ipaddress.ip_address(one)) for one in own_addresses()]  # type: ignore[misc]
    begun = x509.CertificateBuilder().subject_name(name).issuer_name(name).public_key(secret.public_key())
    dated = begun.not_valid_before(now - timedelta(days=1)).not_valid_after(now + LASTS)
    return (
        dated.serial_number(x509.random_serial_number())
        .add_extension(x509.SubjectAlternativeName(places), critical=False)
        .add_extension(x509.BasicConstraints(ca=False, path_length=None), critical=True)
        .add_extension(x509.ExtendedKeyUsage([ExtendedKeyUsageOID.SERVER_AUTH]), critical=False)
        .sign(secret, SHA256())
    )


def _written(path: Path, content: bytes) -> None:
    """Writes a file that only its owner reads, whole or not at all."""
    draft = path.with_suffix(".new")
    draft.unlink(missing_ok=True)
    with os.fdopen(os.open(draft, os.O_WRONLY | os.O_CREAT | os.O_EXCL, OWNER_ALONE), "wb") as file:
        file.write(content)
    draft.replace(path)
