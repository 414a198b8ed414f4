"""Trim as it goes over the wire: signs, causes, answers, knobs and their curves."""

from typing import Annotated, Literal

from pydantic import Field

from kunstflug.core.parts.hull import HullType
from kunstflug.core.trim.measures import Measure
from kunstflug.core.trim.reasons import Reason
from kunstflug.core.trim.signs import Behaviour, Step
from kunstflug.documents.base import Out, Strict
from kunstflug.documents.quantity import Quantity


class TrimIn(Strict):
    """What the boat did, as tapped; null takes what was tapped on the setup's newest run."""

    seen: list[Behaviour] | None = Field(default=None, max_length=14)


class BehaviourOut(Out):
    """Something that a boat may have done."""

    sign: Behaviour
    words: str


class PracticeOut(Out):
    """A margin whose form is practice only: part of the limit with a wide band [1]."""

    key: Literal["chine_walk", "hook", "washout"]
    part: float
    low: float
    high: float
    words: str


class RuleOut(Out):
    """A rule of thumb: how often a cause brings a sign about, or a step helps against a cause [1]."""

    key: str
    kind: Literal["sign", "step"]
    reason: Reason
    words: str
    then: str = Field(description="the sign, or the step, in words")
    chance: float
    usual: float = Field(description="common practice, no source")


class RulesOut(Out):
    """All rules of thumb, a racer's own among them."""

    rules: list[RuleOut]
    own: int


class RulesIn(Strict):
    """Chances of a racer's own by the rule's key; null puts the usual one back."""

    changes: dict[str, Annotated[float, Field(ge=0, le=0.99)] | None] = Field(max_length=200)


class ReasonOut(Out):
    """A cause and how likely it is."""

    reason: Reason
    words: str
    chance: float = Field(description="[1]")


class TrimChange(Out):
    """A change that can be tried in the draft."""

    path: str
    value: Quantity | str = Field(description="a word where the knob is one of a few words")
    label: str
    words: str = Field(description="the value as it is read")


class TrimAnswerOut(Out):
    """One small step."""

    step: Step
    do: str
    how: str
    costs: str
    wrong_if: str
    against: str
    helps: float = Field(description="how likely it helps [1]")
    harms: float = Field(description="how likely it makes it worse [1]")
    change: TrimChange | None = Field(description="null where the setup does not say where the knob stands")


class TriedOut(Out):
    """A step that was taken on this boat."""

    do: str
    helped: bool | None = Field(description="whether the sign went; null where it stayed but the boat was faster")
    setup_id: int


class KnobPointOut(Out):
    """A run on the curve: where the knob stood, and what was read, in the conditions of today."""

    at: float = Field(description="in the core's unit")
    read: float = Field(description="in the core's unit of the measure")
    run_id: int
    setup_id: int


class KnobLineOut(Out):
    """The curve at one place of the knob: middle and 80 % band, in the core's unit of the measure."""

    at: float = Field(description="in the core's unit")
    middle: float
    low: float
    high: float


class KnobCurveOut(Out):
    """What runs say of a knob, in one measure."""

    measure: Measure
    words: str
    dimension: str
    more_is_better: bool
    points: list[KnobPointOut]
    line: list[KnobLineOut]
    settings: int = Field(description="how many settings of it were run")


class KnobOut(Out):
    """A knob: where it stands, and what runs say of it."""

    path: str
    label: str
    dimension: str
    unit: str = Field(description="in which it is usually given")
    value: float | None = Field(description="in the core's unit; null where the setup does not say")
    step: float = Field(description="in the core's unit")
    low: float
    high: float
    safe: list[float] | None = Field(
        description="from here, lowest and highest that keep the margins, at most two steps away; null where the model "
        "does not know the knob"
    )
    begin: float = Field(description="where it starts when it is first written down, in the core's unit")
    measured_by: str
    bound_to: str = Field(description="what has to be looked at after it was turned; empty for nothing")
    curves: list[KnobCurveOut] = Field(description="speed first; empty until two settings of it were run")


class SwitchOut(Out):
    """Something that is on or off, or on which side."""

    path: str
    label: str
    value: str
    options: dict[str, str] = Field(description="each word and what it is called")


class TurnGripOut(Out):
    """How tight a turn fin and rudder hold, and what was turned."""

    radius_m: float
    low_m: float
    high_m: float
    lateral_g: float = Field(description="in that turn, at the speed of the forecast")
    words: str


class SettingOut(Out):
    """A setup that was run and differs from the one on the sheet in its trim only: known, and to be gone back to."""

    setup_id: int
    name: str
    changes: list[TrimChange] = Field(description="what it has otherwise than the setup on the sheet")
    runs: int
    speed_mps: float = Field(description="of its runs on average, in the conditions of the setup on the sheet")
    seen: list[str] = Field(description="what was tapped on its runs, in words")


class NextOut(Out):
    """The next setting worth trying, or what else to do."""

    advice: Literal["try", "again", "back", "enough", "held"]
    words: str
    why: str
    changes: list[TrimChange]
    gain: float = Field(description="expected, as a part of the speed [1]")
    better: float = Field(description="how likely it is better [1]")
    worse: float = Field(description="how likely it is worse by more than 2 % [1]")
    past: float = Field(description="how likely it passes a margin [1]")
    repeats: float = Field(description="how far this racer's runs scatter, as learnt here, as a part of the speed [1]")


class SizesOut(Out):
    """What the drawing needs of a boat; what nobody measured is what is usual."""

    hull_type: HullType
    length_m: float
    beam_m: float
    deadrise_deg: float
    centre_m: float = Field(description="centre of mass ahead of the transom")
    trim_deg: float = Field(description="bow up at speed")
    propeller_m: float
    mass_kg: float
    guessed: list[str] = Field(description="which of these nobody measured: beam, deadrise, centre, trim")


class TrimOut(Out):
    """All that is said of a setup's trim."""

    setup_id: int
    sizes: SizesOut
    signs: list[BehaviourOut]
    seen: list[Behaviour]
    seen_run: int | None = Field(description="the run on which they were tapped; null where they came with the request")
    causes: list[ReasonOut]
    answers: list[TrimAnswerOut]
    held_back: list[str] = Field(description="steps that would help, and the margin that speaks against them")
    tried: list[TriedOut]
    knobs: list[KnobOut]
    switches: list[SwitchOut]
    by_practice: list[PracticeOut]
    turn: TurnGripOut | None = Field(description="null where neither fin nor rudder has a size")
    settings: list[SettingOut] = Field(description="fastest first; those that frightened last")
    next: NextOut | None = Field(description="null until a run was read")
    caution: str
    practice: str
