"""A new state of a page is put in where it differs: what stands there afterwards is the new one, made of what could stay."""

from __future__ import annotations

import pytest

from rowan.command.browser import set_size
from tests.browser.pages.plan import SignInPage

pytestmark = [pytest.mark.browser, pytest.mark.django_db(transaction=True)]

# pairs of trees by a fixed seed: the second is the first with things changed, put in, taken out and moved, or another altogether
TREES = """
let seed = 7;
const dice = (n) => { seed = (seed * 1103515245 + 12345) % 2147483648; return seed % n; };
const NAMES = ["div", "p", "section", "span"];
let ids = 0;
function tree(depth) {
  const one = document.createElement(NAMES[dice(4)]);
  if (dice(3) === 0) one.id = `i${ids++}`;
  if (dice(4) === 0) one.setAttribute("data-blank", `b${dice(50)}`);
  if (dice(2) === 0) one.className = `c${dice(9)}`;
  for (let n = dice(5); n > 0; n--) one.append(depth > 0 && dice(3) ? tree(depth - 1) : `text ${dice(99)}`);
  if (dice(9) === 0) one.append(document.createComment("left out"));
  return one;
}
function changed(tree) {
  const other = tree.cloneNode(true);
  for (let n = 1 + dice(6); n > 0; n--) {
    const all = [...other.querySelectorAll("*")];
    if (!all.length) { other.append("put in"); continue; }
    const one = all[dice(all.length)];
    if (!other.contains(one)) continue;
    [
      () => one.remove(), () => one.before(tree2()), () => { one.className = `n${dice(9)}`; }, () => one.append("more"),
      () => one.parentNode.append(one), () => one.removeAttribute("id"), () => one.removeAttribute("class"), () => one.replaceChildren(),
    ][dice(8)]();
  }
  return other;
}
const tree2 = () => tree(2);
const wrong = [];
// another tree under the same root, with the same ids elsewhere in it
function another(old) {
  ids = 0;
  const root = old.cloneNode(false);
  root.append(...tree(5).childNodes);
  return root;
}
// some parts the server knows to be here: those that are what they were come as places alone
function known(old) {
  let parts = 0;
  for (const one of old.querySelectorAll("*")) if (!one.closest("[data-part]") && dice(3) === 0) one.setAttribute("data-part", `d${parts++}`);
}
function placed(old, fresh) {
  const pairs = [...fresh.querySelectorAll("[data-part]")].map((one) => [one, old.querySelector(`[data-part=${one.dataset.part}]`)]);
  const same = pairs.filter(([one, before]) => before && before.isEqualNode(one)).map(([one]) => one);
  for (const [one] of pairs) if (!same.includes(one)) one.dataset.part += "x";
  const said = fresh.outerHTML;
  for (const one of same) {
    const place = document.createElement(one.nodeName);
    place.dataset.stays = one.dataset.part;
    one.replaceWith(place);
  }
  stayed += same.length;
  return said;
}
let compared = 0, stayed = 0;
for (let n = 0; n < 400; n++) {
  ids = 0;
  const old = tree(5);
  known(old);
  const fresh = n % 5 ? changed(old) : another(old);
  if (!old.isEqualNode(fresh)) compared += 1;
  const said = placed(old, fresh);
  document.body.append(old);
  window.Rowan.swap(old, fresh);
  if (old.outerHTML !== said) wrong.push(`${said} became ${old.outerHTML}`);
  old.remove();
}
return [compared, stayed, wrong.slice(0, 3)];
"""

KEPT = """
const made = (text) => { const one = document.createElement("div"); one.innerHTML = text; return one; };
const old = made(arguments[0]);
document.body.append(old);
const named = () => [...old.querySelectorAll("[id]")].map((one) => [one.getAttribute("id"), one]);
const before = new Map(named());
old.querySelector("details")?.setAttribute("open", "");
window.Rowan.swap(old, made(arguments[1]));
const stayed = named().filter(([name, one]) => before.get(name) === one).map(([name]) => name);
const found = [stayed.join(" "), old.querySelector("details")?.open ?? null, [...new Set(old.querySelector("form")?._ajax_target?.xxx.ids.flat())]];
old.remove();
return found;
"""


@pytest.fixture
def page(sign_in: SignInPage) -> SignInPage:
    return sign_in.open()


def test_what_stands_there_afterwards_is_the_new_state(page: SignInPage) -> None:
    compared, stayed, wrong = page.driver.execute_script(TREES)
    assert wrong == []
    assert stayed > 200, "parts that were not sent"
    assert compared > 300, "pairs that differ"


@pytest.mark.parametrize(
    ("old", "fresh", "stayed"),
    [
        ("<p id=a>1</p><p id=b>2</p>", "<p id=a>1</p><p id=b>3</p>", "a b"),
        # put in before, taken out, changed about
        ("<p id=a>1</p><p id=b>2</p>", "<p>new</p><p id=a>1</p><p id=b>2</p>", "a b"),
        ("<p id=a>1</p><p id=b>2</p><p id=c>3</p>", "<p id=a>1</p><p id=c>3</p>", "a c"),
        ("<p id=a>1</p><p id=b>2</p>", "<p id=b>2</p><p id=a>1</p>", "b a"),
        # fields called like what every element has
        (
            "<form id=f><input name=id value=1><button name=remove>take away</button></form><p id=b>2</p>",
            "<form id=f><input name=id value=2><button name=remove>take away</button></form><p id=b>3</p>",
            "f b",
        ),
        ("<form id=f><input name=id><button name=remove>take away</button></form><p id=b>2</p>", "<p id=b>3</p>", "b"),
        # of another kind, or a handle that a hand may have changed
        ("<p id=a>1</p>", "<h2 id=a>1</h2>", ""),
        ("<b id=a data-drag=x>1</b><p id=b>2</p>", "<b id=a data-drag=x>3</b><p id=b>2</p>", "b"),
    ],
)
def test_what_can_stay_does(page: SignInPage, old: str, fresh: str, stayed: str) -> None:
    assert page.driver.execute_script(KEPT, old, fresh)[0] == stayed


def test_a_list_that_somebody_opened_stays_open_and_a_reason_does_not(page: SignInPage) -> None:
    kept = "<details{}><summary>more</summary><p>{}</p></details>"
    for which, is_open in (("", True), (" class=row", False), (" class=blank", False)):
        found = page.driver.execute_script(KEPT, kept.format(which, 1), kept.format(which, 2))
        assert found[1] is is_open, which


def test_a_form_that_asks_for_another_piece_asks_for_that(page: SignInPage) -> None:
    """Alpine reads where an answer goes when it first sees a form."""
    form = "<form id=a x-target={0}><button>{0}</button></form>"
    assert page.driver.execute_script(KEPT, "<p>none yet</p>", form.format("told")) == ["", None, ["told"]]
    assert page.driver.execute_script(KEPT, form.format("told"), form.format("plan")) == ["", None, ["plan"]]


# what is drawn, reckoned and found, without runs that come later, what is of one request (forms, digests) and what the keys' stops add
SEEN = """
const seen = [];
for (const part of document.querySelectorAll("#plan svg.drawing, #reckoning .rows, #plan table, #plan .finding")) {
  if (part.closest(".run")) continue;
  const copy = part.cloneNode(true);
  for (const one of copy.querySelectorAll("form, noscript")) one.parentNode.removeChild(one);
  for (const one of [copy, ...copy.querySelectorAll("*")]) for (const name of ["tabindex", "data-part"]) one.removeAttribute(name);
  seen.push(copy.outerHTML.replace(/\\s+/g, " "));
}
return seen;
"""
CHANGE = """
const form = document.getElementById("drag-form");
form.elements.path.value = arguments[0];
form.elements.second.value = "";
form.elements.value.value = arguments[1];
form.requestSubmit();
"""


@pytest.mark.parametrize(
    ("bench", "path", "values"),
    [
        ("run", "joint:hot.h9", ("0.02", "-0.01")),
        ("charge", "charge.gap_pa", ("60000", "31000")),
        ("control", "control.start_k", ("11", "5")),
    ],
)
def test_a_page_after_a_change_is_the_page_as_it_is_loaded(
    sign_in: SignInPage, bench: str, path: str, values: tuple[str, ...]
) -> None:
    page = sign_in.open_plan("Kvist house, 4 Ropewalk", bench)
    first = page.driver.execute_script(SEEN)
    for value in values:
        with page.answered():
            page.driver.execute_script(CHANGE, path, value)
    year_is_there = "return document.querySelector('[data-later]') === null"
    page.wait.until(lambda _: page.driver.execute_script(year_is_there))
    swapped = page.driver.execute_script(SEEN)
    page.driver.get(page.driver.current_url)
    page.wait.until(lambda _: page.driver.execute_script(year_is_there))
    assert swapped == page.driver.execute_script(SEEN)
    assert swapped != first


def test_who_stands_on_a_table_that_is_pushed_sideways_stays_there(sign_in: SignInPage) -> None:
    page = sign_in.open_plan("Kvist house, 4 Ropewalk", "run")
    set_size(page.driver, 390, 844, phone=True)
    wide = "document.querySelector('.table-scroll[tabindex]')"
    page.wait.until(lambda _: page.driver.execute_script(f"return {wide} !== null"))
    page.driver.execute_script(
        f"window.taken = 0; new MutationObserver((all) => {{ window.taken += all.length; }}).observe({wide}, {{ attributeFilter: ['tabindex'] }})"
    )
    with page.answered():
        page.driver.execute_script(
            f"const form = document.getElementById('drag-form'); {wide}.focus(); form.elements.path.value = 'joint:hot.h9';"
            " form.elements.second.value = ''; form.elements.value.value = '0.02'; form.requestSubmit()"
        )
    said = "const at = document.activeElement; return [at.className, at.getAttribute('tabindex')]"
    assert page.driver.execute_script(said) == ["table-scroll", "0"]
    assert page.driver.execute_script("return window.taken") == 0, "not even for a moment"


SENT = """
window.places = null;
document.addEventListener("ajax:merge", (event) => {
  window.places = [...event.detail.content.querySelectorAll("[data-stays]")].map((place) => place.getAttribute("data-stays"));
}, true);
"""
TAPE = "const tape = document.getElementById('tape'); return [tape.dataset.part, tape.textContent]"


def test_what_is_there_stays_and_what_a_script_changed_is_sent_again(sign_in: SignInPage) -> None:
    page = sign_in.open_plan("Kvist house, 4 Ropewalk", "run")
    page.driver.execute_script(SENT)
    part, words = page.driver.execute_script(TAPE)
    with page.answered():
        page.driver.execute_script(CHANGE, "joint:hot.h9", "-0.01")
    assert part in page.driver.execute_script("return window.places"), "it is not sent"
    assert page.driver.execute_script(TAPE) == [part, words]
    revisions = (
        "return [...new Set([...document.querySelectorAll('#plan input[name=revision]')].map((one) => one.value))]"
    )
    assert page.driver.execute_script(revisions) == [page.one("#plan").get_attribute("data-revision")]
    page.driver.execute_script("document.querySelector('#tape a').textContent = 'another'")
    with page.answered():
        page.driver.execute_script(CHANGE, "joint:hot.h9", "0.01")
    assert part not in page.driver.execute_script("return window.places"), "it is sent, as it is no longer what it was"
    assert page.driver.execute_script(TAPE) == [part, words]


def test_a_page_that_lost_what_should_stay_is_loaded_anew(sign_in: SignInPage) -> None:
    page = sign_in.open_plan("Kvist house, 4 Ropewalk", "run")
    before = page.one("#plan").get_attribute("data-revision")
    gone = "document.addEventListener('ajax:send', () => document.getElementById('tape').remove(), { once: true })"
    page.driver.execute_script(gone)
    with page.new_page():
        page.driver.execute_script(CHANGE, "joint:hot.h9", "-0.01")
    assert page.one("#tape").is_displayed()
    assert page.one("#plan").get_attribute("data-revision") != before


# where a leg stands in its table, at each frame and after each change of the page, until the run above it has been made anew
STANDS = """
const done = arguments[0], leg = () => document.getElementById("leg-row-hot-h9"), places = new Set();
const revision = () => document.getElementById("plan").dataset.revision, before = revision();
let hasWaited = false, isDone = false;
const look = () => {
  if (isDone) return;
  places.add(Math.round(leg().getBoundingClientRect().top + window.scrollY));
  const isWaiting = document.querySelector(".run[data-run]") !== null;
  hasWaited ||= isWaiting;
  isDone = revision() !== before && !isWaiting;
  if (isDone) done([hasWaited, [...places]]);
};
const frames = () => { look(); if (!isDone) requestAnimationFrame(frames); };
new MutationObserver(look).observe(document.body, { subtree: true, childList: true, attributes: true });
document.getElementById("drag-form").requestSubmit();
frames();
"""


def test_what_stands_under_a_run_stays_where_it_is_while_that_is_made_anew(sign_in: SignInPage) -> None:
    page = sign_in.open_plan("Kvist house, 4 Ropewalk", "run")
    is_there = "return document.querySelector('.run svg') !== null && document.querySelector('.run[data-run]') === null"
    page.wait.until(lambda _: page.driver.execute_script(is_there))
    # no other test's: what was run for it is kept, and would be there at once
    page.driver.execute_script(CHANGE.replace("form.requestSubmit();", ""), "joint:hot.h9", "-0.03")
    has_waited, places = page.driver.execute_async_script(STANDS)
    assert has_waited
    # a margin that collapses or not; the drawing takes a quarter of the screen
    assert max(places) - min(places) <= 4, places
