"""The knobs of trim: where each is written in a setup, its step, and which way helps against what."""

from dataclasses import dataclass
from typing import Final

from kunstflug.core.parts.hull import CHARACTERS
from kunstflug.core.trim.reasons import Margins
from kunstflug.core.trim.signs import Step


@dataclass(frozen=True, slots=True, kw_only=True)
class TrimKnob:
    """One knob.

    Parameters
    ----------
    path : of the setup document.
    step : of one small change, in the core's unit.
    up, down : what a larger, a smaller number means.
    begin : where it starts when somebody first writes it down.
    """

    path: str
    step: float
    up: Step | None = None
    down: Step | None = None
    begin: float = 0.0


KNOBS: Final[tuple[TrimKnob, ...]] = (
    TrimKnob(path="placement.pack", step=5e-3, up=Step.PACK_FORWARD, down=Step.PACK_AFT),
    TrimKnob(path="placement.ballast_place", step=10e-3, up=Step.PACK_FORWARD, down=Step.PACK_AFT),
    TrimKnob(path="hull.strut_angle", step=0.5, up=Step.MORE_LIFT, down=Step.LESS_LIFT),
    TrimKnob(path="hull.tab_angle", step=0.5, up=Step.MORE_LIFT, down=Step.LESS_LIFT),
    TrimKnob(path="propeller.rake", step=2.0, up=Step.MORE_LIFT, down=Step.LESS_LIFT),
    TrimKnob(path="hull.shaft_depth", step=1e-3, up=Step.DRIVE_DOWN, down=Step.DRIVE_UP),
    TrimKnob(path="hull.rudder_offset", step=10e-3, up=Step.RUDDER_ASIDE),
    TrimKnob(path="hull.rudder_depth", step=5e-3, up=Step.RUDDER_DEEPER, begin=40e-3),
    TrimKnob(path="hull.fin_angle", step=0.3, up=Step.FIN_MORE, down=Step.FIN_LESS),
    TrimKnob(path="hull.fin_depth", step=3e-3, up=Step.FIN_MORE, down=Step.FIN_LESS, begin=30e-3),
    TrimKnob(path="hull.drive_offset", step=1e-3),
    TrimKnob(path="hull.rudder_setback", step=5e-3, begin=60e-3),
    TrimKnob(path="hull.rudder_toe", step=0.3),
    TrimKnob(path="hull.steering", step=2.0, begin=30.0),
    TrimKnob(path="hull.sponson_angle", step=0.3),
    TrimKnob(path="hull.air_tab", step=2.0),
    TrimKnob(path="propeller.cup", step=0.2e-3),
    TrimKnob(path="controller.full_throttle", step=0.02, down=Step.SLOWER, begin=1.0),
    TrimKnob(path="controller.half_throttle", step=0.05, begin=0.5),
)
"""Steps are common practice, no source."""
KNOWN_TO_MODEL: Final = frozenset((
    "placement.pack", "placement.ballast_place", "hull.strut_angle", "propeller.rake", "propeller.cup",
    "hull.shaft_depth", "controller.full_throttle",
))  # fmt: skip
"""What moves the forecast or a margin."""
SWITCHES: Final[dict[str, dict[str, Step]]] = {
    "hull.strakes": {"off": Step.STRAKES_OFF},
    "hull.ride_pads": {},
    "hull.hatch_tape": {},
    "hull.fin_side": {},
}
"""What is on or off, or on which side, and which step a word of it is."""
FIRST_TURNED: Final = {kind: character.first_turned for kind, character in CHARACTERS.items()}
"""What is turned for speed, first to last (common practice, no source)."""
MOST_USED: Final = {"blow_over": 0.8, "torque": 0.9, "porpoising": 1.0, "hop": 0.6}
"""So much of a margin may be used by what is proposed; our own choice."""


def knob_of(path: str) -> TrimKnob | None:
    """The knob that is written at a path."""
    return next((knob for knob in KNOBS if knob.path == path), None)


def step_of(knob: TrimKnob, by: float) -> Step | None:
    """What a change of a knob is."""
    return knob.up if by > 0 else knob.down if by < 0 else None


def barred(margins: Margins) -> frozenset[Step]:
    """Steps that would go past a margin; they are never proposed."""
    found: set[Step] = set()
    if (margins.blow_over or 0.0) > MOST_USED["blow_over"]:
        found |= {Step.PACK_AFT, Step.LESS_LIFT}
    if (margins.torque or 0.0) > MOST_USED["torque"]:
        found.add(Step.DRIVE_DOWN)
    if (margins.hop or 0.0) > MOST_USED["hop"]:
        found.add(Step.MORE_LIFT)
    return frozenset(found)
