// Inputs and reasons open where they stand; what was open and who had the focus is so again after a swap.
(() => {
  const { announce, fetchPiece, focused, tr } = window.Rowan;
  const FACTS = "facts";
  const openWhy = { key: sessionStorage.getItem("why") || "" };

  document.addEventListener("alpine:init", () => {
    window.Alpine.data("facts", () => ({
      // what was typed is still there after a switch of units or a way back, until a plan is started from it
      init() {
        const form = this.$root;
        form.addEventListener("input", () => sessionStorage.setItem(FACTS, JSON.stringify(this.facts())));
        form.addEventListener("submit", () => sessionStorage.removeItem(FACTS));
        const kept = JSON.parse(sessionStorage.getItem(FACTS) || "null");
        if (!kept || form.querySelector(".refusal")) return;
        for (const [name, value] of Object.entries(kept)) {
          if (form.elements[name]) form.elements[name].value = value;
        }
        this.propose();
      },
      facts() {
        const facts = Object.fromEntries(new FormData(this.$root));
        delete facts.csrfmiddlewaretoken;
        return facts;
      },
      propose() {
        const form = this.$root;
        const query = new URLSearchParams(new FormData(form));
        query.delete("csrfmiddlewaretoken");
        const target = document.getElementById("proposal");
        target.setAttribute("aria-busy", "true");
        fetch(`${form.dataset.proposal}?${query}`, { headers: { "X-Requested-With": "fetch" } })
          .then((answer) => answer.text())
          .then((text) => {
            const fresh = new DOMParser().parseFromString(text, "text/html").getElementById("proposal");
            if (!fresh) return;
            document.getElementById("proposal").replaceWith(fresh);
            window.dispatchEvent(new Event("rowan:pieces"));
          })
          .catch(() => target.removeAttribute("aria-busy"));
      },
    }));
  });

  // one reason open at a time, and still open after the figures were swapped
  function restoreWhy(root) {
    const row = openWhy.key && root.querySelector(`[data-why="${CSS.escape(openWhy.key)}"]`);
    if (!row) return;
    row.closest("details.more-rows")?.setAttribute("open", "");
    row.open = true;
  }
  // and what was refused has the hand again
  function asLeft(plan) {
    restoreWhy(plan);
    plan.querySelector("details.blank[open] [aria-invalid]")?.focus();
  }
  window.addEventListener("rowan:pieces", () => restoreWhy(document));
  // the step somebody is on is in sight on the tape, however narrow the screen
  document.addEventListener("DOMContentLoaded", () => {
    const tape = document.querySelector(".tape");
    const open = tape?.querySelector("[aria-current]");
    if (open && tape.scrollWidth > tape.clientWidth) open.scrollIntoView({ block: "nearest", inline: "center" });
  });
  // a link to a figure opens its reason, also when it leads to this very page
  function toFigure() {
    if (!location.hash.startsWith("#figure-")) return;
    openWhy.key = location.hash.slice("#figure-".length);
    restoreWhy(document);
    document.getElementById(location.hash.slice(1))?.scrollIntoView({ block: "center" });
  }
  window.addEventListener("hashchange", toFigure);
  // no component of Alpine's, which would go through two thousand elements for it
  document.addEventListener("DOMContentLoaded", () => {
    const plan = document.getElementById("plan");
    if (!plan) return;
    toFigure();
    asLeft(plan);
  });
  document.addEventListener("toggle", (event) => {
    const element = event.target;
    if (element.matches?.("details.row")) {
      if (element.open) openWhy.key = element.dataset.why;
      else if (openWhy.key === element.dataset.why && document.contains(element)) openWhy.key = "";
      sessionStorage.setItem("why", openWhy.key);
    }
    if (element.matches?.("details.blank") && element.open) fillIn(element);
  }, true);
  // or it was opened before this script was there
  document.addEventListener("DOMContentLoaded", () => {
    for (const blank of document.querySelectorAll("details.blank[open]")) if (!blank.querySelector(".slip")) fillIn(blank);
  });
  function fillIn(blank) {
    unfold(blank);
    if (blank.querySelector(".slip")) placeSlip(blank);
    else fetchSlip(blank);
  }
  // what stands there for those without scripts becomes the form it says
  function unfold(blank) {
    const folded = blank.querySelector("noscript");
    const slip = folded && new DOMParser().parseFromString(folded.textContent, "text/html").querySelector(".slip");
    if (slip) folded.replaceWith(slip);
  }
  function placeSlip(blank) {
    const slip = blank.querySelector(".slip");
    slip.classList.toggle("leftward", slip.getBoundingClientRect().right > document.documentElement.clientWidth);
    const field = blank.querySelector("[name=value]");
    field?.focus();
    field?.select?.();
  }
  // a page that was swapped in brings its inputs without their slips
  function fetchSlip(blank) {
    fetchPiece(document.getElementById("plan").dataset.slips + encodeURIComponent(blank.dataset.blank), ".slip")
      .then((slip) => {
        if (!slip || !blank.isConnected || blank.querySelector(".slip")) return;
        blank.append(slip);
        if (blank.open) placeSlip(blank);
      })
      .catch((error) => {
        // no connection: a plain field, whose text is checked when it is sent
        if (error instanceof TypeError) plainSlip(blank);
        else location.reload();
      });
  }
  function field(kind, name, value) {
    const made = document.createElement("input");
    Object.assign(made, { type: kind, name, value });
    return made;
  }
  function plainSlip(blank) {
    if (!blank.isConnected || blank.querySelector(".slip")) return;
    const drag = document.getElementById("drag-form");
    const form = document.createElement("form");
    form.className = "slip";
    form.method = "post";
    form.action = drag.action.replace(/drag\/$/, "set/");
    form.setAttribute("x-target", "plan");
    form.setAttribute("x-target.error", "plan");
    for (const name of ["csrfmiddlewaretoken", "revision", "bench"]) form.append(field("hidden", name, drag.elements[name].value));
    form.append(field("hidden", "path", blank.dataset.blank));
    const summary = blank.querySelector("summary");
    const typed = field("text", "value", summary.dataset.typed ?? summary.textContent);
    typed.className = "ruled";
    typed.setAttribute("aria-label", summary.getAttribute("aria-label") || blank.dataset.blank);
    const help = document.createElement("span");
    help.className = "slip-help";
    help.textContent = tr("No connection: what you type is kept here, and checked when it is sent.");
    const save = document.createElement("button");
    save.className = "act main";
    save.textContent = tr("Save");
    form.append(typed, help, save);
    blank.append(form);
    if (blank.open) placeSlip(blank);
  }

  document.addEventListener("ajax:before", () => { focused.id = document.activeElement?.id || focused.id; });
  document.addEventListener("ajax:send", () => { focused.id = document.activeElement?.id || focused.id; });
  // the answer has replaced the form that asked, so this one comes on the window
  window.addEventListener("ajax:after", () => {
    const plan = document.getElementById("plan");
    announce(plan?.dataset.told);
    // with the frame that shows it: to give the focus has the page laid out, which is done for that frame in any case
    requestAnimationFrame(() => giveBack(plan));
  });
  function giveBack(plan) {
    if (plan) asLeft(plan);
    const wanted = focused.id && document.getElementById(focused.id.replace(/-(value|origin)$/, ""));
    if (wanted && wanted !== document.activeElement && !wanted.disabled && !document.querySelector("[aria-invalid]")) wanted.focus({ preventScroll: true });
    // what had the focus may be gone or at rest, as Undo at the start: never back to the top of the page
    const heading = document.querySelector("main h1");
    if (document.activeElement.matches("body, :disabled") && heading) {
      heading.tabIndex = -1;
      heading.focus({ preventScroll: true });
    }
  }

  // a slip closes on Escape or a click elsewhere, and gives the focus back
  document.addEventListener("keydown", (event) => {
    if (event.key !== "Escape") return;
    for (const open of document.querySelectorAll("details.blank[open]")) {
      open.open = false;
      open.querySelector("summary").focus();
    }
  });
  document.addEventListener("focusin", (event) => {
    for (const open of document.querySelectorAll("details.blank[open]")) {
      if (!open.contains(event.target)) open.open = false;
    }
  });
  document.addEventListener("pointerdown", (event) => {
    for (const open of document.querySelectorAll("details.blank[open]")) {
      if (!open.contains(event.target)) open.open = false;
    }
  });

  // words on a drawing that stand for an input open it
  function openBlank(event) {
    const opener = event.target.closest?.("[data-opens]");
    const blank = opener && document.querySelector(`details.blank[data-blank="${CSS.escape(opener.dataset.opens)}"]`);
    if (!blank) return;
    event.preventDefault();
    blank.closest("details.more")?.setAttribute("open", "");
    blank.open = true;
  }
  document.addEventListener("click", openBlank);
  document.addEventListener("keydown", (event) => { if (event.key === "Enter" || event.key === " ") openBlank(event); });
})();
