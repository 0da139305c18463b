"""What can make the core give up.

    CoreError
    ├── UnreadableFile      the bytes are no table that can be read
    │   └── NotRead         others are read at the moment
    ├── WrongDefinition     a definition says something that cannot be
    ├── WrongCodes          a code list file says something that cannot be
    ├── WrongRecipe         a recipe says something that cannot be
    ├── WrongLayout         an authority's layout, or ours for it, says something that cannot be
    ├── WrongDesign         a card design says something that cannot be
    ├── WrongDestination    a destination says something that cannot be
    ├── WrongTemplate       a text with fields cannot be filled
    ├── NoNumbersLeft       there are fewer free card numbers than are asked for
    ├── CardTooLarge        a card does not fit on the paper
    ├── WrongCopy           a file is no copy, or a damaged one
    ├── WrongAnswer         what is brought as an authority's answer is none
    └── WrongStep           a step names something that is not there

A bad row is none of these: it is a finding.
"""

from __future__ import annotations

import itertools

__all__ = [
    "CardTooLarge",
    "CoreError",
    "NoNumbersLeft",
    "NotRead",
    "UnreadableFile",
    "WrongAnswer",
    "WrongCodes",
    "WrongCopy",
    "WrongDefinition",
    "WrongDesign",
    "WrongDestination",
    "WrongLayout",
    "WrongRecipe",
    "WrongStep",
    "WrongTemplate",
]


class CoreError(Exception):
    """Base of everything that the core raises; its text is one plain sentence or two."""


class UnreadableFile(CoreError):
    """The bytes are no table that can be read.

    Args:
        reason: What is wrong, as a sentence.
        remedy: What the person can do about it, as a sentence.
    """

    def __init__(self, reason: str, remedy: str = "") -> None:
        self.reason = reason
        self.remedy = remedy
        super().__init__(f"{reason} {remedy}".strip())

    def __reduce__(self) -> tuple[type[UnreadableFile], tuple[str, str]]:
        """Go from one process to another as it is."""
        return UnreadableFile, (self.reason, self.remedy)


class NotRead(UnreadableFile):
    """Nothing is wrong with the file: others are read at the moment."""


class WrongDefinition(CoreError):
    """A definition says something that cannot be.

    Args:
        place: Where, as a path such as `fields[3].nevefield.codeLst`.
        problem: What is wrong there, and what would be right.
    """

    def __init__(self, place: str, problem: str) -> None:
        self.place = place
        self.problem = problem
        super().__init__(f"{place}: {problem}" if place else problem)


class WrongDesign(CoreError):
    """A card design says something that cannot be.

    Args:
        place: Where, as a path such as `faces.0.front.3.letters.size`; its text says it in words.
        problem: What is wrong there, and what would be right.
    """

    def __init__(self, place: str, problem: str) -> None:
        self.place = place
        self.problem = problem
        super().__init__(f"{_say_place(place)}: {problem}" if place else problem)


# What one of a list of a card design is called.
_ONE_OF = {
    "faces": "face",
    "front": "front, item",
    "back": "back, item",
    "pieces": "piece",
    "ranges": "range",
}
_KINDS = ("band", "line", "photo", "picture", "symbol")


def _say_place(place: str) -> str:
    """Say where in a card design: `faces.0.front.3.line.letters.size` is “Face 1, front, item 4,
    letters, size”.
    """
    words: list[str] = []
    parts = place.removeprefix("numbering.").split(".")
    for before, part in itertools.pairwise(["", *parts]):
        if part.isdigit():
            words[-1] = f"{_ONE_OF.get(before, before)} {int(part) + 1}"
        elif not (before.isdigit() and part in _KINDS):
            words.append(part.replace("_", " "))
    said = ", ".join(words)
    return said[:1].upper() + said[1:]


class WrongDestination(CoreError):
    """A destination says something that cannot be.

    Args:
        place: Where, as a path such as `shares.0.puts.3.from`.
        problem: What is wrong there, and what would be right.
    """

    def __init__(self, place: str, problem: str) -> None:
        self.place = place
        self.problem = problem
        super().__init__(f"{place}: {problem}" if place else problem)


class WrongTemplate(CoreError):
    """A text with fields cannot be filled, or would tell what is kept.

    Args:
        place: subject or text.
        problem: What is wrong there, and what would be right.
    """

    def __init__(self, place: str, problem: str) -> None:
        self.place = place
        self.problem = problem
        super().__init__(f"The {place} {problem}" if problem[0].islower() else problem)


class NoNumbersLeft(CoreError):
    """There are fewer free numbers than are asked for.

    Args:
        site: For whom they are; "" for everybody.
        wanted: How many are asked for.
        left: How many there are.
    """

    def __init__(self, site: str, wanted: int, left: int) -> None:
        self.site, self.wanted, self.left = site, wanted, left
        whom = f" for {site}" if site else ""
        super().__init__(
            f"{wanted:,} card {'number is' if wanted == 1 else 'numbers are'} needed{whom}, and"
            f" {left:,} {'is' if left == 1 else 'are'} left. Add a range of numbers, or make"
            " fewer cards."
        )


class CardTooLarge(CoreError):
    """A card does not fit on the paper.

    Args:
        size: Of the card, width and height in mm.
        paper: The name of the paper.
    """

    def __init__(self, size: tuple[float, float], paper: str) -> None:
        self.size, self.paper = size, paper
        super().__init__(
            f"A card of {size[0]:g} × {size[1]:g} mm does not fit on {paper}; print card by card."
        )


class WrongLayout(CoreError):
    """An authority's layout, or ours for it, says something that cannot be.

    Args:
        place: Where, as a path such as `fields[3].to`.
        problem: What is wrong there, and what would be right.
    """

    def __init__(self, place: str, problem: str) -> None:
        self.place = place
        super().__init__(f"{place}: {problem}")


class WrongCodes(CoreError):
    """A code list file says something that cannot be.

    Args:
        line: The line of the file, from 1.
        problem: What is wrong there, and what would be right.
    """

    def __init__(self, line: int, problem: str) -> None:
        self.line = line
        self.problem = problem
        super().__init__(f"Line {line} of the code lists: {problem}")


class WrongRecipe(CoreError):
    """A recipe says something that cannot be.

    Args:
        place: Where, as a path such as `steps.3.field`.
        problem: What is wrong there, and what would be right.
    """

    def __init__(self, place: str, problem: str) -> None:
        self.place = place
        self.problem = problem
        super().__init__(
            f"The recipe is not right at {place}: {problem}."
            if place
            else f"The recipe is not right: {problem}."
        )


class WrongStep(CoreError):
    """A step names something that is not there.

    Args:
        problem: What is wrong, and what would be right.
    """

    def __init__(self, problem: str) -> None:
        self.problem = problem
        super().__init__(problem)


class WrongAnswer(CoreError):
    """What is brought as an authority's answer is none."""


class WrongCopy(CoreError):
    """A file is no copy, or is damaged or cut short, or its key is another; the text says which."""
