"""Devices that tell of a boat while it is driven: over TCP, over UDP, at a serial port."""

import asyncio
import contextlib
import ipaddress
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager
from dataclasses import dataclass
from typing import Final, Protocol, cast

import serial

from kunstflug.core.quantity.errors import InvalidValue
from kunstflug.documents.live import SourceIn, SourceKind
from kunstflug.files.lines import LineCutter

READ_BYTES: Final = 65536
SERIAL_WAIT_S: Final = 0.05
MOST_WAITING: Final = 10_000
EVERYWHERE: Final = "0.0.0.0"
NEAR: Final = "an address of this machine or of the local network, as 127.0.0.1"


class Device(Protocol):
    """A device that was reached."""

    async def lines(self) -> list[bytes]:
        """The next lines, one or more; none where it has closed.

        Raises
        ------
        OSError : it went away.
        """

    def say(self, line: bytes) -> None:
        """Says a line to it."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Reach:
    """What the racers of a club's server may have listened to: what its operator named, and ports of their own.

    Parameters
    ----------
    named : addresses and serial ports, as ``tcp://10.0.0.20:10110`` or ``serial:///dev/ttyUSB0``.
    ports : UDP ports that anybody may send to, one boat on each.
    each : drives that one racer has open at once.
    """

    named: frozenset[str] = frozenset()
    ports: range = range(10110, 10142)
    each: int = 2


def reach_of(devices: str, ports: str) -> Reach:
    """Of what an operator says: names with commas between them, and ``10110-10141``.

    Raises
    ------
    ValueError
    """
    first, _, last = ports.partition("-")
    named = frozenset(words for word in devices.split(",") if (words := word.strip()))
    return Reach(named=named, ports=range(int(first), int(last or first) + 1))


def name_of(source: SourceIn) -> str:
    """Of a device, as an operator names it."""
    where = source.path if source.kind is SourceKind.SERIAL else f"{source.host}:{source.port}"
    return f"{source.kind.value}://{where}"


def check_reach(source: SourceIn, reach: Reach) -> SourceIn:
    """What a racer of a club's server may have listened to, and where: nobody makes the server call, or open, anything.

    Raises
    ------
    InvalidValue
    """
    if name_of(source) in reach.named:
        return source
    if source.kind is not SourceKind.UDP:
        raise InvalidValue(
            "kind", source.kind.value, "udp, or a device that the server's operator has named (KUNSTFLUG_DEVICES)"
        )
    if source.port not in reach.ports:
        raise InvalidValue("port", source.port, f"{reach.ports.start} to {reach.ports.stop - 1}")
    return source.model_copy(update={"host": EVERYWHERE})


def check_source(source: SourceIn) -> None:
    """Refuses an address that is not near: a device is on this machine or in the local network.

    Raises
    ------
    InvalidValue
    """
    if source.kind is SourceKind.SERIAL:
        if not source.path:
            raise InvalidValue("path", source.path, "a serial port, as /dev/ttyUSB0")
        return
    try:
        address = ipaddress.ip_address(source.host)
    except ValueError as error:
        raise InvalidValue("host", source.host, NEAR) from error
    # All addresses of this machine (0.0.0.0) can be listened at, not called.
    called = source.kind is SourceKind.TCP and address.is_unspecified
    if called or not (address.is_private or address.is_link_local):  # loopback is private, too
        raise InvalidValue("host", source.host, NEAR)


@asynccontextmanager
async def reached(source: SourceIn) -> AsyncIterator[Device]:
    """A device, while it is listened to.

    Raises
    ------
    OSError : nobody answers there.
    """
    if source.kind is SourceKind.TCP:
        reader, writer = await asyncio.open_connection(source.host, source.port)
        try:
            yield _Tcp(reader, writer)
        finally:
            writer.close()
            with contextlib.suppress(OSError):
                await writer.wait_closed()
    elif source.kind is SourceKind.UDP:
        loop = asyncio.get_running_loop()
        transport, device = await loop.create_datagram_endpoint(_Udp, local_addr=(source.host, source.port))
        try:
            yield device
        finally:
            transport.close()
    else:
        port = await asyncio.to_thread(serial.Serial, source.path, source.baud, timeout=SERIAL_WAIT_S, write_timeout=0)
        try:
            yield _Serial(port)
        finally:
            port.close()


class _Tcp:
    def __init__(self, reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
        self._reader, self._writer, self._cutter = reader, writer, LineCutter()

    async def lines(self) -> list[bytes]:
        while data := await self._reader.read(READ_BYTES):
            if lines := self._cutter.cut(data):
                return lines
        return []

    def say(self, line: bytes) -> None:
        with contextlib.suppress(OSError, RuntimeError):
            self._writer.write(line)


class _Udp(asyncio.DatagramProtocol):
    """A datagram holds whole lines; the last one need not end."""

    def __init__(self) -> None:
        self._waiting: asyncio.Queue[bytes] = asyncio.Queue(MOST_WAITING)
        self._transport: asyncio.DatagramTransport | None = None
        self._who: tuple[str, int] | None = None

    def connection_made(self, transport: asyncio.BaseTransport) -> None:
        self._transport = cast(asyncio.DatagramTransport, transport)  # the loops' own are no subclass of it

    def datagram_received(self, data: bytes, addr: tuple[str, int]) -> None:
        self._who = addr
        with contextlib.suppress(asyncio.QueueFull):
            self._waiting.put_nowait(data)

    async def lines(self) -> list[bytes]:
        while True:
            data = await self._waiting.get()
            if lines := LineCutter().cut(data.rstrip(b"\r\n\0") + b"\n"):
                return lines

    def say(self, line: bytes) -> None:
        if self._transport is not None and self._who is not None:
            self._transport.sendto(line, self._who)


class _Serial:
    def __init__(self, port: serial.Serial) -> None:
        self._port, self._cutter = port, LineCutter()

    async def lines(self) -> list[bytes]:
        while True:
            data = await asyncio.to_thread(self._read)
            if lines := self._cutter.cut(data):
                return lines

    def _read(self) -> bytes:
        data: bytes = self._port.read(max(self._port.in_waiting, 1))
        return data

    def say(self, line: bytes) -> None:
        with contextlib.suppress(OSError):
            self._port.write(line)
