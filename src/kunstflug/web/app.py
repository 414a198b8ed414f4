"""The application: routes, problems, guard, built front end."""

from collections.abc import AsyncIterator
from contextlib import asynccontextmanager
from pathlib import Path

from fastapi import FastAPI
from fastapi.responses import FileResponse, JSONResponse, Response
from fastapi.staticfiles import StaticFiles

from kunstflug import __version__
from kunstflug.services.jobs import Jobs
from kunstflug.store.database import Store
from kunstflug.web import problems
from kunstflug.web.guard import Guard
from kunstflug.web.routes import router

DIST = Path(__file__).parents[3] / "frontend" / "dist"


def create_app(store: Store, dist: Path = DIST, extra_hosts: frozenset[str] = frozenset()) -> FastAPI:
    """The API and, where it is built, the front end.

    Parameters
    ----------
    dist : folder of the built front end.
    extra_hosts : further Host names to answer to (the tests' client).
    """

    @asynccontextmanager
    async def lifespan(app: FastAPI) -> AsyncIterator[None]:
        yield
        app.state.jobs.close()

    app = FastAPI(
        title="Kunstflug",
        version=__version__,
        docs_url=None,
        redoc_url=None,
        openapi_url="/api/openapi.json",
        lifespan=lifespan,
        separate_input_output_schemas=False,
    )
    app.state.store = store
    app.state.jobs = Jobs()
    problems.install(app)
    app.include_router(router)
    app.add_middleware(Guard, extra_hosts=extra_hosts)
    if dist.is_dir():
        app.mount("/assets", StaticFiles(directory=dist / "assets"), name="assets")

        @app.get("/{path:path}", include_in_schema=False)
        def page(path: str) -> Response:
            """The page of the front end for any address that is not a file."""
            if path.startswith("api/"):
                return JSONResponse(
                    {"type": "about:blank", "title": "not found", "status": 404, "detail": "no such address"}, 404
                )
            file = (dist / path).resolve()
            if path and file.is_relative_to(dist.resolve()) and file.is_file():
                return FileResponse(file)
            if "." in path.rsplit("/", 1)[-1]:
                return Response(status_code=404)
            return FileResponse(dist / "index.html", headers={"cache-control": "no-cache"})

    return app
