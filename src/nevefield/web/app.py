"""The application factory."""

from __future__ import annotations

import mimetypes
from pathlib import Path
from typing import TYPE_CHECKING

from flask import Response, current_app, request, send_from_directory
from flask_compress import Compress
from flask_openapi3 import Info, OpenAPI
from pydantic import ValidationError
from werkzeug.exceptions import HTTPException

from nevefield import __version__
from nevefield.context import Context
from nevefield.logs import configure
from nevefield.settings import Settings
from nevefield.web.access import check_access, open_to_all
from nevefield.web.bodies import StrictJSON, check_body
from nevefield.web.cards.routes_designs import card_design_api
from nevefield.web.cards.routes_photos import photo_api
from nevefield.web.cards.routes_runs import card_run_api
from nevefield.web.codes.routes import code_api
from nevefield.web.describing import describe
from nevefield.web.desk.routes_desk import desk_api
from nevefield.web.desk.routes_links import link_api
from nevefield.web.desk.routes_second import second_api
from nevefield.web.desk.routes_session import session_api
from nevefield.web.errors import problem, register_errors
from nevefield.web.groups.routes import group_api
from nevefield.web.intakes.routes_changes import change_api
from nevefield.web.intakes.routes_files import file_api
from nevefield.web.intakes.routes_people import people_api
from nevefield.web.intakes.routes_rows import row_api
from nevefield.web.intakes.routes_sources import source_api
from nevefield.web.letters.routes import letter_api
from nevefield.web.openings.routes import opening_api
from nevefield.web.passing.routes import passing_api
from nevefield.web.passing.scim import SCIM_PATH, ask_scim
from nevefield.web.proposals.routes_proposals import proposal_api
from nevefield.web.proposals.routes_scheduled import scheduled_api
from nevefield.web.proxies import BehindProxies, read_networks
from nevefield.web.repeating import Repeating
from nevefield.web.rosters.routes_definitions import definition_api
from nevefield.web.rosters.routes_doubles import double_api
from nevefield.web.rosters.routes_keeping import keeping_api
from nevefield.web.rosters.routes_receipts import receipt_api
from nevefield.web.rosters.routes_records import roster_api
from nevefield.web.rosters.routes_shortlists import shortlist_api
from nevefield.web.rosters.routes_waivers import waiver_api
from nevefield.web.setup.routes import unforeseen_api
from nevefield.web.setup.routes_copies import copy_api
from nevefield.web.setup.routes_mail import mail_api
from nevefield.web.setup.routes_people import account_api
from nevefield.web.setup.routes_practice import practice_api
from nevefield.web.setup.routes_programs import program_api
from nevefield.web.setup.routes_trail import trail_api
from nevefield.web.submissions.routes import submission_api
from nevefield.web.watching import watch

if TYPE_CHECKING:
    from collections.abc import Callable

__all__ = ["create_app", "openapi_document"]

# The front end's own code only; styles are set from script by its component library, hence
# 'unsafe-inline' for them.
POLICY = (
    "default-src 'none'; script-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data:;"
    " font-src 'self'; connect-src 'self'; form-action 'self'; base-uri 'none'; frame-ancestors"
    " 'none'"
)

METHODS = ["GET", "POST", "PUT", "DELETE", "PATCH"]
APIS = (
    session_api,
    second_api,
    program_api,
    keeping_api,
    link_api,
    desk_api,
    roster_api,
    receipt_api,
    double_api,
    waiver_api,
    code_api,
    definition_api,
    opening_api,
    group_api,
    file_api,
    row_api,
    change_api,
    people_api,
    proposal_api,
    scheduled_api,
    shortlist_api,
    source_api,
    submission_api,
    card_design_api,
    card_run_api,
    photo_api,
    letter_api,
    passing_api,
    unforeseen_api,
    account_api,
    copy_api,
    practice_api,
    mail_api,
    trail_api,
)


def create_app(settings: Settings | None = None, context: Context | None = None) -> OpenAPI:
    """Make the application.

    Args:
        settings: From the environment when left out.
        context: Made of the settings when left out; tests hand in their own.
    """
    settings = settings or Settings.from_environment()
    app = Repeating(
        __name__,
        info=Info(title="Nevefield", version=__version__),
        doc_ui=False,
        static_folder=None,
        validation_error_callback=_not_valid,
    )
    app.config["MAX_CONTENT_LENGTH"] = settings.max_upload_mb * 1_000_000
    app.config["MAX_FORM_MEMORY_SIZE"] = 1_000_000
    app.extensions["nevefield"] = context or Context.of(settings)
    app.json = StrictJSON(app)
    configure(settings.log)
    watch(app, settings.log)  # first: what is refused has its number too
    app.before_request(check_access)
    app.before_request(check_body)
    app.after_request(_protect)
    # The token of a session stands in an answer that holds nothing of the request, so that nobody
    # can guess it from the sizes of compressed answers (BREACH).
    app.config["COMPRESS_MIMETYPES"] = ["application/json"]
    app.config["COMPRESS_ALGORITHM"] = ["gzip"]
    app.config["COMPRESS_LEVEL"] = 4
    app.config["COMPRESS_MIN_SIZE"] = 1_000
    Compress(app)
    register_errors(app)
    for api in APIS:
        app.register_api(api)
    app.add_url_rule("/api/<path:rest>", view_func=_nowhere, methods=METHODS)
    app.add_url_rule(f"{SCIM_PATH}/<path:rest>", view_func=ask_scim, methods=METHODS)
    app.add_url_rule(SCIM_PATH, view_func=ask_scim, methods=METHODS)
    serve = _front_end(Path(settings.front_end) if settings.front_end else None)
    app.add_url_rule("/", view_func=serve, endpoint="front_end", defaults={"place": ""})
    app.add_url_rule("/<path:place>", view_func=serve, endpoint="front_end")
    app.wsgi_app = BehindProxies(app.wsgi_app, read_networks(settings.trusted_proxies))  # type: ignore[method-assign]
    return app


@open_to_all
def _nowhere(rest: str) -> Response:
    """Answer for what is not there, or not for this method."""
    adapter = current_app.create_url_adapter(request)
    allowed = []
    for method in METHODS:
        try:
            endpoint = adapter.match(method=method)[0] if adapter else ""
        except HTTPException:
            continue
        if endpoint not in ("_nowhere", "front_end", ""):
            allowed.append(method)
    if not allowed:
        return problem(404, f"There is nothing at /api/{rest}.")
    answer = problem(
        405, f"Nothing is done there by {request.method}; known are {', '.join(allowed)}."
    )
    answer.headers["Allow"] = ", ".join(allowed)
    return answer


# Endings of what the build packed, the smallest first, with their names in HTTP.
PACKED = {".br": "br", ".gz": "gzip"}


def _send_packed(directory: Path, place: str, there: frozenset[str]) -> Response:
    # as small as the browser can read it; the build packs what becomes smaller by it
    for ending, name in PACKED.items():
        if place + ending in there and request.accept_encodings[name] > 0:
            answer = send_from_directory(
                directory, place + ending, mimetype=mimetypes.guess_type(place)[0]
            )
            answer.headers["Content-Encoding"] = name
            break
    else:
        answer = send_from_directory(directory, place)
    answer.vary.add("Accept-Encoding")
    return answer


def _front_end(directory: Path | None) -> Callable[[str], Response]:
    # What there is, is listed once: no address is ever looked for among files. Without a directory
    # there is nothing: never what happens to lie where the product was started.
    there: frozenset[str] = frozenset()
    if directory is not None:
        files = (path for path in directory.rglob("*") if path.is_file())
        there = frozenset(path.relative_to(directory).as_posix() for path in files)

    @open_to_all
    def serve(place: str) -> Response:
        """Give a file of the front end, or its page for every place in it."""
        if directory is not None and place in there:
            answer = _send_packed(directory, place, there)
            if place.startswith("assets/"):
                # named by their content
                answer.headers["Cache-Control"] = "public, max-age=31536000, immutable"
            return answer
        if directory is None or not (directory / "index.html").is_file():
            return Response("The front end is not built; run ./start.", 503, mimetype="text/plain")
        answer = _send_packed(directory, "index.html", there)
        answer.headers["Cache-Control"] = "no-cache"
        return answer

    return serve


def _protect(answer: Response) -> Response:
    answer.headers.setdefault("Content-Security-Policy", POLICY)
    answer.headers.setdefault("X-Content-Type-Options", "nosniff")
    answer.headers.setdefault("Referrer-Policy", "same-origin")
    if request.is_secure:
        answer.headers.setdefault("Strict-Transport-Security", "max-age=31536000")
    # whatever it is, it is nobody else's: also a file that is saved
    if request.path.startswith("/api/"):
        answer.headers["Cache-Control"] = "no-store"
    return answer


def _not_valid(error: ValidationError) -> Response:
    first = error.errors()[0]
    place = ".".join(str(part) for part in first["loc"])
    return problem(422, f"{place or 'The request'}: {first['msg']}.", "urn:nevefield:NotValid")


def openapi_document() -> dict[str, object]:
    """Return the OpenAPI document, from which the front end's types are made."""
    for api in APIS:
        api.describe()
    app = create_app(Settings())
    return describe(app, dict(app.api_doc))
