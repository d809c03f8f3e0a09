"""The firm's own pages in a browser: nothing grave by axe, nothing wider than a phone, thumbs hit; the day's work done by hand."""

from __future__ import annotations

from datetime import timedelta
from pathlib import Path

import pytest
from django.utils import timezone
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.expected_conditions import staleness_of

from rowan.command.browser import set_size
from rowan.web.accounts.models import User
from rowan.web.care.models import LogFile
from rowan.web.customers.models import Customer, Site
from rowan.web.dates.models import Visit
from rowan.web.dates.week import monday_of
from rowan.web.house.models import DiaryEntry, HouseLink
from rowan.web.house.services import token_of
from rowan.web.plans.models import Job, Plan
from tests.browser.pages.plan import Page, SignInPage
from tests.browser.test_accessibility import grave, run_axe

pytestmark = [pytest.mark.browser, pytest.mark.django_db(transaction=True)]
KVIST = "Kvist house, 4 Ropewalk"


def _addresses() -> dict[str, str]:
    """Each page of the firm, by what it is."""
    job = Job.objects.get(title=KVIST)
    plan = f"/jobs/{job.pk}/B/"
    proposal = Plan.everything.exclude(proposal_of=None).get()
    link = HouseLink.objects.get(kind="card")
    return {
        "week": f"/week/?visit={Visit.objects.filter(job=job, kind='revisit').get().pk}", "visit": "/visits/new/",
        "customers": "/customers/", "customer": f"/customers/{Customer.objects.get(name='Ebba Kvist').pk}/",
        "site": f"/sites/{Site.objects.get(address='4 Ropewalk').pk}/", "job": f"/jobs/{job.pk}/card/", "people": "/people/", "firm": "/firm/",
        "log": "/firm/log/", "me": "/me/", "second": "/me/second/", "calendar": "/me/calendar/", "catalogue": "/catalogue/", "places": "/places/",
        "quick": "/quick/?from=23+psi", "sum": "/quick/friction/", "handover": f"{plan}handover/?paper=modes", "normal": f"{plan}handover/",
        "drill": f"{plan}handover/drill/", "quotation": f"{plan}quotation/", "archive": "/archive/", "practice": "/practice/",
        "proposal": f"{plan}proposals/{proposal.pk}/", "care": f"{plan}care/", "by hand": f"{plan}care/by-hand/", "route": f"{plan}handover/?paper=route",
        "mapping": f"{plan}care/logs/{LogFile.objects.get(plan__job=job).pk}/", "fluids": "/catalogue/?kind=fluid", "house": f"/h/{token_of(link)}/",
    }  # fmt: skip


@pytest.mark.parametrize("half", [0, 1])
def test_nothing_grave_on_any_page_of_the_firm(sign_in: SignInPage, axe_source: str, half: int) -> None:
    """Each page at a desk and then, as it stands there, on a phone."""
    page = sign_in.signed_in()
    addresses = list(_addresses().items())
    wrong = {}
    for name, address in addresses[half::2]:
        set_size(page.driver, 1280, 844)
        page.driver.get(page.base + address)
        page.driver.execute_script(axe_source)
        for width in (1280, 390):
            if width < 640:
                set_size(page.driver, width, 844, phone=True)
            found = run_axe(page)
            wide = page.driver.execute_script("return document.documentElement.scrollWidth - window.innerWidth")
            if wide > 1:
                found.append(f"{wide} px wider than the screen")
            if found:
                wrong[f"{name} at {width}"] = found
    assert wrong == {}


SMALL = """
const small = [];
for (const one of document.querySelectorAll("main a, main button, main input:not([type=hidden]), main select, main summary")) {
  const box = one.getBoundingClientRect();
  if (!box.width || one.closest("p, small, .reason, .drawing, table")) continue;
  if (box.height < 43.5 && !(one.closest("label")?.getBoundingClientRect().height >= 43.5)) small.push(`${one.tagName} ${one.textContent.trim().slice(0, 30)} ${box.height | 0}`);
}
return small;
"""


@pytest.mark.parametrize("name", ["house", "customer", "sum"])
def test_thumbs_hit_what_is_used_outdoors(sign_in: SignInPage, name: str) -> None:
    page = sign_in.signed_in()
    set_size(page.driver, 390, 844, phone=True)
    page.driver.get(page.base + _addresses()[name])
    assert page.driver.execute_script(SMALL) == []


def test_a_clash_is_moved_by_its_button(sign_in: SignInPage) -> None:
    page = sign_in.signed_in()
    page.driver.get(f"{page.base}/week/")
    assert "1 clash" in page.one("h1").text
    page.one(".finding.fix .act").click()
    page.wait.until(lambda d: "clash" not in d.find_element(By.CSS_SELECTOR, "h1").text)


def test_a_visit_is_opened_from_its_bar_by_key(sign_in: SignInPage) -> None:
    page = sign_in.signed_in()
    page.driver.get(f"{page.base}/week/")
    bar = page.one(".week-scroll a[data-visit='revisit']")
    page.driver.execute_script("arguments[0].focus()", bar)
    bar.send_keys(Keys.ENTER)
    page.wait.until(lambda d: "visit=" in d.current_url)
    assert "Ebba Kvist" in page.one(".week-side").text
    assert page.one(".week-side a[href^='tel:']").text == "Call"


def test_a_look_is_sent_from_a_phone_without_a_sign_in(sign_in: SignInPage) -> None:
    page: Page = sign_in.open()
    set_size(page.driver, 390, 844, phone=True)
    link = HouseLink.objects.get(kind="card")
    page.driver.get(f"{page.base}/h/{token_of(link)}/")
    page.one("#gauge").send_keys("1.2 bar")
    page.one(".plain-form .main").click()
    page.wait.until(lambda d: d.find_elements(By.CSS_SELECTOR, ".house-told.fix"))
    assert "ring us" in page.one(".house-told").text
    assert page.one(".house-told a").get_attribute("href") == "tel:0555010000"
    assert DiaryEntry.objects.filter(kind="look").count() == 2  # the demo's own, and this


def test_an_apprentice_drags_and_an_installer_takes(sign_in: SignInPage) -> None:
    """What is dragged on a bench stands in the proposal, not in the plan."""
    isa = User.objects.get(name="Isa Brand")
    plan = Plan.objects.get(job__title=KVIST, letter="A")
    before = plan.head.number
    page = sign_in.as_somebody(isa)
    page.driver.get(f"{page.base}/jobs/{plan.job_id}/A/charge/")
    page.driver.execute_script(
        "const form = document.getElementById('drag-form'); form.elements.path.value = 'charge.gap_pa';"
        "form.elements.value.value = '50000'; form.elements.second.value = ''; form.requestSubmit();"
    )
    page.wait.until(lambda d: d.find_elements(By.CSS_SELECTOR, ".proposal-line b"))
    assert page.one(".proposal-line b").text == "1"
    assert plan.head.number == before
    page.driver.get(page.one(".proposal-line a").get_attribute("href"))
    page.one("[value='hand in']").click()
    page.wait.until(lambda d: "Handed in" in d.find_element(By.ID, "work").text)
    assert Plan.everything.get(proposal_of=plan).answer == "handed"


def test_the_week_before_and_after_are_a_link_away(sign_in: SignInPage) -> None:
    page = sign_in.signed_in()
    page.driver.get(f"{page.base}/week/")
    page.one("a[rel=next]").click()
    wanted = monday_of(timezone.localdate()) + timedelta(days=7)
    page.wait.until(lambda d: f"day={wanted}" in d.current_url)
    assert "0 visits" in page.one("h1").text


def test_a_logger_s_file_is_chosen_looked_at_and_read(sign_in: SignInPage, tmp_path: Path) -> None:
    page = sign_in.signed_in()
    job = Job.objects.get(title=KVIST)
    rows = [
        f"2026-06-{1 + n // 48:02} {n % 48 // 2:02}:{30 * (n % 2):02},{20 + n % 48},{30 + n % 9},{int(18 < n % 48 < 30)}"
        for n in range(240)
    ]
    file = tmp_path / "june.csv"
    file.write_text("\n".join(["When,Roof,Tank,Relay", *rows]))
    page.driver.get(f"{page.base}/jobs/{job.pk}/A/care/")
    assert page.heading() == "No log of this loop yet"
    with page.new_page():
        page.driver.find_element(By.ID, "log-files").send_keys(str(file))
    assert page.heading() == "3 of 4 columns of june.csv are named"
    with page.new_page():
        page.one("#read-log").click()
    assert page.heading() == "1 June 2026 to 5 June 2026: the pump ran on 5 of 5 days"
    assert "Repaired" in page.one("#reckoning").text
    # the log is pushed and widened by keys and by typed numbers, once the page has its answer
    page.wait.until(lambda driver: not driver.find_elements(By.CSS_SELECTOR, ".run[id^=run-health]"))
    said = page.one("[data-log-window] [data-said]")
    page.wait.until(lambda _: "240 rows" in said.text)
    plots = page.one("[data-log-window] [data-plots]")
    plots.send_keys("+")
    page.wait.until(lambda _: "every one of 12" in said.text)
    before = said.text
    plots.send_keys(Keys.ARROW_RIGHT)
    page.wait.until(lambda _: said.text != before)
    days = page.one("[data-log-window] [name=span]")
    days.clear()
    days.send_keys("1", Keys.ENTER)
    page.wait.until(lambda _: "every one of 4" in said.text)
    assert "field" in page.one("[data-log-window] [data-values]").text


def test_a_rig_is_turned_at_its_pace_and_says_what_it_was_worth(sign_in: SignInPage, axe_source: str) -> None:
    page = sign_in.signed_in()
    page.driver.get(f"{page.base}/practice/")
    with page.new_page():
        page.one("button[value=filling]").click()
    clock, piece = page.one("[data-clock]"), "[data-piece]"
    for turn in ("drain:open", "hose:tub 2", "drill:on", "fill:open"):
        page.one(f"{piece} button[value='{turn}']").click()
        pressed = f"{piece} button[value='{turn}'][aria-pressed=true]"
        page.wait.until(lambda driver, sought=pressed: driver.find_elements(By.CSS_SELECTOR, sought))
    page.one("[data-pace='30']").click()
    page.wait.until(lambda _: clock.text >= "00:40")
    page.one("[data-pace='0']").click()
    # the answer that was under way when it was held still comes
    page.wait.until(lambda _: "L/min" in page.one(f"{piece} .rig-readings").text)
    assert grave(page, axe_source) == []
    set_size(page.driver, 390, 844, phone=True)
    assert page.driver.execute_script("return document.documentElement.scrollWidth - window.innerWidth") <= 1
    with page.new_page():
        page.driver.find_element(By.XPATH, "//button[normalize-space()='It is done']").click()
    assert "of 100" in page.heading()
    assert grave(page, axe_source) == []


def test_a_controller_is_hung_set_and_left_and_the_day_goes_by(sign_in: SignInPage, axe_source: str) -> None:
    page = sign_in.signed_in()
    page.driver.get(f"{page.base}/practice/")
    with page.new_page():
        page.one("button[value=cabinet]").click()
    clock, piece = page.one("[data-clock]"), "[data-piece]"
    for turn in ("isolator:off, locked", "pump:arrow up, shaft level", "field:brown"):
        page.one(f'{piece} button[value="{turn}"]').click()
        pressed = f'{piece} button[value="{turn}"][aria-pressed=true]'
        page.wait.until(lambda driver, sought=pressed: driver.find_elements(By.CSS_SELECTOR, sought))
    page.wait.until(lambda _: clock.text == "08:22")  # a minute, twenty, a minute
    page.one("[data-pace='600']").click()
    page.wait.until(lambda _: clock.text >= "08:40")
    # a number that is being typed holds the day, and is set where it was typed
    page.driver.execute_script("document.querySelector('#set-4').focus()")
    page.wait.until(lambda _: page.one("[data-pace='0']").get_attribute("aria-pressed") == "true")
    field = page.one(f"{piece} #set-4")
    assert field == page.driver.switch_to.active_element
    field.clear()
    field.send_keys("75", Keys.ENTER)
    page.wait.until(staleness_of(field))  # the answer has taken its place
    page.wait.until(lambda _: page.one(f"{piece} #set-4").get_attribute("value") == "75")
    page.one(f"{piece} #set-5").send_keys("hot", Keys.ENTER)
    page.wait.until(lambda _: "Not done" in page.one("[data-told]").text)
    assert grave(page, axe_source) == []
    set_size(page.driver, 390, 844, phone=True)
    assert page.driver.execute_script("return document.documentElement.scrollWidth - window.innerWidth") <= 1
    small = "return [...document.querySelectorAll('main .act, main .ruled')].filter(e => e.getBoundingClientRect().height < 44).length"
    assert page.driver.execute_script(small) == 0
    with page.new_page():
        page.driver.find_element(By.XPATH, "//button[normalize-space()='It is done']").click()
    assert "of 100 by 08:" in page.heading()
    assert grave(page, axe_source) == []
    with page.new_page():
        page.driver.find_element(By.PARTIAL_LINK_TEXT, "Worksheet").click()
    assert grave(page, axe_source) == []


def test_tasks_on_paper_and_a_hunt_are_worked_and_nothing_in_them_is_grave(
    sign_in: SignInPage, axe_source: str
) -> None:
    page = sign_in.signed_in()
    done = "button[name=done]"
    for task, closes in (("dangers", done), ("assembly", done), ("hunt", ".hunt-end .act.main")):
        page.driver.get(f"{page.base}/practice/")
        with page.new_page():
            # always the same: chance decides which places and faults there are
            page.driver.execute_script("document.querySelector('#seed').value = '3'")
            page.one(f"button[value={task}]").click()
        assert grave(page, axe_source) == []
        set_size(page.driver, 390, 844, phone=True)
        assert page.driver.execute_script("return document.documentElement.scrollWidth - window.innerWidth") <= 1
        small = "return [...document.querySelectorAll('main .act, main .choice label')].filter(e => e.getBoundingClientRect().height < 44).length"
        assert page.driver.execute_script(small) == 0
        set_size(page.driver, 1280, 800)
        if task == "hunt":
            with page.new_page():
                page.one("button[value=gauge]").click()
            assert "1 minute on the clock" in page.heading()
            page.driver.execute_script("document.querySelector('#named').value = 'air'")
        elif task == "dangers":
            page.one("input[value=can]").click()
        else:
            page.driver.execute_script("document.querySelector('#q-along-drain').value = '1'")
        with page.new_page():
            page.one(closes).click()
        assert "of 100" in page.heading()
        assert grave(page, axe_source) == []
    page.driver.get(f"{page.base}/practice/practised/")
    assert grave(page, axe_source) == []
