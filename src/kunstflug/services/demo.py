"""The demo: an invented club on a flooded quarry, three invented boats, a season made by the simulated pond."""

from datetime import UTC, datetime, timedelta
from typing import Any

from kunstflug.formats.setup_document import SetupDocument, setup_of
from kunstflug.pond import Weather, run_outing
from kunstflug.services import match, run
from kunstflug.services.changes import Change
from kunstflug.store.database import Store


def _q(value: float, unit: str, source: str = "typed") -> dict[str, Any]:
    return {"value": value, "unit": unit, "source": source}


def _motor(kv: float, diameter: float, length: float, mass: float, **more: Any) -> dict[str, Any]:
    return {
        "name": f"{diameter:g} x {length:g}, {kv:g} KV",
        "kv": _q(kv, "rpm/V"), "can_diameter": _q(diameter, "mm"), "can_length": _q(length, "mm"),
        "mass": _q(mass, "g"), "poles": 4, **more,
    }  # fmt: skip


def _pack(cells: int, mah: float, c: float, mass: float) -> dict[str, Any]:
    name = f"{cells}S {mah:g} mAh, {c:g} C"
    return {"name": name, "cells": cells, "capacity": _q(mah, "mAh"), "c_rating": _q(c, "1"), "mass": _q(mass, "g")}


def _propeller(diameter: float, ratio: float, blades: int = 2) -> dict[str, Any]:
    name = f"{diameter:g} x {ratio:g}" + ("" if blades == 2 else f", {blades} blades")
    return {"name": name, "diameter": _q(diameter, "mm"), "pitch_ratio": _q(ratio, "1"), "blades": blades}


def _controller(amps: float, burst: float, cells: int, mass: float) -> dict[str, Any]:
    return {
        "name": f"{amps:g} A, to {cells}S", "continuous_current": _q(amps, "A"), "burst_current": _q(burst, "A"),
        "max_cells": cells, "mass": _q(mass, "g"),
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
}
SHRIKE: dict[str, Any] = {
    "name": "spring",
    "hull": {"name": "catamaran, 75 cm", "hull_type": "catamaran", "length": _q(750, "mm"), "beam": _q(255, "mm")},
    "motor": _motor(1650, 40, 74, 372, max_power=_q(2600, "W")),
    "controller": _controller(180, 240, 8, 165),
    "propeller": _propeller(45, 1.4),
    "pack": _pack(6, 5000, 60, 742),
    "wiring": {"gauge_awg": 10, "length": _q(640, "mm"), "connector_diameter": _q(8, "mm")},
    "all_up_mass": _q(3120, "g", "measured"),
}
LAPWING: dict[str, Any] = {
    "name": "light",
    "hull": {"name": "outrigger, 55 cm", "hull_type": "outrigger", "length": _q(550, "mm"), "beam": _q(248, "mm")},
    "motor": _motor(3100, 28, 50, 142),
    "controller": _controller(90, 120, 4, 74),
    "propeller": _propeller(35, 1.4),
    "pack": _pack(3, 3300, 60, 268),
    "all_up_mass": _q(1080, "g", "measured"),
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
)

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
            ("bigger propeller", [Change(path="propeller", value=_propeller(48, 1.4))], (5,)),
        ),
    ),
    (
        "Lapwing",
        LAPWING,
        (("light", [], (2,)), ("finer propeller", [Change(path="propeller", value=_propeller(37, 1.45))], ())),
    ),
)


def load_demo(store: Store) -> bool:
    """Loads the demo into an empty database; false where there is a boat already."""
    if match.boats(store):
        return False
    outing = 0
    for name, raw, setups in _SEASON:
        document = SetupDocument.model_validate(raw)
        current = match.new_boat(store, name, document)
        for title, changes, weathers in setups:
            if changes:
                changed = match.draft(current.document, changes).document
                current = match.adopt(store, current.id, changed, title, {})
            for index in weathers:
                outing += 1
                _outing(store, current.boat_id, current.id, current.document, outing, index)
    for kind, part in SHELF:
        match.add_part(store, kind, part)
    return True


def _outing(store: Store, boat_id: int, setup_id: int, document: Any, count: int, weather: int) -> None:
    started = (_START + timedelta(days=16 * count, minutes=37 * count)).replace(tzinfo=None)
    made = run_outing(
        setup_of(document),
        seed=count,
        boat_seed=1000 + boat_id,
        weather=_WEATHER[weather],
        start_unix_s=started.replace(tzinfo=UTC).timestamp(),
    )
    saved = run.save_outing(store, setup_id, made, _WEATHER[weather], started)
    run.set_notes(store, saved.id, saved.conditions, "", _SEEN[weather])
