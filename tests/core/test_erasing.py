"""Texts that tell who somebody is are found as whole words, and taken out of anything."""

from __future__ import annotations

import json
import pickle

from hypothesis import given
from hypothesis import strategies as st

from nevefield.core.defining.reading import read_definition
from nevefield.core.erasing import (
    ERASED,
    Telling,
    scrub_body,
    scrub_json,
    scrub_step,
    telling_of,
)

READERS = read_definition(
    {
        "name": "readers",
        "primaryKey": "nr",
        "fields": [
            {"name": "nr", "constraints": {"required": True, "unique": True}},
            {"name": "family", "nevefield": {"means": "family-name"}},
            {"name": "given", "nevefield": {"means": "given-name"}},
            {"name": "born", "type": "date", "nevefield": {"means": "birth-date"}},
            {"name": "mail", "format": "email"},
            {"name": "shelf"},
        ],
    }
)
ZOE = {"nr": "01234", "family": "Müller", "given": "Zoë", "born": "1990-02-03", "shelf": "A1"}
EARLIER = {**ZOE, "family": "Strauß", "mail": "zoe@books.example"}


def test_what_tells_who_it_is():
    """Numbers and addresses of all versions, and the whole name either way; a shelf does not."""
    telling = telling_of(READERS, [EARLIER, ZOE])
    for text in (
        "reader 01234 came",
        "„Müller, Zoë“",
        "ZOË MÜLLER",
        "(zoe@books.example)",
        "Zoë Strauß was here",
    ):
        assert telling.stand_in(text), text
    for text in ("901234", "01234x", "A1", "Müller", "Zoë", "Müllerin, Zoë", "zoe@books.examples"):
        assert not telling.stand_in(text), text
    assert telling.scrub("01234, 01234 and 012345") == f"{ERASED}, {ERASED} and 012345"
    assert telling.are_of(["x", "Müller", "Zoë Anna", "1990-02-03"])
    assert not telling.are_of(["x", "Müller", "Zoë", "1990-02-04"])
    for encoding in ("utf-8", "cp1252", "utf-16"):
        assert telling.may_be_in("a;b\nx;Zoë Müller\n".encode(encoding))
        assert telling.may_be_in("a;b;c;d\nx;MÜLLER;ZOË;1990-02-03\n".encode(encoding))
    assert telling.may_be_in(b"PK\x03\x04")
    assert telling.may_be_in("a;b\nx;Ωραίου\n".encode("cp1253"))  # it has to be read
    assert not telling.may_be_in("a;b\nx;Zoë Ray;1990-02-03\n".encode())
    assert pickle.loads(pickle.dumps(telling)) == telling


@given(
    st.lists(st.text("aAßé1.-_ (", min_size=4, max_size=6), max_size=4),
    st.text("aAßé1.-_ (,", max_size=40),
)
def test_nothing_is_left(texts, text):
    """What was scrubbed says nothing of anybody; what said nothing is as it was."""
    telling = Telling.of(texts)
    scrubbed = telling.scrub(text)
    if not telling.stand_in(text):
        assert scrubbed == text
    assert not telling.stand_in(scrubbed.replace(ERASED, "|"))


def test_documents():
    """Of a receipt the entry of the record by its number; of steps the cells and reasons of the
    lines; of a body that was sent the object that is about them.
    """
    telling = telling_of(READERS, [ZOE])
    receipt = {
        "who": {"left": [[7, "Müller, Zoë", "01234"], [8, "Ray, Max", "x"]]},
        "tally": {"read": 2},
    }
    assert scrub_json(receipt, telling, 7) == {
        "who": {"left": [[7, ERASED, ERASED], [8, "Ray, Max", "x"]]},
        "tally": {"read": 2},
    }
    step = {"kind": "set", "cells": [{"line": 3, "value": "a"}, {"line": 4, "value": "b"}]}
    assert scrub_step(step, {3}, telling)["cells"] == [
        {"line": 3, "value": ""},
        {"line": 4, "value": "b"},
    ]
    hold = {"kind": "hold", "lines": [3], "reason": "she phoned"}
    assert scrub_step(hold, {3}, telling)["reason"] == ERASED
    assert scrub_step({**hold, "lines": [3, 4]}, {3}, telling)["reason"] == "she phoned"
    body = json.dumps({"records": [{"REF": "01234", "X": "secret"}, {"REF": "9", "X": "kept"}]})
    assert json.loads(scrub_body(body.encode(), telling)) == {
        "records": [{"erased": True}, {"REF": "9", "X": "kept"}]
    }
    lines = b"REF;X\n01234;secret\n9;kept\n"
    assert scrub_body(lines, telling) == b"REF;X\n\n9;kept\n"
    assert scrub_body(b"\x00\xff", telling) == b"\x00\xff"
