"""The shapes of the API about the authority's layout."""

from __future__ import annotations

from typing import Any, Literal

from pydantic import BaseModel, Field

from nevefield.web.common import Model

__all__ = ["LayoutIn", "LayoutOut", "OurField", "SideQuery", "TheirField", "TranslateIn"]


class TheirField(BaseModel):
    """A field of the authority's layout."""

    name: str
    title: str
    role: str  # reference, number, asked, or ""
    is_needed: bool
    codes: list[dict[str, str]]  # code, label, last_day


class OurField(BaseModel):
    """A field of ours that can go into a layout."""

    name: str
    title: str
    codes: list[dict[str, str]]  # code, label


class LayoutOut(BaseModel):
    """Where our fields go in the authority's layout."""

    authority: str
    theirs: list[TheirField]
    ours: list[OurField]
    layout: dict[str, Any]


class LayoutIn(Model):
    """A layout to be kept."""

    layout: dict[str, Any]


class SideQuery(Model):
    """Of which side of the authority."""

    side: Literal["practice", "live"] = "practice"


class TranslateIn(Model):
    """A code of ours that is to become another code of theirs."""

    field: str = Field(max_length=60)
    ours: str = Field(max_length=200)
    theirs: str = Field(max_length=200)
