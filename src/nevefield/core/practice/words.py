"""Made-up words: of the same script, length and case as those of real people, and none of them.

What stands in a text is told apart into words, numbers and what is between; each word always
becomes the same other one, so that people who share a name, or whose mail address is made of it, do
so afterwards. The words come from a chain of letters (C. E. Shannon, "A Mathematical Theory of
Communication", 1948, section 3), learnt from the real ones.
"""

from __future__ import annotations

import unicodedata
from collections import defaultdict
from functools import lru_cache
from itertools import groupby
from string import ascii_lowercase
from typing import TYPE_CHECKING

from nevefield.core.texts import plain_letters

if TYPE_CHECKING:
    from collections.abc import Iterable, Iterator

    from nevefield.core.practice.chance import Chance

__all__ = [
    "BETWEEN",
    "NUMBER",
    "WORD",
    "Words",
    "kind_of",
    "plain_text",
    "reserved_domain",
    "runs_of",
]

WORD, NUMBER, BETWEEN = "word", "number", "between"
TRIES = 60  # words drawn before letters are taken without a chain
CIRCLE = 3  # digits of a number up to which all there are change places in one circle
NEAR = 40  # places in Unicode within which single letters change places
RESERVED = ("example", "test", "invalid", "localhost")  # RFC 2606, section 2
RESERVED_NAMES = ("example.com", "example.net", "example.org")  # section 3


@lru_cache(maxsize=20_000)
def kind_of(letter: str) -> str:
    """Tell what a character is part of: a word (with its accents), a number, or neither."""
    category = unicodedata.category(letter)
    if category[0] in "LM":
        return WORD
    return NUMBER if category == "Nd" else BETWEEN


def runs_of(text: str) -> Iterator[tuple[str, str]]:
    """Give what a text consists of: kind and characters.

    >>> list(runs_of("Åse 12"))
    [('word', 'Åse'), ('between', ' '), ('number', '12')]
    """
    for kind, letters in groupby(text, kind_of):
        yield kind, "".join(letters)


def reserved_domain(domain: str) -> str:
    """Give a domain under which nobody gets mail in the place of a real one: the same for the
    same, and itself where it is such a one (RFC 2606).

    >>> reserved_domain("mail.club.test"), reserved_domain("Club-Patras.gr")
    ('mail.club.test', 'club-patras-gr.example')
    """
    plain = domain.casefold()
    if plain.rpartition(".")[2] in RESERVED or plain.endswith(
        (*RESERVED_NAMES, *(f".{name}" for name in RESERVED_NAMES))
    ):
        return domain
    return f"{plain.replace('.', '-')[:60].strip('-')}.example"


class Words:
    """Made-up words and numbers for those of some texts.

    Args:
        texts: All that there are: their words are learnt from, and none of them is made.
        random: The source of chance.
        shared_domains: Domains of so many that they tell nothing of one; of all others the name is
            made up too.
    """

    def __init__(
        self, texts: Iterable[str], random: Chance, *, shared_domains: Iterable[str] = ()
    ) -> None:
        self._random = random
        self._shared = frozenset(shared_domains)
        self._taken: set[str] = set()
        self._people: set[str] = set()
        self._chains: dict[str, dict[str, list[str]]] = defaultdict(lambda: defaultdict(list))
        self._known: dict[str, str] = {}
        self._learn(texts)

    def _learn(self, texts: Iterable[str]) -> None:
        learnt = set()
        for text in texts:
            for kind, run in runs_of(text):
                key = _key(run)
                if kind == BETWEEN or key in learnt:
                    continue
                learnt.add(key)
                if kind == WORD:
                    self._learn_word(run.lower())
        self._taken = learnt

    def _learn_word(self, word: str) -> None:
        chain = self._chains[_script(word)]
        before = "^^"
        for letter in word:
            for state in (before, before[1:], ""):
                chain[state].append(letter)
            before = before[1:] + letter

    def text(self, text: str) -> str:
        """Give a text of the same shape: what is between its words stays."""
        return "".join(
            run if kind == BETWEEN else self._made(kind, run) for kind, run in runs_of(text)
        )

    def mail(self, address: str) -> str:
        """Give an address of the same shape, under a domain that leads nowhere."""
        local, sign, domain = address.rpartition("@")
        if not sign:
            return self.text(address)
        plain = plain_text(self.text(local)) if local.isascii() else self.text(local)
        if domain.casefold() not in self._shared and reserved_domain(domain) != domain:
            domain = (
                plain_text(self.text(domain.rpartition(".")[0])) + "." + domain.rpartition(".")[2]
            )
        return f"{plain}@{reserved_domain(domain)}"

    def remember_people(self, names: Iterable[str]) -> None:
        """Make the words of people's names: what has one of them in it is known for somebody's."""
        for name in names:
            self.text(name)
            self._people |= {
                _key(run) for kind, run in runs_of(name) if kind == WORD and len(run) > 1
            }

    def is_of_somebody(self, text: str) -> bool:
        """Tell whether a word of a text is one of somebody's name."""
        return any(_key(run) in self._people for kind, run in runs_of(text) if kind == WORD)

    def _made(self, kind: str, run: str) -> str:
        key = _key(run)
        if not key:  # an accent that belongs to nothing
            return run
        if key not in self._known:
            if kind == NUMBER:
                self._make_number(key)
            elif len(key) > 1 or not self._turn(_letters_like(key)):
                self._known[key] = self._make_word(run.lower())
        made = self._known[key]
        return made if kind == NUMBER else _in_case(made, run)

    def _turn(self, members: list[str]) -> bool:
        """Let all members change places in one circle: none stays, and no two become the same.

        Returns:
            Whether there were enough that have no other yet.
        """
        members = [one for one in members if one not in self._known]
        if len(members) < 2:
            return False
        self._random.shuffle(members)
        for place, member in enumerate(members):
            self._known[member] = members[(place + 1) % len(members)]
        return True

    def _make_number(self, digits: str) -> None:
        if len(digits) <= CIRCLE:
            self._turn([f"{number:0{len(digits)}}" for number in range(10 ** len(digits))])
            return
        length = len(digits)
        for attempt in range(10 * TRIES):
            made = "".join(self._random.choices("0123456789", k=length + attempt // TRIES))
            # a leading nought stays one, and nothing else becomes one
            made = ("0" if digits[0] == "0" else made[0].replace("0", "7")) + made[1:]
            if made not in self._taken:
                break
        self._taken.add(made)
        self._known[digits] = made

    def _make_word(self, word: str) -> str:
        chain = self._chains[_script(word)]
        letters = chain[""] or list(ascii_lowercase)
        for attempt in range(10 * TRIES):
            length = len(word) + attempt // (2 * TRIES)
            made = self._draw(chain, length) if attempt < TRIES else ""
            made = made or "".join(self._random.choices(letters, k=length))
            key = _key(made)
            if key and key not in self._taken and all(kind_of(one) == WORD for one in key):
                break
        self._taken.add(_key(made))
        return made

    def _draw(self, chain: dict[str, list[str]], length: int) -> str:
        made = "^^"
        while len(made) < length + 2:
            states = (made[-2:], made[-1], "")
            following = next((chain[state] for state in states if chain.get(state)), None)
            if following is None:
                return ""
            made += self._random.choice(following)
        return made[2:]


def _key(run: str) -> str:
    """Give the form in which the same word is told: without case and accents."""
    return plain_letters(run).casefold()


@lru_cache(maxsize=20_000)
def _script(word: str) -> str:
    return unicodedata.name(word[0], "?").split(" ")[0].split("-")[0]


def _letters_like(letter: str) -> list[str]:
    """List the letters of the same script that stand near one, itself among them."""
    near = map(chr, range(max(ord(letter) - NEAR, 0), ord(letter) + NEAR))
    return [
        one
        for one in near
        if kind_of(one) == WORD and _key(one) == one and _script(one) == _script(letter)
    ]


def _in_case(made: str, like: str) -> str:
    if len(like) > 1 and like.isupper():
        return made.upper()
    return made[0].upper() + made[1:] if like[0].isupper() else made


def plain_text(text: str) -> str:
    """Write a text in the letters of ASCII; others are left out."""
    return plain_letters(text).encode("ascii", "ignore").decode()
