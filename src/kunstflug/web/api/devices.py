"""Phones of the local network: paired with a code, listed, forgotten. Answered to this machine only."""

import segno
from fastapi import Depends, HTTPException, Request

from kunstflug.documents.devices import NetworkView, PairingOut
from kunstflug.services.account import devices
from kunstflug.web.api.deps import Id, StoreOf, routes_of
from kunstflug.web.lan import DEVICE


async def _at_this_machine(request: Request) -> None:
    if DEVICE in request.scope:
        raise HTTPException(403, "Phones are paired and forgotten at the machine itself.")


router = routes_of("devices", Depends(_at_this_machine))


def _addresses(request: Request) -> list[str]:
    found: tuple[str, ...] = request.app.state.lan
    return list(found)


@router.get("/network")
def network(request: Request, store: StoreOf) -> NetworkView:
    """Whether the program is open to the local network, and which devices may talk to it."""
    addresses = _addresses(request)
    return NetworkView(open=bool(addresses), addresses=addresses, devices=devices.devices(store))


@router.post("/pairing", status_code=201)
def pairing(request: Request, store: StoreOf) -> PairingOut:
    """A code for one more device, as letters and as a picture; it holds for five minutes and five tries."""
    addresses = _addresses(request)
    if not addresses:
        raise HTTPException(409, "Kunstflug is not open to the local network. Start it with: kunstflug serve --lan")
    code = devices.new_code(store)
    address = f"{addresses[0]}/pair"
    picture = segno.make(f"{address}?code={code}", error="m").svg_data_uri(scale=6, border=4)
    return PairingOut(code=f"{code[:4]} {code[4:]}", address=address, picture=picture, seconds=devices.CODE_S)


@router.delete("/devices/{device_id}", status_code=204)
def forget_device(device_id: Id, store: StoreOf) -> None:
    """Takes back what a device was given: it is answered no more."""
    devices.forget_device(store, device_id)
