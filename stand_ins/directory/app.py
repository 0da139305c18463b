"""The directory over HTTP; what it takes and gives is told in `docs/directory.md`."""

from __future__ import annotations

import hmac
import json
import re
import time
from pathlib import Path
from typing import Any

from flask import Blueprint, Flask, Response, current_app, request
from scim2_models import EnterpriseUser, Group, PatchOp, SCIMException, User

from stand_ins.directory.keeping import KINDS, Kept, Resource

__all__ = ["make_app"]

PREFIX = "/v2"
LIST = "urn:ietf:params:scim:api:messages:2.0:ListResponse"
ERROR = "urn:ietf:params:scim:api:messages:2.0:Error"
BULK = "urn:ietf:params:scim:api:messages:2.0:BulkResponse"
PAGE, MOST = 100, 500
MOST_WRITES = 100  # in one request
LEAST = 10  # letters of a password
MODELS: dict[str, Any] = {"Users": User[EnterpriseUser], "Groups": Group}
_MEMBER = re.compile(r'members\[value eq (?P<value>"(?:[^"\\]|\\.)*")\]')
_FILTER = re.compile(r'\s*(?P<name>[A-Za-z.]+)\s+eq\s+(?P<value>"(?:[^"\\]|\\.)*")\s*')

directory_api = Blueprint("directory", __name__)


def make_app(
    token: str,
    *,
    folder: Path | None = None,
    accounts: list[dict[str, Any]] | None = None,
    control: str = "",
) -> Flask:
    """Make the directory.

    Args:
        token: Of who may tell it.
        folder: Where it keeps what it holds; None to keep nothing.
        accounts: Those that it begins with.
        control: The token with which it can be told to be slow or busy; "" for nobody.
    """
    app = Flask("directory")
    app.config["MAX_CONTENT_LENGTH"] = 20_000_000
    kept = Kept(folder / "directory.jsonl" if folder else None)
    if not kept.list("Users"):
        for one in accounts or []:
            kept.put("Users", "", one)
    app.config.update(kept=kept, token=token, control=control, slow=0.0, busy=0)
    app.before_request(_let_in)
    app.register_blueprint(directory_api)
    return app


def _answer(body: Any, status: int = 200, **headers: str) -> Response:
    made = Response(json.dumps(body, ensure_ascii=False), status, mimetype="application/scim+json")
    made.headers.update(headers)
    return made


def _no(status: int, detail: str, kind: str = "") -> Response:
    body = {"schemas": [ERROR], "status": str(status), "detail": detail}
    return _answer(body | ({"scimType": kind} if kind else {}), status)


def _let_in() -> Response | None:
    config = current_app.config
    given = request.headers.get("Authorization", "").removeprefix("Bearer ")
    if request.path == "/control":
        ok = config["control"] and hmac.compare_digest(given, config["control"])
        return None if ok else _no(403, "Nobody may do that.")
    if request.path in ("/", "/sign-in"):
        return None
    if not hmac.compare_digest(given.encode(), config["token"].encode()):
        return _no(401, "The token is not known here.")
    if config["slow"]:
        time.sleep(config["slow"])
    if config["busy"] > 0:
        config["busy"] -= 1
        busy = _no(429, "Too much at once.")
        busy.headers["Retry-After"] = "1"
        return busy
    return None


def _kept() -> Kept:
    found: Kept = current_app.config["kept"]
    return found


@directory_api.post("/control")
def control() -> Response:
    """Be slow by some seconds, or busy for some requests."""
    asked = request.get_json()
    current_app.config["slow"] = float(asked.get("slow", 0))
    current_app.config["busy"] = int(asked.get("busy", 0))
    return _answer({})


@directory_api.get(f"{PREFIX}/ServiceProviderConfig")
def config() -> Response:
    """Say what the directory can (RFC 7643, 5)."""
    no = {"supported": False}
    return _answer(
        {
            "schemas": ["urn:ietf:params:scim:schemas:core:2.0:ServiceProviderConfig"],
            "patch": {"supported": True},
            "bulk": {"supported": True, "maxOperations": MOST_WRITES, "maxPayloadSize": 1_000_000},
            "filter": {"supported": True, "maxResults": MOST},
            "changePassword": {"supported": True},
            "sort": no,
            "etag": {"supported": True},
            "authenticationSchemes": [
                {"type": "oauthbearertoken", "name": "Bearer", "description": "RFC 6750"}
            ],
        }
    )


@directory_api.get(f"{PREFIX}/<kind>")
def find(kind: str) -> Response:
    """List resources, all or those with one value, page by page (RFC 7644, 3.4.2)."""
    if kind not in KINDS:
        return _no(404, "There is nothing of that kind.")
    kept = _kept()
    with kept.lock:
        if text := request.args.get("filter", ""):
            asked = _FILTER.fullmatch(text)
            if asked is None:
                return _no(400, "Only one attribute eq a value is understood.", "invalidFilter")
            names = kept.find(kind, asked["name"], json.loads(asked["value"]))
        else:
            names = kept.list(kind)
        start = max(1, request.args.get("startIndex", 1, int))
        count = min(MOST, max(0, request.args.get("count", PAGE, int)))
        page = [kept.get(kind, name) for name in names[start - 1 : start - 1 + count]]
    return _answer(
        {
            "schemas": [LIST],
            "totalResults": len(names),
            "startIndex": start,
            "itemsPerPage": len(page),
            "Resources": page,
        }
    )


@directory_api.get(f"{PREFIX}/<kind>/<name>")
def give(kind: str, name: str) -> Response:
    """Give one."""
    found = _kept().get(kind, name) if kind in KINDS else None
    if found is None:
        return _no(404, "There is none of that name.")
    return _answer(found, 200, ETag=found["meta"]["version"])


@directory_api.post(f"{PREFIX}/<kind>")
def make(kind: str) -> Response:
    """Make one; its name must be its own."""
    if kind not in KINDS:
        return _no(404, "There is nothing of that kind.")
    return _put(kind, "", request.get_json(force=True), 201)


@directory_api.put(f"{PREFIX}/<kind>/<name>")
def replace(kind: str, name: str) -> Response:
    """Put one in the place of what was there."""
    with _kept().lock:
        if (refused := _moved(kind, name)) is not None:
            return refused
        return _put(kind, name, request.get_json(force=True), 200)


@directory_api.patch(f"{PREFIX}/<kind>/<name>")
def change(kind: str, name: str) -> Response:
    """Change one (RFC 7644, 3.5.2)."""
    with _kept().lock:
        if (refused := _moved(kind, name)) is not None:
            return refused
        asked = request.get_json(force=True)
        if kind == "Groups" and (members := _members(name, asked)) is not None:
            made = _kept().move(name, *members)
            return Response(status=204, headers={"ETag": made["meta"]["version"]})
        model = MODELS[kind]
        try:
            resource = model.model_validate(_kept().get(kind, name))
            PatchOp[model].model_validate(asked).patch(resource)
        except SCIMException as error:
            return _no(400, str(error), getattr(error, "scim_type", "") or "invalidValue")
        except ValueError as error:
            return _no(400, str(error).splitlines()[-1], "invalidValue")
        changed = resource.model_dump(mode="json", by_alias=True, exclude_none=True, scim_ctx=None)
        for part in changed.values():
            if isinstance(part, dict):
                part.pop("schemas", None)  # of an extension: the model's, not the user's
        return _put(kind, name, changed, 200)


def _members(name: str, asked: Any) -> tuple[list[Resource], set[str]] | None:
    """Give who comes into a group and who leaves it, where a change is of nothing else: groups are
    large, and are not read as a whole for one member. None for any other change.
    """
    add: dict[str, Resource] = {}
    drop: set[str] = set()
    try:
        operations = PatchOp[Group].model_validate(asked).operations or []
        for one, plain in zip(operations, asked["Operations"], strict=True):
            kind, path = str(one.op.value), str(plain.get("path", ""))
            if kind == "add" and path == "members" and isinstance(plain["value"], list):
                add |= {str(who["value"]): who for who in plain["value"]}
            elif kind == "remove" and (who := _MEMBER.fullmatch(path)):
                drop.add(str(json.loads(who["value"])))
            else:
                return None
    except (SCIMException, ValueError, KeyError, TypeError, AttributeError):
        return None  # the whole tells what is wrong
    there = {
        str(one.get("value")) for one in (_kept().get("Groups", name) or {}).get("members") or []
    }
    # who is in both, or leaves without being there, is asked of the whole
    return None if drop & add.keys() or drop - there else (list(add.values()), drop)


@directory_api.delete(f"{PREFIX}/<kind>/<name>")
def drop(kind: str, name: str) -> Response:
    """Take one out."""
    with _kept().lock:
        if (refused := _moved(kind, name)) is not None:
            return refused
        _kept().drop(kind, name)
    return Response(status=204)


@directory_api.post(f"{PREFIX}/Bulk")
def bundle() -> Response:
    """Do one write after another, and say of each what came of it (RFC 7644, 3.7)."""
    asked = request.get_json(force=True).get("Operations", [])
    if len(asked) > MOST_WRITES:
        return _no(413, f"At most {MOST_WRITES} operations are taken at once.")
    client = current_app.test_client()
    done = []
    for one in asked:
        headers = {"Authorization": request.headers["Authorization"]}
        if one.get("version"):
            headers["If-Match"] = one["version"]
        path, method = f"{PREFIX}{one['path']}", one["method"].upper()
        if path.count("/") > 3 or method not in ("POST", "PUT", "PATCH", "DELETE"):
            made = _no(400, "That is no operation.", "invalidSyntax")
        else:
            made = client.open(path, method=method, json=one.get("data"), headers=headers)
        said = {"method": method, "bulkId": one.get("bulkId"), "status": str(made.status_code)}
        if made.status_code >= 400:
            said["response"] = json.loads(made.data)
        elif method != "DELETE":
            said |= {"version": made.headers["ETag"], "location": _place(path, made)}
        done.append(said)
    return _answer({"schemas": [BULK], "Operations": done})


def _place(path: str, made: Any) -> str:
    return f"{request.host_url.rstrip('/')}{made.headers.get('Location') or path}"


def _moved(kind: str, name: str) -> Response | None:
    found = _kept().get(kind, name) if kind in KINDS else None
    if found is None:
        return _no(404, "There is none of that name.")
    wanted = request.headers.get("If-Match", "")
    if wanted and wanted != found["meta"]["version"]:
        return _no(412, "It is another version by now.")
    return None


def _put(kind: str, name: str, document: Any, status: int) -> Response:
    try:
        MODELS[kind].model_validate(document)
    except ValueError as error:
        return _no(400, str(error).splitlines()[-1], "invalidValue")
    kept = _kept()
    with kept.lock:
        if not document.get(KINDS[kind]):
            return _no(400, f"{KINDS[kind]} is needed.", "invalidValue")
        password = document.pop("password", None)
        if password is not None and len(str(password)) < LEAST:
            return _no(400, f"A password has at least {LEAST} letters.", "invalidValue")
        if kept.is_taken(kind, document, name):
            return _no(409, f"{document[KINDS[kind]]} is taken.", "uniqueness")
        made = kept.put(kind, name, document)
        if password is not None:
            kept.set_password(made["id"], str(password))
    return _answer(
        made,
        status,
        ETag=made["meta"]["version"],
        Location=f"{PREFIX}/{kind}/{made['id']}",
    )


@directory_api.post("/sign-in")
def sign_in() -> Response:
    """Tell whether somebody has the name and the password of an account that is on."""
    asked = request.get_json(force=True)
    kept = _kept()
    for name in kept.find("Users", "userName", str(asked.get("userName", ""))):
        one = kept.get("Users", name) or {}
        if one.get("active", True) and kept.fits(name, str(asked.get("password", ""))):
            return Response(status=204)
    return _no(401, "The name and the password do not fit.")


@directory_api.get("/")
def page() -> Response:
    """Show whom it holds, for who looks at the demo."""
    kept = _kept()
    rows = []
    for name in kept.list("Users"):
        one = kept.get("Users", name) or {}
        groups = ", ".join(group["display"] for group in one.get("groups", []))
        state = "on" if one.get("active", True) else "off"
        state += ", with a password of their own" if kept.has_password(name) else ""
        rows.append(f"{one.get('userName', '')}\t{state}\t{groups}")
    text = f"The directory holds {len(rows)} accounts.\n\n" + "\n".join(rows) + "\n"
    return Response(text, mimetype="text/plain")
