"""What happens while somebody is erased, and what comes after it, brings nothing of them back."""

from __future__ import annotations

import threading
from dataclasses import replace

import pytest

from nevefield.intakes.evaluating import open_intake
from nevefield.intakes.receiving import Claims, receive_file
from nevefield.keeping.erasing import erase
from tests.keeping.test_erasing import everything, house, lines_with, words_of

__all__ = ["house"]


class Meddling:
    """Readers beside which something else happens once, while the first file is read."""

    def __init__(self, readers, meanwhile):
        self._readers, self._meanwhile = readers, [meanwhile]

    def __getattr__(self, name):
        return getattr(self._readers, name)

    def keep_without_people(self, *given, **more):
        found = self._readers.keep_without_people(*given, **more)
        if self._meanwhile:
            self._meanwhile.pop()()
        return found


def _beside(context, act):
    """The same context, in which something is done beside, in a thread of its own."""

    def meanwhile():
        thread = threading.Thread(target=act)
        thread.start()
        thread.join()

    return replace(context, readers=Meddling(context.readers, meanwhile))


def _file(rows):
    return "\n".join(";".join(one) for one in (rows[0], *(row.values() for row in rows))).encode()


def test_two_are_erased_at_once(house):
    """Two people who stand in the same files are erased at once: neither comes back by the file
    of the other.
    """
    context, maker, keeper, numbers = house

    def other():
        erase(context, numbers[5], "the person", "they asked", keeper)

    erase(_beside(context, other), numbers[3], "a guardian", "asked by letter", keeper)
    left = everything(context)
    assert lines_with(left, words_of(maker, 3)) == []
    assert lines_with(left, words_of(maker, 5)) == []


def test_a_file_comes_meanwhile(house):
    """A file with somebody that is received while they are erased is without them too."""
    context, maker, keeper, numbers = house
    data = _file([maker.person(3) | {"note": "late"}, maker.person(7)])

    def receive():
        receive_file(context, "late.csv", data, Claims("ownfolk"), account_id=keeper)

    erase(_beside(context, receive), numbers[3], "the person", "they asked", keeper)
    assert lines_with(everything(context), words_of(maker, 3)) == []


def test_a_file_with_secrets_comes_again(house):
    """The same file, of which the rows without their secrets are kept, is received once more: who
    was erased does not come back by it, and no secret is kept.
    """
    context, maker, keeper, numbers = house
    rows = [maker.person(at) | {"note": "x", "password": f"Sesame{at}-open!"} for at in (7, 3, 8)]
    receive_file(context, "p.csv", _file(rows), Claims("ownfolk"), account_id=keeper)
    assert lines_with(everything(context), words_of(maker, 3))
    erase(context, numbers[3], "the person", "they asked", keeper)
    receive_file(context, "p.csv", _file(rows), Claims("ownfolk"), account_id=keeper)
    assert lines_with(everything(context), [*words_of(maker, 3), "Sesame"]) == []


@pytest.mark.parametrize("others", [(7,), (7, 8, 9, 10, 11, 12)])
@pytest.mark.parametrize("erased", [(3,), (3, 5), (0, 3, 5)])
def test_an_erased_row_is_nobody(house, erased, others):
    """In a file that nobody applied, the rows of those who were erased are left out, each with
    that for its reason: they add nobody, nothing is asked of them, and the others are as they were.
    """
    context, maker, keeper, numbers = house
    people = (*others, *erased)
    rows = [maker.person(at) | {"note": "waits"} for at in people]
    intake = receive_file(context, "wait.csv", _file(rows), Claims("ownfolk"), account_id=keeper)
    was = open_intake(context, intake).evaluation
    for place in erased:
        erase(context, numbers[place], "the person", "they asked", keeper)
    now = open_intake(context, intake).evaluation
    assert now.tally.read == was.tally.read == len(people)
    assert now.tally.left_out == len(erased)
    assert now.outcomes[: len(others)].tolist() == was.outcomes[: len(others)].tolist()
    asked = {row for cause in now.causes for row in cause.open_rows.tolist()}
    assert not asked & set(range(len(others), len(people)))
    again = receive_file(context, "anew.csv", _file(rows), Claims("ownfolk"), account_id=keeper)
    assert open_intake(context, again).evaluation.tally == now.tally
