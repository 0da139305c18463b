"""Where routes are declared: they are described when the API's document is asked for, not each
time that the product starts.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from flask_openapi3 import APIBlueprint

if TYPE_CHECKING:
    from collections.abc import Callable

    from flask_openapi3.types import ParametersTuple

__all__ = ["Api"]


class Api(APIBlueprint):
    """The routes of one part of the product."""

    def __init__(self, name: str, module: str) -> None:
        super().__init__(name, module, url_prefix="/api")
        self._left: list[Callable[[], object]] = []

    def _collect_openapi_info(
        self, rule: str, func: Callable[..., Any], **about: Any
    ) -> ParametersTuple:
        collect = super()._collect_openapi_info
        self._left.append(lambda: collect(rule, func, **about))
        return collect(rule, func, **{**about, "doc_ui": False})

    def describe(self) -> None:
        """Describe its routes, once."""
        while self._left:
            self._left.pop(0)()
