"""The address of a database of one server or several nodes, and in which order they are asked."""

from __future__ import annotations

from urllib.parse import quote

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nevefield.store.connection import Database
from nevefield.store.errors import DatabaseGone, WrongAddress
from nevefield.store.nodes import PASS_OVER_SECONDS, Node, Nodes

HOSTS = st.from_regex(r"[a-z][a-z0-9-]{0,12}(\.[a-z]{2,5}){0,2}", fullmatch=True)
PLACES = st.lists(st.tuples(HOSTS, st.integers(1, 65535)), min_size=1, max_size=5, unique=True)
THREE = "mysql://user:word@a:1,b:2,c:3/name"


class Seconds:
    def __init__(self) -> None:
        self.at = 100.0

    def __call__(self) -> float:
        return self.at


@given(PLACES, st.text(min_size=1, max_size=20))
def test_reads_what_it_names(places, secret):
    """Any places, and any signs in the password, are read as they were meant; the order is that
    of the address.
    """
    url = f"mysql://some%40one:{quote(secret, safe='')}@{','.join(f'{host}:{port}' for host, port in places)}/people"  # noqa: E501
    nodes = Nodes(url)
    assert nodes.all == tuple(Node(*one) for one in places)
    assert nodes.order() == list(nodes.all)
    said = nodes._arguments
    assert (said["user"], said["password"], said["database"]) == ("some@one", secret, "people")
    assert nodes.are_several == (len(places) > 1)


def test_names_the_same_database_whatever_comes_first():
    """Two sets with other nodes first work on one database; what is kept in memory by its name
    is of one.
    """
    assert (
        Nodes(THREE).name
        == Nodes("mysql://other:x@c:3,a:1,b:2/name").name
        != Nodes("mysql://user:word@a:1/name").name
    )


@pytest.mark.parametrize(
    ("place", "expected"),
    [("[::1]:3307", Node("::1", 3307)), ("db", Node("db", 3306)), ("db:1", Node("db", 1))],
)
def test_ways_to_write_a_place(place, expected):
    """An address of the sixth version stands in brackets, a port may be left out."""
    assert Nodes(f"mysql://u:p@{place}/n").all == (expected,)


@pytest.mark.parametrize("place", ["a:1,:2", "a:0", "a:70000", "a b:1"])
def test_what_is_no_place(place):
    """What is no place is said, with how it is written."""
    with pytest.raises(WrongAddress, match="host:port with commas between"):
        Database(f"mysql://u:p@{place}/n")


def test_who_did_not_answer_comes_last():
    """For a while; then in its turn again. When none answers, all are asked in their order."""
    clock = Seconds()
    nodes = Nodes(THREE, clock)
    a, b, c = nodes.all
    nodes.pass_over(a)
    assert nodes.order() == [b, c, a]
    clock.at += PASS_OVER_SECONDS / 2
    nodes.pass_over(c)
    assert nodes.order() == [b, a, c]
    nodes.pass_over(b)
    assert set(nodes.order()) == {a, b, c}
    clock.at += PASS_OVER_SECONDS * 0.75
    assert nodes.order()[0] == a
    clock.at += PASS_OVER_SECONDS
    assert nodes.order() == [a, b, c]


def test_a_server_that_is_no_node_is_not_taken_for_one(database_url):
    """A server that stands alone would take what the nodes never see: among several it is passed
    over, and said to be so.
    """
    account, _, rest = database_url.rpartition("@")
    place, _, name = rest.partition("/")
    with (
        pytest.raises(DatabaseGone, match=f"{place}: it is cut off .*127.0.0.1:1: "),
        Database(f"{account}@{place},127.0.0.1:1/{name}").transaction(),
    ):
        pass
