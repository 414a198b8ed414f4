"""A boat that stopped, in words."""

from typing import Final

from kunstflug.core.bench.stopped import Sign, Suspect

SUSPECTS: Final = {
    Suspect.RECEIVER: "receiver",
    Suspect.CONTROLLER: "controller",
    Suspect.MOTOR: "motor",
    Suspect.PACK: "pack",
    Suspect.LEADS: "plugs and leads",
    Suspect.RADIO: "transmitter",
    Suspect.DRIVE_LINE: "shaft and propeller",
}
SIGNS: Final = {
    Sign.DEAD: "no light, no sound",
    Sign.BEEPS: "controller beeps",
    Sign.STUTTERS: "motor stutters",
    Sign.NO_STEERING: "no steering either",
    Sign.RUNS_AGAIN: "runs again after a rest",
    Sign.HARD_TO_TURN: "hard to turn by hand",
    Sign.MOTOR_SCREAMS: "motor turns, boat does not go",
    Sign.SMELLS: "smells burnt",
    Sign.WATER_INSIDE: "water inside",
    Sign.FAR_AWAY: "stopped far out",
}
NEXT: Final = {
    Suspect.RECEIVER: "Plug in another receiver, bound to your transmitter.",
    Suspect.CONTROLLER: "Connect another controller; keep the propeller off.",
    Suspect.MOTOR: "Connect another motor to the same controller, lying on the bench.",
    Suspect.PACK: "Try another pack that is full, and measure each cell of this one.",
    Suspect.LEADS: "Pull at every plug and lead, look for dark solder, measure from plug to plug.",
    Suspect.RADIO: "Charge the transmitter, bind it again, check its range.",
    Suspect.DRIVE_LINE: "Take off the propeller and turn the shaft by hand: coupler, flex shaft, strut, weed.",
}
CAUTION: Final = (
    "Arm with the propeller off. A pack that got wet or swelled stays outside, and goes by its maker's advice."
)
