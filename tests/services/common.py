"""What tests of use cases share."""

from kunstflug.documents.setup import SetupDocument
from kunstflug.services.shared.changes import Change, change_document
from kunstflug.wording import METRIC, say


def changed_of(document: SetupDocument, changes: list[Change]) -> tuple[SetupDocument, list[str]]:
    """A document with changes made, and what is said of them."""
    changed = change_document(document, changes)
    return changed.document, [say(note, METRIC) for note in changed.notes]
