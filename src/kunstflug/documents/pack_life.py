"""A pack's life as JSON."""

from kunstflug.core.bench.pack_life import Course, Health
from kunstflug.core.quantity.value import Array
from kunstflug.documents.base import Out, sure


class PackReadingOut(Out):
    """What one run says of a quantity, with one standard deviation on both sides; in the core's unit."""

    value: float
    low: float
    high: float


class PackRunOut(Out):
    """One run of a pack."""

    run_id: int
    number: int
    at: str
    resistance_ohm: PackReadingOut | None
    capacity_ah: PackReadingOut | None


class PackCourseOut(Out):
    """One quantity over the pack's runs, with its 80 % band; in the core's unit."""

    number: list[float]
    value: list[float]
    low: list[float]
    high: list[float]
    limit: float
    chance: float


class PackLifeOut(Out):
    """A pack's life: what to do with it, in words, and its resistance a cell and usable capacity by run."""

    health: Health
    words: list[str]
    runs: list[PackRunOut]
    resistance_ohm: PackCourseOut | None
    capacity_ah: PackCourseOut | None


def reading_out(read: tuple[float, float] | None, unit: float) -> PackReadingOut | None:
    """A ratio and the spread of its logarithm, times what a new pack has."""
    if read is None:
        return None
    ratio, spread = read
    low, high = ratio / (1.0 + spread), ratio * (1.0 + spread)
    return PackReadingOut(value=sure(ratio * unit), low=sure(low * unit), high=sure(high * unit))


def course_out(course: Course | None, unit: float) -> PackCourseOut | None:
    """A course, times what a new pack has."""
    if course is None:
        return None

    def times(values: Array) -> list[float]:
        return [sure(float(v) * unit) for v in values]

    return PackCourseOut(
        number=[round(float(n), 2) for n in course.number],
        value=times(course.value),
        low=times(course.low),
        high=times(course.high),
        limit=sure(course.limit * unit),
        chance=course.chance,
    )
