"""Made-up people of the same shape as real ones, to practise with."""

from nevefield.core.practice.agreeing import Differs, agree
from nevefield.core.practice.domains import with_reserved_domains
from nevefield.core.practice.people import Making, kind_of_field, texts_in

__all__ = ["Differs", "Making", "agree", "kind_of_field", "texts_in", "with_reserved_domains"]
