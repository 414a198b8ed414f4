"""Views of what runs say of a boat's knobs: curves, settings that were run, and the next one worth trying."""

from collections.abc import Mapping

from kunstflug.core.setup.setup import centre_of_mass
from kunstflug.core.trim.knobs import KNOBS, TrimKnob
from kunstflug.core.trim.landscape import KnobCurve, Landscape
from kunstflug.core.trim.measures import KINDS
from kunstflug.core.trim.settings import spec_at, value_at
from kunstflug.core.trim.signs import Behaviour
from kunstflug.documents.setup import SetupDocument
from kunstflug.documents.trim import (
    KnobCurveOut,
    KnobLineOut,
    KnobOut,
    KnobPointOut,
    NextOut,
    SettingOut,
    TrimChange,
)
from kunstflug.services.trim.paths import change_to
from kunstflug.wording.fields import FIELDS
from kunstflug.wording.trim import ADVICE, BEHAVIOURS, BOUND_TO, MEASURED_BY, MEASURES, why


def knobs_of(landscape: Landscape) -> list[KnobOut]:
    """All knobs, with the curves of those that were turned."""
    return [_knob(landscape, knob) for knob in KNOBS]


def _knob(landscape: Landscape, knob: TrimKnob) -> KnobOut:
    spec, setup, safe = spec_at(knob.path), landscape.setup, landscape.safe(knob)
    return KnobOut(
        path=knob.path,
        label=label_of(knob.path),
        dimension=spec.dimension.value,
        unit=spec.unit,
        value=value_at(setup, knob.path),
        step=knob.step,
        low=spec.low,
        high=spec.high,
        safe=None if safe is None else [round(end, 6) for end in safe],
        begin=centre_of_mass(setup).value if knob.path.startswith("placement.") else knob.begin,
        measured_by=MEASURED_BY[knob.path],
        bound_to=BOUND_TO.get(knob.path, ""),
        curves=[_curve(curve) for curve in landscape.curves(knob)],
    )


def label_of(path: str) -> str:
    """What a field is called on screen."""
    kind, _, key = path.partition(".")
    return FIELDS[kind][key].label


def _curve(curve: KnobCurve) -> KnobCurveOut:
    kind = KINDS[curve.measure]
    return KnobCurveOut(
        measure=curve.measure,
        words=MEASURES[curve.measure],
        dimension=kind.dimension.value,
        more_is_better=kind.more_is_better,
        points=[
            KnobPointOut(at=point.at, read=round(point.read, 5), run_id=point.run.id, setup_id=point.run.setup_id)
            for point in curve.points
        ],
        line=[
            KnobLineOut(at=one.at, middle=round(one.middle, 5), low=round(one.low, 5), high=round(one.high, 5))
            for one in curve.line
        ],
        settings=curve.settings,
    )


def settings_of(landscape: Landscape, document: SetupDocument) -> list[SettingOut]:
    """Setups that were run and differ in their trim only, in the order that they are shown in."""
    return [
        SettingOut(
            setup_id=one.setup_id,
            name=landscape.setups[one.setup_id].name,
            changes=_changes(document, one.values),
            runs=len(one.runs),
            speed_mps=round(one.speed_mps, 3),
            seen=[BEHAVIOURS[sign] for sign in Behaviour if sign in one.seen],
        )
        for one in landscape.settings()
    ]


def next_of(landscape: Landscape, document: SetupDocument) -> NextOut | None:
    """The next setting worth trying; None until a run was read with a knob of trim written down."""
    one = landscape.next()
    if one is None:
        return None
    found, unwritten = one.proposal, label_of(one.unwritten) if one.unwritten else ""
    return NextOut(
        advice=found.advice.value,
        words=ADVICE[found.advice],
        why=why(found, one.runs, one.repeats, unwritten),
        changes=_changes(document, one.values),
        gain=round(found.gain, 4),
        better=round(found.better, 3),
        worse=round(found.worse, 3),
        past=round(found.past, 3),
        repeats=round(one.repeats, 4),
    )


def _changes(document: SetupDocument, values: Mapping[str, float]) -> list[TrimChange]:
    """Knobs at other values, as the document carries them."""
    changes = (change_to(document, path, value) for path, value in values.items())
    return [change for change in changes if change is not None]
