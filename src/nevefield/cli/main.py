"""The command `nevefield`.

Exit status: 0 nothing stops; 1 something stops; 2 unreadable or wrong use, with one plain line on stderr.
"""

from __future__ import annotations

import sys

import click

from nevefield.cli.desk import account, export, intake, openapi, roster, serve, worker
from nevefield.cli.files import check, compare, inspect
from nevefield.core.errors import CoreError

__all__ = ["main"]


@click.group(context_settings={"help_option_names": ["-h", "--help"]})
@click.version_option(package_name="nevefield")
def commands() -> None:
    """Keep an institution's rosters true."""


for command in (inspect, check, compare, intake, export, roster, account, serve, worker, openapi):
    commands.add_command(command)


def main() -> None:
    """Run a command; whatever goes wrong is one plain line."""
    try:
        sys.exit(commands.main(standalone_mode=False) or 0)
    except click.exceptions.Exit as error:
        sys.exit(error.exit_code)
    except click.Abort:
        _give_up("Stopped.")
    except click.ClickException as error:
        _give_up(error.format_message())
    except CoreError as error:
        _give_up(str(error))
    except BrokenPipeError:
        sys.exit(0)
    except MemoryError:
        _give_up("The file needs more memory than there is.")


def _give_up(said: str) -> None:
    click.echo(f"nevefield: {' '.join(said.split())}", err=True)
    sys.exit(2)
