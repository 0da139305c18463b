"""What machines ask: whether it answers, whether it is ready, numbers; and the log of requests.

Source: Prometheus, "Exposition formats" (text, by its client library).
"""

from __future__ import annotations

import secrets
import time
from typing import TYPE_CHECKING

import structlog
from flask import Response, g, request
from prometheus_client import CollectorRegistry, generate_latest
from prometheus_client.core import GaugeMetricFamily

from nevefield.accounts import Level
from nevefield.logs import JSON
from nevefield.setup.measuring import measure, not_ready
from nevefield.timing import REQUESTS, register_times
from nevefield.web.access import context, needs, open_to_all

if TYPE_CHECKING:
    from collections.abc import Iterator

    from flask import Flask

    from nevefield.setup.measuring import Measures

__all__ = ["REQUEST", "watch"]

REQUEST = "X-Request-Id"
TEXT = "text/plain; version=0.0.4; charset=utf-8"
_log = structlog.get_logger()


def watch(app: Flask, log: str) -> None:
    """Let an application answer what machines ask, and number its requests.

    Args:
        app: The application.
        log: `json` to log each request.
    """
    app.add_url_rule("/api/health", view_func=_health)
    app.add_url_rule("/api/ready", view_func=_ready)
    app.add_url_rule("/api/metrics", view_func=_metrics)
    app.before_request(_begin)
    app.after_request(_end_logged if log == JSON else _end)


@open_to_all
def _health() -> Response:
    """Say that the web server answers."""
    return Response("ok", mimetype="text/plain")


@open_to_all
def _ready() -> Response:
    """Say whether people can work: the database answers, and is of this version."""
    why = not_ready(context())
    return Response(why or "ready", 503 if why else 200, mimetype="text/plain")


class _Now:
    """The numbers of this moment, for the client library."""

    def __init__(self, measures: Measures) -> None:
        self._measures = measures

    def collect(self) -> Iterator[GaugeMetricFamily]:
        """Give each number with its words."""
        found = self._measures
        jobs = GaugeMetricFamily(
            "nevefield_jobs", "Jobs by kind and state", labels=["kind", "state"]
        )
        for (kind, state), count in sorted(found.jobs.items()):
            jobs.add_metric([kind, state], count)
        yield jobs
        records = GaugeMetricFamily("nevefield_records", "Records by roster", labels=["roster"])
        for name, count in sorted(found.records.items()):
            records.add_metric([name], count)
        yield records
        for name, words in (
            ("oldest_job", "Seconds for which the oldest job waits"),
            ("last_copy", "Seconds since the last good copy"),
            ("last_seal", "Seconds since the trail was sealed last"),
        ):
            if name in found.ages:
                yield GaugeMetricFamily(f"nevefield_{name}_seconds", words, value=found.ages[name])
        yield GaugeMetricFamily(
            "nevefield_unforeseen_errors",
            "Errors that nobody foresaw and nobody settled",
            value=found.unforeseen,
        )


@needs(Level.LOOK, everywhere=True, polled=True)
def _metrics() -> Response:
    """Give numbers for a machine that watches; it asks with a program's token."""
    registry = CollectorRegistry()
    registry.register(_Now(measure(context())))
    register_times(registry)
    return Response(generate_latest(registry), content_type=TEXT)


def _begin() -> None:
    g.began = time.monotonic()
    g.number = secrets.token_hex(6)
    structlog.contextvars.clear_contextvars()
    structlog.contextvars.bind_contextvars(request=g.number)


def _end(answer: Response) -> Response:
    if "began" in g:
        # the shape of the address: numbers and names in it are of somebody
        route = request.url_rule.rule if request.url_rule else ""
        REQUESTS.labels(request.method, route, answer.status_code).observe(
            time.monotonic() - g.began
        )
    if "number" in g:
        answer.headers.setdefault(REQUEST, g.number)
    return answer


def _end_logged(answer: Response) -> Response:
    if "began" in g:
        _log.info(
            "request",
            method=request.method,
            # the shape of the address: numbers and names in it are of somebody
            route=request.url_rule.rule if request.url_rule else "",
            status=answer.status_code,
            milliseconds=round((time.monotonic() - g.began) * 1000, 1),
        )
    return _end(answer)
