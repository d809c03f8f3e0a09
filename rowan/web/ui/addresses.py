"""Addresses of pages, each made once: a page names a hundred, and Django looks for the way to each of them anew."""

from __future__ import annotations

from functools import lru_cache

from django.urls import get_script_prefix, reverse

KEPT = 8192  # a page of a plan has some fifty of its own


def address(name: str, *args: object) -> str:
    """Where a page stands. Raises NoReverseMatch."""
    return _kept(get_script_prefix(), name, args)


@lru_cache(maxsize=KEPT)
def _kept(prefix: str, name: str, args: tuple[object, ...]) -> str:
    """The address of a page under a prefix, which `reverse` reads for itself."""
    return reverse(name, args=args)
