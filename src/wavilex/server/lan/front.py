"""TLS in front of the server: what comes encrypted goes on to the server's own port on this machine, byte by byte.

The server behind reads requests whole and bounds them; here only connections are counted and idle ones ended.
"""

from __future__ import annotations

import asyncio
import contextlib
import hashlib
import ipaddress
import ssl
import threading
from pathlib import Path

CONNECTIONS = 200
IDLE_SECONDS = 60
HANDSHAKE_SECONDS = 10
_CHUNK = 65_536


class Front:
    """A TLS port that leads to another one of this machine; runs in a thread of its own until the process ends."""

    def __init__(self, host: str, port: int, certificate: Path, to_port: int) -> None:
        self.host, self.port, self.to_port = host, port, to_port
        self.context = ssl.SSLContext(ssl.PROTOCOL_TLS_SERVER)
        self.context.minimum_version = ssl.TLSVersion.TLSv1_2
        self.context.load_cert_chain(certificate)
        self._open = 0
        self._listening = threading.Event()
        self._failed: OSError | None = None

    def start(self) -> None:
        """Listen. Raises OSError where the port cannot be had."""
        threading.Thread(target=lambda: asyncio.run(self._run()), daemon=True, name="tls front").start()
        self._listening.wait()
        if self._failed is not None:
            raise self._failed

    async def _run(self) -> None:
        try:
            server = await asyncio.start_server(
                self._meet, self.host, self.port, ssl=self.context, ssl_handshake_timeout=HANDSHAKE_SECONDS,
                limit=_CHUNK,
            )  # fmt: skip
        except OSError as error:
            self._failed = error
            self._listening.set()
            return
        self._listening.set()
        async with server:
            await server.serve_forever()

    async def _meet(self, reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
        if self._open >= CONNECTIONS:
            writer.close()
            return
        self._open += 1
        try:
            await self._lead(reader, writer)
        except* (OSError, TimeoutError):
            pass  # one of the two ends went away, or said nothing for long
        finally:
            self._open -= 1
            with contextlib.suppress(OSError):
                writer.close()

    async def _lead(self, reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
        """Carry both ways until one end has no more to say. Raises OSError, TimeoutError, alone or in a group."""
        inner_reader, inner_writer = await self._inner(str(writer.get_extra_info("peername")[0]))
        try:
            async with asyncio.TaskGroup() as both:
                both.create_task(_carry(reader, inner_writer))
                both.create_task(_carry(inner_reader, writer))
        finally:
            with contextlib.suppress(OSError):
                inner_writer.close()

    async def _inner(self, client: str) -> tuple[asyncio.StreamReader, asyncio.StreamWriter]:
        """A connection to the server behind, from an address that stands for this client where the system lets us."""
        try:
            return await asyncio.open_connection("127.0.0.1", self.to_port, local_addr=(stand_in(client), 0))
        except OSError:
            return await asyncio.open_connection("127.0.0.1", self.to_port)


def stand_in(client: str) -> str:
    """An address of this machine that stands for a client, so that the server behind can tell clients apart: failed
    sign-ins and wrong codes count for the place they come from. 192.168.4.7 is 127.168.4.7; any other kind a digest.
    """
    try:
        found = ipaddress.ip_address(client.partition("%")[0])
    except ValueError:
        return "127.0.0.1"
    last = found.packed[1:] if found.version == 4 else hashlib.sha256(found.packed).digest()[:3]
    return f"127.{last[0]}.{last[1]}.{last[2] or 1}"


async def _carry(source: asyncio.StreamReader, to: asyncio.StreamWriter) -> None:
    while data := await asyncio.wait_for(source.read(_CHUNK), IDLE_SECONDS):
        to.write(data)
        await to.drain()
    with contextlib.suppress(OSError):
        if to.can_write_eof():
            to.write_eof()
        else:
            to.close()
