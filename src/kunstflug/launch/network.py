"""The program in the local network: a socket, a certificate, and what the web processes are told of them."""

import dataclasses
import os
import socket
from pathlib import Path

from kunstflug.core.quantity.errors import StartupProblem
from kunstflug.launch.ports import lan_port, listen


@dataclasses.dataclass(frozen=True, slots=True, kw_only=True)
class Network:
    """The socket for the local network, and what is told of it to the web processes."""

    listening: socket.socket
    order: dict[str, object]


def open_network(folder: Path) -> Network:
    """Listens in the local network, with a certificate of this machine's own.

    Raises
    ------
    StartupProblem : there is no local network, or its port is taken.
    """
    from kunstflug.launch.certificate import lan_certificate, own_addresses

    told = os.environ.get("KUNSTFLUG_LAN_ADDRESS")
    addresses = [told] if told else own_addresses()
    if not addresses:
        raise StartupProblem(
            "this machine is in no local network; join one, or open a hotspot, or set KUNSTFLUG_LAN_ADDRESS"
        )
    port = lan_port()
    made = lan_certificate(folder / "lan", addresses)
    order = {"hosts": addresses, "port": port, "authority": str(made.authority), "server": str(made.server)}
    listening = listen(port, told or "0.0.0.0", "KUNSTFLUG_LAN_PORT")
    return Network(listening=listening, order=order | {"key": str(made.key)})
