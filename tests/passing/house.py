"""Another institution's destinations: a clinic's people, with names in four scripts, wards that
several people share, keys to cupboards that are privileges, and a birthday that stays here.
"""

from __future__ import annotations

import random
import threading
from typing import Any

import httpx
from scim2_models import ScimProvider
from scim2_server.memory import InMemoryStorage
from scim2_server.service import ScimService
from scim2_server.testserver.application import BEARER_TOKEN_SCHEME, BearerTokenApplication
from scim2_server.utils import (
    load_default_resource_types,
    load_default_schemas,
    load_default_service_provider_config,
)

from nevefield.core.codes import Code
from nevefield.rosters.opening import open_roster_with
from nevefield.store.rosters import replace_code_list

__all__ = ["PEOPLE", "TOKEN", "Line", "directory_of", "file_of", "open_clinic"]

TOKEN = "of-the-clinic"
CLINIC = {
    "name": "clinic",
    "title": "Clinic staff",
    "primaryKey": "badge",
    "fields": [
        {"name": "badge", "title": "Badge", "constraints": {"required": True}},
        {"name": "surname", "title": "Surname", "nevefield": {"means": "family-name"}},
        {"name": "forename", "title": "Forename", "nevefield": {"means": "given-name"}},
        {"name": "mail", "title": "Mail", "format": "email"},
        {"name": "wards", "title": "Wards", "nevefield": {"codeList": "ward", "several": ";"}},
        {"name": "keys", "title": "Keys", "nevefield": {"codeList": "key", "several": ";"}},
        {"name": "born", "title": "Born", "type": "date", "nevefield": {"sensitive": True}},
        {"name": "until", "title": "Until", "type": "date"},
    ],
}
PEOPLE = [
    ("A-01", "Ødegård", "Åse", "aase@clinic.example", ["N", "S"], ["P"], "1980-02-29", ""),
    ("A-02", "O'Brien-Yılmaz", "Ceyda", "ceyda@clinic.example", ["N"], [], "1991-07-01", ""),
    ("B-03", "Παπαδοπούλου", "Ελένη", "eleni@clinic.example", [], ["P", "Q"], "1975-12-31", ""),
    ("B-04", "Гончаренко", "Ольга", "", ["S"], [], "1966-01-15", ""),
    ("C-05", "Ng", "Li", "li.ng@clinic.example", ["S", "E"], [], "2001-05-05", "2026-10-01"),
    ("C-06", "Ng", "Liang", "liang@clinic.example", ["E"], [], "1999-09-09", ""),
    ("D-07", 'Smith, "Jr"', "Bo; <b>", "bo@clinic.example", ["N"], [], "1970-01-01", "2026-08-31"),
]
NAMES = ("badge", "surname", "forename", "mail", "wards", "keys", "born", "until")


def open_clinic(context, people=PEOPLE) -> int:
    with context.database.transaction() as connection:
        wards = [Code("N", "North ward"), Code("S", "Süd"), Code("E", "Emergency")]
        replace_code_list(connection, "ward", wards)
        replace_code_list(connection, "key", [Code("P", "Poisons"), Code("Q", "Quarantine")])
    records = [
        {name: value for name, value in zip(NAMES, one, strict=True) if value} for one in people
    ]
    return open_roster_with(context, CLINIC, records)


WORKING = {"any": [{"field": "until", "filled": False}, {"field": "until", "from": "today"}]}


def directory_of(**more: Any) -> dict[str, Any]:
    """The clinic's directory: whoever works there, by SCIM."""
    return {
        "name": "directory",
        "title": "Directory",
        "way": {"kind": "scim", "address": "http://directory.example/v2", **more.pop("way", {})},
        "shares": [
            {
                "roster": "clinic",
                "where": WORKING,
                "puts": [
                    {
                        "to": "userName",
                        "pattern": {
                            "pieces": [
                                {"field": "forename", "letters": 1},
                                {"text": "."},
                                {"field": "surname"},
                            ]
                        },
                        "is_needed": True,
                    },
                    {"to": "name.familyName", "from": "surname"},
                    {"to": "name.givenName", "from": "forename"},
                    {"to": 'emails[type eq "work"].value', "from": "mail"},
                    {
                        "to": "urn:ietf:params:scim:schemas:extension:enterprise:2.0:User:employeeNumber",  # noqa: E501
                        "from": "badge",
                    },
                ],
                "groups": [
                    {"from": "wards"},
                    {"from": "keys", "before": "Key: ", "is_privilege": True},
                ],
            }
        ],
        **more,
    }


def file_of(form: str, puts: list[dict[str, Any]] | None = None, **way: Any) -> dict[str, Any]:
    """A file for somebody, of everybody."""
    return {
        "name": "list",
        "title": "List",
        "way": {"kind": "file", "format": form, **way},
        "shares": [
            {
                "roster": "clinic",
                "puts": puts
                or [
                    {"to": "Badge", "from": "badge"},
                    {"to": "Surname", "from": "surname"},
                    {"to": "Wards", "from": "wards", "form": "label"},
                ],
            }
        ],
    }


def _foreign(token: str, *, patches: bool, bundles: bool) -> Any:
    """A server of the protocol that we did not write."""
    config = load_default_service_provider_config()
    config.authentication_schemes = [BEARER_TOKEN_SCHEME]
    config.patch.supported = patches
    config.bulk.supported = bundles
    provider = ScimProvider.from_discovery(
        load_default_schemas().values(), load_default_resource_types().values(), config=config
    )
    service = ScimService(provider, secret="s" * 40)
    return BearerTokenApplication(InMemoryStorage(), provider, service, [token])


class Line(httpx.BaseTransport):
    """A server at the end of a line that can be bad: one that we did not write, or the stand-in."""

    def __init__(
        self, app: Any = None, *, token: str = TOKEN, patches: bool = True, bundles: bool = True
    ) -> None:
        app = app or _foreign(token, patches=patches, bundles=bundles)
        self._app = app
        self._inner = httpx.WSGITransport(app=app, raise_app_exceptions=True)
        self.token = token
        self.lock = threading.RLock()
        self.chance = random.Random(0)
        self.bad = 0.0  # of requests
        self.answers: list[httpx.Response] = []  # in place of the next ones
        self.asked: list[tuple[str, str]] = []
        self.after_each = lambda: None

    def handle_request(self, request: httpx.Request) -> httpx.Response:
        with self.lock:
            self.asked.append((request.method, request.url.path))
            if self.answers:
                return self.answers.pop(0)
            trouble = self.chance.random() < self.bad and self.chance.choice(
                ["before", "after", "500", "429"]
            )
            if trouble == "before":
                raise httpx.ConnectError("no")
            if trouble == "500":
                return httpx.Response(500)
            if trouble == "429":
                return httpx.Response(429, headers={"Retry-After": "0"})
            request.headers["Host"] = "directory.example"
            answer = self._inner.handle_request(request)
            answer.read()
            self.after_each()
            if trouble == "after":
                raise httpx.ReadError("lost")
            return answer

    def look(self, path: str) -> dict[str, Any]:
        """Ask it as somebody else, over a good line."""
        client = httpx.Client(
            transport=self._inner,
            base_url="http://directory.example/v2",
            headers={"Authorization": f"Bearer {self.token}"},
        )
        return client.get(path).json()

    def put(self, kind: str, document: dict[str, Any]) -> str:
        """Make something there, as somebody else."""
        return self._send("POST", f"/{kind}", document)["id"]

    def replace(self, kind: str, ref: str, **values: Any) -> None:
        """Alter something there, as somebody else."""
        whole = self.look(f"/{kind}/{ref}") | values
        self._send("PUT", f"/{kind}/{ref}", {k: v for k, v in whole.items() if k != "groups"})

    def _send(self, method: str, path: str, document: dict[str, Any]) -> dict[str, Any]:
        client = httpx.Client(
            transport=self._inner,
            base_url="http://directory.example/v2",
            headers={
                "Authorization": f"Bearer {self.token}",
                "Content-Type": "application/scim+json",
            },
        )
        answer = client.request(method, path, json=document)
        assert answer.status_code in (200, 201), answer.text
        return answer.json()

    def whose(self, names: set[str], password: str) -> set[str]:
        """Those of some whose password it is."""
        if isinstance(self._app, BearerTokenApplication):
            resources = self._app.storage.resources
            held = {one.user_name: one.password for one in resources if hasattr(one, "user_name")}
            return {one for one in names if held[one] == password}
        client = httpx.Client(transport=self._inner, base_url="http://directory.example")
        said = {
            one: client.post("/sign-in", json={"userName": one, "password": password}).status_code
            for one in names
        }
        assert set(said.values()) <= {204, 401}
        return {one for one, status in said.items() if status == 204}

    def users(self) -> dict[str, dict[str, Any]]:
        """Everybody by name, with the groups that they are in."""
        found = {one["userName"]: one for one in self.look("/Users?count=1000")["Resources"]}
        groups = self.look("/Groups?count=1000").get("Resources", [])
        for one in found.values():
            one["in"] = sorted(
                group["displayName"]
                for group in groups
                if any(member["value"] == one["id"] for member in group.get("members", []))
            )
        return found
