"""The demo: an invented club on a flooded quarry, three invented boats, a season made by the simulated pond."""

from datetime import UTC, datetime, timedelta
from typing import Any, Final

from sqlalchemy import select, text

from kunstflug.documents.pond import PondIn
from kunstflug.documents.setup import SetupDocument, setup_of
from kunstflug.pond import Weather, boat_seed, run_outing
from kunstflug.services.boats import boats
from kunstflug.services.ponds import ponds
from kunstflug.services.run import simulated
from kunstflug.services.shared.changes import Change, change_document
from kunstflug.services.shared.rows import clear, racer_of
from kunstflug.services.shelf import shelf
from kunstflug.store.acting import BOUND
from kunstflug.store.database import Store
from kunstflug.store.people import Racer
from kunstflug.store.tables import Boat


def _q(value: float, unit: str, source: str = "typed") -> dict[str, Any]:
    return {"value": value, "unit": unit, "source": source}


def _motor(kv: float, diameter: float, length: float, mass: float, **more: Any) -> dict[str, Any]:
    shaft, circle, depth = {28: (3.175, 19, 4.0), 36: (5, 25, 5.0), 40: (5, 25, 5.5)}[round(diameter)]
    return {
        "name": f"{diameter:g} x {length:g}, {kv:g} KV",
        "kv": _q(kv, "rpm/V"), "can_diameter": _q(diameter, "mm"), "can_length": _q(length, "mm"),
        "mass": _q(mass, "g"), "poles": 4, "shaft": _q(shaft, "mm"), "shaft_length": _q(18, "mm"),
        "circle": _q(circle, "mm"), "holes": 4, "thread_depth": _q(depth, "mm"), **more,
    }  # fmt: skip


def _pack(cells: int, mah: float, c: float, mass: float) -> dict[str, Any]:
    name = f"{cells}S {mah:g} mAh, {c:g} C"
    return {"name": name, "cells": cells, "capacity": _q(mah, "mAh"), "c_rating": _q(c, "1"), "mass": _q(mass, "g")}


def _propeller(diameter: float, ratio: float, blades: int = 2) -> dict[str, Any]:
    name = f"{diameter:g} x {ratio:g}" + ("" if blades == 2 else f", {blades} blades")
    bore = 3.175 if diameter < 38 else 4.76
    return {"name": name, "diameter": _q(diameter, "mm"), "pitch_ratio": _q(ratio, "1"), "blades": blades,
            "bore": _q(bore, "mm")}  # fmt: skip


def _controller(amps: float, burst: float, cells: int, mass: float) -> dict[str, Any]:
    return {
        "name": f"{amps:g} A, to {cells}S", "continuous_current": _q(amps, "A"), "burst_current": _q(burst, "A"),
        "max_cells": cells, "mass": _q(mass, "g"),
    }  # fmt: skip


def _drive(can: float, shaft: float, flex: float, length: float, circle: float, screw: float) -> dict[str, Any]:
    """What joins a drive: mount, coupler, shaft and jacket for a can."""
    return {
        "mount": {
            "name": f"mount for {circle:g} mm",
            "circle": _q(circle, "mm"),
            "holes": 4,
            "plate": _q(3, "mm"),
            "screw": "M3",
            "screw_length": _q(screw, "mm"),
            "height": _q(can / 2 + 5, "mm"),
        },
        "coupler": {
            "name": f"coupler {shaft:g} to {flex:g}",
            "motor_bore": _q(shaft, "mm"),
            "shaft_bore": _q(flex, "mm"),
            "outside": _q(14, "mm"),
            "length": _q(26, "mm"),
            "grip": _q(11, "mm"),
            "set_screw": "M3" if shaft < 4 else "M4",
        },
        "shaft": {
            "name": f"flex {flex:g} x {length:g}",
            "kind": "flex",
            "diameter": _q(flex, "mm"),
            "end": _q(flex, "mm"),
            "length": _q(length, "mm"),
            "gap": _q(3, "mm"),
            "collar": "a collar",
        },
        "jacket": {
            "name": f"jacket for {can:g}",
            "bore": _q(can + 0.6, "mm"),
            "outside": _q(can + 6, "mm"),
            "length": _q(45 if can > 30 else 30, "mm"),
            "groove": _q(1.1, "mm"),
            "ring_section": _q(1.78, "mm"),
            "ring_inside": _q({28: 28.3, 36: 34.65, 40: 39.5}[round(can)], "mm"),
            "nipple": _q(8, "mm"),
        },
    }


def _places(shell: float, motor: float, controller: float, pack: float, room: float) -> dict[str, Any]:
    return {
        "shell": _q(shell, "mm"), "motor": _q(motor, "mm"), "controller": _q(controller, "mm"), "pack": _q(pack, "mm"),
        "room_length": _q(room, "mm"), "room_width": _q(64, "mm"), "room_height": _q(62, "mm"),
    }  # fmt: skip


DIPPER: dict[str, Any] = {
    "name": "as bought",
    "hull": {"name": "deep V, 62 cm", "hull_type": "mono", "length": _q(620, "mm"), "beam": _q(182, "mm")},
    "motor": _motor(2200, 36, 74, 285),
    "controller": _controller(120, 160, 6, 118),
    "propeller": _propeller(40, 1.4),
    "pack": _pack(3, 5000, 50, 385),
    "wiring": {"gauge_awg": 12, "length": _q(520, "mm"), "connector_diameter": _q(5.5, "mm")},
    "all_up_mass": _q(1980, "g", "measured"),
    **_drive(36, 5, 4.76, 235, 25, 7),
    "placement": _places(205, 262, 335, 178, 112),
}
SHRIKE: dict[str, Any] = {
    "name": "spring",
    "hull": {
        "name": "catamaran, 75 cm",
        "hull_type": "catamaran",
        "length": _q(750, "mm"),
        "beam": _q(255, "mm"),
        "rudder_offset": _q(36, "mm"),
        "rudder_setback": _q(72, "mm"),
        "fin_angle": _q(1.2, "deg"),
        "fin_side": "right",
        "hatch_tape": "on",
    },
    "motor": _motor(1650, 40, 74, 372, max_power=_q(2600, "W")),
    "controller": _controller(180, 240, 8, 165),
    "propeller": _propeller(45, 1.4),
    "pack": _pack(6, 5000, 60, 742),
    "wiring": {"gauge_awg": 10, "length": _q(640, "mm"), "connector_diameter": _q(8, "mm")},
    "all_up_mass": _q(3120, "g", "measured"),
    **_drive(40, 5, 4.76, 290, 25, 8),
    "placement": _places(240, 330, 430, 215, 100),
}
LAPWING: dict[str, Any] = {
    "name": "light",
    "hull": {"name": "outrigger, 55 cm", "hull_type": "outrigger", "length": _q(550, "mm"), "beam": _q(248, "mm")},
    "motor": _motor(3100, 28, 50, 142),
    "controller": _controller(90, 120, 4, 74),
    "propeller": _propeller(35, 1.4),
    "pack": _pack(3, 3300, 60, 268),
    "all_up_mass": _q(1080, "g", "measured"),
    "wiring": {"gauge_awg": 12, "length": _q(460, "mm"), "connector_diameter": _q(4, "mm")},
    **_drive(28, 3.175, 3.175, 180, 19, 5),
    "placement": _places(180, 225, 290, 160, 92),
}
SHELF: tuple[tuple[str, dict[str, Any]], ...] = (
    ("motor", _motor(1900, 36, 74, 287)),
    ("motor", _motor(1780, 36, 84, 322)),
    ("motor", _motor(1350, 40, 82, 421)),
    ("motor", _motor(3500, 28, 48, 138)),
    ("controller", _controller(150, 200, 6, 132)),
    ("propeller", _propeller(38, 1.4)),
    ("propeller", _propeller(42, 1.4)),
    ("propeller", _propeller(44, 1.4)),
    ("propeller", _propeller(42, 1.6)),
    ("propeller", _propeller(40, 1.4, 3)),
    ("propeller", _propeller(48, 1.4)),
    ("propeller", _propeller(37, 1.45)),
    ("pack", _pack(4, 5000, 50, 508)),
    ("pack", _pack(4, 4000, 100, 462)),
    ("pack", _pack(3, 4000, 35, 330)),
    ("pack", _pack(2, 5000, 50, 268)),
    ("pack", _pack(8, 4500, 70, 905)),
    (
        "motor",
        {**_motor(1500, 40, 92, 448), "shaft": _q(8, "mm"), "circle": _q(30, "mm"), "thread_depth": _q(4.5, "mm")},
    ),
    (
        "coupler",
        {
            "name": "coupler 8 to 4.76",
            "motor_bore": _q(8, "mm"),
            "shaft_bore": _q(4.76, "mm"),
            "outside": _q(18, "mm"),
            "length": _q(30, "mm"),
            "grip": _q(13, "mm"),
            "set_screw": "M4",
        },
    ),
    (
        "mount",
        {
            "name": "slotted mount, 25 to 32",
            "circle": _q(25, "mm"),
            "circle_to": _q(32, "mm"),
            "holes": 4,
            "plate": _q(3, "mm"),
            "screw": "M3",
            "screw_length": _q(6, "mm"),
        },
    ),
    ("charger", {"name": "bench charger, 8S", "most_cells": 8, "most_current": _q(20, "A"), "power": _q(500, "W")}),
    ("o-ring", {"name": "rings 34.65 x 1.78", "inside": _q(34.65, "mm"), "section": _q(1.78, "mm")}),
    ("hose", {"name": "silicone hose, 4 mm", "bore": _q(4, "mm"), "outside": _q(7, "mm"), "length": _q(2000, "mm")}),
    (
        "tube",
        {"name": "brass tube 3/16 in", "outside": _q(0.1875, "in"), "wall": _q(0.014, "in"), "length": _q(300, "mm")},
    ),
    ("connector", {"name": "8 mm plugs", "pin": _q(8, "mm"), "pins": 1}),
    ("logger", {"name": "position logger, 10 Hz", "rate": 10, "mass": _q(24, "g")}),
)
_LIFE: tuple[tuple[str, str, str, str, float | None], ...] = (
    ("motor", "28 x 48, 3500 KV", "died", "two passes with a 37 mm propeller: smoke, the winding shorted", None),
    ("pack", "3S 4000 mAh, 35 C", "damage", "puffed a little after a hot day; storage only", None),
    ("propeller", "42 x 1.6", "damage", "a nick of 2 mm at the tip from a reed", None),
    ("controller", "120 A, to 6S", "repair", "wet inside; dried, coated, new capacitor", None),
)
_PRICES: dict[str, float] = {"motor": 74, "controller": 96, "propeller": 13, "pack": 62, "coupler": 9, "mount": 12,
                             "charger": 129, "connector": 4, "logger": 85}  # fmt: skip

_START = datetime(2026, 4, 12, 9, 20, tzinfo=UTC)
_WEATHER = (
    Weather(water_c=9.5, air_c=12.0, wind_mps=2.5, wind_from_deg=250),
    Weather(water_c=12.0, air_c=16.5, wind_mps=1.0, wind_from_deg=190),
    Weather(water_c=15.5, air_c=19.0, wind_mps=3.0, wind_from_deg=245),
    Weather(water_c=19.0, air_c=24.5, wind_mps=0.5, wind_from_deg=60),
    Weather(water_c=21.0, air_c=27.0, wind_mps=1.5, wind_from_deg=230),
    Weather(water_c=17.5, air_c=18.0, wind_mps=2.0, wind_from_deg=300),
)
_SEEN = (
    ["runs wet", "cool"],
    ["planes cleanly"],
    ["light bow upwind", "hops once"],
    ["planes cleanly", "motor warm"],
    ["walks on the chines"],
    ["planes cleanly"],
)

# boat, then for each setup: its name, its changes, its outings (index of the weather)
_SEASON: tuple[tuple[str, dict[str, Any], tuple[tuple[str, list[Change], tuple[int, ...]], ...]], ...] = (
    (
        "Dipper",
        DIPPER,
        (
            ("as bought", [], (0, 1)),
            ("42 mm propeller", [Change(path="propeller", value=_propeller(42, 1.4))], (2,)),
            ("four cells", [Change(path="pack", value=_pack(4, 5000, 50, 508))], (3, 4)),
        ),
    ),
    (
        "Shrike",
        SHRIKE,
        (
            ("spring", [], (1,)),
            ("lower KV", [Change(path="motor", value=_motor(1350, 40, 82, 421))], (3,)),
            ("bigger propeller", [Change(path="propeller", value=_propeller(48, 1.4))], (5, 0)),
            ("pack 6 mm aft", [Change(path="placement.pack", value=_q(209, "mm"))], (1,)),
            ("pack 12 mm aft", [Change(path="placement.pack", value=_q(203, "mm"))], (5,)),
        ),
    ),
    (
        "Lapwing",
        LAPWING,
        (("light", [], (2,)), ("finer propeller", [Change(path="propeller", value=_propeller(37, 1.45))], ())),
    ),
)


POND: Final = (
    "Long meadow",
    {
        "corners": [[4, 10], [60, 2], [136, 12], [158, 40], [128, 66], [62, 58], [10, 44]],
        "water": [
            {"on": "2026-03-14", "celsius": 8.0},
            {"on": "2026-05-16", "celsius": 17.5},
            {"on": "2026-07-25", "celsius": 23.5},
            {"on": "2026-10-03", "celsius": 14.0},
        ],
    },
)
"""Where the season was run, and what a thermometer showed there."""


def load_demo(store: Store) -> bool:
    """Loads the demo for a racer who has nothing yet; one that was killed half-way is begun anew.

    Returns
    -------
    Whether it was loaded now.
    """
    with store.transaction() as session:
        racer = session.get_one(Racer, racer_of(session), with_for_update=True)
        unfinished = racer.demo == "loading"
        if not unfinished and (racer.demo or session.scalar(select(Boat.id).where(Boat.owner_id == racer.id).limit(1))):
            return False
        racer.demo = "loading"
    if unfinished:
        _clear(store)
    outing = 0
    for name, raw, setups in _SEASON:
        document = SetupDocument.model_validate(raw)
        current = boats.new_boat(store, name, document)
        for title, changes, weathers in setups:
            if changes:
                changed = change_document(current.document, changes).document
                put_in = {c.path: shelf.add_part(store, c.path, c.value).id for c in changes if "." not in c.path}
                current = boats.adopt(store, current.id, changed, title, put_in)
            for index in weathers:
                outing += 1
                _outing(store, current.boat_id, current.id, current.document, outing, index)
    for kind, part in SHELF:
        shelf.add_part(store, kind, part)
    _lives(store)
    ponds.keep_pond(store, POND[0], PondIn.model_validate(POND[1]))
    with store.transaction() as session:
        session.get_one(Racer, racer_of(session)).demo = "loaded"
    return True


def _clear(store: Store) -> None:
    """Takes away what a demo that was killed half-way had made; nobody has worked with it yet.

    The hidden boats of the pond go by the numbers of the boats: where no other racer has boats, those begin at 1 again.
    """
    with store.transaction() as session:
        clear(session, racer_of(session))
        empty = session.scalar(select(Boat.id).limit(1)) is None
    if empty:
        with store.transaction() as session:
            session.execute(text("ALTER TABLE boats AUTO_INCREMENT = 1"), execution_options=BOUND)


def _lives(store: Store) -> None:
    """Prices, and what happened to some parts over the season."""
    for part in shelf.shelf(store):
        if part.kind in _PRICES:
            shelf.change_part(
                store, part.id, {"price": _PRICES[part.kind], "pieces": 2 if part.kind == "propeller" else 1}
            )
    for kind, name, what, words, _ in _LIFE:
        for part in shelf.shelf(store, kind):
            if part.name == name:
                shelf.add_event(store, part.id, what, words, _START + timedelta(days=90))
                break


def _outing(store: Store, boat_id: int, setup_id: int, document: Any, count: int, weather: int) -> None:
    started = (_START + timedelta(days=16 * count, minutes=37 * count)).replace(tzinfo=None)
    made = run_outing(
        setup_of(document),
        seed=count,
        boat_seed=boat_seed(boat_id),
        weather=_WEATHER[weather],
        start_unix_s=started.replace(tzinfo=UTC).timestamp(),
    )
    simulated.save_outing(store, setup_id, made, _WEATHER[weather], started, observations=tuple(_SEEN[weather]))
