"""The section through the drive, to scale: shapes and measures in millimetres, drawn elsewhere.

The x axis runs from the stern to the bow, its zero on the motor's face of the mount; y is up from the shaft's axis.
What nobody measured is drawn with a usual size, as a guess. A clash is a shape of its own.
"""

from dataclasses import dataclass
from typing import Final

from kunstflug.core.drive.setup import Setup
from kunstflug.core.fit.joints import Fit, Joint
from kunstflug.core.fit.parts import ShaftKind
from kunstflug.core.placement import WALL_BEHIND_M
from kunstflug.core.propeller import part as propeller
from kunstflug.core.values import Value

HOSE_WALL_MM: Final = 1.5  # of silicone hose on a 4 mm nipple (common practice, no source)


@dataclass(frozen=True, slots=True, kw_only=True)
class Shape:
    """One rectangle of the section [mm]: its lower left corner, width and height.

    Parameters
    ----------
    kind : what is drawn (can, shaft, coupler, ...); ``clash`` for an overlap.
    guess : whether any of its sizes was not measured.
    """

    kind: str
    part: str
    label: str
    x: float
    y: float
    w: float
    h: float
    guess: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class Measure:
    """A size written on the drawing, between two points [mm]."""

    x1: float
    y1: float
    x2: float
    y2: float
    text: str
    guess: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class Section:
    """The drawing: shapes from the back to the front, measures, and the frame that holds all of it [mm]."""

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

    def tube(self, kind: str, part: str, label: str, x: float, length: float, diameter: float, guess: bool) -> None:
        """Something round about the axis."""
        self.shapes.append(
            Shape(kind=kind, part=part, label=label, x=x, y=-diameter / 2, w=length, h=diameter, guess=guess)
        )

    def clash(self, part: str, x: float, length: float, bore: float, diameter: float) -> None:
        """What of something round does not go into its bore, above and below the axis; said once."""
        more = diameter - bore
        for y, label in ((bore / 2, ""), (-diameter / 2, f"{more:.2f} mm")):
            self.shapes.append(Shape(kind="clash", part=part, label=label, x=x, y=y, w=length, h=more / 2))

    def across(self, x: float, diameter: float, guess: bool) -> None:
        half = diameter / 2
        self.measures.append(Measure(x1=x, y1=-half, x2=x, y2=half, text=f"{diameter:.4g}", guess=guess))

    def along(self, x1: float, x2: float, y: float, guess: bool) -> None:
        self.measures.append(Measure(x1=x1, y1=y, x2=x2, y2=y, text=f"{x2 - x1:.4g}", guess=guess))


def _mm(value: Value | None, otherwise: float) -> tuple[float, bool]:
    return (value.value * 1e3, False) if value is not None else (otherwise, True)


def section(setup: Setup, joints: tuple[Joint, ...]) -> Section:
    """The section of a setup with the clashes of its joints."""
    sheet = _Sheet()
    off = {j.key: j.off_m * 1e3 for j in joints if j.fit is Fit.CLASHES}
    can, long = setup.motor.can_diameter_m.value * 1e3, setup.motor.can_length_m.value * 1e3
    axis = _room(sheet, setup, can, long)
    _jacket(sheet, setup, can, long, off)
    sheet.tube("can", "motor", f"motor {can:g} x {long:g}", 0.0, long, can, False)
    sheet.across(long * 0.5, can, False)
    sheet.along(0.0, long, -can / 2 - 9, False)
    plate, plate_guess = _mm(setup.mount.plate_m, 3.0)
    sheet.shapes.append(
        Shape(
            kind="plate", part="mount", label="mount", x=-plate, y=-axis, w=plate, h=axis + can / 2, guess=plate_guess
        )
    )
    aft = _coupling(sheet, setup, plate, off)
    stern = _shaft(sheet, setup, aft)
    _propeller(sheet, setup, stern)
    if "room" in off and setup.placement.room_length_m is not None:
        over = long + WALL_BEHIND_M * 1e3 - setup.placement.room_length_m.value * 1e3
        if over > 0:
            end = setup.placement.room_length_m.value * 1e3
            sheet.shapes.append(
                Shape(kind="clash", part="motor", label=f"{over:.1f} mm", x=end, y=-can / 2, w=over, h=can)
            )
    xs = [s.x for s in sheet.shapes] + [s.x + s.w for s in sheet.shapes]
    ys = [s.y for s in sheet.shapes] + [s.y + s.h for s in sheet.shapes]
    in_front = sorted(sheet.shapes, key=lambda s: s.kind == "clash")  # nothing is drawn over a clash
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
    sheet.shapes.append(
        Shape(
            kind="room", part="placement", label="room in the hull", x=0.0, y=-axis, w=length, h=height,
            guess=length_guess or height_guess,
        )
    )  # fmt: skip
    sheet.along(0.0, length, height - axis + 6, length_guess)
    return axis


def _jacket(sheet: _Sheet, setup: Setup, can: float, long: float, off: dict[str, float]) -> None:
    jacket = setup.jacket
    if jacket.bore_m is None:
        return
    bore = jacket.bore_m.value * 1e3
    outside, outside_guess = _mm(jacket.outside_m, bore + 3)
    length, length_guess = _mm(jacket.length_m, long * 0.6)
    x, guess = (long - length) / 2, outside_guess or length_guess
    sheet.tube("jacket", "jacket", f"jacket {bore:g}", x, length, outside, guess)
    sheet.tube("water", "jacket", "", x, length, bore, False)
    sheet.across(x + length + 6, outside, outside_guess)
    nipple, nipple_guess = _mm(jacket.nipple_m, 8.0)
    for place, ahead in ((x + 0.15 * length, False), (x + 0.85 * length, True)):
        _hose(sheet, place, outside / 2, nipple, ahead)
        sheet.shapes.append(
            Shape(kind="nipple", part="jacket", label="", x=place - 2, y=outside / 2, w=4, h=nipple, guess=nipple_guess)
        )
    if jacket.ring_section_m is not None:
        ring = jacket.ring_section_m.value * 1e3
        for place in (x + 0.04 * length, x + 0.96 * length - ring):
            for y in (can / 2, -can / 2 - ring):
                sheet.shapes.append(Shape(kind="ring", part="jacket", label="", x=place, y=y, w=ring, h=ring))
    if "jacket" in off and bore < can:
        sheet.clash("jacket", x, length, bore, can)


def _hose(sheet: _Sheet, x: float, y: float, nipple: float, ahead: bool) -> None:
    """A hose of usual wall over a nipple, led aft or ahead; how it runs on is the water circuit's."""
    wide, run = 4.0 + 2 * HOSE_WALL_MM, 24.0
    left = x - wide / 2 if ahead else x + wide / 2 - run
    for shape in (
        Shape(kind="hose", part="jacket", label="", x=x - wide / 2, y=y + 2, w=wide, h=nipple, guess=True),
        Shape(kind="hose", part="jacket", label="hose", x=left, y=y + 2 + nipple - wide, w=run, h=wide, guess=True),
    ):
        sheet.shapes.append(shape)


def _coupling(sheet: _Sheet, setup: Setup, plate: float, off: dict[str, float]) -> float:
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
    sheet.tube("coupler", "coupler", "coupler", start - length, length, outside, outside_guess or length_guess)
    sheet.tube("bore", "coupler", "", start - grip, grip, bore, bore_guess)
    sheet.tube("bore", "coupler", "", start - length, grip, far, far_guess)
    sheet.tube("shaft", "motor", f"shaft {shaft:g}", -stub, stub, shaft, shaft_guess or stub_guess)
    sheet.across(start - grip / 2, shaft, shaft_guess)
    sheet.across(start - length - 5, outside, outside_guess)
    if "motor-coupler" in off and shaft > bore:
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
    sheet.tube("tube", "shaft", "", stern + 45, max(length - 45 - grip - 20, 5.0), tube, tube_guess)
    sheet.shapes.append(
        Shape(kind="strut", part="shaft", label="strut", x=stern + 12, y=-tube / 2 - 3, w=32, h=tube + 24, guess=True)
    )
    sheet.tube("flex" if shaft.kind is ShaftKind.FLEX else "shaft", "shaft", f"{shaft.kind} {diameter:g}",
               stern + 30, length - 30, diameter, guess or length_guess)  # fmt: skip
    sheet.tube("shaft", "shaft", "", stern - 16, 46, end, end_guess)
    sheet.along(stern, start, -28, length_guess)
    sheet.across(stern + 55, diameter, guess)
    gap, gap_guess = _mm(shaft.gap_m, 3.0)
    sheet.shapes.append(
        Shape(kind="dog", part="shaft", label="", x=stern + 12 - gap - 6, y=-end, w=6, h=2 * end, guess=gap_guess)
    )
    return stern + 12 - gap - 6


def _propeller(sheet: _Sheet, setup: Setup, stern: float) -> None:
    diameter = setup.propeller.diameter_m.value * 1e3
    hub = 0.33 * diameter
    sheet.tube("disc", "propeller", f"propeller {diameter:g}", stern - hub * 0.75, hub * 0.5, diameter, False)
    sheet.tube("hub", "propeller", "", stern - hub, hub, 0.2 * diameter, True)
    sheet.across(stern - hub - 5, diameter, False)
    pitch = propeller.pitch(setup.propeller).value * 1e3
    sheet.measures.append(
        Measure(x1=stern - hub, y1=diameter / 2 + 4, x2=stern, y2=diameter / 2 + 4, text=f"pitch {pitch:.3g}")
    )
