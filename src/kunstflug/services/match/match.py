"""Match: forecast a document, try changes on it; nothing is saved."""

from kunstflug.core.drive.schools import USUAL, Schools
from kunstflug.core.setup.knowledge import Knowledge
from kunstflug.documents.setup import SetupDocument
from kunstflug.services.shared.changes import Change, change_document, differences
from kunstflug.services.shared.forecasts import forecast_of
from kunstflug.services.shared.views import DraftView
from kunstflug.wording import METRIC, Tongue, say

__all__ = ["draft", "forecast_of"]


def draft(
    document: SetupDocument,
    changes: list[Change],
    known: Knowledge | None,
    schools: Schools = USUAL,
    tongue: Tongue = METRIC,
    *,
    explained: bool = True,
) -> DraftView:
    """What a setup would do with some changes; nothing is saved. Unexplained it is what a hand on a knob needs."""
    changed = change_document(document, changes)
    return DraftView(
        document=changed.document,
        forecast=forecast_of(changed.document, known, schools, tongue, explained=explained),
        differences=differences(document, changed.document) if explained else [],
        notes=[say(note, tongue) for note in changed.notes],
    )
