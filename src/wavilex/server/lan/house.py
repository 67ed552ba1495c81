"""How the house reaches the server: its address, the certificate, the ports, and what is said of them at the start."""

from __future__ import annotations

import datetime
import io
import socket
import threading
from dataclasses import dataclass
from pathlib import Path

from wavilex.server.lan.addresses import Here, here
from wavilex.server.lan.certificate import Certificate, certificate
from wavilex.server.lan.front import Front

_PROBE_THREADS = 2


def _free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port: int = probe.getsockname()[1]
        return port


@dataclass(frozen=True, slots=True)
class House:
    """host: where it listens; inner_port: the server's own, on this machine alone."""

    host: str
    port: int
    probe_port: int
    inner_port: int
    here: Here
    certificate: Certificate

    @classmethod
    def made(cls, host: str, port: int, probe_port: int, data: Path, now: datetime.datetime) -> House:
        """Look where this machine is reached, and have a certificate for that."""
        found = here()
        if host.startswith("127."):
            found = Here(found.names, ("127.0.0.1", *(a for a in found.addresses if a != "127.0.0.1")))
        return cls(host, port, probe_port, _free_port(), found, certificate(data, found, now))

    @property
    def best(self) -> str:
        return self.host if self.host.startswith("127.") else self.here.best

    @property
    def address(self) -> str:
        return f"https://{self.best}:{self.port}/"

    @property
    def probe_address(self) -> str:
        """Where the probe is served without TLS; "" where it is not."""
        return f"http://{self.best}:{self.probe_port}/p" if self.probe_port else ""

    @property
    def environment(self) -> dict[str, str]:
        """What the settings are told: the hosts a request may name, and that browsers come encrypted."""
        return {
            "WAVILEX_LAN": self.address, "WAVILEX_LAN_PRINT": self.certificate.fingerprint,
            "WAVILEX_PROBE_ADDRESS": self.probe_address, "WAVILEX_HOSTS": ",".join(self.here.hosts),
        }  # fmt: skip

    def open(self) -> None:
        """Listen for the house. Raises OSError where a port cannot be had."""
        Front(self.host, self.port, self.certificate.file, self.inner_port).start()
        if self.probe_port:
            self._open_probe()

    def _open_probe(self) -> None:
        from django.conf import settings
        from waitress.server import create_server

        from wavilex.server.config import limits
        from wavilex.server.config.wsgi import application
        from wavilex.server.lan.probe_only import probe_only

        page = (settings.PACKAGE / "web" / "probe.html").read_text(encoding="utf-8")
        server = create_server(
            probe_only(application, page), map={}, host=self.host, port=self.probe_port, threads=_PROBE_THREADS,
            ident=None, max_request_body_size=limits.PROBE_BYTES, clear_untrusted_proxy_headers=True,
        )  # fmt: skip
        threading.Thread(target=server.run, daemon=True, name="probe port").start()

    def words(self) -> str:
        """What is said in the terminal: the address, also as a picture for a camera, and what a browser will ask."""
        import segno

        out = io.StringIO()
        segno.make(self.address, error="m").terminal(out, compact=True, border=2)
        lines = [
            f"Wavilex: {self.address}",
            "On a phone: point its camera here, or type the address.",
            out.getvalue().rstrip(),
            "The certificate is this installation’s own, so a browser asks once whether to trust it. It is the right "
            "one if it shows this SHA-256 fingerprint:",
            f"  {self.certificate.fingerprint}",
        ]
        if self.probe_address:
            lines.append(
                f"The page that measures is at {self.probe_address} too, without encryption, for boxes that refuse "
                "such a certificate; nothing else is served there."
            )
        return "\n".join(lines)
