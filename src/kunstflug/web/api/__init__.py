"""The routes, one module for each mark of the course; thin, one call of a use case each."""

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

ROUTES = [
    route
    for router in (
        *(system.router, boats.router, match.router, fit.router, day.router, live.router, run.router, compare.router),
        *(trim.router, logbook.router, shelf.router, measure.router, bin.router, data.router, devices.router),
        *(account.router, account.in_club),
    )
    for route in router.routes
]
