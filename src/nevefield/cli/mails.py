"""Commands about mails: what came back."""

from __future__ import annotations

import sys
from pathlib import Path

import click

from nevefield.cli.desk import DATA_OPTION, connect
from nevefield.cli.files import PATH
from nevefield.cli.saying import say
from nevefield.core.errors import CoreError
from nevefield.core.mailing.returned import MOST_BYTES
from nevefield.mailing.returning import take_returned
from nevefield.store.errors import StoreError

__all__ = ["mail"]


@click.group()
def mail() -> None:
    """Mails."""


@mail.command("returned")
@click.argument("files", type=PATH, nargs=-1)
@DATA_OPTION
def returned(files: tuple[Path, ...], data: Path) -> None:
    """Take in messages by which mail servers say that mails were not delivered: FILES, or one from
    standard input, as a mail server hands it to a program.
    """
    if files:
        missing = next((file for file in files if not file.is_file()), None)
        if missing is not None:
            raise click.FileError(str(missing), "there is no such file")
        messages = [file.read_bytes() for file in files]
    else:
        messages = [sys.stdin.buffer.read(MOST_BYTES + 1)]
    try:
        found = take_returned(connect(data), messages, None)
    except StoreError as error:
        raise CoreError(str(error)) from error
    for name, count in vars(found).items():
        if count:
            say(f"{name}: {count}")
