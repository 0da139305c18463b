"""How the stand-ins of the demo are run: outside systems, each a program with data of its
own.
"""

from __future__ import annotations

import os
import subprocess
import sys
from pathlib import Path
from typing import TYPE_CHECKING

from nevefield.run.demo import point_destination, point_mail

if TYPE_CHECKING:
    from collections.abc import Callable

    from nevefield.context import Context

__all__ = ["find_demo", "make_demo", "run_stand_ins"]

ROOT = Path(__file__).parents[3]
# of the demo's accounts at the stand-ins
REGISTRY_TOKEN = "tarn-quay-demo"  # noqa: S105
DIRECTORY_TOKEN = "tarn-quay-directory"  # noqa: S105
GATES_TOKEN = "tarn-quay-gates"  # noqa: S105

# What the stand-ins run from, of the demo's files.
STOOD_IN = ("registry.json", "directory.json", "gates.json")


def make_demo(data: Path, beside: Path = ROOT / "demo") -> Path:
    """Make the demo's files, the same each time, and say where they are.

    Args:
        data: Our data directory.
        beside: Beside the program, where people find them; with our data where that may not be
            written.
    """
    path = _made(data, beside)
    subprocess.run([sys.executable, str(ROOT / "demo" / "make.py"), str(path)], check=True)
    return path


def find_demo(data: Path, say: Callable[[str], None], beside: Path = ROOT / "demo") -> Path:
    """Say where the demo's files are; a program that was put in another one's place, over its data,
    makes them first.
    """
    path = _made(data, beside)
    if all((path / one).exists() for one in STOOD_IN):
        return path
    say("Making the demo's files ...")
    return make_demo(data, beside)


def _made(data: Path, beside: Path) -> Path:
    return beside / "made" if os.access(beside, os.W_OK) else data / "demo"


def run_stand_ins(
    context: Context, data: Path, made: Path, port: int, free: Callable[[int], int]
) -> tuple[list[list[str]], dict[str, str]]:
    """Say how the stand-ins are run, and what the environment of all processes says of them.

    Args:
        context: Database and settings.
        data: Where everything is kept.
        made: What the demo's maker wrote; what is not there has no stand-in.
        port: On which the product answers.
        free: Finds a free port, from one on.
    """
    paths = os.pathsep.join(filter(None, (str(ROOT), os.environ.get("PYTHONPATH", ""))))
    commands: list[list[str]] = []
    environment = {"PYTHONPATH": paths}
    people, accounts = made / "registry.json", made / "directory.json"
    if people.exists() and not context.settings.registry_url:
        at = free(port + 1)
        place = ["--people", str(people), "--data", str(data / "registry"), "--port", str(at)]
        commands.append([sys.executable, "-m", "stand_ins.registry", *place])
        environment |= {
            "NEVEFIELD_REGISTRY_URL": f"http://127.0.0.1:{at}",
            "NEVEFIELD_REGISTRY_TOKEN": REGISTRY_TOKEN,
            "REGISTRY_TOKEN": REGISTRY_TOKEN,
        }
    if accounts.exists():
        at = free(port + 3)
        place = ["--accounts", str(accounts), "--data", str(data / "directory"), "--port", str(at)]
        commands.append([sys.executable, "-m", "stand_ins.directory", *place])
        environment |= {"DIRECTORY_TOKEN": DIRECTORY_TOKEN}
        point_destination(context, "directory", f"http://127.0.0.1:{at}/v2", DIRECTORY_TOKEN)
    if (doors := made / "gates.json").exists():
        at = free(port + 4)
        place = ["--doors", str(doors), "--data", str(data / "gates"), "--port", str(at)]
        commands.append([sys.executable, "-m", "stand_ins.gates", *place])
        environment |= {"GATES_TOKEN": GATES_TOKEN}
        point_destination(context, "gate-controllers", f"http://127.0.0.1:{at}", GATES_TOKEN)
    if accounts.exists():
        smtp, at = free(port + 5), free(port + 6)
        place = ["--data", str(data / "mails"), "--smtp", str(smtp), "--port", str(at)]
        commands.append([sys.executable, "-m", "stand_ins.mail", *place])
        point_mail(context, smtp, f"http://127.0.0.1:{at}/")
    return commands, environment
