"""From an exception to an answer: one table of statuses, answers as RFC 9457 problem details."""

from __future__ import annotations

from http import HTTPStatus
from typing import TYPE_CHECKING, Any

import structlog
from flask import Response, current_app, json, request
from werkzeug.exceptions import HTTPException, RequestEntityTooLarge

from nevefield.accounts import CodeNeeded, Throttled, WrongKeys, WrongSignIn
from nevefield.accounts.errors import (
    LastAdministrator,
    LinkGone,
    NoStepKey,
    NoSuchAccount,
    NotBegun,
    WeakPassword,
    WrongAccount,
    WrongCode,
    WrongPassword,
)
from nevefield.authority.errors import AuthorityError
from nevefield.cards.errors import (
    CardsRefused,
    DesignMoved,
    DesignTaken,
    NoSuchCard,
    NoSuchDesign,
    NoSuchPicture,
    NoSuchRun,
    NothingToMake,
    OtherNumbers,
    OthersNeed,
    WrongAct,
    WrongPicture,
)
from nevefield.context import (
    Contended,
    DatabaseGone,
    KeyTaken,
    LoadRefused,
    NoPrograms,
    OtherVersion,
    ProgramFailed,
)
from nevefield.copies.errors import CopyFailed, NoSuchCopy
from nevefield.core.errors import (
    CardTooLarge,
    NoNumbersLeft,
    NotRead,
    UnreadableFile,
    WrongAnswer,
    WrongCodes,
    WrongCopy,
    WrongDefinition,
    WrongDesign,
    WrongDestination,
    WrongLayout,
    WrongRecipe,
    WrongStep,
    WrongTemplate,
)
from nevefield.core.visible import visible
from nevefield.destinations.errors import DestinationError
from nevefield.groups.errors import KeptKind, NoSuchKind, WrongPlacing
from nevefield.intakes.errors import (
    CellConflict,
    FileGone,
    NeedsNumber,
    NeedsWaiver,
    NoIntakeOfSheet,
    NoSuchIntake,
    NoSuchSource,
    NoSuchWaiver,
    NotAhead,
    NothingToApply,
    NotThrown,
    OutOfDate,
    WrongEdit,
    WrongRoster,
    WrongSheet,
)
from nevefield.keeping.errors import Erased, HeldBack, WrongErasure, WrongTerm
from nevefield.letters.errors import (
    BeingSent,
    LinkOver,
    NoAccountYet,
    NobodyThere,
    NoLinks,
    NoPasswords,
    NoSuchLetter,
    NotThem,
    OthersNow,
    PasswordRefused,
    PasswordWaits,
    WrongAnswers,
)
from nevefield.mailing.errors import (
    MailStays,
    NoSecrets,
    NoServer,
    WrongServer,
)
from nevefield.openings.errors import NameTaken, NoSuchOpening, OpeningMoved, RosterInUse
from nevefield.passing_on.errors import (
    DestinationKept,
    DestinationMoved,
    DestinationTaken,
    NoKey,
    NoSuchDestination,
    NoSuchFile,
    NothingToTell,
    NotTheirs,
    OthersSend,
    StaysHere,
    TooManyEnds,
    WrongRemedy,
)
from nevefield.practising.errors import NoPlace, UnderWay
from nevefield.rosters.errors import (
    BeyondPart,
    CodesMoved,
    DefinitionMoved,
    NeedsApproval,
    NeverTogether,
    NoSuchChangeSet,
    NoSuchJob,
    NoSuchList,
    NoSuchProposal,
    NoSuchRecord,
    NoSuchRoster,
    NoSuchShortlist,
    NoSuchVersion,
    NotApproved,
    NotReconciled,
    NotScheduled,
    NotTakenBack,
    NotUncovered,
    RosterMoved,
    UnknownFields,
)
from nevefield.setup.errors import NoSuchUnforeseen, WrongInstitution
from nevefield.setup.unforeseen import note
from nevefield.submissions.errors import (
    NoAuthority,
    NoSuchRound,
    NoSuchSubmission,
    NothingToSend,
    OnlyPractice,
    RoundUnderWay,
    WrongDecision,
)
from nevefield.web.access import Forbidden, SignInNeeded

if TYPE_CHECKING:
    from flask import Flask

__all__ = ["STATUS", "problem", "register_errors"]

STATUS: dict[type[Exception], HTTPStatus] = {
    SignInNeeded: HTTPStatus.UNAUTHORIZED,
    WrongSignIn: HTTPStatus.UNAUTHORIZED,
    CodeNeeded: HTTPStatus.UNAUTHORIZED,
    WrongCode: HTTPStatus.UNPROCESSABLE_ENTITY,
    NotBegun: HTTPStatus.CONFLICT,
    NoStepKey: HTTPStatus.CONFLICT,
    WrongKeys: HTTPStatus.UNPROCESSABLE_ENTITY,
    WeakPassword: HTTPStatus.UNPROCESSABLE_ENTITY,
    WrongPassword: HTTPStatus.UNPROCESSABLE_ENTITY,
    WrongAccount: HTTPStatus.UNPROCESSABLE_ENTITY,
    WrongInstitution: HTTPStatus.UNPROCESSABLE_ENTITY,
    LinkGone: HTTPStatus.GONE,
    NoSuchAccount: HTTPStatus.NOT_FOUND,
    LastAdministrator: HTTPStatus.CONFLICT,
    Throttled: HTTPStatus.TOO_MANY_REQUESTS,
    Forbidden: HTTPStatus.FORBIDDEN,
    NoSuchIntake: HTTPStatus.NOT_FOUND,
    NoSuchSource: HTTPStatus.NOT_FOUND,
    NoSuchWaiver: HTTPStatus.NOT_FOUND,
    NoIntakeOfSheet: HTTPStatus.NOT_FOUND,
    NoSuchList: HTTPStatus.NOT_FOUND,
    NoSuchRoster: HTTPStatus.NOT_FOUND,
    KeptKind: HTTPStatus.FORBIDDEN,
    NoSuchKind: HTTPStatus.NOT_FOUND,
    WrongPlacing: HTTPStatus.UNPROCESSABLE_ENTITY,
    NoSuchRecord: HTTPStatus.NOT_FOUND,
    NoSuchUnforeseen: HTTPStatus.NOT_FOUND,
    NoSuchChangeSet: HTTPStatus.NOT_FOUND,
    NoSuchJob: HTTPStatus.NOT_FOUND,
    NoSuchProposal: HTTPStatus.NOT_FOUND,
    NoSuchShortlist: HTTPStatus.NOT_FOUND,
    UnknownFields: HTTPStatus.UNPROCESSABLE_ENTITY,
    BeyondPart: HTTPStatus.FORBIDDEN,
    NotUncovered: HTTPStatus.FORBIDDEN,
    NoSuchVersion: HTTPStatus.NOT_FOUND,
    Erased: HTTPStatus.CONFLICT,
    HeldBack: HTTPStatus.CONFLICT,
    WrongErasure: HTTPStatus.UNPROCESSABLE_ENTITY,
    WrongTerm: HTTPStatus.UNPROCESSABLE_ENTITY,
    FileGone: HTTPStatus.GONE,
    NeverTogether: HTTPStatus.CONFLICT,
    NotRead: HTTPStatus.TOO_MANY_REQUESTS,
    UnreadableFile: HTTPStatus.UNPROCESSABLE_ENTITY,
    WrongRoster: HTTPStatus.UNPROCESSABLE_ENTITY,
    WrongSheet: HTTPStatus.UNPROCESSABLE_ENTITY,
    WrongStep: HTTPStatus.UNPROCESSABLE_ENTITY,
    WrongDefinition: HTTPStatus.UNPROCESSABLE_ENTITY,
    WrongRecipe: HTTPStatus.UNPROCESSABLE_ENTITY,
    WrongCodes: HTTPStatus.UNPROCESSABLE_ENTITY,
    WrongEdit: HTTPStatus.UNPROCESSABLE_ENTITY,
    NothingToApply: HTTPStatus.CONFLICT,
    NotThrown: HTTPStatus.CONFLICT,
    NotAhead: HTTPStatus.UNPROCESSABLE_ENTITY,
    NeedsNumber: HTTPStatus.CONFLICT,
    NeedsWaiver: HTTPStatus.CONFLICT,
    CellConflict: HTTPStatus.CONFLICT,
    OutOfDate: HTTPStatus.CONFLICT,
    CodesMoved: HTTPStatus.CONFLICT,
    DefinitionMoved: HTTPStatus.CONFLICT,
    RosterMoved: HTTPStatus.CONFLICT,
    NotTakenBack: HTTPStatus.CONFLICT,
    NeedsApproval: HTTPStatus.CONFLICT,
    NotApproved: HTTPStatus.CONFLICT,
    NotScheduled: HTTPStatus.CONFLICT,
    NoSuchSubmission: HTTPStatus.NOT_FOUND,
    NoSuchRound: HTTPStatus.NOT_FOUND,
    NothingToSend: HTTPStatus.CONFLICT,
    OnlyPractice: HTTPStatus.CONFLICT,
    NoPlace: HTTPStatus.CONFLICT,
    UnderWay: HTTPStatus.CONFLICT,
    RoundUnderWay: HTTPStatus.CONFLICT,
    WrongDecision: HTTPStatus.UNPROCESSABLE_ENTITY,
    WrongAnswer: HTTPStatus.UNPROCESSABLE_ENTITY,
    NoAuthority: HTTPStatus.CONFLICT,
    WrongLayout: HTTPStatus.UNPROCESSABLE_ENTITY,
    AuthorityError: HTTPStatus.BAD_GATEWAY,
    NoSuchOpening: HTTPStatus.NOT_FOUND,
    OpeningMoved: HTTPStatus.CONFLICT,
    NameTaken: HTTPStatus.CONFLICT,
    RosterInUse: HTTPStatus.CONFLICT,
    KeyTaken: HTTPStatus.CONFLICT,
    NotReconciled: HTTPStatus.INTERNAL_SERVER_ERROR,
    LoadRefused: HTTPStatus.INTERNAL_SERVER_ERROR,
    DatabaseGone: HTTPStatus.SERVICE_UNAVAILABLE,
    Contended: HTTPStatus.SERVICE_UNAVAILABLE,
    OtherVersion: HTTPStatus.SERVICE_UNAVAILABLE,
    NoPrograms: HTTPStatus.SERVICE_UNAVAILABLE,
    ProgramFailed: HTTPStatus.SERVICE_UNAVAILABLE,
    WrongCopy: HTTPStatus.UNPROCESSABLE_ENTITY,
    NoSuchCopy: HTTPStatus.NOT_FOUND,
    CopyFailed: HTTPStatus.CONFLICT,
    NoSuchDesign: HTTPStatus.NOT_FOUND,
    NoSuchRun: HTTPStatus.NOT_FOUND,
    NoSuchCard: HTTPStatus.NOT_FOUND,
    NoSuchPicture: HTTPStatus.NOT_FOUND,
    DesignMoved: HTTPStatus.CONFLICT,
    DesignTaken: HTTPStatus.CONFLICT,
    NothingToMake: HTTPStatus.CONFLICT,
    OtherNumbers: HTTPStatus.CONFLICT,
    OthersNeed: HTTPStatus.CONFLICT,
    CardsRefused: HTTPStatus.CONFLICT,
    WrongAct: HTTPStatus.CONFLICT,
    WrongPicture: HTTPStatus.UNPROCESSABLE_ENTITY,
    WrongDesign: HTTPStatus.UNPROCESSABLE_ENTITY,
    WrongDestination: HTTPStatus.UNPROCESSABLE_ENTITY,
    WrongTemplate: HTTPStatus.UNPROCESSABLE_ENTITY,
    WrongServer: HTTPStatus.UNPROCESSABLE_ENTITY,
    NoSecrets: HTTPStatus.CONFLICT,
    NoServer: HTTPStatus.CONFLICT,
    NobodyThere: HTTPStatus.CONFLICT,
    OthersNow: HTTPStatus.CONFLICT,
    MailStays: HTTPStatus.FORBIDDEN,
    NoSuchLetter: HTTPStatus.NOT_FOUND,
    NoLinks: HTTPStatus.CONFLICT,
    LinkOver: HTTPStatus.GONE,
    NotThem: HTTPStatus.FORBIDDEN,
    WrongAnswers: HTTPStatus.UNPROCESSABLE_ENTITY,
    NoPasswords: HTTPStatus.GONE,
    NoAccountYet: HTTPStatus.CONFLICT,
    PasswordRefused: HTTPStatus.UNPROCESSABLE_ENTITY,
    PasswordWaits: HTTPStatus.BAD_GATEWAY,
    BeingSent: HTTPStatus.CONFLICT,
    NoSuchDestination: HTTPStatus.NOT_FOUND,
    NoSuchFile: HTTPStatus.NOT_FOUND,
    DestinationTaken: HTTPStatus.CONFLICT,
    DestinationKept: HTTPStatus.CONFLICT,
    DestinationMoved: HTTPStatus.CONFLICT,
    NothingToTell: HTTPStatus.CONFLICT,
    TooManyEnds: HTTPStatus.CONFLICT,
    OthersSend: HTTPStatus.CONFLICT,
    NoKey: HTTPStatus.CONFLICT,
    StaysHere: HTTPStatus.CONFLICT,
    NotTheirs: HTTPStatus.FORBIDDEN,
    WrongRemedy: HTTPStatus.UNPROCESSABLE_ENTITY,
    DestinationError: HTTPStatus.BAD_GATEWAY,
    NoNumbersLeft: HTTPStatus.CONFLICT,
    CardTooLarge: HTTPStatus.CONFLICT,
}
_log = structlog.get_logger()


def problem(status: int, detail: str, kind: str = "about:blank", **more: Any) -> Response:
    """Answer with a problem: `type`, `title`, `status`, `detail`."""
    body = {
        "type": kind,
        "title": HTTPStatus(status).phrase,
        "status": int(status),
        "detail": visible(detail),
        **more,
    }
    return Response(json.dumps(body), status, mimetype="application/problem+json")


def register_errors(app: Flask) -> None:
    """Tell an application how to answer exceptions."""
    for kind in STATUS:
        app.register_error_handler(kind, _known)
    app.register_error_handler(HTTPException, _http)
    app.register_error_handler(Exception, _unknown)


def _known(error: Exception) -> Response:
    kind = type(error).__name__
    more: dict[str, Any] = {"people": error.people} if isinstance(error, NotTakenBack) else {}
    if isinstance(error, WrongEdit):
        more = {"fields": dict(error.found), "waits": error.waits, "ends": error.ends}
    if isinstance(error, WrongAnswers | PasswordRefused):
        more = {"problems": error.problems}
    if isinstance(error, CellConflict):
        more = {
            "line": error.line,
            "field": error.field,
            "theirs": error.theirs,
            "yours": error.yours,
            "by": error.by,
        }
    if isinstance(error, Throttled):
        more = {"seconds": error.seconds}
    if isinstance(error, CodeNeeded):
        more = {"needs": "code", "wrong": error.is_wrong}
    status = next(STATUS[one] for one in type(error).__mro__ if one in STATUS)
    detail = error.openly if isinstance(error, DatabaseGone) else str(error)
    if isinstance(error, DatabaseGone):
        _log.error("database", problem=error.reason)
    # it was told from what should never be, and nobody meant it to
    if status == HTTPStatus.INTERNAL_SERVER_ERROR:
        _note(error)
    answer = problem(status, detail, f"urn:nevefield:{kind}", **more)
    if isinstance(error, Throttled):
        answer.headers["Retry-After"] = str(error.seconds)
    return answer


def _http(error: HTTPException) -> Response:
    if isinstance(error, RequestEntityTooLarge):
        most = (current_app.config["MAX_CONTENT_LENGTH"] or 0) // 1_000_000
        return problem(
            413,
            f"The file is too large: at most {most} MB are taken. Send it in parts, or ask for a"
            " smaller export.",
        )
    return problem(error.code or 500, error.description or "")


def _unknown(error: Exception) -> Response:
    mark = _note(error)
    return problem(
        500,
        "Something went wrong that we did not foresee. Nothing was changed; try again, or tell"
        f" whoever looks after this: it stands in the log as {mark}.",
    )


def _note(error: Exception) -> str:
    rule = request.url_rule.rule if request.url_rule else "nowhere"
    return note(current_app.extensions["nevefield"], f"{request.method} {rule}", error)
