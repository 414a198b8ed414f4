"""Everything of a racer out and in: an open package."""

import tempfile
from pathlib import Path
from typing import Annotated

from fastapi import APIRouter, BackgroundTasks, File, Response, UploadFile
from fastapi.responses import FileResponse

from kunstflug.services import package
from kunstflug.web.api.deps import StoreOf, StrictRoute, a_file

router = APIRouter(tags=["data"], route_class=StrictRoute)


@router.get("/export.zip", response_class=Response, responses=a_file("application/zip"))
def export_all(store: StoreOf, later: BackgroundTasks) -> Response:
    """Everything but the bin: tables as CSV with a schema, boats as JSON, tracks as GPX."""
    folder = tempfile.TemporaryDirectory(prefix="kunstflug-export-")
    later.add_task(folder.cleanup)
    path = Path(folder.name) / "kunstflug.zip"
    package.export_all(store, path)
    return FileResponse(path, media_type="application/zip", filename="kunstflug.zip", background=later)


@router.post("/import")
def import_all(store: StoreOf, file: Annotated[UploadFile, File()]) -> package.PackageCounts:
    """Takes in what was exported; what is there already stays as it is."""
    with tempfile.TemporaryDirectory(prefix="kunstflug-import-") as folder:
        path = Path(folder) / "package.zip"
        with path.open("wb") as out:
            while chunk := file.file.read(1 << 20):
                out.write(chunk)
        return package.import_all(store, path)
