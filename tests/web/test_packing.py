"""Designs kept as differences: whole again to the letter, small, and brought over from databases that kept them whole."""

from __future__ import annotations

import json
import zlib
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rowan.core.terms.finding import Change
from rowan.demo.kvist import kvist_plan_a
from rowan.web.accounts.models import User
from rowan.web.plans import services
from rowan.web.plans.models import Plan
from rowan.web.plans.packing import packed, smaller, text_of, unpacked
from rowan.web.plans.services import Edit
from tests.core.designs import plan_b

JSON = st.recursive(
    st.none() | st.booleans() | st.integers() | st.floats(allow_nan=False, allow_infinity=False) | st.text(max_size=9),
    lambda inner: st.lists(inner, max_size=4) | st.dictionaries(st.text(max_size=5), inner, max_size=4),
    max_leaves=20,
)
DATA = st.dictionaries(st.text(max_size=5), JSON, max_size=5)


@given(DATA, DATA)
def test_what_is_packed_is_unpacked_to_the_letter(data: dict[str, Any], base: dict[str, Any]) -> None:
    text, under = text_of(data), text_of(base)
    assert json.loads(unpacked(packed(text))) == data
    assert unpacked(packed(text, under), under) == text


def test_a_difference_needs_its_own_base() -> None:
    text, base = text_of(plan_b().model_dump(mode="json")), text_of(kvist_plan_a().model_dump(mode="json"))
    with pytest.raises(zlib.error):
        unpacked(packed(text, base), text)


def test_what_has_little_in_common_is_kept_whole() -> None:
    letters = bytes(range(256)) * 8
    assert smaller(letters, b"nothing alike" * 9) is None
    assert smaller(letters + b"!", letters) is not None


@pytest.mark.django_db
def test_a_changed_plan_takes_some_hundred_bytes_a_state_and_each_is_whole(plan: Plan, person: User) -> None:
    states = [plan.head.design]
    for n in range(12):
        edit = Edit([Change("survey.gauge_to_top_m", 9.0 + n / 10)], "survey.gauge_to_top_m", "gauge to top")
        states.append(services.change_plan(plan=plan, author=person, based_on=n + 1, edit=edit).design)
    kept = list(plan.revisions.order_by("number"))
    assert [revision.design for revision in kept] == states
    assert [revision.base_id for revision in kept] == [None, *[kept[0].pk] * 12], "all stand on the first"
    assert all(len(revision.packed) < 600 for revision in kept[1:]), [len(revision.packed) for revision in kept]
    other = services.add_plan(job=plan.job, author=person, design=plan_b(), letter="B")
    assert other.head.base is None
