"""The house network: a certificate for these names alone, HTTPS only, hosts checked; a plain port for the probe."""

from __future__ import annotations

import datetime
import http.client
import json
import os
import socket
import ssl
import subprocess
import sys
import time
import warnings
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from cryptography import x509
from cryptography.hazmat.primitives import hashes

from tests.core.simulated_chain import rig_of, truth
from wavilex.core.rig.jobfile import Job, job_data
from wavilex.server.demo import free_port
from wavilex.server.lan.addresses import Here, here
from wavilex.server.lan.certificate import DAYS, certificate
from wavilex.server.lan.front import Front, stand_in
from wavilex.server.lan.probe_only import allowed, parts_of

NOW = datetime.datetime(2026, 11, 30, tzinfo=datetime.UTC)
HERE = Here(("den-laptop", "den-laptop.local", "localhost"), ("192.168.4.7", "127.0.0.1", "::1"))


# --- the certificate


def test_it_names_this_machine_and_is_kept(tmp_path: Path) -> None:
    made = certificate(tmp_path, HERE, NOW)
    assert made == certificate(tmp_path, HERE, NOW + datetime.timedelta(days=100))
    found = x509.load_pem_x509_certificate(made.file.read_bytes())
    names = found.extensions.get_extension_for_class(x509.SubjectAlternativeName).value
    assert names.get_values_for_type(x509.DNSName) == list(HERE.names)
    assert [str(a) for a in names.get_values_for_type(x509.IPAddress)] == list(HERE.addresses)
    assert (found.not_valid_after_utc - found.not_valid_before_utc).days <= DAYS
    assert not found.extensions.get_extension_for_class(x509.BasicConstraints).value.ca
    assert made.file.stat().st_mode & 0o077 == 0


def test_openssl_reads_it_the_same(tmp_path: Path) -> None:
    """Reference: the openssl program."""
    made = certificate(tmp_path, HERE, NOW)
    told = subprocess.run(["openssl", "x509", "-in", str(made.file), "-noout", "-fingerprint", "-sha256"],
                          capture_output=True, text=True, check=True).stdout  # fmt: skip
    assert told.strip().split("=")[1] == made.fingerprint


@pytest.mark.parametrize(
    ("where", "days"),
    [(Here((*HERE.names, "other"), HERE.addresses), 1), (Here(HERE.names, ("10.0.0.2", *HERE.addresses)), 1),
     (HERE, 380)],
)  # fmt: skip
def test_it_is_renewed_for_new_names_and_in_time(tmp_path: Path, where: Here, days: int) -> None:
    first = certificate(tmp_path, HERE, NOW)
    assert certificate(tmp_path, where, NOW + datetime.timedelta(days=days)).fingerprint != first.fingerprint


def test_a_spoilt_file_is_made_anew(tmp_path: Path) -> None:
    (tmp_path / "lan_certificate.pem").write_text("nonsense")
    assert certificate(tmp_path, HERE, NOW).fingerprint


def test_where_this_machine_is() -> None:
    found = here()
    assert "localhost" in found.names
    assert "127.0.0.1" in found.addresses
    assert found.best in found.addresses


@pytest.mark.parametrize(
    ("client", "inside"),
    [("192.168.4.7", "127.168.4.7"), ("10.0.0.2", "127.0.0.2"), ("127.0.0.5", "127.0.0.5"), ("nonsense", "127.0.0.1")],
)
def test_each_client_has_an_address_that_stands_for_it(client: str, inside: str) -> None:
    assert stand_in(client) == inside
    assert stand_in("fe80::1%eth0") == stand_in("fe80::1") != stand_in("fe80::2")


def test_the_server_behind_tells_clients_apart(tmp_path: Path) -> None:
    made = certificate(tmp_path, here(), datetime.datetime.now(datetime.UTC))
    port = free_port()
    with socket.create_server(("127.0.0.1", 0)) as behind:
        behind.settimeout(10)
        Front("127.0.0.1", port, made.file, behind.getsockname()[1]).start()
        trust = ssl.create_default_context(cafile=made.file)
        for client in ("127.0.0.5", "127.0.0.77"):
            with socket.create_connection(("127.0.0.1", port), timeout=10, source_address=(client, 0)) as raw:
                wrapped = trust.wrap_socket(raw, server_hostname="localhost")
                wrapped.sendall(b"x")
                accepted, peer = behind.accept()
                accepted.close()
                wrapped.close()
                assert peer[0] == client


# --- what goes without encryption

PARTS = parts_of('<script src="/static/assets/probe-a1.js"></script><link href="/static/assets/latin-600-b2.css">')


@pytest.mark.parametrize(
    ("method", "path"),
    [("GET", "/p"), ("GET", "/p/abc"), ("HEAD", "/p/abc"), ("GET", "/api/v1/probe/abc"), ("POST", "/api/v1/probe/abc"),
     ("GET", "/static/assets/probe-a1.js"), ("GET", "/static/assets/latin-600-b2.css"),
     ("GET", "/static/assets/latin.x-1.woff2")],
)  # fmt: skip
def test_the_probe_goes(method: str, path: str) -> None:
    assert allowed(method, path, PARTS)


@pytest.mark.parametrize(
    ("method", "path"),
    [("GET", "/"), ("GET", "/jobs/x"), ("GET", "/api/v1/jobs"), ("POST", "/api/v1/session/sign-in"), ("GET", "/p/a/b"),
     ("POST", "/p/abc"), ("DELETE", "/api/v1/probe/abc"), ("GET", "/api/v1/probe/a/../../jobs"), ("PUT", "/p"),
     ("GET", "/static/assets/JobShell-x.js"), ("GET", "/static/../secret_key"), ("GET", "/api/v1/openapi.json"),
     ("GET", "/pp"), ("GET", "/static/index.html")],
)  # fmt: skip
def test_nothing_else_does(method: str, path: str) -> None:
    assert not allowed(method, path, PARTS)


# --- a server in a house that is this machine alone


def _env(data: Path) -> dict[str, str]:
    return {**os.environ, "WAVILEX_DATA": str(data), "DJANGO_SETTINGS_MODULE": "wavilex.server.config.settings"}


class House:
    """The server as `wavilex serve --lan` starts it, on loopback addresses."""

    def __init__(self, data: Path) -> None:
        self.port, self.probe, self.data = free_port(), free_port(), data
        env = _env(data)
        words = [sys.executable, "-m", "wavilex.cli", "serve", "--lan", "--host", "127.0.0.1", "--port", str(self.port),
                 "--probe-port", str(self.probe)]  # fmt: skip
        self.process = subprocess.Popen(words, env=env, stdout=subprocess.PIPE, text=True)
        self.said = ""
        assert self.process.stdout
        end = time.monotonic() + 180
        while "nothing else is served there" not in self.said:
            assert time.monotonic() < end
            line = self.process.stdout.readline()
            assert line, "the server ended"
            self.said += line
        self.wait()

    def wait(self) -> None:
        end = time.monotonic() + 180
        while True:
            try:
                assert self.ask("GET", "/api/v1/ready")[0] == 200
                return
            except (OSError, http.client.HTTPException, AssertionError):
                assert time.monotonic() < end, "the server does not answer"
                time.sleep(0.2)

    def context(self) -> ssl.SSLContext:
        """A browser that trusts this certificate and checks its names."""
        return ssl.create_default_context(cafile=str(self.data / "lan_certificate.pem"))

    def ask(
        self, method: str, path: str, body: Any = None, headers: dict[str, str] | None = None
    ) -> tuple[int, Any, bytes]:
        link = http.client.HTTPSConnection("127.0.0.1", self.port, context=self.context(), timeout=20)
        return _asked(link, method, path, body, headers)

    def plain(self, method: str, path: str, headers: dict[str, str] | None = None) -> tuple[int, Any, bytes]:
        return _asked(http.client.HTTPConnection("127.0.0.1", self.probe, timeout=20), method, path, None, headers)

    def end(self) -> None:
        self.process.terminate()
        self.process.wait(timeout=10)
        assert self.process.stdout
        self.process.stdout.close()


def _asked(
    link: http.client.HTTPConnection, method: str, path: str, body: Any, headers: dict[str, str] | None
) -> tuple[int, Any, bytes]:
    try:
        text = json.dumps(body) if body is not None else None
        link.request(method, path, text, {"Content-Type": "application/json", **(headers or {})})
        answer = link.getresponse()
        return answer.status, answer.headers, answer.read()
    finally:
        link.close()


@pytest.fixture(scope="module")
def house(tmp_path_factory: pytest.TempPathFactory) -> Iterator[House]:
    made = House(tmp_path_factory.mktemp("house"))
    yield made
    made.end()


def test_the_terminal_says_address_picture_and_fingerprint(house: House) -> None:
    assert f"https://127.0.0.1:{house.port}/" in house.said
    pem = (house.data / "lan_certificate.pem").read_bytes()
    digest = x509.load_pem_x509_certificate(pem).fingerprint(hashes.SHA256())
    assert digest.hex().upper() in house.said.replace(":", "")
    assert any(sign in house.said for sign in "█▀▄")


def test_its_names_are_checked_by_a_client_that_trusts_it(house: House) -> None:
    assert house.ask("GET", "/")[0] == 200
    with socket.create_connection(("127.0.0.1", house.port), timeout=10) as raw, pytest.raises(ssl.SSLError):
        house.context().wrap_socket(raw, server_hostname="somewhere-else.example")


def test_old_tls_and_no_tls_are_refused(house: House) -> None:
    old = ssl.SSLContext(ssl.PROTOCOL_TLS_CLIENT)
    old.check_hostname, old.verify_mode = False, ssl.CERT_NONE
    old.minimum_version = ssl.TLSVersion.TLSv1_2
    old.set_ciphers("ALL:@SECLEVEL=0")
    with warnings.catch_warnings():
        warnings.simplefilter("ignore", DeprecationWarning)  # that it is old is the point
        old.minimum_version = ssl.TLSVersion.TLSv1
        old.maximum_version = ssl.TLSVersion.TLSv1_1
    with socket.create_connection(("127.0.0.1", house.port), timeout=10) as raw, pytest.raises((ssl.SSLError, OSError)):
        old.wrap_socket(raw)
    link = http.client.HTTPConnection("127.0.0.1", house.port, timeout=10)
    link.request("GET", "/")
    with pytest.raises((http.client.HTTPException, OSError)):
        link.getresponse()
    link.close()


def test_other_host_names_are_refused(house: House) -> None:
    assert house.ask("GET", "/api/v1/ready", headers={"Host": "evil.example"})[0] == 400
    assert house.ask("GET", "/api/v1/ready", headers={"Host": "localhost"})[0] == 200


def test_sessions_are_for_encrypted_pages_alone(house: House) -> None:
    _status, headers, _body = house.ask("GET", "/")
    cookies = headers.get_all("Set-Cookie") or []
    assert cookies
    assert all("Secure" in c for c in cookies)
    assert headers["Strict-Transport-Security"] is None, "a browser would then refuse our own certificate for good"


def test_the_plain_port_serves_the_probe_and_says_why_not_more(house: House) -> None:
    status, headers, page = house.plain("GET", "/p/whatever")
    assert status == 200
    assert headers.get_all("Set-Cookie") is None
    for part in parts_of(page.decode()):
        assert house.plain("GET", part)[0] == 200, part
    assert house.plain("GET", "/api/v1/probe/nonesuch99")[0] == 404
    for path in ("/", "/api/v1/jobs", "/api/v1/session", "/enter"):
        status, _headers, said = house.plain("GET", path)
        assert status == 404
        assert b"not encrypted" in said


def test_a_probe_by_either_port_reaches_its_run(house: House) -> None:
    """Signed in over TLS; the code opened there lets results in by TLS and by the plain port, and nothing else."""
    made = subprocess.run([sys.executable, "-m", "wavilex.cli", "user", "owner", "--password"], text=True,
                          input="a long pass phrase\n", env=_env(house.data),
                          capture_output=True, check=False)  # fmt: skip
    assert made.returncode == 0, made.stderr
    jar: dict[str, str] = {}

    def ask(method: str, path: str, body: Any = None) -> Any:
        token = next((v for k, v in jar.items() if k.startswith("wavilex_token")), "")
        cookies = "; ".join(f"{k}={v}" for k, v in jar.items())
        more = {"Cookie": cookies, "X-CSRFToken": token, "Referer": f"https://127.0.0.1:{house.port}/"}
        status, headers, data = house.ask(method, f"/api/v1{path}", body, more)
        for one in headers.get_all("Set-Cookie") or []:
            name, _, value = one.partition(";")[0].partition("=")
            jar[name] = value
        assert status in (200, 201), data
        return json.loads(data)

    ask("GET", "/session/door")
    ask("POST", "/session/sign-in", {"name": "owner", "password": "a long pass phrase"})
    assert ask("GET", "/phone")["address"] == f"https://127.0.0.1:{house.port}/"
    text = json.dumps(job_data(Job("x", "Chain", "UTC", rig_of(truth(1), {}))))
    job = ask("POST", "/import", {"uid": "import-0001", "text": text})["uid"]
    opened = ask("POST", f"/jobs/{job}/runs/main/probes")
    assert opened["address"] == f"http://127.0.0.1:{house.probe}/p/{opened['code']}"
    assert opened["here_only"] is False
    facts = {"kind": "browser", "width": 1920, "height": 1080, "ratio_thousandths": 1000}
    where = f"/api/v1/probe/{opened['code']}"
    assert house.ask("POST", where, {"uid": "result-0001", "data": facts})[0] == 200
    plain = http.client.HTTPConnection("127.0.0.1", house.probe, timeout=20)
    assert _asked(plain, "POST", where, {"uid": "result-0002", "data": facts}, None)[0] == 200
    assert ask("GET", f"/jobs/{job}/probes")[0]["results"] == 2


def test_many_at_once_and_one_that_says_nothing(house: House) -> None:
    quiet = socket.create_connection(("127.0.0.1", house.port), timeout=10)
    try:
        assert [house.ask("GET", "/api/v1/ready")[0] for _ in range(20)] == [200] * 20
    finally:
        quiet.close()
