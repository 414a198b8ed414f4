"""One outing on the simulated pond, and what its devices bring home."""

import dataclasses
import math
from dataclasses import dataclass, field

import numpy as np

from kunstflug.core.quantity.value import Value
from kunstflug.core.setup.setup import Setup
from kunstflug.core.tracks import TrackSamples
from kunstflug.core.tracks.log import ControllerLog
from kunstflug.documents.run import GUN_ORDER
from kunstflug.pond.course import Course, placed
from kunstflug.pond.world import World

_STEP_S = 0.05
WATER_ALONG = 1.1  # a boat that gathers speed takes a tenth of its mass in water along (common practice, no source)


@dataclass(frozen=True, slots=True, kw_only=True)
class Weather:
    """Air, water and wind of an outing; the wind comes *from* its bearing."""

    water_c: float = 16.0
    air_c: float = 18.0
    wind_mps: float = 2.0
    wind_from_deg: float = 240.0


@dataclass(frozen=True, slots=True, kw_only=True)
class GunReading:
    """One reading of the temperature gun."""

    place: str
    celsius: float
    minutes_after: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Outing:
    """What comes home from the pond."""

    track: TrackSamples
    controller: ControllerLog
    readings: tuple[GunReading, ...]
    mah_used: float
    true_top_mps: float  # of the hidden boat on this outing; for tests and honest demos only
    course: Course = field(default_factory=Course)


@dataclass(slots=True)
class _Log:
    """Rows written while driving."""

    rows: list[tuple[float, ...]] = field(default_factory=list)


def run_outing(
    setup: Setup,
    *,
    seed: int,
    start_unix_s: float,
    passes: int = 4,
    weather: Weather | None = None,
    course: Course | None = None,
    faults: bool = True,
    boat_seed: int | None = None,
) -> Outing:
    """Drives a setup for some passes and logs it.

    Parameters
    ----------
    seed : of this outing's noise; the same seed gives the same files.
    boat_seed : of the hidden boat, so that one boat stays the same over outings; the outing's seed if None.
    passes : straights at full throttle.
    faults : a speed spike and a dropout in the position log.
    """
    weather, course = weather or Weather(), course or Course()
    conditions = dataclasses.replace(
        setup.conditions, water_c=Value(value=weather.water_c), air_c=Value(value=weather.air_c)
    )
    hidden = seed if boat_seed is None else boat_seed
    world = World(dataclasses.replace(setup, conditions=conditions), hidden)
    celsius = world.start_c()
    log, mah = _drive(world, course, weather, celsius, passes)
    table = np.array(log.rows)  # time, east, north, speed, duty, motor current, rpm, controller degC, case degC
    rng = np.random.default_rng(seed)
    return Outing(
        track=_position_log(table, rng, start_unix_s, faults),
        controller=_controller_log(table, world, rng),
        readings=_gun(world, celsius, rng),
        mah_used=mah,
        true_top_mps=float(np.max(table[:, 3])),
        course=course,
    )


def _drive(world: World, course: Course, weather: Weather, celsius: list[float], passes: int) -> tuple[_Log, float]:
    """The driver: a warm-up lap, full throttle on the straights, off for the turns, a cool-down lap, home."""
    log, way, speed, duty, amp_s = _Log(), 0.0, 0.0, 0.0, 0.0
    full = world.steady().speed_mps
    cruise = 0.55 * full
    half_laps = 2 + passes + 2
    time = 0.0
    while time < 900.0:
        done = int(way // (course.lap_m / 2))
        east, north, heading, turning = course.at(way)
        racing = 2 <= done < 2 + passes
        if done >= half_laps and speed < 0.5:
            break
        wanted = 0.0 if done >= half_laps else cruise
        if racing and not turning:
            wanted = math.inf
        elif racing:
            wanted = 0.75 * full
        # The last twenty metres of a straight the driver lifts, or the boat would not make the turn.
        if racing and not turning and course.left_of_straight_m(way) < 0.012 * speed**2 + 6:
            wanted = 0.75 * full
        aim = 1.0 if wanted == math.inf else min(max(0.35 + (wanted - speed) * 0.12, 0.0), 0.9) if wanted else 0.0
        duty += min(max(aim - duty, -4.0 * _STEP_S), 1.6 * _STEP_S)
        pull = world.pull(duty, speed)
        headwind = weather.wind_mps * math.cos(math.radians(heading - weather.wind_from_deg))
        force = pull.thrust_n - world.drag(speed, headwind, turning=turning)
        speed = max(speed + force / (WATER_ALONG * world.mass_kg) * _STEP_S, 0.0)
        way += speed * _STEP_S
        world.warm(celsius, world.heats_w(pull.current_a, duty, pull.shaft_rps, celsius), speed, _STEP_S)
        amp_s += pull.current_a * duty * _STEP_S
        time += _STEP_S
        log.rows.append((time, east, north, speed, duty, pull.current_a, pull.shaft_rps * 60, celsius[1], celsius[0]))
    return log, amp_s / 3.6


def _position_log(table: np.ndarray, rng: np.random.Generator, start_unix_s: float, faults: bool) -> TrackSamples:
    """A 10 Hz receiver: slowly wandering position, Doppler speed with a little noise, a spike, a dropout."""
    rows = table[::2]
    count = len(rows)
    wander = np.zeros((count, 2))
    for k in range(1, count):  # first-order Gauss-Markov, 20 s, 1.2 m
        wander[k] = wander[k - 1] * 0.995 + rng.normal(0, 1.2 * 0.0999, 2)
    east = rows[:, 1] + wander[:, 0] + rng.normal(0, 0.06, count)
    north = rows[:, 2] + wander[:, 1] + rng.normal(0, 0.06, count)
    speed = np.maximum(rows[:, 3] + rng.normal(0, 0.12, count), 0.0)
    keep = np.ones(count, dtype=bool)
    if faults and count > 300:
        at = int(rng.integers(count // 3, count // 2))
        speed[at] = speed[at] * 1.7 + 6.0
        north[at] += 18.0
        gone = int(rng.integers(count // 8, count // 5))
        keep[gone : gone + int(rng.integers(20, 35))] = False
    latitude, longitude = placed(east, north)
    time = rows[keep, 0]
    return TrackSamples(
        time_s=np.round(time - time[0], 3),
        latitude_deg=np.round(latitude[keep], 8),
        longitude_deg=np.round(longitude[keep], 8),
        receiver_speed_mps=np.round(speed[keep], 3).astype(np.float64),
        start_unix_s=round(start_unix_s, 3),
    )


def _controller_log(table: np.ndarray, world: World, rng: np.random.Generator) -> ControllerLog:
    """What a logging controller writes, 10 Hz: bus current, pack voltage, rpm, throttle, its own temperature."""
    rows = table[::2]
    bus = rows[:, 5] * rows[:, 4]
    count = len(rows)
    voltage = world.rest_v - bus * world.pack_ohm
    return ControllerLog(
        time_s=np.round(rows[:, 0], 2),
        columns={
            "voltage_v": np.round(voltage + rng.normal(0, 0.03, count), 2),
            "current_a": np.round(np.maximum(bus + rng.normal(0, 0.5, count), 0.0), 1),
            "rpm": np.round(rows[:, 6] * (1 + rng.normal(0, 0.002, count))),
            "throttle_percent": np.round(rows[:, 4] * 100),
            "controller_degc": np.round(rows[:, 7], 1),
        },
    )


def _gun(world: World, celsius: list[float], rng: np.random.Generator) -> tuple[GunReading, ...]:
    """Readings in gun order, the first one minute and a half after landing, then one each twelve seconds."""
    found, minutes = [], 1.5
    _soak(world, celsius, 90.0)
    water = world.setup.conditions.water_c.value
    for place in GUN_ORDER:
        t = celsius
        read = {
            "controller": t[1],
            "motor front": t[0] - 1.5,
            "motor back": t[0] + 1.5,
            "pack": t[2],
            "connector": t[3],
            "water out": water + 0.12 * (t[0] - water),
        }[place]
        value = round(float(read + rng.normal(0, 0.7)), 1)
        found.append(GunReading(place=place, celsius=value, minutes_after=round(minutes, 1)))
        _soak(world, celsius, 12.0)
        minutes += 0.2
    return tuple(found)


def _soak(world: World, celsius: list[float], seconds: float) -> None:
    for _ in range(int(seconds / 0.5)):
        world.warm(celsius, (), 0.0, 0.5)
