"""Outside systems ask us by SCIM: what they read, what they may propose, and what becomes of it;
checked by a checker and asked by a client that we did not write.
"""

from __future__ import annotations

import dataclasses
import json
import threading
from concurrent.futures import ThreadPoolExecutor
from typing import Any

import httpx
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from scim2_client.engines.wsgi import WSGISCIMClient
from scim2_models import Group, ScimFilter, User
from scim2_tester import Status, check_server

from nevefield.asked import proposing
from nevefield.asked.filtering import compile_filter
from nevefield.asked.proposing import PAUSE, take_in_due
from nevefield.core.errors import WrongDestination
from nevefield.core.texts import SEVERAL
from nevefield.destinations.asking import Asking as Line
from nevefield.destinations.scim import Scim
from nevefield.intakes.applying import apply_intake
from nevefield.intakes.evaluating import open_intake
from nevefield.intakes.throwing import throw_away
from nevefield.passing_on.filing import make_fetch_token
from nevefield.passing_on.keeping import begin_destination
from nevefield.passing_on.sending import tell
from nevefield.proposals.editing import Edit, edit_record
from nevefield.rosters.snapshots import load_snapshot, require_roster
from nevefield.store.proposed import forget_proposed
from nevefield.web.app import create_app
from tests.passing.house import directory_of, open_clinic

BADGE = "urn:ietf:params:scim:schemas:extension:enterprise:2.0:User"
PROPOSAL = "urn:nevefield:params:scim:schemas:extension:proposal:1.0:Proposal"


def asked_by(writes: str = "proposed", **more: Any) -> dict[str, Any]:
    """The clinic's wiki: whoever works there."""
    found = directory_of(**more)
    del found["shares"][0]["puts"][0]["pattern"]
    found["shares"][0]["puts"][0]["from"] = "mail"
    return found | {"name": "wiki", "title": "Wiki", "way": {"kind": "asked", "writes": writes}}


class Asking:
    """Somebody with a token."""

    def __init__(self, context, token: str) -> None:
        self.token = token
        self.app = create_app(context.settings, context)
        self.client = httpx.Client(
            transport=httpx.WSGITransport(app=self.app, raise_app_exceptions=True),
            base_url="https://roster.example/scim/v2",
            headers={"Authorization": f"Bearer {token}"},
        )

    def get(self, path: str, **query: Any) -> dict[str, Any]:
        answer = self.client.get(path, params=query)
        assert answer.status_code == 200, answer.text
        return answer.json()

    def send(self, method: str, path: str, body: Any = None, expect: int = 0, **headers: str):
        answer = self.client.request(
            method,
            path,
            json=body,
            headers={"Content-Type": "application/scim+json"} | headers,
        )
        known = (expect,) if expect else (200, 204)
        assert answer.status_code in known, (answer.status_code, answer.text)
        return answer.json() if answer.content else {}

    def users(self, **query: Any) -> dict[str, dict[str, Any]]:
        found = self.get("/Users", **query)
        return {one[BADGE]["employeeNumber"]: one for one in found.get("Resources", [])}


def told(context) -> None:
    tell(context, "wiki", 1, None)


@pytest.fixture
def clinic(bare):
    open_clinic(bare)
    return bare


@pytest.fixture
def wiki(clinic):
    begin_destination(clinic, asked_by(), None)
    told(clinic)
    return Asking(clinic, make_fetch_token(clinic, "wiki", None)[0])


def test_the_checker_is_content(wiki):
    """All checks of a checker that we did not write, on people and on groups."""
    client = WSGISCIMClient(
        wiki.app,
        base_url="https://roster.example/scim/v2",
        headers={"Authorization": f"Bearer {wiki.token}"},
    )
    results = check_server(client)
    wrong = [
        (one.title, one.resource_type, one.reason)
        for one in results
        if one.status in (Status.ERROR, Status.CRITICAL, Status.DEVIATION)
    ]
    assert wrong == []
    done = {(one.title, one.resource_type) for one in results if one.status == Status.SUCCESS}
    for title in (
        "object_creation",
        "object_replacement",
        "object_deletion",
        "check_add_attribute",
    ):
        assert {(title, "User"), (title, "Group")} <= done


def test_they_read_what_they_are_to_hold_and_no_more(wiki):
    """Against the people as they were made: those who left, days of birth and who has no mail
    address, and so no name there, are not read.
    """
    found = wiki.users()
    assert set(found) == {"A-01", "A-02", "B-03", "C-05", "C-06"}
    ceyda = found["A-02"]
    assert ceyda["userName"] == "ceyda@clinic.example"
    assert ceyda["name"] == {"familyName": "O'Brien-Yılmaz", "givenName": "Ceyda"}
    assert ceyda["emails"] == [{"type": "work", "value": "ceyda@clinic.example"}]
    assert ceyda["active"] is True
    assert [one["display"] for one in ceyda["groups"]] == ["North ward"]
    assert "1991" not in str(found)
    groups = {one["displayName"]: one for one in wiki.get("/Groups")["Resources"]}
    assert set(groups) == {"North ward", "Süd", "Emergency", "Key: Poisons", "Key: Quarantine"}
    poisons = {one["value"] for one in groups["Key: Poisons"]["members"]}
    assert poisons == {found["A-01"]["id"], found["B-03"]["id"]}
    for one in found.values():
        assert wiki.get(f"/Users/{one['id']}")["userName"] == one["userName"]
        url = one["meta"]["location"]
        assert url == f"https://roster.example/scim/v2/Users/{one['id']}"


def test_pages_and_order(wiki):
    """Two at a time, each is read once, in the order that was asked for."""
    names: list[str] = []
    for start in (1, 3, 5, 7):
        page = wiki.get("/Users", startIndex=start, count=2, sortBy="userName")
        assert page["totalResults"] == 5
        names += [one["userName"] for one in page.get("Resources", [])]
    assert names == sorted(names)
    assert len(names) == 5
    found = wiki.get("/Users", filter='name.familyName eq "NG"', attributes="name.givenName")
    assert {one["name"]["givenName"] for one in found["Resources"]} == {"Li", "Liang"}
    assert "emails" not in found["Resources"][0]
    by_mail = 'emails[type eq "work" and value sw "eleni"]'
    body = {"schemas": ["urn:ietf:params:scim:api:messages:2.0:SearchRequest"], "filter": by_mail}
    assert wiki.send("POST", "/Users/.search", body)["totalResults"] == 1
    number = wiki.users()["A-02"]["id"]
    for text in (
        'USERNAME eq "CEYDA@clinic.example"',
        'emails eq "ceyda@clinic.example"',
        'emails.value eq "ceyda@clinic.example"',
        f'{BADGE}:employeeNumber eq "A-02"',
        f'id eq "{number}"',
    ):
        found = wiki.get("/Users", filter=text).get("Resources", [])
        assert [one["id"] for one in found] == [number], text
    assert wiki.get("/Groups", filter='displayname eq "süd"')["totalResults"] == 1


def test_who_may_read_alone_changes_nothing(clinic, clock):
    begin_destination(clinic, asked_by("refused"), None)
    told(clinic)
    wiki = Asking(clinic, make_fetch_token(clinic, "wiki", None)[0])
    before = wiki.users()
    number = before["A-01"]["id"]
    new = {"schemas": [User.__schema__], "userName": "x@clinic.example"}
    assert wiki.send("POST", "/Users", new, 403)["status"] == "403"
    wiki.send("PUT", f"/Users/{number}", before["A-01"], 403)
    wiki.send("PATCH", f"/Users/{number}", patch("replace", "name.givenName", "B"), 403)
    wiki.send("DELETE", f"/Users/{number}", expect=403)
    wiki.send("POST", "/Groups", {"schemas": [Group.__schema__], "displayName": "x"}, 403)
    assert wiki.users() == before
    clock.move(hours=1)
    assert take_in_due(clinic) == []


def test_tokens(clinic, wiki):
    """None, a wrong one, one before the last, and that of somebody else let nobody in."""
    begin_destination(
        clinic,
        {
            "name": "list",
            "title": "List",
            "way": {"kind": "file", "is_fetched": True},
            "shares": [{"roster": "clinic", "puts": [{"to": "a", "from": "badge"}]}],
        },
        None,
    )
    other = make_fetch_token(clinic, "list", None)[0]
    fresh = Asking(clinic, make_fetch_token(clinic, "wiki", None)[0])
    assert len(fresh.users()) == 5
    for token in ("", "x", wiki.token, other, f"{fresh.token} "[1:]):
        for path in ("/Users", "/Groups", "/Users/1", "/Schemas"):
            answer = Asking(clinic, token).client.get(path)
            assert answer.status_code == 401, (token, path)
            assert "clinic" not in answer.text.lower().replace("roster.example", "")
    # a token of theirs is none of a program
    assert fresh.client.get("https://roster.example/api/desk").status_code == 401


def test_the_practice_copy_tells_nobody(clinic, wiki):
    settings = dataclasses.replace(clinic.settings, practice=True)
    answer = Asking(dataclasses.replace(clinic, settings=settings), wiki.token).client.get("/Users")
    assert answer.status_code == 403


def patch(op: str, path: str, value: Any = None) -> dict[str, Any]:
    operation = {"op": op, "path": path} | ({} if value is None else {"value": value})
    return {
        "schemas": ["urn:ietf:params:scim:api:messages:2.0:PatchOp"],
        "Operations": [operation],
    }


def take_in(clinic, clock) -> list[int]:
    assert take_in_due(clinic) == [], "as long as they write nothing becomes of it"
    clock.move(seconds=int(PAUSE.total_seconds()) + 1)
    return take_in_due(clinic)


def alter(clinic, badge: str, /, **values) -> None:
    with clinic.database.transaction() as connection:
        snapshot = load_snapshot(connection, require_roster(connection, "clinic"))
    place = list(roster(clinic)).index(badge)
    edit_record(clinic, Edit(int(snapshot.ids[place]), values), None)


def apply(clinic, number: int) -> None:
    opened = open_intake(clinic, number)
    apply_intake(clinic, number, len(opened.steps), opened.roster.version, None)


def roster(clinic) -> dict[str, dict[str, str]]:
    with clinic.database.transaction() as connection:
        snapshot = load_snapshot(connection, require_roster(connection, "clinic"))
    names = [field.name for field in snapshot.definition.fields]
    rows = [
        {name: snapshot.columns[name].at(place) or "" for name in names}
        for place in range(len(snapshot))
    ]
    return {row["badge"]: row for row in rows}


NEW = {
    "schemas": [User.__schema__, BADGE],
    "userName": "zoe@clinic.example",
    "name": {"familyName": "=Zöe", "givenName": "Żaneta 李"},
    "emails": [{"type": "work", "value": "zoe@clinic.example"}],
    BADGE: {"employeeNumber": "Z-99"},
    PROPOSAL: {"note": "agency, since today"},
}


def test_a_proposal_is_an_intake_like_any_other(clinic, wiki, clock):
    """Somebody new, another name, and coming into and leaving groups: nothing of it is so until
    somebody applied it, and they read what they wrote all the while, by the same id.
    """
    before, people = roster(clinic), wiki.users()
    made = wiki.send("POST", "/Users", NEW, 201)
    ceyda, eleni = people["A-02"]["id"], people["B-03"]["id"]
    wiki.send("PATCH", f"/Users/{ceyda}", patch("replace", "name.familyName", "Yılmaz"))
    groups = {one["displayName"]: one["id"] for one in wiki.get("/Groups")["Resources"]}
    joins = [{"value": ceyda}, {"value": made["id"]}]
    wiki.send("PATCH", f"/Groups/{groups['Emergency']}", patch("add", "members", joins))
    leaves = patch("remove", f'members[value eq "{eleni}"]')
    wiki.send("PATCH", f"/Groups/{groups['Key: Poisons']}", leaves)
    assert roster(clinic) == before
    assert wiki.users()["A-02"]["name"]["familyName"] == "Yılmaz"
    answer = wiki.client.get(f"/Users/{made['id']}")
    assert answer.headers["Nevefield-Proposal"] == "waiting"

    (number,) = take_in(clinic, clock)
    assert take_in_due(clinic) == []
    opened = open_intake(clinic, number)
    assert opened.intake.title == "Wiki proposes: 1 new, 2 changed (“agency, since today”)"
    assert roster(clinic) == before
    answer = wiki.client.get(f"/Users/{made['id']}")
    assert answer.headers["Nevefield-Proposal"] == f"on the desk; intake={number}"

    apply(clinic, number)
    after = roster(clinic)
    assert after["Z-99"] | {"wards": "E"} == after["Z-99"]
    assert (after["Z-99"]["surname"], after["Z-99"]["forename"]) == ("=Zöe", "Żaneta 李")
    assert after["A-02"] == before["A-02"] | {"surname": "Yılmaz", "wards": SEVERAL.join("NE")}
    assert after["B-03"] == before["B-03"] | {"keys": "Q"}
    assert {b: row for b, row in after.items() if b not in ("Z-99", "A-02", "B-03")} == {
        b: row for b, row in before.items() if b not in ("A-02", "B-03")
    }
    # until it is held for them they read what they wrote
    assert wiki.get(f"/Users/{made['id']}")["userName"] == "zoe@clinic.example"
    told(clinic)
    assert wiki.get(f"/Users/{made['id']}")[BADGE]["employeeNumber"] == "Z-99"
    assert "Nevefield-Proposal" not in wiki.client.get(f"/Users/{made['id']}").headers
    found = wiki.users()
    assert len(found) == 6
    assert found["Z-99"]["id"] == made["id"]
    assert [one["display"] for one in found["Z-99"]["groups"]] == ["Emergency"]
    # and by that id they propose again
    wiki.send("PATCH", f"/Users/{made['id']}", patch("replace", "name.givenName", "Zoë"))
    (number,) = take_in(clinic, clock)
    apply(clinic, number)
    assert roster(clinic)["Z-99"]["forename"] == "Zoë"


def test_what_is_not_taken_is_passed_over(clinic, wiki, clock):
    """Clients that write whole people of the standard, in their own habits: what the layout takes
    is taken, what it does not is said, and nobody is refused for it.
    """
    whole = NEW | {
        "schemas": [*NEW["schemas"], "urn:example:other:1.0:User"],
        "displayName": "Zöe Ż",
        "nickName": "Z",
        "active": True,
        "locale": "pl-PL",
        "name": {**NEW["name"], "formatted": "Żaneta Zöe"},
        "emails": [{"value": "zoe@clinic.example", "type": "work", "primary": True}],
        BADGE: {"employeeNumber": "Z-99", "department": "Wards"},
        "urn:example:other:1.0:User": {"shoe": 41},
        "roles": [{"value": "x"}],
        "evil\r\nSet-Cookie": "a",
    }
    answer = wiki.client.post("/Users", json=whole)
    assert answer.status_code == 201, answer.text
    ignored = answer.headers["Nevefield-Ignored"].split(", ")
    assert {"displayName", "nickName", "name.formatted", "emails.primary"} <= set(ignored)
    assert f"{BADGE}:department" in ignored
    assert "set-cookie" not in answer.headers
    number = answer.json()["id"]
    people = wiki.users()
    ceyda, path = people["A-02"], f"/Users/{people['A-02']['id']}"
    put = {**ceyda, "displayName": "C", "name": {"familyName": "Yılmaz", "givenName": "Ceyda"}}
    assert wiki.client.put(path, json=put).status_code == 200
    operations = [
        {"op": "Replace", "path": "active", "value": "True"},
        {"op": "Replace", "path": "title", "value": "Dr"},
        {"op": "Add", "value": {"displayName": "x", "name": {"givenName": "Ceyda S."}}},
    ]
    body = patch("add", "x") | {"Operations": operations}
    wiki.send("PATCH", path, body)
    for nothing in ([operations[0]], [operations[1]], [operations[0], operations[1]]):
        answer = wiki.client.patch(path, json=body | {"Operations": nothing})
        assert answer.status_code == 200, answer.text
        assert answer.json()["name"] == {"familyName": "Yılmaz", "givenName": "Ceyda S."}
    # who is to be switched off is nobody's to say here
    off = [{"op": "replace", "path": "active", "value": False}]
    assert wiki.client.patch(path, json=body | {"Operations": off}).status_code == 400
    (intake,) = take_in(clinic, clock)
    apply(clinic, intake)
    told(clinic)
    found = roster(clinic)
    assert (found["A-02"]["surname"], found["A-02"]["forename"]) == ("Yılmaz", "Ceyda S.")
    assert wiki.get(f"/Users/{number}")[BADGE]["employeeNumber"] == "Z-99"


def test_what_they_know_people_by_is_theirs(clinic, wiki, clock):
    """It is kept, found by, and nothing that anybody has to decide of; also of who was new."""
    people = wiki.users()
    ng = f"/Users/{people['C-05']['id']}"
    wiki.send("PATCH", ng, patch("add", "externalId", "own-5"))
    made = wiki.send("POST", "/Users", NEW | {"externalId": "own-99"}, 201)
    assert made["externalId"] == "own-99"
    (number,) = take_in(clinic, clock)
    assert open_intake(clinic, number).intake.title.startswith("Wiki proposes: 1 new")
    apply(clinic, number)
    told(clinic)
    for own, badge in (("own-5", "C-05"), ("own-99", "Z-99")):
        found = wiki.get("/Users", filter=f'externalId eq "{own}"')["Resources"]
        assert [one[BADGE]["employeeNumber"] for one in found] == [badge]
        assert found[0]["externalId"] == own
    assert "externalId" not in wiki.users()["A-01"]
    other = Asking(clinic, make_fetch_token(clinic, "wiki", None)[0])
    other.send("PATCH", ng, patch("remove", "externalId"))
    assert "externalId" not in other.users()["C-05"]
    assert take_in(clinic, clock) == []


def test_what_was_not_said_stays_what_it_is_by_then(clinic, wiki, clock):
    """Somebody changes a person while a proposal about others of their fields is on the desk: only
    what was said of them counts, an emptied field too.
    """
    people = wiki.users()
    aase, ceyda = (f"/Users/{people[badge]['id']}" for badge in ("A-01", "A-02"))
    wiki.send("PATCH", aase, patch("replace", "name.givenName", "Asa"))
    mails = "urn:ietf:params:scim:schemas:core:2.0:User:emails"
    wiki.send("PATCH", ceyda, patch("remove", mails))
    wiki.send("PATCH", ceyda, patch("replace", "name.familyName", "Yılmaz"))
    (number,) = take_in(clinic, clock)
    alter(clinic, "A-01", mail="aase@new.example", surname="Berg")
    before = roster(clinic)
    apply(clinic, number)
    after = roster(clinic)
    assert after["A-01"] == before["A-01"] | {"forename": "Asa"}
    assert after["A-02"] == before["A-02"] | {"surname": "Yılmaz", "mail": ""}


def test_what_is_thrown_away_is_as_it_was(clinic, wiki, clock):
    people = wiki.users()
    made = wiki.send("POST", "/Users", NEW, 201)
    wiki.send("PATCH", f"/Users/{people['A-02']['id']}", patch("remove", "emails"))
    (number,) = take_in(clinic, clock)
    throw_away(clinic, number, None)
    assert wiki.client.get(f"/Users/{made['id']}").status_code == 404
    assert wiki.users() == people
    clock.move(hours=1)
    assert take_in_due(clinic) == []


def test_what_is_taken_back_in_time_never_was(clinic, wiki, clock):
    """Who was proposed is taken out again; what is put back as it was makes no intake."""
    people = wiki.users()
    made = wiki.send("POST", "/Users", NEW, 201)
    wiki.send("DELETE", f"/Users/{made['id']}", expect=204)
    assert wiki.client.get(f"/Users/{made['id']}").status_code == 404
    ng = f"/Users/{people['C-05']['id']}"
    wiki.send("PATCH", ng, patch("replace", "name.givenName", "Lin"))
    wiki.send("PATCH", ng, patch("replace", "name.givenName", "Li"))
    assert take_in(clinic, clock) == []
    assert "Nevefield-Proposal" not in wiki.client.get(ng).headers
    # who is in the roster is not taken out from outside
    assert wiki.send("DELETE", ng, expect=403)["status"] == "403"


def test_written_again_while_it_is_on_the_desk(clinic, wiki, clock):
    """The second time is another intake; what was applied of the first stays."""
    made = wiki.send("POST", "/Users", NEW, 201)
    (first,) = take_in(clinic, clock)
    wiki.send("PATCH", f"/Users/{made['id']}", patch("replace", "name.givenName", "Zoë"))
    (second,) = take_in(clinic, clock)
    apply(clinic, first)
    apply(clinic, second)
    told(clinic)
    assert roster(clinic)["Z-99"]["forename"] == "Zoë"
    assert wiki.users()["Z-99"]["id"] == made["id"]


def test_refused_in_the_words_of_the_protocol(wiki):
    """Taken names, versions that moved, what is no JSON, unknown places: each an error of the
    protocol, and nothing is kept of it.
    """
    people = wiki.users()
    li = people["C-05"]
    taken = NEW | {"userName": "CEYDA@clinic.example"}
    assert wiki.send("POST", "/Users", taken, 409)["scimType"] == "uniqueness"
    other = patch("replace", "userName", "aase@clinic.example")
    assert wiki.send("PATCH", f"/Users/{li['id']}", other, 409)["scimType"] == "uniqueness"
    bad = patch("replace", "name.givenName[", "Dr")
    wiki.send("PATCH", f"/Users/{li['id']}", bad, 400)
    stale = {"If-Match": 'W/"0"'}
    named = patch("replace", "name.givenName", "Lin")
    wiki.send("PATCH", f"/Users/{li['id']}", named, 412, **stale)
    wiki.send("PATCH", f"/Users/{li['id']}", named, **{"If-Match": li["meta"]["version"]})
    wiki.send("PATCH", f"/Users/{li['id']}", patch("replace", "name.givenName", "Li"))
    for path in ("/Users/0", "/Users/p1", "/Nobody", "/Users/1/2", "/Users/..%2f..%2fapi", "/Me"):
        answer = wiki.client.get(path)
        assert answer.status_code in (404, 501), path
        assert answer.json()["schemas"] == ["urn:ietf:params:scim:api:messages:2.0:Error"]
    for content in (b"{", b"\xff", b"[]", b'{"a":' * 3_000):
        answer = wiki.client.post(
            "/Users", content=content, headers={"Content-Type": "application/scim+json"}
        )
        assert answer.status_code == 400, content[:9]
    big = wiki.client.post("/Users", content=b" " * 2_000_001)
    assert big.status_code == 413
    for text in ("a eq", "(" * 500 + 'id eq "1"' + ")" * 500, 'userName eq "' + "x" * 3_000 + '"'):
        assert wiki.client.get("/Users", params={"filter": text}).status_code in (200, 400)
    found = wiki.users()
    assert _plain(found) == _plain(people)


def _plain(people):
    return {badge: {k: v for k, v in one.items() if k != "meta"} for badge, one in people.items()}


def test_many_at_once(clinic, wiki, clock):
    """A bulk request: what can be is proposed, what cannot is said, and the two know each other."""
    operations = [
        {"method": "POST", "path": "/Users", "bulkId": "z", "data": NEW},
        {"method": "POST", "path": "/Users", "bulkId": "y", "data": NEW},
        {
            "method": "POST",
            "path": "/Groups",
            "bulkId": "g",
            "data": {
                "schemas": [Group.__schema__],
                "displayName": "Key: Garden",
                "members": [{"value": "bulkId:z"}],
            },
        },
    ]
    body = {
        "schemas": ["urn:ietf:params:scim:api:messages:2.0:BulkRequest"],
        "Operations": operations,
    }
    found = wiki.send("POST", "/Bulk", body)["Operations"]
    assert [one["status"] for one in found] == ["201", "409", "201"]
    (number,) = take_in(clinic, clock)
    causes = open_intake(clinic, number).evaluation.causes
    # the group is none that the roster has: what any file would be told of it
    assert any("Garden" in str(cause.value) for cause in causes)


def test_whoever_is_erased_is_in_no_proposal(clinic, wiki):
    people = wiki.users()
    number = people["A-02"]["id"]
    wiki.send("PATCH", f"/Users/{number}", patch("replace", "name.familyName", "Yılmaz"))
    with clinic.database.transaction() as connection:
        assert forget_proposed(connection, int(number)) == 1
    assert wiki.get(f"/Users/{number}")["name"]["familyName"] == "O'Brien-Yılmaz"


def test_only_what_the_standard_has_is_given(clinic):
    """Fields that people have not in the standard are told with their place."""
    for to, place in (
        ("nonsense", "shares.0.puts.1.to"),
        ("emails[type eq 'x'].value", "shares.0.puts.1.to"),
        ("emails.colour", "shares.0.puts.1.to"),
        ("groups", "shares.0.puts.1.to"),
        ("password", "shares.0.puts.1.to"),
        ("name", "shares.0.puts.1.to"),
    ):
        document = asked_by()
        document["shares"][0]["puts"][1]["to"] = to
        with pytest.raises(WrongDestination) as raised:
            begin_destination(clinic, document, None)
        assert raised.value.place == place, to
    document = asked_by()
    document["shares"][0]["puts"][1]["to"] = "urn:example:clinic:Staff:born-as"
    begin_destination(clinic, document, None)
    told(clinic)
    wiki = Asking(clinic, make_fetch_token(clinic, "wiki", None)[0])
    assert wiki.users()["A-01"]["urn:example:clinic:Staff"] == {"born-as": "Ødegård"}


MAILS = st.sampled_from(["ng@x.example", "NG@x.example", "o'brien@x.example", "b@y.example"])
TEXTS = st.sampled_from(["Ng", "ng", "NG ", "O'Brien", "Ødegård", "ø", 'a"b', "", "2026-01-01"])
PEOPLE_THERE = st.fixed_dictionaries(
    {"userName": TEXTS.filter(bool)},
    optional={
        "name": st.fixed_dictionaries({}, optional={"familyName": TEXTS, "givenName": TEXTS}),
        "active": st.booleans(),
        "title": TEXTS,
        "emails": st.lists(
            st.fixed_dictionaries(
                {"value": MAILS}, optional={"type": st.sampled_from(["work", "home"])}
            ),
            max_size=3,
        ),
    },
)
ATOMS = st.one_of(
    st.builds(
        lambda path, op, value: f"{path} {op} {json.dumps(value)}",
        st.sampled_from(["userName", "title", "name.familyName", "emails.type", "NAME.givenname"]),
        st.sampled_from(["eq", "ne", "co", "sw", "ew", "gt", "ge", "lt", "le"]),
        TEXTS.filter(bool),
    ),
    st.builds(
        "{} pr".format, st.sampled_from(["title", "name", "emails", "emails.type", "active"])
    ),
    st.builds("active eq {}".format, st.sampled_from(["true", "false"])),
    st.builds(
        lambda kind, op, value: f'emails[type eq "{kind}" and value {op} {json.dumps(value)}]',
        st.sampled_from(["work", "HOME"]),
        st.sampled_from(["eq", "sw", "co"]),
        MAILS,
    ),
)
FILTERS = st.recursive(
    ATOMS,
    lambda inner: st.one_of(
        st.builds("({} and {})".format, inner, inner),
        st.builds("({} or {})".format, inner, inner),
        st.builds("not ({})".format, inner),
    ),
    max_leaves=5,
)


@given(person=PEOPLE_THERE, text=FILTERS)
@settings(max_examples=300, deadline=None, suppress_health_check=[HealthCheck.too_slow])
def test_filters_mean_what_they_mean_elsewhere(person, text):
    """Against how the package of the models has it, which is asked of one validated model after
    the other.
    """
    asked = ScimFilter[User](text)
    model = User.model_validate({"schemas": [User.__schema__], **person})
    plain = model.model_dump()
    ours = compile_filter(asked.ast, lambda path: False)(plain)
    assert ours == asked.match(model), (text, plain)


def test_our_own_client_asks_our_own_server(clinic, wiki, clock):
    """What it makes here is on the desk, and both sides agree of everybody."""
    people = [(f"T-{n}", f"Temp{n}", f"Ö{n}", f"t{n}@clinic.example") for n in range(7)]
    client = Scim(
        Line(
            "https://roster.example/scim/v2",
            wiki.token,
            httpx.WSGITransport(app=wiki.app),
            media="application/scim+json",
        ),
        ("externalId", "userName"),
        takes_out=False,
    )
    refs = {}
    for badge, family, given_name, mail in people:
        fields = {
            "userName": [mail],
            "name.familyName": [family],
            "name.givenName": [given_name],
            f"{BADGE}:employeeNumber": [badge],
        }
        refs[badge] = client.put("", badge, fields).ref
    again = {
        badge: client.put(ref, badge, {"userName": [f"{badge}@x.example"]}).ref
        for badge, ref in refs.items()
    }
    assert again == refs
    (number,) = take_in(clinic, clock)
    apply(clinic, number)
    told(clinic)
    assert {badge: one["id"] for badge, one in wiki.users().items() if badge in refs} == refs


def test_two_workers_take_in_once(clinic, wiki, clock):
    """Both look at the same moment: what was written is in one intake."""
    for round_ in range(4):
        for number in range(5):
            one = {"userName": f"r{round_}n{number}@clinic.example"}
            wiki.send(
                "POST", "/Users", NEW | one | {BADGE: {"employeeNumber": f"{round_}-{number}"}}, 201
            )
        clock.move(seconds=int(PAUSE.total_seconds()) + 1)
        both = threading.Barrier(2)

        def work(both=both):
            both.wait()
            return take_in_due(clinic)

        with ThreadPoolExecutor(2) as pool:
            first, second = [pool.submit(work) for _ in range(2)]
            assert len(first.result() + second.result()) == 1


def test_a_group_of_nobody_is_looked_at_once(clinic, wiki, clock, monkeypatch):
    """Nothing comes of it until somebody is in it, and it does not keep the worker busy."""
    group = {"schemas": [Group.__schema__], "displayName": "Night"}
    number = wiki.send("POST", "/Groups", group, 201)["id"]
    assert take_in(clinic, clock) == []
    looked = []
    true = proposing.take_in
    monkeypatch.setattr(proposing, "take_in", lambda *given: looked.append(given) or true(*given))
    clock.move(minutes=20)
    assert take_in_due(clinic) == []
    assert looked == []
    people = wiki.users()
    joins = patch("add", "members", [{"value": people["A-02"]["id"]}])
    wiki.send("PATCH", f"/Groups/{number}", joins)
    assert len(take_in(clinic, clock)) == 1
