"""What mail servers write back, in the habits of several, and what becomes of the mails."""

from __future__ import annotations

from email import message_from_bytes
from email.message import EmailMessage

import pytest
from click.testing import CliRunner
from hypothesis import given
from hypothesis import strategies as st

from nevefield.cli.main import commands
from nevefield.core.mailing.returned import MOST_BYTES, Returned, read_returned
from nevefield.letters.writing import send_letter
from nevefield.mailing.returning import CameBack, take_returned
from nevefield.mailing.serving import list_mails
from tests.mailing.house import letter, send, states

ID = "20260901.4711.x@clinic.example"
ORIGINAL = f"""\
From: "Clinic, =?utf-8?q?=C3=98deg=C3=A5rd?=" <office@clinic.example>\r
To: nobody@clinic.example\r
Subject: For A-01\r
MESSAGE-ID: <{ID}>\r
\r
Dear Li,\r
"""
FAILED = """\
Reporting-MTA: dns; mx.clinic.example\r
Arrival-Date: Tue, 1 Sep 2026 09:00:00 +0000\r
\r
Final-Recipient: rfc822; nobody@clinic.example\r
Action: {action}\r
Status: {status}\r
Diagnostic-Code: smtp; {words}\r
"""


def report(
    original: str = ORIGINAL,
    *,
    action: str = "failed",
    status: str = "5.1.1",
    words: str = "550 5.1.1 no such\r\n  user",
    whole: str = "message/rfc822",
    more: str = "",
) -> bytes:
    """A report as a mail server writes it."""
    about = FAILED.format(action=action, status=status, words=words) + more
    return (
        "From: MAILER-DAEMON@mx.clinic.example (Mail Delivery System)\r\n"
        "To: office@clinic.example\r\n"
        "Subject: Undelivered Mail Returned to Sender\r\n"
        "Message-ID: <of-the-report@mx.clinic.example>\r\n"
        "MIME-Version: 1.0\r\n"
        'Content-Type: multipart/report; report-type=delivery-status; boundary="==b"\r\n'
        "\r\n"
        "--==b\r\nContent-Type: text/plain; charset=utf-8\r\n\r\nUnzustellbar: 用户不存在\r\n"
        f"--==b\r\nContent-Type: message/delivery-status\r\n\r\n{about}\r\n"
        f"--==b\r\nContent-Type: {whole}\r\n\r\n{original}\r\n"
        "--==b--\r\n"
    ).encode()


def forwarded(data: bytes) -> bytes:
    """The same, sent on by somebody as an attachment."""
    made = EmailMessage()
    made["Subject"] = "Fwd: what is this?"
    made["Message-ID"] = "<of-the-forward@clinic.example>"
    made.set_content("Can you look at this?")
    made.add_attachment(message_from_bytes(data))
    return made.as_bytes()


ANOTHER = "\r\nFinal-Recipient: rfc822; copy@clinic.example\r\nAction: relayed\r\nStatus: 2.0.0\r\n"
NEITHER = FAILED.format(action="delivered", status="2.0.0", words="250 ok").partition("\r\n\r\n")[2]
GONE = Returned(ID, True, "5.1.1", "550 5.1.1 no such user")


@pytest.mark.parametrize(
    ("data", "said"),
    [
        (report(), [GONE]),
        (report(whole="text/rfc822-headers"), [GONE]),
        (report(whole="text/rfc822-headers; charset=us-ascii"), [GONE]),
        (forwarded(report()), [GONE]),
        (report(more=ANOTHER), [GONE]),
        (report().replace(b"\r\n", b"\n"), [GONE]),
        (
            report(action="Delayed", status="4.4.1 (timed out)", words="x"),
            [Returned(ID, False, "4.4.1", "x")],
        ),
        (report(status="none", words=""), [Returned(ID, True, "", "")]),
        (report(action="delivered"), []),
        (report(action="", more=NEITHER), []),
        (report(original="To: x\r\n\r\nno number"), []),
        (ORIGINAL.encode(), []),
        (b"", []),
        (b"\x00\xff" * 99, []),
        (report()[:600], []),
        (report() + b" " * MOST_BYTES, []),
        (report().replace(b"delivery-status\r\n\r\n", b"delivery-status\r\n\r\n\r\n\r\n"), [GONE]),
    ],
)
def test_read(data, said):
    assert read_returned(data) == said


def test_an_absence_is_no_report():
    """Who is away answers the mail: its number stands in that answer, which is no report."""
    made = EmailMessage()
    made["Auto-Submitted"] = "auto-replied"
    made["In-Reply-To"] = made["References"] = f"<{ID}>"
    made["Subject"] = "Out of the office: failed 5.1.1"
    made.set_content(ORIGINAL.replace("\r", ""))
    assert read_returned(made.as_bytes()) == []


def test_parts_within_parts():
    """What is packed deeper than anybody forwards is not unpacked."""
    data = report()
    for _ in range(40):
        data = forwarded(data)
    assert read_returned(data) == []


@given(st.binary(max_size=2_000), st.integers(0, 2_000), st.integers(0, 600))
def test_whatever_comes_is_read(piece, place, length):
    """A report of which anything was written over is one about the same mail, or none."""
    data = report()
    found = read_returned(data[:place] + piece + data[place + length :])
    assert all(isinstance(one, Returned) and "<" not in one.message_id for one in found)


def test_what_came_back_is_said(office, catcher, monkeypatch, database_url):
    """Of whom a mail came back it stands there, in the letter too; who is late is not given up;
    twice is once, and what is about nobody alters nothing.
    """
    send_letter(office, letter(office), 6, "press-0001", "", None)
    send(office)
    went = {str(mail["To"]): mail for _, mail in catcher.mails()}
    before = states(office)
    back, late = (went[f"{name}@clinic.example"] for name in ("aase", "bo"))

    def about(mail, **more):
        return report(f"Message-ID: {mail['Message-ID']}\r\n\r\n", **more)

    messages = [
        about(late, action="delayed", words="450 busy"),
        about(back, words="550 5.1.1 <script>alert(1)</script>"),
        report(),
        ORIGINAL.encode(),
    ]
    first = take_returned(office, messages, None)
    assert first == CameBack(returned=1, late=1, unknown=1, others=1)
    assert states(office) == before | {"sent": before["sent"] - 1, "refused": 1}
    assert take_returned(office, messages[1:2] * 2, None) == CameBack(known=2)
    said = {one.recipient: (one.state, one.answer, one.body) for one in list_mails(office, "", 0)}
    assert said["aase@clinic.example"] == (
        "refused", "it came back: 550 5.1.1 <script>alert(1)</script>", None,
    )  # fmt: skip
    assert said["bo@clinic.example"][:2] == ("sent", "late: 5.1.1 450 busy")
    assert take_returned(office, [about(late)], None).returned == 1
    monkeypatch.setenv("NEVEFIELD_DATABASE_URL", database_url)
    other = went["liang@clinic.example"]
    done = CliRunner().invoke(commands, ["mail", "returned"], input=about(other))
    assert (done.exit_code, done.output) == (0, "returned: 1\n")
    assert states(office)["refused"] == 3
