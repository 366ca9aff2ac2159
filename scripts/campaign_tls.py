"""A part of the campaign against a port that speaks TLS: who does not, who stops half way, who comes in rightly."""

import http.client
import random
import socket
import ssl
from contextlib import closing, suppress
from urllib.parse import urlencode

from campaign_service import serving_process
from campaign_tried import Tried

PASSCODE = "heron and reed"
HALF_HANDSHAKES = 1200
"""More than a process may have files open by default."""


def over_tls(seed: int) -> Tried:
    """What is no TLS, an old version of it or half a handshake is let go of, and others are answered meanwhile."""
    lot, tried = random.Random(seed), Tried("over TLS")
    with serving_process(passcode=PASSCODE) as (_, port):
        for sent in (b"GET / HTTP/1.1\r\nHost: 127.0.0.1\r\n\r\n", b"\x16\x03\x01\xff\xff", lot.randbytes(4000), b""):
            told = _told(port, sent)
            tried.hold(b"Otter" not in told and b"200" not in told, f"answered without TLS: {told[:40]!r}")
        for version in (ssl.TLSVersion.TLSv1, ssl.TLSVersion.TLSv1_1):
            tried.hold(not _speaks(port, version), f"{version.name} was taken")
        tried.hold(_speaks(port, ssl.TLSVersion.TLSv1_3), "TLS 1.3 was not taken")
        half = []
        with suppress(OSError):
            for _ in range(HALF_HANDSHAKES):
                half.append(socket.create_connection(("127.0.0.1", port), timeout=5))
                half[-1].sendall(b"\x16\x03\x01")
        tried.hold(_comes_in(port), f"{len(half)} half handshakes held others off")
        for one in half:
            one.close()
        tried.hold(_comes_in(port), "nobody came in after them")
    return tried


def _told(port: int, sent: bytes) -> bytes:
    """What is answered to bytes that are no TLS."""
    with closing(socket.create_connection(("127.0.0.1", port), timeout=5)) as line:
        line.sendall(sent)
        line.shutdown(socket.SHUT_WR)
        with suppress(OSError):
            return line.recv(4096)
    return b""


def _trusting() -> ssl.SSLContext:
    """Whoever compared the fingerprint trusts the certificate."""
    context = ssl.SSLContext(ssl.PROTOCOL_TLS_CLIENT)
    context.check_hostname, context.verify_mode = False, ssl.CERT_NONE
    return context


def _speaks(port: int, version: ssl.TLSVersion) -> bool:
    context = _trusting()
    context.set_ciphers("ALL:@SECLEVEL=0")
    context.minimum_version = context.maximum_version = version
    try:
        with socket.create_connection(("127.0.0.1", port), timeout=5) as line, context.wrap_socket(line):
            return True
    except OSError:
        return False


def _comes_in(port: int) -> bool:
    """Whether somebody signs in, sees a job, and is seen out again."""
    line = http.client.HTTPSConnection("127.0.0.1", port, timeout=5, context=_trusting())
    try:
        line.request("POST", "/sign-in", urlencode({"passcode": PASSCODE, "name": "stand 1"}), FORM)
        answered = line.getresponse()
        answered.read()
        cookie = (answered.headers["Set-Cookie"] or "").partition(";")[0]
        seen = []
        for method, path in (("GET", "/jobs/4/size"), ("POST", "/sign-out"), ("GET", "/jobs/4/size")):
            line.request(method, path, headers={"Cookie": cookie})
            answered = line.getresponse()
            seen.append((answered.status, b"Otter" in answered.read()))
        return seen == [(200, True), (303, False), (303, False)]
    except (OSError, http.client.HTTPException):
        return False
    finally:
        line.close()


FORM = {"Content-Type": "application/x-www-form-urlencoded"}
