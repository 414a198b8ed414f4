"""Laws of small mechanics: circles, flats, threads, shafts, rings. All in SI, lengths in metres."""

import math
from dataclasses import dataclass
from typing import Final

STEEL_E_PA: Final = 206e9  # handbook value, from memory
STEEL_KG_M3: Final = 7850.0
INCH_M: Final = 0.0254

PITCH_M: Final = {"M2": 0.4e-3, "M2.5": 0.45e-3, "M3": 0.5e-3, "M4": 0.7e-3, "M5": 0.8e-3, "M6": 1.0e-3}
"""Coarse pitches of metric threads [iso898-1, from memory]."""
SCREW_LENGTHS_M: Final = tuple(mm * 1e-3 for mm in (4, 5, 6, 8, 10, 12, 14, 16, 20, 25, 30))
"""Lengths that screws are sold in [iso4762, from memory]."""


def thread_diameter_m(thread: str) -> float:
    """Nominal diameter of a metric thread [m].

    Examples
    --------
    >>> thread_diameter_m("M4")
    0.004
    """
    return float(thread.removeprefix("M")) * 1e-3


def chord_m(circle_m: float, holes: int) -> float:
    """Distance between neighbouring holes on a bolt circle, D sin(pi / n) [m].

    Examples
    --------
    >>> round(chord_m(0.025, 4) * 1e3, 4)
    17.6777
    """
    return circle_m * math.sin(math.pi / holes)


def circle_from_chord_m(chord: float, holes: int) -> float:
    """Bolt circle from the distance of neighbouring holes [m]; the inverse of the above."""
    return chord / math.sin(math.pi / holes)


def flat_depth_m(diameter_m: float, width_m: float) -> float:
    """Depth of a flat that is ``width`` wide on a round shaft, r - sqrt(r^2 - w^2 / 4) [m].

    Examples
    --------
    >>> round(flat_depth_m(0.005, 0.003) * 1e3, 3)
    0.5
    """
    radius = diameter_m / 2
    if width_m >= diameter_m:
        return radius
    return radius - math.sqrt(radius**2 - width_m**2 / 4)


def flat_width_m(diameter_m: float, depth_m: float) -> float:
    """Width that one sees of a flat of some depth, 2 sqrt(2 r d - d^2) [m]."""
    return 2 * math.sqrt(max(diameter_m * depth_m - depth_m**2, 0.0))


@dataclass(frozen=True, slots=True, kw_only=True)
class Taken:
    """Mass that a flat takes off [kg] and its unbalance, mass x distance from the axis [kg m]."""

    mass_kg: float
    unbalance_kg_m: float


def flat_unbalance(diameter_m: float, depth_m: float, length_m: float) -> Taken:
    """What a flat takes off a steel shaft.

    Circular segment of half angle a, cos a = 1 - d / r: area r^2 (a - sin a cos a), first moment 2/3 r^3 sin^3 a.

    Parameters
    ----------
    diameter_m, depth_m, length_m : of the shaft and of the flat [m].
    """
    radius = diameter_m / 2
    half = math.acos(max(1 - depth_m / radius, -1.0))
    area = radius**2 * (half - math.sin(half) * math.cos(half))
    moment = 2 / 3 * radius**3 * math.sin(half) ** 3
    return Taken(mass_kg=area * length_m * STEEL_KG_M3, unbalance_kg_m=moment * length_m * STEEL_KG_M3)


def unbalance_force_n(unbalance_kg_m: float, rpm: float) -> float:
    """Turning force of an unbalance, m e omega^2 [N]."""
    return unbalance_kg_m * (2 * math.pi * rpm / 60) ** 2


def stress_area_m2(thread: str) -> float:
    """Stress area of a metric thread, pi/4 (d - 0.9382 p)^2 [m2] [iso898-1, from memory].

    Examples
    --------
    >>> round(stress_area_m2("M4") * 1e6, 2)
    8.78
    """
    return math.pi / 4 * (thread_diameter_m(thread) - 0.9382 * PITCH_M[thread]) ** 2


PROOF_PA: Final = {"8.8": 640e6, "10.9": 940e6, "12.9": 1100e6, "A2-70": 450e6}
"""Yield of the usual screws [iso898-1, from memory]."""


def preload_n(thread: str, strength: str = "8.8", friction: float = 0.12) -> float:
    """Preload at which shank and thread friction together reach 90 % of yield [N] [vdi2230, from memory].

    F = 0.9 Re As / sqrt(1 + 3 (3/2 d2/ds (p / (pi d2) + 1.155 mu))^2)
    """
    d, p = thread_diameter_m(thread), PITCH_M[thread]
    d2 = d - 0.6495 * p
    ds = math.sqrt(4 / math.pi * stress_area_m2(thread))
    twist = 1.5 * d2 / ds * (p / (math.pi * d2) + 1.155 * friction)
    return 0.9 * PROOF_PA[strength] * stress_area_m2(thread) / math.sqrt(1 + 3 * twist**2)


def tightening_torque_nm(thread: str, preload: float, friction: float = 0.12) -> float:
    """Torque for a preload, F (0.159 p + 0.577 mu d2 + mu Dk / 2), head 1.3 d wide on average [Nm] [vdi2230]."""
    d, p = thread_diameter_m(thread), PITCH_M[thread]
    d2 = d - 0.6495 * p
    return preload * (0.159 * p + 0.577 * friction * d2 + friction * 1.3 * d / 2)


def ring_rpm(stress_pa: float, density_kg_m3: float, diameter_m: float) -> float:
    """Speed at which a thin ring that turns is under a hoop stress [rpm]: stress = density v^2, v the rim's speed.

    Thin ring, a textbook law; what it carries without bearing counts in its density.

    Examples
    --------
    >>> round(ring_rpm(100e6, 7850.0, 0.050), -1)  # v = sqrt(1e8 / 7850) = 112.87 m/s, by hand
    43110.0
    """
    return math.sqrt(stress_pa / density_kg_m3) / (math.pi * diameter_m) * 60.0


def first_whirl_rpm(diameter_m: float, span_m: float) -> float:
    """First critical speed of a round steel shaft on two pinned supports [rpm].

    Euler beam, (pi / L)^2 sqrt(E I / (rho A)), I / A = d^2 / 16.

    Examples
    --------
    >>> round(first_whirl_rpm(0.004, 0.150), -1)
    21460.0
    """
    omega = (math.pi / span_m) ** 2 * math.sqrt(STEEL_E_PA / STEEL_KG_M3) * diameter_m / 4
    return omega * 60 / (2 * math.pi)


def longest_span_m(diameter_m: float, rpm: float, reserve: float = 0.75) -> float:
    """Span at which a speed is ``reserve`` of the first critical one [m]; the inverse of the above."""
    return math.sqrt(first_whirl_rpm(diameter_m, 1.0) * reserve / rpm)


@dataclass(frozen=True, slots=True, kw_only=True)
class Tube:
    """A thin-walled tube that is sold by its outside and its wall; sizes in metres."""

    name: str
    outside_m: float
    wall_m: float

    @property
    def bore_m(self) -> float:
        """Inside diameter [m]."""
        return self.outside_m - 2 * self.wall_m


def _inch(name: str, outside: float, wall: float = 0.014) -> Tube:
    return Tube(name=f"{name} in x {wall:g} in wall", outside_m=outside * INCH_M, wall_m=wall * INCH_M)


TUBES: Final = (
    _inch("5/32", 5 / 32),
    _inch("3/16", 3 / 16),
    _inch("7/32", 7 / 32),
    _inch("1/4", 1 / 4),
    _inch("9/32", 9 / 32),
    _inch("5/16", 5 / 16),
    *(
        Tube(name=f"{od:g} x {wall:g} mm", outside_m=od * 1e-3, wall_m=wall * 1e-3)
        for od, wall in (
            (4, 0.4), (5, 0.45), (5, 0.5), (6, 0.5), (6, 1.0), (6.35, 0.675), (7, 0.5), (8, 0.5), (8, 1.0), (8, 1.5),
        )
    ),
    *(
        Tube(name=f"reducing sleeve {inside:g} to {od:g} mm", outside_m=od * 1e-3, wall_m=(od - inside) / 2 * 1e-3)
        for inside, od in (
            (2.3, 3.175), (3.175, 4), (3.175, 5), (3.175, 6), (4, 5), (4, 6), (5, 6), (5, 8), (6, 8), (6.35, 8),
        )
    ),
)  # fmt: skip
"""What fills a bore: brass and steel tubes as hobby shops sell them (inch sizes with 0.014 in wall, metric ones), and
turned reducing sleeves for motor shafts (all common practice, no source)."""


def run_out_m(bore_m: float, tube: Tube, shaft_m: float) -> float:
    """How far a shaft can stand off its axis in a bore with a tube between them [m]: half of all play; negative where
    it does not go in at all.
    """
    return ((bore_m - tube.outside_m) + (tube.bore_m - shaft_m)) / 2


MOST_RUN_OUT_M: Final = 0.05e-3  # 0.1 mm on the dial; more shakes at 20 000 rpm (common practice, no source)
PRESS_M: Final = 0.03e-3  # a thin tube takes this much by being pressed or its slit closing (common practice)


@dataclass(frozen=True, slots=True, kw_only=True)
class Shim:
    """A tube as a shim, with the run-out it leaves [m]."""

    tube: Tube
    run_out_m: float


def shims(bore_m: float, shaft_m: float) -> tuple[Shim, ...]:
    """Tubes that fill the gap between a bore and a thinner shaft [m], best first."""
    found = []
    for tube in TUBES:
        outside, inside = bore_m - tube.outside_m, tube.bore_m - shaft_m
        if outside < -PRESS_M or inside < -PRESS_M:
            continue
        play = run_out_m(bore_m, tube, shaft_m)
        if abs(play) <= MOST_RUN_OUT_M:
            found.append(Shim(tube=tube, run_out_m=max(play, 0.0)))
    return tuple(sorted(found, key=lambda s: s.run_out_m))


def squeeze(section_m: float, space_m: float) -> float:
    """Part by which a ring of a section is pressed flat in a space [1].

    Examples
    --------
    >>> round(squeeze(1.78e-3, 1.35e-3), 3)
    0.242
    """
    return 1 - space_m / section_m


def stretch(inside_m: float, seat_m: float) -> float:
    """Part by which a ring is stretched over its seat [1]; negative where it is too large."""
    return seat_m / inside_m - 1


SQUEEZE: Final = (0.15, 0.30)  # static seals, guidance of makers (from memory)
STRETCH: Final = (-0.02, 0.05)

_AS568: Final = (
    ("011", 7.65, 1.78), ("012", 9.25, 1.78), ("014", 12.42, 1.78), ("016", 15.60, 1.78), ("018", 18.77, 1.78),
    ("020", 21.95, 1.78), ("022", 25.12, 1.78), ("023", 26.70, 1.78), ("024", 28.30, 1.78), ("025", 29.87, 1.78),
    ("026", 31.47, 1.78), ("027", 33.05, 1.78), ("028", 34.65, 1.78), ("029", 37.82, 1.78), ("030", 41.00, 1.78),
    ("031", 44.17, 1.78), ("032", 47.35, 1.78), ("033", 50.52, 1.78), ("034", 53.70, 1.78), ("035", 56.87, 1.78),
    ("110", 9.19, 2.62), ("116", 18.72, 2.62), ("118", 21.89, 2.62), ("120", 25.07, 2.62), ("122", 28.24, 2.62),
    ("124", 31.42, 2.62), ("126", 34.59, 2.62), ("128", 37.77, 2.62), ("130", 40.94, 2.62), ("132", 44.12, 2.62),
    ("134", 47.29, 2.62), ("136", 50.47, 2.62), ("138", 53.64, 2.62),
)  # fmt: skip
_METRIC: Final = tuple(
    (f"{inside:g} x {section:g}", float(inside), section)
    for section in (1.0, 1.5, 2.0, 2.5, 3.0)
    for inside in (20, 22, 24, 25, 26, 27, 28, 30, 32, 34, 35, 36, 38, 40, 42, 44, 45, 46, 48, 50, 52, 54, 55, 56)
)


@dataclass(frozen=True, slots=True, kw_only=True)
class Ring:
    """A ring that is sold, with its squeeze and stretch in one seat."""

    name: str
    inside_m: float
    section_m: float
    squeeze: float
    stretch: float


def rings(seat_m: float, space_m: float) -> tuple[Ring, ...]:
    """Standard rings that seal: on a seat of a diameter, in a radial space; best squeeze first.

    AS568 dash numbers [as568, from memory] and the usual metric sizes; squeeze 15 to 30 %, stretch to 5 %.
    """
    found = []
    for name, inside, section in (*((f"AS568-{n}", i, s) for n, i, s in _AS568), *_METRIC):
        pressed, over = squeeze(section * 1e-3, space_m), stretch(inside * 1e-3, seat_m)
        if SQUEEZE[0] <= pressed <= SQUEEZE[1] and STRETCH[0] <= over <= STRETCH[1]:
            found.append(
                Ring(name=name, inside_m=inside * 1e-3, section_m=section * 1e-3, squeeze=pressed, stretch=over)
            )
    return tuple(sorted(found, key=lambda r: abs(r.squeeze - 0.22) + abs(r.stretch - 0.015)))


def section_for_m(space_m: float) -> float:
    """Section of a ring that a space presses by 22 % [m]."""
    return space_m / (1 - 0.22)
