"""The routes, one module for each mark of the course; thin, one call of a use case each."""

from fastapi import APIRouter

from kunstflug.web.api import (
    account,
    bin,
    boats,
    compare,
    data,
    day,
    devices,
    fit,
    live,
    logbook,
    match,
    measure,
    run,
    shelf,
    system,
    trim,
)
from kunstflug.web.api.deps import StrictRoute

router = APIRouter(prefix="/api", route_class=StrictRoute)
for part in (system, boats, match, fit, day, live, run, compare, trim, logbook, shelf, measure, bin, data, devices):
    router.include_router(part.router)
router.include_router(account.router)
router.include_router(account.in_club)
