"""What was caught, as pages: a list, and each mail."""

from __future__ import annotations

from html import escape
from typing import TYPE_CHECKING

from flask import Flask, Response, abort

if TYPE_CHECKING:
    from stand_ins.mail.catching import Catcher

__all__ = ["make_app"]

HEAD = (
    "<!doctype html><html lang='en'><meta charset='utf-8'><title>{title}</title><style>body"
    "{{font:15px/1.5 sans-serif;max-width:50em;margin:2em auto;padding:0 1em}}td{{padding:2px 14px"
    " 2px 0}}pre{{white-space:pre-wrap;border:1px solid #999;padding:1em}}</style><h1>{title}</h1>"
)
POLICY = "default-src 'none'; style-src 'unsafe-inline'"


def make_app(catcher: Catcher) -> Flask:
    """Make the pages.

    Args:
        catcher: What has the mails.
    """
    app = Flask(__name__)

    @app.get("/")
    def listed() -> Response:
        rows = "".join(
            f"<tr><td><a href='/{number}'>{escape(str(mail['Subject']))}</a><td>"
            f"{escape(str(mail['To']))}<td>{escape(str(mail['Date']))}"
            for number, mail in catcher.mails()
        )
        table = f"<table>{rows}</table>" if rows else "<p>Nothing was caught yet.</p>"
        return _page("Mails that were caught", table)

    @app.get("/<int:number>")
    def shown(number: int) -> Response:
        mail = dict(catcher.mails()).get(number)
        if mail is None:
            abort(404)
        heads = "".join(
            f"<tr><td>{escape(name)}<td>{escape(str(value))}" for name, value in mail.items()
        )
        body = mail.get_body(("plain",))
        text = escape(body.get_content() if body else "")
        back = "<p><a href='/'>All of them</a></p>"
        return _page(str(mail["Subject"]), f"{back}<table>{heads}</table><pre>{text}</pre>")

    return app


def _page(title: str, content: str) -> Response:
    answer = Response(HEAD.format(title=escape(title)) + content)
    answer.headers["Content-Security-Policy"] = POLICY
    return answer
