"""How long things take, for a machine that watches: of all processes together where they are told a
directory for it.

Source: Prometheus, its Python client, "Multiprocess Mode" (each process writes a file there).
"""

from __future__ import annotations

import os

from prometheus_client import CollectorRegistry, Histogram
from prometheus_client.multiprocess import MultiProcessCollector

__all__ = ["EVALUATIONS", "FOLDER", "JOBS", "REQUESTS", "register_times"]

FOLDER = "PROMETHEUS_MULTIPROC_DIR"  # the client library's own name for it
BUCKETS = (0.01, 0.025, 0.05, 0.1, 0.25, 0.5, 1, 2.5, 5, 10, 30, 120)  # seconds

REQUESTS = Histogram(
    "nevefield_request_seconds",
    "Seconds of answers by method, shape of the address, and status",
    ["method", "route", "status"],
    buckets=BUCKETS,
    registry=None,
)
EVALUATIONS = Histogram(
    "nevefield_evaluation_seconds",
    "Seconds of working an intake out anew",
    buckets=BUCKETS,
    registry=None,
)
JOBS = Histogram(
    "nevefield_job_seconds", "Seconds of jobs by kind", ["kind"], buckets=BUCKETS, registry=None
)


def register_times(registry: CollectorRegistry) -> None:
    """Put the times into what is told to who watches: of all processes, or of this one alone."""
    if os.environ.get(FOLDER):
        MultiProcessCollector(registry)  # type: ignore[no-untyped-call]
        return
    for times in (REQUESTS, EVALUATIONS, JOBS):
        registry.register(times)
