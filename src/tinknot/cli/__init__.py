"""The command line."""

from importlib import import_module

import click

from tinknot import __version__

COMMANDS = {
    "calc": "calculating:calc",
    "plan": "planning:plan",
    "serve": "running:serve",
    "demo": "running:demo",
    "openapi": "running:describe",
    "backup": "safekeeping:backup",
    "restore": "safekeeping:restore",
    "verify": "records:verify",
    "export": "records:export",
    "import": "records:load",
}  # what each is called, and where it stands beside this file


class Commands(click.Group):
    """Commands that are loaded when they are called: `tinknot calc` needs neither web, PDF nor database."""

    def list_commands(self, _context: click.Context) -> list[str]:
        """All names, in the order of the table."""
        return list(COMMANDS)

    def get_command(self, _context: click.Context, name: str) -> click.Command | None:
        """The command called `name`, None for one that does not exist."""
        if name not in COMMANDS:
            return None
        module, _, function = COMMANDS[name].partition(":")
        found: click.Command = getattr(import_module(f"tinknot.cli.{module}"), function)
        return found


@click.command(cls=Commands)
@click.version_option(__version__)
def main() -> None:
    """From two measured cable ends to a sealed, proved and signed joint."""
