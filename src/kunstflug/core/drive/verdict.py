"""Margins: each load against its limit, with a verdict, its reason and its number."""

from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from kunstflug.core import controller, motor, pack, wiring
from kunstflug.core.drive import doubts
from kunstflug.core.drive.limits import CELL_FLOOR_V, CELL_STOP_V, PASS_S, WIRE_HOLDS_C, Limits, limits_of
from kunstflug.core.drive.operating_point import OperatingPoint
from kunstflug.core.drive.schools import USUAL, ControllerSchool, Schools
from kunstflug.core.drive.setup import Setup
from kunstflug.core.values import Source, Value


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


def margins(setup: Setup, points: OperatingPoint, schools: Schools = USUAL) -> tuple[Margin, ...]:
    """Margins of a setup.

    Parameters
    ----------
    points : arrays of shape (1 + N,): the nominal point first, then the band's samples (N may be 0).
    schools : which limits the loads are held against.
    """
    current = np.atleast_1d(points.current_a)
    limits = limits_of(setup, schools)
    return (
        *_pack_margins(setup, points, limits, schools),
        _wire_margin(setup, current, limits),
        _controller_margin(setup, current, limits, schools),
        *_motor_margins(setup, points, limits),
    )


def _pack_margins(setup: Setup, points: OperatingPoint, limits: Limits, schools: Schools) -> tuple[Margin, Margin]:
    printed, current = pack.printed_current_a(setup.pack), np.atleast_1d(points.current_a)
    whose = "the weaker pack's C" if setup.pack.second_cells else f"a printed {pack.printed_c(setup.pack).value:g} C"
    words = f"the {limits.pack_a:.0f} A of {whose} believed to {schools.pack_trust:.0%}"
    return (
        _margin(
            "pack", "Pack current", current, limits.pack_a, limits.pack_stop_a, "A",
            rising=True, guessed=_is_guess(printed), limit_words=words,
        ),
        _margin(
            "pack", "Cell under load", _weakest_cell_v(setup, points), CELL_FLOOR_V, CELL_STOP_V, "V",
            rising=False, guessed=False, limit_words=f"the floor of {CELL_FLOOR_V} V for a cell under load", digits=2,
        ),
    )  # fmt: skip


def _weakest_cell_v(setup: Setup, points: OperatingPoint) -> np.ndarray:
    """Voltage of a cell of the weaker pack [V]; every cell rests at the same voltage, the weaker one sags more."""
    cells = pack.series_cells(setup.pack)
    current, volts = np.atleast_1d(points.current_a), np.atleast_1d(points.pack_voltage_v)
    with np.errstate(divide="ignore", invalid="ignore"):
        resting = np.atleast_1d(points.chemical_power_w) / current / cells
    other = pack.second_pack(setup.pack)
    if other is None:
        return volts / cells
    each = [pack.cell_resistance(p).value / p.parallel for p in (setup.pack, other)]
    mean = (each[0] * setup.pack.cells + each[1] * other.cells) / cells
    return resting - (resting - volts / cells) * max(each) / mean


def _wire_margin(setup: Setup, current: np.ndarray, limits: Limits) -> Margin:
    """The wire held at this current for good, in still air."""
    words = (
        f"the {limits.wire_a:.0f} A that an AWG {wiring.thinnest_awg(setup.wiring)} carries for minutes in still air, "
        f"up to {WIRE_HOLDS_C:.0f} °C"
    )
    return _margin(
        "controller", "Wire, held", current, limits.wire_a, limits.wire_stop_a, "A",
        rising=True, guessed=False, limit_words=words,
    )  # fmt: skip


def _controller_margin(setup: Setup, current: np.ndarray, limits: Limits, schools: Schools) -> Margin:
    holds, stop = limits.controller_a, limits.controller_stop_a
    believed = doubts.believed_controller_a(setup)
    rating, guessed = believed.value, believed is not setup.controller.continuous_current_a
    if schools.controller is ControllerSchool.BURST:
        words = (
            f"{holds:.0f} A for passes of {PASS_S:.0f} s (a burst of {stop:.0f} A warms it with a time constant of "
            f"{limits.controller_tau_s:.0f} s)"
        )
    else:
        words = f"{holds:.0f} A, a tenth below the {rating:.0f} A rating; {stop:.0f} A for seconds"
    return _margin(
        "controller", "Controller current", current, holds, stop, "A", rising=True, guessed=guessed, limit_words=words
    )  # fmt: skip


def _motor_margins(setup: Setup, points: OperatingPoint, limits: Limits) -> tuple[Margin, ...]:
    rpm = np.atleast_1d(points.rpm)
    power = np.atleast_1d(points.motor_voltage_v) * np.atleast_1d(points.motor_current_a)
    limit, ceiling = doubts.believed_motor_w(setup), motor.rpm_ceiling(setup.motor)
    poles, electrical = motor.pole_count(setup.motor), controller.electrical_rpm_limit(setup.controller)
    why = f" ({limit.reason})" if limit.reason else ""
    found = [
        _margin(
            "motor", "Motor power", power, limits.motor_w, limits.motor_stop_w, "W", rising=True,
            guessed=_is_guess(limit), limit_words=f"the {limits.motor_w:.0f} W that the can takes for minutes{why}",
        ),
        _margin(
            "motor", "Loaded rpm", rpm, limits.rpm, limits.rpm_stop, "rpm", rising=True, guessed=True,
            limit_words=f"{limits.rpm:.0f} rpm, the usual ceiling ({ceiling.reason})",
        ),
        _margin(
            "controller", "Electrical rpm", np.asarray(controller.electrical_rpm(rpm, poles)),
            limits.electrical_rpm, 1.1 * limits.electrical_rpm, "rpm", rising=True,
            guessed=_is_guess(electrical) or setup.motor.poles is None,
            limit_words=f"the {limits.electrical_rpm:.0f} rpm a controller follows with {poles} poles",
        ),
    ]  # fmt: skip
    believed = doubts.believed_motor_a(setup)
    if believed is not None:
        most = believed.value
        current = np.atleast_1d(points.motor_current_a)
        words = f"the {most:.0f} A printed on it" if not believed.reason else f"{most:.0f} A ({believed.reason})"
        printed = _margin(
            "motor", "Motor current", current, most, 1.3 * most, "A", rising=True, guessed=_is_guess(believed),
            limit_words=words,
        )  # fmt: skip
        found.insert(0, printed)
    return tuple(found)


def worst(found: tuple[Margin, ...]) -> Verdict:
    """The gravest verdict among margins."""
    order = list(Verdict)
    return max((m.verdict for m in found), key=order.index)
