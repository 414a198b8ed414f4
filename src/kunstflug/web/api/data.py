"""Everything of a racer out and in: an open package."""

import contextlib
import tempfile
from pathlib import Path
from typing import Annotated

from fastapi import BackgroundTasks, File, Response, UploadFile
from fastapi.responses import FileResponse, StreamingResponse

from kunstflug.core.quantity.progress import Progress
from kunstflug.services.data import package
from kunstflug.web.api.deps import LineOf, StoreOf, Teaches, TongueOf, a_file, routes_of
from kunstflug.web.streams import MEDIA_TYPE

router = routes_of("data", Teaches)


@router.get("/export.zip", response_class=Response, responses=a_file("application/zip"))
def export_all(store: StoreOf, later: BackgroundTasks) -> Response:
    """Everything but the bin: tables as CSV with a schema, boats as JSON, tracks as GPX."""
    folder = tempfile.TemporaryDirectory(prefix="kunstflug-export-")
    later.add_task(folder.cleanup)
    path = Path(folder.name) / "kunstflug.zip"
    package.export_all(store, path)
    return FileResponse(path, media_type="application/zip", filename="kunstflug.zip", background=later)


@router.post(
    "/import",
    response_class=StreamingResponse,
    responses={
        200: {
            "description": "A line of JSON for each report; the last says what was new",
            "content": {MEDIA_TYPE: {"schema": {"$ref": "#/components/schemas/ImportLine"}}},
        },
        # names the model, so that the description has it
        202: {"model": package.ImportLine, "description": "Never sent; one line of the answer looks so"},
    },
)
def import_all(store: StoreOf, line: LineOf, tongue: TongueOf, file: Annotated[UploadFile, File()]) -> Response:
    """Takes in what was exported; what is there already stays as it is."""
    with contextlib.ExitStack() as kept:
        folder = kept.enter_context(tempfile.TemporaryDirectory(prefix="kunstflug-import-"))
        path = Path(folder) / "package.zip"
        with path.open("wb") as out:
            while chunk := file.file.read(1 << 20):
                out.write(chunk)
        package.check_package(path)  # what is no package at all is refused before it waits in line
        closing = kept.pop_all()  # from here on the work tidies up

    def work(heard: Progress) -> package.PackageCounts:
        with closing:
            return package.import_all(store, path, lambda _, done, whole: heard(done, whole))

    return line.answer(work, package.ImportLine, tongue)
