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
let compared = 0;
for (let n = 0; n < 400; n++) {
  ids = 0;
  const old = tree(5);
  const fresh = n % 5 ? changed(old) : another(old);
  if (!old.isEqualNode(fresh)) compared += 1;
  const said = fresh.outerHTML;
  document.body.append(old);
  window.Rowan.swap(old, fresh);
  if (old.outerHTML !== said) wrong.push(`${said} became ${old.outerHTML}`);
  old.remove();
}
return [compared, wrong.slice(0, 3)];
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
    compared, wrong = page.driver.execute_script(TREES)
    assert wrong == []
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


# what is drawn, reckoned and found, without runs that come later, what is of one request (forms) and what the keys' stops add
SEEN = """
const seen = [];
for (const part of document.querySelectorAll("#plan svg.drawing, #reckoning .rows, #plan table, #plan .finding")) {
  if (part.closest(".run")) continue;
  const copy = part.cloneNode(true);
  for (const one of copy.querySelectorAll("form, noscript")) one.parentNode.removeChild(one);
  for (const one of [copy, ...copy.querySelectorAll("*")]) one.removeAttribute("tabindex");
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
