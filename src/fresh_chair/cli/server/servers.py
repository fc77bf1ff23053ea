"""`fresh-chair server` and `fresh-chair studies`: a server is made ready, brought up to date, and looked at."""

from dataclasses import asdict
from typing import Annotated

import typer

from fresh_chair.cli.base.study import JsonOption, say, say_json
from fresh_chair.core.text import count_of
from fresh_chair.store.address import ServerAddress, read_server_address

server = typer.Typer(help="A PostgreSQL server that several stations share.", no_args_is_help=True)
ServerArgument = Annotated[
    ServerAddress,
    typer.Argument(
        metavar="ADDRESS", parser=read_server_address, help="postgresql://HOST/DATABASE", show_default=False
    ),
]


@server.command()
def prepare(
    address: ServerArgument,
    crew: Annotated[str, typer.Option("--crew", metavar="NAME", help="Whose roles are made.")] = "fresh_chair",
) -> None:
    """Make the tables in an empty database, and the roles of a crew; it can be said again, for other crews too.

    This is a superuser's, on the server: sudo -u postgres fresh-chair server prepare postgresql:///DATABASE. Nobody
    else needs to be one afterwards.
    """
    from fresh_chair.services.server.servers import prepare_server

    prepared = prepare_server(address, crew)
    say(f"The tables {'were made' if prepared.made else 'were there already'}. Crew {prepared.crew} has these roles:")
    for role, words in zip(prepared.roles, _WORDS, strict=True):
        say(f"  {role:<24}{words}")
    say(f"A login gets one of them with: GRANT {prepared.roles[1]} TO somebody;")


_WORDS = (
    "sees studies; of people, their codes alone",
    "logs sittings, sorts, rates, puts records down; sees people; changes nothing that was logged",
    "makes studies and changes plans, too",
    "erases people, too",
)


@server.command()
def upgrade(address: ServerArgument) -> None:
    """Bring the tables of a server up to date; no program does that by itself."""
    from fresh_chair.services.server.servers import closed_by, upgrade_server

    before, after = upgrade_server(address)
    say(f"The tables were {before} and are {after} now." if before != after else f"The tables are {after} already.")
    for words in closed_by(before, after):
        say(f"  {words}")


@server.command()
def check(address: ServerArgument, json: JsonOption = False) -> None:
    """Look for doors that stand open on a server, each with the line that closes it; 1 where there are any.

    As its superuser on the server itself it tells as well what is missing for other machines to come in.
    """
    from fresh_chair.services.server.servers import check_server

    found = check_server(address)
    if json:
        say_json([asdict(each) for each in found])
        raise typer.Exit(any(each.open for each in found))
    for each in found:
        say(each.words)
        say(f"    {each.line}")
    if any(each.open for each in found):
        raise typer.Exit(1)
    say("No door stands open: no login may do more than its role says.")


def studies(address: ServerArgument, json: JsonOption = False) -> None:
    """List the studies on a server that you may see, and who is connected."""
    from fresh_chair.services.server.servers import studies_on

    found = studies_on(address)
    if json:
        say_json([asdict(each) for each in found])
        return
    for each in found:
        away = f"  moved to {each.away}" if each.away else ""
        sittings = f"{each.begun} of {count_of(each.planned, 'sitting')} begun"
        say(f"{each.name:<24}{each.title}  ({each.crew}; {sittings}, {count_of(each.entries, 'mark')}){away}")
        for station in each.stations:
            clock = f"clock {station.ahead_seconds:+.2f} s" if station.connected else f"last seen {station.seen}"
            say(f"{'':<24}  {station.name}  {station.author}, {clock}")
    if not found:
        say("There is no study on that server, or none for you.")
