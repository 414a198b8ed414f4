"""Phones of the local network, over the wire."""

from datetime import datetime

from pydantic import Field

from kunstflug.documents.base import Out


class DeviceView(Out):
    """A device that may talk to the program."""

    id: int
    name: str
    paired_at: datetime
    seen_at: datetime


class NetworkView(Out):
    """Whether the program is open to the local network, and who may talk to it."""

    open: bool
    addresses: list[str] = Field(description="that a phone can be given")
    devices: list[DeviceView]


class PairingOut(Out):
    """A code that pairs one more device."""

    code: str
    address: str
    picture: str = Field(description="the address with the code as a QR code (ISO/IEC 18004), SVG in a data address")
    seconds: int = Field(description="for which the code holds")
