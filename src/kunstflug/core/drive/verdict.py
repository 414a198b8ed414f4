"""Margins: each load against its limit, with a verdict, its reason and its number."""

from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from kunstflug.core import controller, motor, pack
from kunstflug.core.drive.operating_point import OperatingPoint
from kunstflug.core.drive.setup import Setup
from kunstflug.core.values import Source, Value

CONTROLLER_MARGIN = 0.9  # part of the continuous rating that is sustained with margin (common practice, no source)
PACK_TRUST = 0.6  # part of the printed C rating that is believed (common practice, no source)
CELL_FLOOR_V = 3.3  # a cell under load that holds (common practice, no source)
CELL_STOP_V = 3.0


class Verdict(StrEnum):
    """What a margin says."""

    HOLDS = "holds"
    SHORT = "short runs"
    STOP = "stop"


@dataclass(frozen=True, slots=True, kw_only=True)
class Margin:
    """One load against its limit.

    Parameters
    ----------
    station : which station of the drive line it belongs to.
    load, limit : in ``unit``; the limit is where *holds* ends.
    stop : in ``unit``; where *stop* begins.
    rising : true where more is worse.
    chance : part of the band that passes the limit [1].
    guessed : true where the limit itself is a guess.
    """

    station: str
    title: str
    load: float
    limit: float
    stop: float
    unit: str
    rising: bool
    verdict: Verdict
    reason: str
    chance: float
    guessed: bool

    @property
    def use(self) -> float:
        """Load over limit [1], above 1 where it does not hold."""
        return self.load / self.limit if self.rising else self.limit / self.load


def _margin(
    station: str,
    title: str,
    loads: np.ndarray,
    limit: float,
    stop: float,
    unit: str,
    *,
    rising: bool,
    guessed: bool,
    limit_words: str,
    digits: int = 0,
) -> Margin:
    """Margin of the nominal load, the first of the loads; the rest are the band."""
    load = float(loads[0])
    passed, stopped = (load > limit, load > stop) if rising else (load < limit, load < stop)
    verdict = Verdict.STOP if stopped else Verdict.SHORT if passed else Verdict.HOLDS
    band = loads[1:]
    over = band > limit if rising else band < limit
    side = {Verdict.HOLDS: "within", Verdict.SHORT: "past", Verdict.STOP: "far past"}[verdict]
    return Margin(
        station=station,
        title=title,
        load=load,
        limit=limit,
        stop=stop,
        unit=unit,
        rising=rising,
        verdict=verdict,
        reason=f"{load:.{digits}f} {unit} is {side} {limit_words}",
        chance=float(np.mean(over)) if band.size else 0.0,
        guessed=guessed,
    )


def _is_guess(value: Value) -> bool:
    return value.source is Source.GUESSED


def margins(setup: Setup, points: OperatingPoint) -> tuple[Margin, ...]:
    """Margins of a setup.

    Parameters
    ----------
    points : arrays of shape (1 + N,): the nominal point first, then the band's samples (N may be 0).
    """
    current = np.atleast_1d(points.current_a)
    return (
        *_pack_margins(setup, current, np.atleast_1d(points.pack_voltage_v)),
        _controller_margin(setup, current),
        *_motor_margins(setup, points),
    )


def _pack_margins(setup: Setup, current: np.ndarray, voltage: np.ndarray) -> tuple[Margin, Margin]:
    printed = pack.printed_c(setup.pack)
    full = printed.value * setup.pack.capacity_ah.value * setup.pack.parallel
    holds = full * PACK_TRUST
    return (
        _margin(
            "pack",
            "Pack current",
            current,
            holds,
            full,
            "A",
            rising=True,
            guessed=_is_guess(printed),
            limit_words=f"the {holds:.0f} A of a printed {printed.value:g} C believed to {PACK_TRUST:.0%}",
        ),
        _margin(
            "pack",
            "Cell under load",
            voltage / setup.pack.cells,
            CELL_FLOOR_V,
            CELL_STOP_V,
            "V",
            rising=False,
            guessed=False,
            limit_words=f"the floor of {CELL_FLOOR_V} V for a cell under load",
            digits=2,
        ),
    )


def _controller_margin(setup: Setup, current: np.ndarray) -> Margin:
    rating = setup.controller.continuous_current_a.value
    burst = controller.burst_current(setup.controller).value
    holds = rating * CONTROLLER_MARGIN
    return _margin(
        "controller",
        "Controller current",
        current,
        holds,
        max(burst, rating),
        "A",
        rising=True,
        guessed=False,
        limit_words=f"{holds:.0f} A, a tenth below the {rating:.0f} A rating; {max(burst, rating):.0f} A for seconds",
    )


def _motor_margins(setup: Setup, points: OperatingPoint) -> tuple[Margin, ...]:
    rpm = np.atleast_1d(points.rpm)
    power = np.atleast_1d(points.motor_voltage_v) * np.atleast_1d(points.current_a)
    limit = motor.power_limit(setup.motor)
    ceiling = motor.rpm_ceiling(setup.motor)
    poles = motor.pole_count(setup.motor)
    electrical = controller.electrical_rpm_limit(setup.controller)
    found = [
        _margin(
            "motor",
            "Motor power",
            power,
            limit.value,
            2.0 * limit.value,
            "W",
            rising=True,
            guessed=_is_guess(limit),
            limit_words=f"the {limit.value:.0f} W that the can takes for minutes"
            + (f" ({limit.reason})" if limit.reason else ""),
        ),
        _margin(
            "motor",
            "Loaded rpm",
            rpm,
            ceiling.value,
            1.25 * ceiling.value,
            "rpm",
            rising=True,
            guessed=True,
            limit_words=f"{ceiling.value:.0f} rpm, the usual ceiling ({ceiling.reason})",
        ),
        _margin(
            "controller",
            "Electrical rpm",
            np.asarray(controller.electrical_rpm(rpm, poles)),
            electrical.value,
            1.1 * electrical.value,
            "rpm",
            rising=True,
            guessed=_is_guess(electrical) or setup.motor.poles is None,
            limit_words=f"the {electrical.value:.0f} rpm a controller follows with {poles} poles",
        ),
    ]
    if setup.motor.max_current_a is not None:
        most = setup.motor.max_current_a.value
        found.insert(
            0,
            _margin(
                "motor",
                "Motor current",
                np.atleast_1d(points.current_a),
                most,
                1.3 * most,
                "A",
                rising=True,
                guessed=False,
                limit_words=f"the {most:.0f} A printed on it",
            ),
        )
    return tuple(found)


def worst(found: tuple[Margin, ...]) -> Verdict:
    """The gravest verdict among margins."""
    order = list(Verdict)
    return max((m.verdict for m in found), key=order.index)
