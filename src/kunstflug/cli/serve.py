"""Commands that start the program, and those for the accounts of a club."""

from typing import Annotated

import typer

from kunstflug.cli.app import app
from kunstflug.cli.inout import Scheduler, heard

account = typer.Typer(no_args_is_help=True, help="Accounts of a club's server, by whoever runs it.")
app.add_typer(account, name="account")


Lan = Annotated[bool, typer.Option("--lan", help="Open to the local network too: HTTPS, paired devices only.")]


@app.command()
def serve(
    lan: Lan = False,
    accounts: Annotated[bool, typer.Option("--accounts", help="For a club: each racer signs in.")] = False,
    host: Annotated[list[str] | None, typer.Option(help="A name that a proxy in front is asked by.")] = None,
) -> None:
    """Start everything with your own boats; Ctrl-C stops it."""
    from kunstflug.launch.demo import Wanted
    from kunstflug.launch.demo import serve as start

    if lan and accounts:
        raise typer.BadParameter("a club's server is reached through a proxy with HTTPS; see docs/operating.md")
    start(Wanted(demo=False, lan=lan, accounts=accounts, hosts=tuple(host or ())))


@app.command()
def demo(lan: Lan = False, front_dev: Annotated[bool, typer.Option(hidden=True)] = False) -> None:
    """Start everything with the demo data; Ctrl-C stops it."""
    from kunstflug.launch.demo import Wanted
    from kunstflug.launch.demo import serve as start

    start(Wanted(lan=lan, reload_front=front_dev))


@account.command("invite")
def account_invite(
    role: Annotated[str, typer.Argument(help="keeper, racer or guest")] = "keeper",
    address: Annotated[str, typer.Option(help="Where the server is reached.")] = "",
) -> None:
    """Print a link that makes an account; the first keeper takes over the boats that are there. May run meanwhile.

    Where KUNSTFLUG_RUN says, or KUNSTFLUG_DATABASE_URL: that of the server. Without data there it makes none.
    """
    from kunstflug.launch.folder import run_folder
    from kunstflug.launch.keeping import opened
    from kunstflug.launch.ports import reached
    from kunstflug.services.account.accounts import invite

    if role not in ("keeper", "racer", "guest"):
        raise typer.BadParameter("somebody is invited as keeper, racer or guest")
    folder = run_folder() / "demo"
    with opened(folder) as store:
        made = invite(store, role)
    print(f"{address or reached(folder)}{made.path}\nHolds once, until {made.expires_at:%Y-%m-%d %H:%M} UTC.")


@account.command("reset")
def account_reset(
    name: Annotated[str, typer.Argument(help="The racer's name.")],
    address: Annotated[str, typer.Option(help="Where the server is reached.")] = "",
) -> None:
    """Print a link that sets a racer's password anew, for an hour; may run while the program does."""
    from kunstflug.launch.folder import run_folder
    from kunstflug.launch.keeping import opened
    from kunstflug.launch.ports import reached
    from kunstflug.services.account.accounts import reset_link

    folder = run_folder() / "demo"
    with opened(folder) as store:
        made = reset_link(store, name)
    print(f"{address or reached(folder)}{made.path}\nHolds once, until {made.expires_at:%Y-%m-%d %H:%M} UTC.")


@account.command("priors")
def account_priors(
    scheduler: Scheduler = "",
) -> None:
    """Recalculate what the club's boats have in common. The program may run meanwhile."""
    from kunstflug.launch.folder import run_folder
    from kunstflug.launch.keeping import opened
    from kunstflug.services.club.priors import make_anew
    from kunstflug.services.shared.computing import computing

    with opened(run_folder() / "demo") as store, computing(scheduler or None) as work:
        made = make_anew(store, work, lambda done, whole: heard("racers", done, whole))
    print(f"{made.racers} racers, {made.families} families; {made.share:.0%} of what differs is in common")
