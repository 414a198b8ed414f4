"""What follows from a change, in words."""

from kunstflug.core.setup import editor
from kunstflug.wording.fields import in_words
from kunstflug.wording.say import says
from kunstflug.wording.tongue import Tongue


@says(editor.Rewound)
def _rewound(f: editor.Rewound, t: Tongue) -> str:
    return f"Another winding in the same can: {in_words(f.path)} is estimated from the old one."


@says(editor.PitchRatioKept)
def _pitch(f: editor.PitchRatioKept, t: Tongue) -> str:
    return f"The pitch ratio stays: the pitch is now {t.length(f.pitch_m)}."


@says(editor.PackMassFollows)
def _pack(f: editor.PackMassFollows, t: Tongue) -> str:
    return f"Another pack: its mass is estimated at {t.mass(f.mass_kg)} until you weigh it."


@says(editor.MassShifted)
def _shifted(f: editor.MassShifted, t: Tongue) -> str:
    return f"The boat is {t.mass(abs(f.shift_kg))} {'heavier' if f.shift_kg > 0 else 'lighter'} with these parts."
