"""The knobs of trim: where each is written in a setup, its step, and which way helps against what."""

from dataclasses import dataclass
from typing import Final

from kunstflug.core.trim.signs import Margins, Step


@dataclass(frozen=True, slots=True, kw_only=True)
class TrimKnob:
    """One knob.

    Parameters
    ----------
    path : of the setup document.
    step : of one small change, in the core's unit.
    up, down : what a larger, a smaller number means.
    """

    path: str
    step: float
    up: Step | None = None
    down: Step | None = None


KNOBS: Final[tuple[TrimKnob, ...]] = (
    TrimKnob(path="placement.pack", step=5e-3, up=Step.PACK_FORWARD, down=Step.PACK_AFT),
    TrimKnob(path="placement.ballast_place", step=10e-3, up=Step.PACK_FORWARD, down=Step.PACK_AFT),
    TrimKnob(path="hull.strut_angle", step=0.5, up=Step.MORE_LIFT, down=Step.LESS_LIFT),
    TrimKnob(path="hull.tab_angle", step=0.5, up=Step.MORE_LIFT, down=Step.LESS_LIFT),
    TrimKnob(path="propeller.rake", step=2.0, up=Step.MORE_LIFT, down=Step.LESS_LIFT),
    TrimKnob(path="hull.shaft_depth", step=1e-3, up=Step.DRIVE_DOWN, down=Step.DRIVE_UP),
    TrimKnob(path="hull.rudder_offset", step=10e-3, up=Step.RUDDER_ASIDE),
    TrimKnob(path="hull.rudder_depth", step=5e-3, up=Step.RUDDER_DEEPER),
    TrimKnob(path="hull.fin_angle", step=0.3, up=Step.FIN_MORE, down=Step.FIN_LESS),
    TrimKnob(path="hull.fin_depth", step=3e-3, up=Step.FIN_MORE, down=Step.FIN_LESS),
)
"""Steps are common practice, no source."""
MOST_USED: Final = {"blow_over": 0.8, "torque": 0.9, "porpoising": 1.0}
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
    return frozenset(found)
