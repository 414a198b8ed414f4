"""The section through the drive, to scale: shapes and measures in millimetres, drawn elsewhere.

The x axis runs from the stern to the bow, its zero on the motor's face of the mount; y is up from the shaft's axis.
What nobody measured is drawn with a usual size, as a guess. A clash is a shape of its own.
"""

from dataclasses import dataclass
from enum import StrEnum
from typing import Final

from kunstflug.core.fit.joint import Fit, Joint, JointKey
from kunstflug.core.parts.joining import ShaftKind
from kunstflug.core.parts.placement import WALL_BEHIND_M
from kunstflug.core.parts.propeller import pitch
from kunstflug.core.quantity.value import Value
from kunstflug.core.setup.setup import Setup


class ShapeKind(StrEnum):
    """What is drawn."""

    BORE = "bore"
    CAN = "can"
    CLASH = "clash"
    COUPLER = "coupler"
    DISC = "disc"
    DOG = "dog"
    FLEX = "flex"
    HOSE = "hose"
    HUB = "hub"
    JACKET = "jacket"
    NIPPLE = "nipple"
    PLATE = "plate"
    RING = "ring"
    ROOM = "room"
    SHAFT = "shaft"
    STRUT = "strut"
    TUBE = "tube"
    WATER = "water"


class MeasureKind(StrEnum):
    """What a size is of."""

    DIAMETER = "diameter"
    LENGTH = "length"
    PITCH = "pitch"


HOSE_WALL_MM: Final = 1.5  # of silicone hose on a 4 mm nipple (common practice, no source)


@dataclass(frozen=True, slots=True, kw_only=True)
class Shape:
    """One rectangle of the section [mm]: its lower left corner, width and height.

    Parameters
    ----------
    sizes_m : sizes that its label names [m]; None for a shape without a label.
    guess : whether any of its sizes was not measured.
    """

    kind: ShapeKind
    part: str
    sizes_m: tuple[float, ...] | None
    x: float
    y: float
    w: float
    h: float
    guess: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class Measure:
    """A size written on the drawing, between two points [mm]; its value in the core's unit [m]."""

    x1: float
    y1: float
    x2: float
    y2: float
    kind: MeasureKind
    value_m: float
    guess: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class Section:
    """The drawing: shapes from the back to the front, measures, and the frame around them [mm]."""

    shapes: tuple[Shape, ...]
    measures: tuple[Measure, ...]
    left: float
    right: float
    bottom: float
    top: float


class _Sheet:
    def __init__(self) -> None:
        self.shapes: list[Shape] = []
        self.measures: list[Measure] = []

    def tube(
        self, kind: ShapeKind, part: str, sizes_mm: tuple[float, ...] | None, x: float, length: float, diameter: float,
        guess: bool,
    ) -> None:  # fmt: skip
        """Something round about the axis."""
        self.box(kind, part, sizes_mm, x, -diameter / 2, length, diameter, guess)

    def box(
        self, kind: ShapeKind, part: str, sizes_mm: tuple[float, ...] | None, x: float, y: float, w: float, h: float,
        guess: bool = False,
    ) -> None:  # fmt: skip
        """A rectangle by its lower left corner."""
        sizes = tuple(size * 1e-3 for size in sizes_mm) if sizes_mm is not None else None
        self.shapes.append(Shape(kind=kind, part=part, sizes_m=sizes, x=x, y=y, w=w, h=h, guess=guess))

    def clash(self, part: str, x: float, length: float, bore: float, diameter: float) -> None:
        """What of something round does not go into its bore, above and below the axis; said once."""
        more = diameter - bore
        self.box(ShapeKind.CLASH, part, None, x, bore / 2, length, more / 2)
        self.box(ShapeKind.CLASH, part, (more,), x, -diameter / 2, length, more / 2)

    def across(self, x: float, diameter: float, guess: bool) -> None:
        half = diameter / 2
        self.measures.append(
            Measure(x1=x, y1=-half, x2=x, y2=half, kind=MeasureKind.DIAMETER, value_m=diameter * 1e-3, guess=guess)
        )

    def along(self, x1: float, x2: float, y: float, guess: bool) -> None:
        self.measures.append(
            Measure(x1=x1, y1=y, x2=x2, y2=y, kind=MeasureKind.LENGTH, value_m=(x2 - x1) * 1e-3, guess=guess)
        )


def _mm(value: Value | None, otherwise: float) -> tuple[float, bool]:
    return (value.value * 1e3, False) if value is not None else (otherwise, True)


def section(setup: Setup, joints: tuple[Joint, ...]) -> Section:
    """The section of a setup with the clashes of its joints."""
    sheet = _Sheet()
    off = {j.key: j.off_m * 1e3 for j in joints if j.fit is Fit.CLASHES}
    can, long = setup.motor.can_diameter_m.value * 1e3, setup.motor.can_length_m.value * 1e3
    axis = _room(sheet, setup, can, long)
    _jacket(sheet, setup, can, long, off)
    sheet.tube(ShapeKind.CAN, "motor", (can, long), 0.0, long, can, False)
    sheet.across(long * 0.5, can, False)
    sheet.along(0.0, long, -can / 2 - 9, False)
    plate, plate_guess = _mm(setup.mount.plate_m, 3.0)
    sheet.box(ShapeKind.PLATE, "mount", (), -plate, -axis, plate, axis + can / 2, plate_guess)
    aft = _coupling(sheet, setup, plate, off)
    stern = _shaft(sheet, setup, aft)
    _propeller(sheet, setup, stern)
    if JointKey.ROOM in off and setup.placement.room_length_m is not None:
        over = long + WALL_BEHIND_M * 1e3 - setup.placement.room_length_m.value * 1e3
        if over > 0:
            end = setup.placement.room_length_m.value * 1e3
            sheet.box(ShapeKind.CLASH, "motor", (over,), end, -can / 2, over, can)
    xs = [s.x for s in sheet.shapes] + [s.x + s.w for s in sheet.shapes]
    ys = [s.y for s in sheet.shapes] + [s.y + s.h for s in sheet.shapes]
    in_front = sorted(sheet.shapes, key=lambda s: s.kind is ShapeKind.CLASH)  # nothing is drawn over a clash
    return Section(
        shapes=tuple(in_front), measures=tuple(sheet.measures), left=min(xs) - 12, right=max(xs) + 12,
        bottom=min(ys) - 16, top=max(ys) + 16,
    )  # fmt: skip


def _room(sheet: _Sheet, setup: Setup, can: float, long: float) -> float:
    """The hull's room round the motor; returns how high the axis lies above the floor."""
    place = setup.placement
    axis, _ = _mm(setup.mount.height_m, can / 2 + 6)
    length, length_guess = _mm(place.room_length_m, long + 40)
    height, height_guess = _mm(place.room_height_m, axis + can / 2 + 25)
    sheet.box(ShapeKind.ROOM, "placement", (), 0.0, -axis, length, height, length_guess or height_guess)
    sheet.along(0.0, length, height - axis + 6, length_guess)
    return axis


def _jacket(sheet: _Sheet, setup: Setup, can: float, long: float, off: dict[JointKey, float]) -> None:
    jacket = setup.jacket
    if jacket.bore_m is None:
        return
    bore = jacket.bore_m.value * 1e3
    outside, outside_guess = _mm(jacket.outside_m, bore + 3)
    length, length_guess = _mm(jacket.length_m, long * 0.6)
    x, guess = (long - length) / 2, outside_guess or length_guess
    sheet.tube(ShapeKind.JACKET, "jacket", (bore,), x, length, outside, guess)
    sheet.tube(ShapeKind.WATER, "jacket", None, x, length, bore, False)
    sheet.across(x + length + 6, outside, outside_guess)
    nipple, nipple_guess = _mm(jacket.nipple_m, 8.0)
    for place, ahead in ((x + 0.15 * length, False), (x + 0.85 * length, True)):
        _hose(sheet, place, outside / 2, nipple, ahead)
        sheet.box(ShapeKind.NIPPLE, "jacket", None, place - 2, outside / 2, 4, nipple, nipple_guess)
    if jacket.ring_section_m is not None:
        ring = jacket.ring_section_m.value * 1e3
        for place in (x + 0.04 * length, x + 0.96 * length - ring):
            for y in (can / 2, -can / 2 - ring):
                sheet.box(ShapeKind.RING, "jacket", None, place, y, ring, ring)
    if JointKey.JACKET in off and bore < can:
        sheet.clash("jacket", x, length, bore, can)


def _hose(sheet: _Sheet, x: float, y: float, nipple: float, ahead: bool) -> None:
    """A hose of usual wall over a nipple, led aft or ahead; how it runs on is the water circuit's."""
    wide, run = 4.0 + 2 * HOSE_WALL_MM, 24.0
    left = x - wide / 2 if ahead else x + wide / 2 - run
    sheet.box(ShapeKind.HOSE, "jacket", None, x - wide / 2, y + 2, wide, nipple, guess=True)
    sheet.box(ShapeKind.HOSE, "jacket", (), left, y + 2 + nipple - wide, run, wide, guess=True)


def _coupling(sheet: _Sheet, setup: Setup, plate: float, off: dict[JointKey, float]) -> float:
    """Motor shaft, coupler and its bores; returns where the coupler ends aft."""
    coupler = setup.coupler
    shaft, shaft_guess = _mm(setup.motor.shaft_m, 5.0)
    stub, stub_guess = _mm(setup.motor.shaft_length_m, 18.0)
    bore, bore_guess = _mm(coupler.motor_bore_m, shaft)
    far, far_guess = _mm(coupler.shaft_bore_m, bore)
    outside, outside_guess = _mm(coupler.outside_m, max(bore, far) + 7)
    length, length_guess = _mm(coupler.length_m, 26.0)
    grip, _ = _mm(coupler.grip_m, 0.42 * length)
    start = -plate - max(stub - grip - plate, 2.0)
    sheet.tube(ShapeKind.COUPLER, "coupler", (), start - length, length, outside, outside_guess or length_guess)
    sheet.tube(ShapeKind.BORE, "coupler", None, start - grip, grip, bore, bore_guess)
    sheet.tube(ShapeKind.BORE, "coupler", None, start - length, grip, far, far_guess)
    sheet.tube(ShapeKind.SHAFT, "motor", (shaft,), -stub, stub, shaft, shaft_guess or stub_guess)
    sheet.across(start - grip / 2, shaft, shaft_guess)
    sheet.across(start - length - 5, outside, outside_guess)
    if JointKey.MOTOR_COUPLER in off and shaft > bore:
        sheet.clash("coupler", start - grip, grip, bore, shaft)
    return start - length


def _shaft(sheet: _Sheet, setup: Setup, aft: float) -> float:
    """Propeller shaft, its tube and strut; returns where the propeller begins."""
    shaft = setup.shaft
    diameter, guess = _mm(shaft.diameter_m, 4.76 if shaft.kind is ShaftKind.FLEX else 5.0)
    length, length_guess = _mm(shaft.length_m, 220.0)
    end, end_guess = _mm(shaft.end_m, diameter)
    grip, _ = _mm(setup.coupler.grip_m, 11.0)
    start = aft + grip
    stern = start - length
    tube, tube_guess = _mm(shaft.tube_m, diameter + 2.4)
    sheet.tube(ShapeKind.TUBE, "shaft", None, stern + 45, max(length - 45 - grip - 20, 5.0), tube, tube_guess)
    sheet.box(ShapeKind.STRUT, "shaft", (), stern + 12, -tube / 2 - 3, 32, tube + 24, guess=True)
    sheet.tube(ShapeKind.FLEX if shaft.kind is ShaftKind.FLEX else ShapeKind.SHAFT, "shaft", (diameter,),
               stern + 30, length - 30, diameter, guess or length_guess)  # fmt: skip
    sheet.tube(ShapeKind.SHAFT, "shaft", None, stern - 16, 46, end, end_guess)
    sheet.along(stern, start, -28, length_guess)
    sheet.across(stern + 55, diameter, guess)
    gap, gap_guess = _mm(shaft.gap_m, 3.0)
    sheet.box(ShapeKind.DOG, "shaft", None, stern + 12 - gap - 6, -end, 6, 2 * end, gap_guess)
    return stern + 12 - gap - 6


def _propeller(sheet: _Sheet, setup: Setup, stern: float) -> None:
    diameter = setup.propeller.diameter_m.value * 1e3
    hub = 0.33 * diameter
    sheet.tube(ShapeKind.DISC, "propeller", (diameter,), stern - hub * 0.75, hub * 0.5, diameter, False)
    sheet.tube(ShapeKind.HUB, "propeller", None, stern - hub, hub, 0.2 * diameter, True)
    sheet.across(stern - hub - 5, diameter, False)
    y, rise = diameter / 2 + 4, pitch(setup.propeller).value
    sheet.measures.append(Measure(x1=stern - hub, y1=y, x2=stern, y2=y, kind=MeasureKind.PITCH, value_m=rise))
