// Single keys and the sheet that lists them; undo and redo.
(() => {
  // single keys, unless somebody types or has switched them off
  const KEYS_OFF = "keys-off";
  const sheet = () => document.getElementById("keys");
  function openKeys() {
    document.getElementById("keys-on").checked = localStorage.getItem(KEYS_OFF) === null;
    if (!sheet().open) sheet().showModal();
  }
  function follow(selector) {
    const link = document.querySelector(selector);
    if (link) location.assign(link.href);
    return Boolean(link);
  }
  function besideOpenStep(by) {
    const steps = [...document.querySelectorAll(".tape a")];
    const at = steps.findIndex((step) => step.getAttribute("aria-current"));
    const next = steps[at < 0 ? 0 : at + by];
    if (next) location.assign(next.href);
    return Boolean(next);
  }
  // from where the focus is, the next of a kind on the page, and round again
  function nextOf(selector, act) {
    const all = [...document.querySelectorAll(selector)].filter((element) => element.offsetParent !== null);
    if (!all.length) return false;
    const from = document.activeElement;
    const after = all.find((element) => from?.compareDocumentPosition(element) & Node.DOCUMENT_POSITION_FOLLOWING && !element.contains(from));
    act(after || all[0]);
    return true;
  }
  function focusOn(element) {
    if (!element.matches("a, button, input, summary")) element.tabIndex = -1;
    element.focus();
    element.scrollIntoView({ block: "nearest" });
  }
  function switchUnits() {
    const other = document.querySelector("#units-form button[aria-pressed=false]");
    other?.form.requestSubmit(other);
    return Boolean(other);
  }
  function switchPaper() {
    const other = document.getElementById("paper-dark");
    other?.form.requestSubmit(other);
    return Boolean(other);
  }
  function find() {
    const field = document.getElementById("search");
    if (field) field.focus();
    else follow(".brand");
    return true;
  }
  const SINGLE = {
    "?": () => { openKeys(); return true; },
    "/": find,
    "[": () => besideOpenStep(-1),
    "]": () => besideOpenStep(1),
    j: () => follow(".brand"),
    m: () => { location.assign(document.body.dataset.methods); return true; },
    u: switchUnits,
    d: switchPaper,
    e: () => nextOf(".blank > summary.assumed", focusOn),
    f: () => nextOf(".finding", focusOn),
    a: () => follow("[data-key=a]"),
    h: () => follow("[data-key=h]"),
    p: () => follow("[data-key=p]"),
    c: () => follow("[data-key=c]"),
  };
  // until the next frame a field keeps the focus in a sheet that was closed: nobody types into what is not shown
  const isTypedInto = (target) => target.matches?.("input, select, textarea, [contenteditable]") && target.getClientRects().length > 0;
  document.addEventListener("keydown", (event) => {
    if (event.ctrlKey || event.metaKey || event.altKey || event.defaultPrevented || sheet()?.open) return;
    if (isTypedInto(event.target)) return;
    if (event.target.closest?.("details.blank[open]")) return; // its field is about to take the focus
    if (event.target.closest?.("[data-leg]") && ["+", "/"].includes(event.key)) return; // a joint's own keys
    if (localStorage.getItem(KEYS_OFF) !== null && event.key !== "?") return;
    if (SINGLE[event.key]?.()) event.preventDefault();
  });
  document.addEventListener("click", (event) => {
    if (event.target.closest?.("[data-keys]")) openKeys();
  });
  document.addEventListener("change", (event) => {
    if (event.target.id === "keys-on") {
      if (event.target.checked) localStorage.removeItem(KEYS_OFF);
      else localStorage.setItem(KEYS_OFF, "1");
    }
  });

  // undo and redo by the keys people expect, unless they are typing
  document.addEventListener("keydown", (event) => {
    if (!(event.ctrlKey || event.metaKey) || isTypedInto(event.target)) return;
    const key = event.key.toLowerCase();
    if (key !== "z" && key !== "y") return;
    const button = document.getElementById(key === "y" || event.shiftKey ? "redo" : "undo");
    if (button && !button.disabled) {
      event.preventDefault();
      button.form.requestSubmit(button);
    }
  });
})();
