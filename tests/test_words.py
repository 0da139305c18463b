"""One word for one act: what people read is named as `docs/words.md` says."""

import ast
import re
from pathlib import Path

import pytest

ROOT = Path(__file__).parents[1]
ROW = re.compile(r"^\| (?!act )(?P<act>[^|]+) \| (?P<word>[^|]+) \|(?P<never>[^|]*)\|$", re.M)
SPOKEN = ("title", "label", "aria-label", "placeholder", "act", "okText", "cancelText", "content")


def never() -> list[str]:
    """The words that stand for no act."""
    table = (ROOT / "docs" / "words.md").read_text()
    found = [one.strip() for row in ROW.finditer(table) for one in row["never"].split(";")]
    return [one for one in found if one]


def spoken_by_pages() -> dict[str, str]:
    """What each template of the front end says, and every text in its scripts."""
    said = {}
    for path in sorted((ROOT / "frontend" / "src").rglob("*")):
        if path.suffix not in (".vue", ".ts") or ".test." in path.name or path.name == "schema.ts":
            continue
        text = re.sub(
            r"/\*.*?\*/|<style.*?</style>|^\s*//.*?$", " ", path.read_text(), flags=re.S | re.M
        )
        template = "".join(re.findall(r"<template>.*</template>", text, re.S))
        script = text.replace(template, " ") if template else text
        texts = [re.sub(r"<[^>]*>", " ", template)]
        texts += re.findall(rf"(?:{'|'.join(SPOKEN)})=\"([^\"]*)\"", template)
        texts += [one[1] for one in re.findall(r"(['`])((?:\\.|(?!\1).)*)\1", script, re.S)]
        said[str(path.relative_to(ROOT))] = re.sub(r"\s+", " ", " ¶ ".join(texts))
    return said


def spoken_by_server() -> dict[str, str]:
    """Every text of the server's code that is no docstring."""
    said = {}
    for path in sorted((ROOT / "src").rglob("*.py")):
        tree = ast.parse(path.read_text())
        silent = {
            id(node.body[0].value)
            for node in ast.walk(tree)
            if isinstance(node, ast.Module | ast.ClassDef | ast.FunctionDef)
            and node.body
            and isinstance(node.body[0], ast.Expr)
        }
        texts = [
            node.value
            for node in ast.walk(tree)
            if isinstance(node, ast.Constant)
            and isinstance(node.value, str)
            and id(node) not in silent
        ]
        said[str(path.relative_to(ROOT))] = re.sub(r"\s+", " ", " ¶ ".join(texts))
    return said


@pytest.mark.parametrize("spoken", [spoken_by_pages, spoken_by_server], ids=["pages", "server"])
def test_one_word_for_one_act(spoken):
    """No page and no message calls an act by a word that `docs/words.md` does not want."""
    words = never()
    assert len(words) > 20
    wrong = [
        f"{where}: …{said[max(0, at.start() - 30) : at.end() + 20]}…"
        for where, said in spoken().items()
        for word in words
        for at in re.finditer(rf"\b{re.escape(word)}\b", said, re.I)
    ]
    assert not wrong, "\n".join(wrong)


def test_names_stand_in_quotes_of_print():
    """No message of the server shows a name as a program writes it."""
    shown = [
        f"{path.relative_to(ROOT)}:{node.lineno}"
        for path in sorted((ROOT / "src").rglob("*.py"))
        for node in ast.walk(ast.parse(path.read_text()))
        if isinstance(node, ast.FormattedValue) and node.conversion == ord("r")
    ]
    # what a document or the environment says is shown as it stands there
    borders = ("core/defining/parts.py", "core/checking/options.py", "signing.py", "web/access.py")
    assert [one for one in shown if not any(border in one for border in borders)] == []
