"""Definitions for made-up people: domains of mail addresses in them lead nowhere."""

from __future__ import annotations

from typing import TYPE_CHECKING

from nevefield.core.borders import Json
from nevefield.core.practice.words import reserved_domain

if TYPE_CHECKING:
    from collections.abc import Iterable

__all__ = ["with_reserved_domains"]


def with_reserved_domains(document: Json, domains: Iterable[str]) -> Json:
    r"""Name reserved domains in a definition in the place of real ones, in patterns too.

    >>> with_reserved_domains({"pattern": r".+@club\.gr"}, ["club.gr"])
    {'pattern': '.+@club-gr\\.example'}
    """
    others = {
        domain: reserved_domain(domain) for domain in domains if reserved_domain(domain) != domain
    }
    # the longest first: mail.club.gr before club.gr
    for domain in sorted(others, key=lambda one: (-len(one), one)):
        for dot in (".", r"\."):
            document = _replace(
                document, domain.replace(".", dot), others[domain].replace(".", dot)
            )
    return document


def _replace(document: Json, text: str, other: str) -> Json:
    if isinstance(document, str):
        return document.replace(text, other)
    if isinstance(document, list):
        return [_replace(one, text, other) for one in document]
    if isinstance(document, dict):
        return {name: _replace(one, text, other) for name, one in document.items()}
    return document
