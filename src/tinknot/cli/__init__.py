"""The command line."""

import click

from tinknot import __version__
from tinknot.cli import job, running, safekeeping


@click.group()
@click.version_option(__version__)
def main() -> None:
    """From two measured cable ends to a sealed, proved and signed joint."""


for _command in (
    job.calc, job.plan, running.serve, running.demo, running.describe,
    safekeeping.backup, safekeeping.restore, safekeeping.verify, safekeeping.export, safekeeping.load,
):  # fmt: skip
    main.add_command(_command)
