"""No dead link: everything a page leads to, from the list of jobs outwards, answers."""

from __future__ import annotations

import re
from collections import deque

import pytest
from django.test import Client

from rowan.web.accounts.models import User
from rowan.web.plans.models import Job

pytestmark = pytest.mark.django_db
LINK = re.compile(r'(?:href|src)="(/[^"]*)"')
# leads on from the page it stands on: only its own figures asked for otherwise, or a call or letter, may do so
BESIDE = re.compile(r'\shref="(?!/|#|\?|tel:|mailto:|data:|geo:)([^"]*)"')
SLOW = (".pdf", "whole=1", "?day=")  # made in their own tests


@pytest.mark.parametrize("units", ["metric", "us"])
def test_every_link_leads_somewhere(demo_person: User, units: str) -> None:
    person = demo_person
    person.units = units
    person.save()
    page = Client()
    page.force_login(person)
    kvist = Job.objects.get(title__startswith="Kvist").pk
    # in the other units the same links lead on: one job stands for all. Of the other jobs each page is opened once, whatever is
    # asked of it, and of their plans B the roof, which is what differs
    others = rf"/jobs/(?!{kvist}/)\d+/"
    left = others if units == "us" else rf"{others}(B/(?!roof/)|A/.*\?)"
    other = re.compile(left)
    queue, seen = deque(["/"]), {"/"}
    while queue:
        address = queue.popleft()
        answer = page.get(address, follow=True)
        assert answer.status_code == 200, address
        if not answer["Content-Type"].startswith("text/html"):
            continue
        html = answer.content.decode()
        anchors = set(re.findall(r'id="([^"]+)"', html))
        for anchor in re.findall(r'href="#([^"]+)"', html):
            assert anchor in anchors, f"{address} points at #{anchor}, which is not on it"
        assert BESIDE.findall(html) == [], address
        for link in LINK.findall(html):
            target = link.replace("&amp;", "&").split("#")[0]
            if other.match(target):
                continue
            if target not in seen and not target.startswith("/static/") and not any(name in target for name in SLOW):
                seen.add(target)
                queue.append(target)
    assert len(seen) > 90


def test_every_button_s_form_has_an_address_that_takes_it(demo_person: User) -> None:
    page = Client()
    page.force_login(demo_person)
    job = re.search(r"/jobs/(\d+)/A/", page.get("/").content.decode())
    assert job
    for address in (
        "/",
        *(
            f"/jobs/{job.group(1)}/A/{place}/"
            for place in ("sun", "charge", "run", "parts", "papers", "history", "assumed")
        ),
    ):
        html = page.get(address).content.decode()
        for form in re.findall(r"<form[^>]*>", html):
            if 'method="post"' in form:
                action = re.search(r'action="([^"]*)"', form)
                assert action, form
                if action.group(1) == "/sign-in/":
                    continue  # a page of its own as well: over another it asks whoever's session has ended
                assert page.get(action.group(1)).status_code == 405, f"{action.group(1)} is posted to"
