"""Choosing as JSON: single changes, sweep map, backward answer, large searches."""

import math

import numpy as np
from pydantic import Field

from kunstflug.core.choose.backward import Answer, Backward, FreePart
from kunstflug.core.choose.class_rules import Raced
from kunstflug.core.choose.fronts import Index
from kunstflug.core.choose.steps import Intent
from kunstflug.core.choose.stock import Need
from kunstflug.core.choose.sweep import SweepResult
from kunstflug.core.drive.limits import KEYS
from kunstflug.core.drive.verdict import ORDER, Verdict
from kunstflug.core.laws.sound import level_db
from kunstflug.core.quantity.value import Z80, Array
from kunstflug.documents.base import LongAnswer, Out, sure
from kunstflug.documents.quantity import Quantity
from kunstflug.wording import Tongue, limits, say
from kunstflug.wording.choose import place_word


class ChangeOut(Out):
    """One change, as a draft takes it: a quantity, a number, a part, or nothing."""

    path: str
    value: Quantity | int | str | dict[str, object] | None


class NamedChangeOut(ChangeOut):
    """One change, with its field and its new value in words; the part of the shelf that it puts in."""

    label: str
    text: str
    shelf_id: int | None


class StepOut(NamedChangeOut):
    """One single change, tried; or the first of two that belong together."""

    then: NamedChangeOut | None = Field(description="what belongs to it and is done next; the numbers are of both")
    alone: list[str] = Field(description="what each of two would do alone")
    place: dict[Intent, int] = Field(description="its row by what is wanted, from 0")
    speed_mps: float
    gain_mps: float
    case_c: float
    case_gain_c: float
    burnt_s: float | None = Field(description="instant at which a winding burns or solder melts; null where none does")
    current_a: float
    run_s: float
    chance: float = Field(description="chance that any limit is passed")
    tightest: str = Field(description="the limit that is used most")
    verdict: Verdict
    sentence: str
    breaks: str = Field(description="what the boat's class does not allow of it; empty where it does")


class OutingOut(Out):
    """One of the next outings."""

    do: str = Field(description="the change that is made before it; empty to run the boat as it is")
    teaches: str


class NextChangesOut(Out):
    """Every change from here."""

    wanted: Intent = Field(description="what comes first unasked")
    chance: float = Field(description="chance that any limit is passed now")
    said: dict[Intent, str] = Field(description="what is to be said above the rows of each")
    steps: list[StepOut] = Field(description="in the order of what is wanted")
    outings: dict[Intent, list[OutingOut]] = Field(description="by what is wanted: up to three, one after the other")


class MapOut(Out):
    """The sweep map: KV along, diameter up; rows by diameter."""

    kv_rpm_per_v: list[float]
    diameter_m: list[float]
    speed_mps: list[list[float | None]]
    use: list[list[float | None]]
    verdict: list[list[Verdict]]
    reason: list[list[str]]
    current_a: list[list[float | None]]
    run_s: list[list[float | None]]
    front: list[tuple[int, int]] = Field(description="row and column of the drives nobody beats, by rising use")
    lasting: list[tuple[int, int]] = Field(description="the same of speed against run time, longest first")


def map_out(found: SweepResult, front: Index, lasting: Index) -> MapOut:
    """Document of a sweep over KV and diameter."""
    shape = (len(found.ranges.kv_rpm_per_v), len(found.ranges.diameter_m))

    def grid(values: Array, digits: int) -> list[list[float | None]]:
        table = values.reshape(shape).T
        return [[round(v, digits) if math.isfinite(v) else None for v in row] for row in table.tolist()]

    titles = [limits.TITLES[key] for key in KEYS]
    return MapOut(
        kv_rpm_per_v=np.round(found.ranges.kv_rpm_per_v, 1).tolist(),
        diameter_m=np.round(found.ranges.diameter_m, 6).tolist(),
        speed_mps=grid(found.speed_mps, 3),
        use=grid(found.use, 4),
        verdict=[[ORDER[v] for v in row] for row in found.verdict.reshape(shape).T.tolist()],
        reason=[[titles[k] for k in row] for row in found.tightest.reshape(shape).T.tolist()],
        current_a=grid(found.current_a, 1),
        run_s=grid(found.run_s, 0),
        front=[(int(k % shape[1]), int(k // shape[1])) for k in front],
        lasting=[(int(k % shape[1]), int(k // shape[1])) for k in lasting],
    )


class PieceOut(Out):
    """One part of a drive: kept, on the shelf, or to be bought."""

    kind: str
    need: Need
    name: str = Field(description="of the part on the shelf or for sale, else empty")
    shelf_id: int | None
    price: float | None = Field(description="what is to be paid for it; null where nobody knows")


class AnswerOut(Out):
    """A drive that reaches the wanted speed, or comes nearest."""

    kv_rpm_per_v: float
    diameter_m: float
    pitch_ratio: float
    cells: int
    speed_mps: float
    current_a: float
    rpm: float
    shaft_power_w: float
    use: float
    headroom: float
    tightest: str
    verdict: Verdict
    run_s: float
    controller_class_a: float
    pack_c: float
    motor_kg: float
    motor_room_m: float = Field(description="its can at today's diameter with the wires behind it")
    boat_kg: float
    wire_awg: int
    pin_m: float
    changed: list[FreePart] = Field(description="what is another part than today's")
    at_end: bool = Field(description="its KV or diameter is the last that was tried")
    pieces: list[PieceOut]
    changes: list[ChangeOut] = Field(description="what makes today's boat this one")
    chance: float = Field(description="chance that any limit or ceiling is passed")
    danger: str = Field(description="a danger for which it has to be stopped; empty for none")
    breaks: str = Field(description="what the boat's class does not allow of it; empty where it does")
    price: float | None = Field(description="of all that is to be bought; null where a price is not known")
    price_per_mps: float | None = Field(description="the price over the speed that it brings; null where that is none")


class NoiseOut(Out):
    """How loud the boat is as it is, where its class says how loud it may be."""

    law_db: float = Field(description="by the law alone, of a boat that nobody measured [dB(A)]")
    level_db: float
    low_db: float = Field(description="the 80 % band")
    high_db: float
    limit_db: float
    at_m: float = Field(description="how far off the meter stands [m]")
    measured: bool


class BackwardOut(Out):
    """The answer to a wish."""

    wanted_mps: float
    possible: bool
    reason: str
    answers: list[AnswerOut]
    speed_mps: list[float]
    power_w: list[float]
    breaks: str = Field(description="what the boat's class does not allow of the boat as it is")
    noise: NoiseOut | None = None


MOST_ANSWERS = 6
LEAST_GAIN_MPS = 0.3
"""Less than a kilometre an hour is not paid for."""


APART = {"tightest", "changed", "pieces", "breaks", "changes", "danger", "chance", "price", "price_per_mps"}


def _answer(
    found: Answer,
    pieces: list[PieceOut],
    breaks: str,
    changes: list[ChangeOut],
    danger: str,
    chance: float,
    gain_mps: float,
) -> AnswerOut:
    fields = {name: getattr(found, name) for name in AnswerOut.model_fields if name not in APART}
    changed = [part for part in FreePart if part in found.changed]
    asked = [piece.price for piece in pieces if piece.need is not Need.KEPT]
    price = None if None in asked else sum(p or 0.0 for p in asked)
    return AnswerOut(
        **fields,
        tightest=place_word(found.tightest),
        changed=changed,
        pieces=pieces,
        breaks=breaks,
        changes=changes,
        danger=danger,
        chance=round(chance, 3),
        price=price,
        price_per_mps=sure(price / gain_mps) if price and gain_mps >= LEAST_GAIN_MPS else None,
    )


def noise_out(raced: Raced, sound_w: float) -> NoiseOut | None:
    """Document of how loud a boat is; None where its class does not ask, or it makes no way."""
    limit_db, at_m = raced.limits.most_noise_db, raced.limits.noise_at_m
    law, level, half = level_db(sound_w, at_m), raced.level_db(sound_w), Z80 * raced.loudness.spread_db
    if limit_db is None or not math.isfinite(law):
        return None
    return NoiseOut(
        law_db=round(law, 2),
        level_db=round(level, 1),
        low_db=round(level - half, 1),
        high_db=round(level + half, 1),
        limit_db=limit_db,
        at_m=at_m,
        measured=raced.loudness.measured,
    )


def backward_out(
    found: Backward,
    answers: list[tuple[Answer, list[PieceOut], str, list[ChangeOut], str, float, float]],
    breaks: str,
    tongue: Tongue,
    noise: NoiseOut | None = None,
) -> BackwardOut:
    """Document of a backward answer, its drives in the order given."""
    return BackwardOut(
        wanted_mps=found.wanted_mps,
        possible=found.possible,
        reason=say(found.reason, tongue) if found.reason else "",
        answers=[_answer(*one) for one in answers[:MOST_ANSWERS]],
        breaks=breaks,
        noise=noise,
        speed_mps=np.round(found.speed_mps, 3).tolist(),
        power_w=np.round(found.power_w, 2).tolist(),
    )


class FoundOut(Out):
    """One drive of a large search: the changes that make it, and what it does."""

    changes: list[ChangeOut]
    shelf: dict[str, int] = Field(description="kind of part and its place on the shelf")
    words: str
    speed_mps: float
    gain_mps: float = Field(description="over the boat as it is")
    current_a: float
    use: float
    chance: float = Field(description="chance that any limit or ceiling is passed")
    tightest: str
    verdict: Verdict
    run_s: float
    edges: list[str] = Field(description="numbers at the end of what was tried: past it may be better ones")
    mass_kg: float | None = None
    price: float | None = None
    on_margin_front: bool
    on_time_front: bool


class SearchOut(Out):
    """What a large search found: the two fronts, and counts."""

    tried: int
    left_out: int = Field(description="combinations that cannot go together, are too heavy or too dear")
    holding: int
    found: list[FoundOut]
    cloud: list[tuple[float, float, Verdict]] = Field(description="speed, use and verdict of some drives, to draw")


class SearchSizeOut(Out):
    """How many drives a search would try, and about how long that takes [s]; why it would be refused, if it would."""

    drives: int
    seconds: float
    problem: str = ""


class ProgressOut(LongAnswer):
    """One line of a search's answer; its result on the last line."""

    result: SearchOut | None = None
