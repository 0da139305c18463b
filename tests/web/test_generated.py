"""Ten thousand generated calls, by the API's document: no answer of 5xx, none that the document
does not know.
"""

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
from tests.web.houses import House, open_houses

CALLS = 10_000
WALKS, STEPS = 120, 25
CHECKS = [content_type_conformance, response_schema_conformance, status_code_conformance]
pytestmark = pytest.mark.long


@pytest.fixture(scope="module")
def houses(server) -> Iterator[tuple[Context, Rehearsed, House, House]]:
    yield from open_rehearsed(server, open_houses)


class Asked:
    """What is asked by a generator, as who may do everything, and what was wrong with the
    answers.
    """

    def __init__(self, context: Context, database: Rehearsed) -> None:
        app, document = create_app(context.settings, context), openapi_document()
        app.add_url_rule("/document.json", "document", open_to_all(lambda: document))
        client = app.test_client()
        signed = client.post(
            "/api/session", json={"name": "keeper", "password": "password-of-keeper"}
        )
        database.raw.commit()
        database.raw.begin()
        cookie = client.get_cookie("nevefield_session").value
        self.who = {
            # the generator does not unpack what comes packed
            "headers": {
                "X-Nevefield-Token": signed.json["token"],
                "Accept-Encoding": "identity",
            },
            "cookies": {"nevefield_session": cookie},
        }
        self.schema = schemathesis.openapi.from_wsgi("/document.json", app)
        self.said: Counter[str] = Counter()
        self.statuses: Counter[int] = Counter()

    def look_at(self, case: schemathesis.Case, answer) -> None:
        """Count an answer, and what is wrong with it."""
        self.statuses[answer.status_code] += 1
        where = f"{case.method} {case.operation.path}"
        if answer.status_code >= 500:
            self.said[
                f"{where}:"
                f" {answer.status_code} {answer.text[:150]} {str(case.body)[:150]} {case.query}"
            ] += 1
        try:
            case.validate_response(answer, checks=CHECKS)
        except FailureGroup as group:
            for one in group.exceptions:
                self.said[f"{where}: {answer.status_code} {one.title} {one.message[:200]}"] += 1

    def end(self, calls: int) -> None:
        print("ASKED", sum(self.statuses.values()), dict(sorted(self.statuses.items())))
        assert sum(self.statuses.values()) >= calls
        said = [f"{count} x {one}" for one, count in self.said.most_common(60)]
        assert not said, f"{len(self.said)}\n" + "\n".join(said)


def test_generated_calls(houses):
    """Whatever a generator makes of the document, for who may do everything; half of the numbers
    are of what there is.
    """
    context, database, own, _ = houses
    asked = Asked(context, database)
    operations = [one.ok() for one in asked.schema.get_all_operations()]
    operations = [one for one in operations if one.path != "/api/session"]
    there = itertools.cycle([True, False])
    each = -(-CALLS // len(operations)) + 2  # some have fewer different calls than that
    named = {"name": own.name, "destination": f"{own.name}-list"}

    for number, operation in enumerate(operations):

        @seed(number)
        @settings(
            max_examples=each,
            deadline=None,
            database=None,
            phases=[Phase.generate],
            suppress_health_check=list(HealthCheck),
        )
        @given(case=operation.as_strategy())
        def ask(case: schemathesis.Case) -> None:
            if next(there):
                for name in case.path_parameters or {}:
                    kind = name.removesuffix("_id")
                    case.path_parameters[name] = own.numbers.get(
                        kind, named.get(name, case.path_parameters[name])
                    )
            answer = case.call(**asked.who)
            database.begin_anew(altered=case.method != "GET" and answer.status_code < 300)
            asked.look_at(case, answer)

        ask()
    asked.end(CALLS)


def test_generated_walks(houses):
    """Walks of many calls, each with what earlier answers gave: what is made is looked at,
    altered, taken back, asked again.
    """
    context, database, _, _ = houses
    asked = Asked(context, database)
    walked: Counter[int] = Counter()

    class Walk(asked.schema.exclude(path="/api/session").as_state_machine()):
        steps = 0

        def setup(self) -> None:
            database.begin_anew(altered=True)

        def get_call_kwargs(self, case: schemathesis.Case) -> dict:
            return asked.who

        def validate_response(self, response, case: schemathesis.Case, **_) -> None:
            self.steps += 1
            asked.look_at(case, response)

        def teardown(self) -> None:
            walked[self.steps] += 1
            super().teardown()

    Walk.run(
        settings=settings(
            max_examples=WALKS,
            stateful_step_count=STEPS,
            deadline=None,
            database=None,
            derandomize=True,
            phases=[Phase.generate],
            suppress_health_check=list(HealthCheck),
        )
    )
    database.begin_anew(altered=True)
    print("WALKED", dict(sorted(walked.items())))
    asked.end(WALKS * STEPS // 4)
