"""The command `nevefield`.

Exit status: 0 nothing stops; 1 something stops; 2 unreadable or wrong use, with one plain line on
stderr.
"""

from __future__ import annotations

import sys
from importlib import import_module

import click

from nevefield import __version__
from nevefield.cli.saying import say_beside
from nevefield.core.errors import CoreError
from nevefield.settings import WrongSetting

__all__ = ["main"]

# Where each command is; what a command needs is loaded when it is called, so that one that needs
# little begins at once.
_PLACES = {
    **dict.fromkeys(("inspect", "check", "compare", "propose"), "nevefield.cli.files"),
    **dict.fromkeys(
        ("intake", "export", "roster", "serve", "worker", "openapi"),
        "nevefield.cli.desk",
    ),
    **dict.fromkeys(("account", "trail"), "nevefield.cli.keepers"),
    "mail": "nevefield.cli.mails",
    **dict.fromkeys(("copy", "copier"), "nevefield.cli.copying"),
}


class _Commands(click.Group):
    def list_commands(self, ctx: click.Context) -> list[str]:
        return list(_PLACES)

    def get_command(self, ctx: click.Context, cmd_name: str) -> click.Command | None:
        place = _PLACES.get(cmd_name)
        return getattr(import_module(place), cmd_name) if place else None


@click.group(cls=_Commands, context_settings={"help_option_names": ["-h", "--help"]})
@click.version_option(__version__)
def commands() -> None:
    """Keep an institution's rosters true."""


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
    except (CoreError, WrongSetting) as error:
        _give_up(str(error))
    except BrokenPipeError:
        sys.exit(0)
    except MemoryError:
        _give_up("The file needs more memory than there is.")


def _give_up(text: str) -> None:
    say_beside(f"nevefield: {' '.join(text.split())}")
    sys.exit(2)
