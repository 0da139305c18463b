"""A text with fields, and messages as they are handed over: read back by the standard library."""

from __future__ import annotations

from datetime import UTC, datetime
from email import message_from_bytes
from email.policy import default

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nevefield.core.defining.reading import read_definition
from nevefield.core.errors import WrongTemplate
from nevefield.core.mailing.message import Outbound, Sender, read_address, write_message
from nevefield.core.mailing.template import Template, check_template, fill

AT = datetime(2026, 9, 1, 9, tzinfo=UTC)
WORDS = st.text(st.characters(blacklist_categories=("Cs", "Cc")), max_size=60)
LINES = st.lists(WORDS, max_size=8).map("\n".join)


@given(subject=WORDS, text=LINES, name=WORDS)
def test_what_is_written_is_read(subject, text, name):
    """Whatever letters: subject and text come back; nothing of them becomes a header or a tag."""
    sender = Sender("office@clinic.example", name)
    made = write_message(Outbound("1@clinic.example", "bo@x.example", subject, text), sender, AT)
    read = message_from_bytes(made, policy=default)
    assert read["Subject"] == " ".join(subject.split())
    plain = read.get_body(("plain",)).get_content()
    assert plain.splitlines() == (text.rstrip() + "\n").splitlines()
    assert {key.lower() for key in read} == {
        "from",
        "to",
        "subject",
        "date",
        "message-id",
        "auto-submitted",
        "mime-version",
        "content-type",
    }
    shown = read.get_body(("html",)).get_content()
    inside = shown.partition("<body>")[2].rpartition("</body>")[0]
    tags = inside
    for tag in ("<p>", "</p>", "<br>", "<a href=", "</a>", '">'):
        tags = tags.replace(tag, "")
    assert "<" not in tags


@pytest.mark.parametrize(
    "hostile",
    [
        "a\r\nBcc: all@x.example",
        "a\nb",
        "bo@x.example, c@x.example",
        "<bo@x.example>",
        "bo",
        "@",
        "",
    ],
)
def test_no_address_is_more_than_one(hostile):
    with pytest.raises(ValueError):
        read_address(hostile)
    with pytest.raises(ValueError):
        write_message(Outbound("1@x", hostile, "s", "t"), Sender("a@x.example"), AT)


CLUB = read_definition(
    {
        "name": "club",
        "title": "Club",
        "primaryKey": "number",
        "fields": [
            {"name": "number"},
            {"name": "given"},
            {"name": "born", "type": "date", "nevefield": {"sensitive": True}},
        ],
    }
)


@pytest.mark.parametrize(
    ("subject", "text", "place", "says"),
    [
        ("", "t", "subject", "empty"),
        ("s", " ", "text", "empty"),
        ("s", "Dear {givn}", "text", "given"),
        ("For {born}", "t", "subject", "kept"),
        ("s", "{born}", "text", "kept"),
        ("s", "Dear {given", "text", "brace"),
        ("s", "Dear }given{", "text", "brace"),
        ("s", "{}", "text", "no field"),
        ("s" * 201, "t", "subject", "longer"),
    ],
)
def test_texts_that_cannot_be_filled(subject, text, place, says):
    with pytest.raises(WrongTemplate, match=says) as raised:
        check_template(Template(subject, text), CLUB)
    assert raised.value.place == place


def test_values_are_no_texts_of_their_own():
    """A value that looks like a field is not filled again."""
    filled = fill(
        Template("{given}", "Dear {given}, {number}"), {"given": "{number}", "number": ""}.get
    )
    assert (filled.subject, filled.text) == ("{number}", "Dear {number},")
    assert filled.lacking == ("number",)
