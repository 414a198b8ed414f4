"""The routes, one module for each mark of the course and each other screen; thin, one call of a use case each."""

from kunstflug.web.api import (
    account,
    aim,
    bin,
    boats,
    club,
    compare,
    data,
    devices,
    fit,
    launch,
    live,
    logbook,
    match,
    measure,
    ponds,
    run,
    shelf,
    system,
    trim,
)

_SCREENS = (
    system, boats, aim, match, fit, launch, ponds, live, run, compare, trim, logbook, shelf, measure, bin, data,
    devices, account, club,
)  # fmt: skip

ROUTES = [route for router in (*(screen.router for screen in _SCREENS), account.in_club) for route in router.routes]
