"""Ten thousand generated calls, by the API's document: no answer of 5xx, none that the document does not know."""

from __future__ import annotations

import itertools
from collections import Counter
from collections.abc import Iterator

import pytest
import schemathesis
from hypothesis import HealthCheck, Phase, given, seed, settings
from schemathesis.core.failures import FailureGroup
from schemathesis.specs.openapi.checks import (
    content_type_conformance,
    response_schema_conformance,
    status_code_conformance,
)

from nevefield.context import Context
from nevefield.web import create_app
from nevefield.web.access import open_to_all
from nevefield.web.app import openapi_document
from tests.web.asking import Rehearsed, open_rehearsed
from tests.web.houses import House

CALLS = 10_000
CHECKS = [content_type_conformance, response_schema_conformance, status_code_conformance]
pytestmark = pytest.mark.long


@pytest.fixture(scope="module")
def houses(server) -> Iterator[tuple[Context, Rehearsed, House, House]]:
    yield from open_rehearsed(server, hard=False)


def test_generated_calls(houses):
    """Whatever a generator makes of the document, for who may do everything; half of the numbers are of what there is."""
    context, database, own, _ = houses
    app, document = create_app(context.settings, context), openapi_document()
    app.add_url_rule("/document.json", "document", open_to_all(lambda: document))
    client = app.test_client()
    signed = client.post("/api/session", json={"name": "keeper", "password": "password-of-keeper"})
    database.raw.commit()
    database.raw.begin()
    cookie = client.get_cookie("nevefield_session").value
    headers = {"X-Nevefield-Token": signed.json["token"]}
    schema = schemathesis.openapi.from_wsgi("/document.json", app)
    operations = [one.ok() for one in schema.get_all_operations()]
    operations = [one for one in operations if one.path != "/api/session"]
    said: Counter[str] = Counter()
    statuses: Counter[int] = Counter()
    there = itertools.cycle([True, False])
    each = -(-CALLS // len(operations))

    for number, operation in enumerate(operations):

        @seed(number)
        @settings(
            max_examples=each, deadline=None, database=None, phases=[Phase.generate], suppress_health_check=list(HealthCheck)
        )
        @given(case=operation.as_strategy())
        def ask(case: schemathesis.Case) -> None:
            if next(there):
                for name in case.path_parameters or {}:
                    kind = name.removesuffix("_id")
                    case.path_parameters[name] = own.numbers.get(kind, own.name if name == "name" else case.path_parameters[name])
            answer = case.call(headers=headers, cookies={"nevefield_session": cookie})
            database.begin_anew(altered=case.method != "GET" and answer.status_code < 300)
            statuses[answer.status_code] += 1
            where = f"{case.method} {case.operation.path}"
            if answer.status_code >= 500:
                said[f"{where}: {answer.status_code} {answer.text[:150]} {str(case.body)[:150]} {case.query}"] += 1
            try:
                case.validate_response(answer, checks=CHECKS)
            except FailureGroup as group:
                for one in group.exceptions:
                    said[f"{where}: {answer.status_code} {one.title} {one.message[:200]}"] += 1

        ask()
    print("ASKED", sum(statuses.values()), dict(sorted(statuses.items())))
    assert sum(statuses.values()) >= CALLS
    assert not said, f"{len(said)}\n" + "\n".join(f"{count} x {one}" for one, count in said.most_common(60))
