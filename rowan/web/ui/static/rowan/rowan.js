// What the page does by itself: opens slips, keeps the open reason and the focus over a swap,
// moves drawings under the hand. Every figure still comes from the server.
(() => {
  const NUDGE_DELAY_MS = 350;
  const BUSY_DELAY_MS = 60;
  const MOST_FIGURES = 6;
  const FACTS = "facts";
  const openWhy = { key: sessionStorage.getItem("why") || "" };
  const focused = { id: "" };

  document.addEventListener("alpine:init", () => {
    window.Alpine.data("plan", () => ({
      init() {
        if (location.hash.startsWith("#figure-")) openWhy.key = location.hash.slice("#figure-".length);
        restoreWhy(this.$root);
        if (location.hash.startsWith("#figure-")) document.getElementById(location.hash.slice(1))?.scrollIntoView({ block: "center" });
        const refused = this.$root.querySelector("details.blank[open] [aria-invalid]");
        if (refused) refused.focus();
      },
    }));
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
            if (fresh) document.getElementById("proposal").replaceWith(fresh);
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
  // a link to a figure opens its reason, also when it leads to this very page
  window.addEventListener("hashchange", () => {
    if (!location.hash.startsWith("#figure-")) return;
    openWhy.key = location.hash.slice("#figure-".length);
    restoreWhy(document);
    document.getElementById(location.hash.slice(1))?.scrollIntoView({ block: "center" });
  });
  document.addEventListener("toggle", (event) => {
    const element = event.target;
    if (element.matches?.("details.row")) {
      if (element.open) openWhy.key = element.dataset.why;
      else if (openWhy.key === element.dataset.why && document.contains(element)) openWhy.key = "";
      sessionStorage.setItem("why", openWhy.key);
    }
    if (element.matches?.("details.blank") && element.open) {
      if (element.querySelector(".slip")) placeSlip(element);
      else fetchSlip(element);
    }
  }, true);
  // a piece of a page that the server draws
  function fetchPiece(address, selector) {
    return fetch(address, { headers: { "X-Requested-With": "fetch" } })
      .then((answer) => (answer.ok ? answer.text() : Promise.reject(new Error(String(answer.status)))))
      .then((text) => new DOMParser().parseFromString(text, "text/html").querySelector(selector));
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
      .catch(() => { location.reload(); });
  }

  document.addEventListener("ajax:before", () => { focused.id = document.activeElement?.id || focused.id; });
  document.addEventListener("ajax:send", () => { focused.id = document.activeElement?.id || focused.id; });
  // the answer has replaced the form that asked, so this one comes on the window
  window.addEventListener("ajax:after", () => {
    const wanted = focused.id && document.getElementById(focused.id.replace(/-(value|origin)$/, ""));
    if (wanted && !document.querySelector("[aria-invalid]")) wanted.focus({ preventScroll: true });
  });

  // a slip closes on Escape or a click elsewhere, and gives the focus back
  document.addEventListener("keydown", (event) => {
    if (event.key !== "Escape") return;
    for (const open of document.querySelectorAll("details.blank[open]")) {
      open.open = false;
      open.querySelector("summary").focus();
    }
  });
  document.addEventListener("pointerdown", (event) => {
    for (const open of document.querySelectorAll("details.blank[open]")) {
      if (!open.contains(event.target)) open.open = false;
    }
  });

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
    e: () => nextOf(".blank > summary.assumed", focusOn),
    f: () => nextOf(".finding", focusOn),
    a: () => follow("[data-key=a]"),
    h: () => follow("[data-key=h]"),
    p: () => follow("[data-key=p]"),
    c: () => follow("[data-key=c]"),
  };
  document.addEventListener("keydown", (event) => {
    if (event.ctrlKey || event.metaKey || event.altKey || event.defaultPrevented || sheet()?.open) return;
    if (event.target.matches?.("input, select, textarea, [contenteditable]")) return;
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
    // a chosen file is sent at once
    if (event.target.matches?.("[data-send]") && event.target.files.length) event.target.form.requestSubmit();
  });

  // what takes a few seconds says so until the paper is there
  document.addEventListener("click", (event) => {
    if (!event.target.closest?.("[data-slow]") || event.ctrlKey || event.metaKey) return;
    const words = document.getElementById("slow-words");
    if (words) words.textContent = "The job sheet is being drawn: ten pages take some seconds.";
  });
  window.addEventListener("pageshow", () => {
    const words = document.getElementById("slow-words");
    if (words) words.textContent = "";
  });

  // a search follows the typing
  const LIVE_DELAY_MS = 250;
  let live = 0;
  document.addEventListener("input", (event) => {
    if (!event.target.matches?.("[data-live]")) return;
    clearTimeout(live);
    focused.id = event.target.id;
    live = setTimeout(() => event.target.form.requestSubmit(), LIVE_DELAY_MS);
  });
  window.addEventListener("ajax:after", () => {
    const field = document.querySelector("[data-live]");
    if (!field || focused.id !== field.id) return;
    field.focus();
    field.setSelectionRange(field.value.length, field.value.length);
  });

  // job files are dropped anywhere on a page that takes them
  const dropForm = () => document.querySelector("form[data-drop]");
  const holdsFiles = (event) => [...(event.dataTransfer?.types || [])].includes("Files");
  document.addEventListener("dragover", (event) => {
    if (!dropForm() || !holdsFiles(event)) return;
    event.preventDefault();
    document.body.classList.add("dropping");
  });
  document.addEventListener("dragleave", (event) => {
    if (!event.relatedTarget) document.body.classList.remove("dropping");
  });
  document.addEventListener("drop", (event) => {
    const form = dropForm();
    if (!form || !holdsFiles(event)) return;
    event.preventDefault();
    document.body.classList.remove("dropping");
    form.querySelector("[type=file]").files = event.dataTransfer.files;
    form.requestSubmit();
  });

  // undo and redo by the keys people expect, unless they are typing
  document.addEventListener("keydown", (event) => {
    if (!(event.ctrlKey || event.metaKey) || event.target.matches?.("input, select, textarea")) return;
    const key = event.key.toLowerCase();
    if (key !== "z" && key !== "y") return;
    const button = document.getElementById(key === "y" || event.shiftKey ? "redo" : "undo");
    if (button && !button.disabled) {
      event.preventDefault();
      button.form.requestSubmit(button);
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

  // the hour of a day: its layers are in the drawing, the line is moved by hand or key
  let scrubbing = null;
  function scrubTo(handle, hour) {
    const svg = handle.ownerSVGElement;
    const day = JSON.parse(svg.dataset.scrub);
    const at = Math.min(24, Math.max(1, Math.round(hour)));
    const x = day.left + ((day.right - day.left) * at) / 24;
    const text = `${at}:00`;
    handle.setAttribute("aria-valuenow", at);
    handle.setAttribute("aria-valuetext", `${text}, store top ${day.layers[at - 1][0]} ${day.unit}`);
    svg.querySelector("#scrub-grip").setAttribute("x", x - 12);
    svg.querySelector("#scrub-knob").setAttribute("cx", x);
    for (const end of ["x1", "x2"]) svg.querySelector("#scrub-line").setAttribute(end, x);
    svg.querySelector("#scrub-time").textContent = text;
    day.layers[at - 1].forEach((value, layer) => {
      svg.querySelector(`#scrub-layer-${layer}`).setAttribute("class", day.tints[at - 1][layer]);
      const words = svg.querySelector(`#scrub-words-${layer}`);
      if (words) words.textContent = value;
    });
  }
  function scrubWith(event) {
    const day = JSON.parse(scrubbing.ownerSVGElement.dataset.scrub);
    const point = pointIn(scrubbing.ownerSVGElement, event);
    scrubTo(scrubbing, (24 * (point.x - day.left)) / (day.right - day.left));
  }
  document.addEventListener("pointerdown", (event) => {
    const svg = event.target.closest?.("svg[data-scrub]");
    if (!svg || event.button !== 0) return;
    const day = JSON.parse(svg.dataset.scrub);
    if (pointIn(svg, event).x < day.left - 12) return;
    event.preventDefault();
    scrubbing = svg.querySelector("#scrub");
    scrubbing.focus({ preventScroll: true });
    scrubWith(event);
  });
  document.addEventListener("pointermove", (event) => { if (scrubbing) scrubWith(event); });
  for (const name of ["pointerup", "pointercancel"]) document.addEventListener(name, () => { scrubbing = null; });
  document.addEventListener("keydown", (event) => {
    const handle = event.target.closest?.("#scrub");
    const by = { ArrowUp: 1, ArrowRight: 1, ArrowDown: -1, ArrowLeft: -1, PageUp: 6, PageDown: -6 }[event.key];
    if (!handle || !by) return;
    event.preventDefault();
    scrubTo(handle, Number(handle.getAttribute("aria-valuenow")) + by);
  });

  // a day under the lens: the line reads what is there, the rival is moved and the newest answer wins
  let racing = null;
  const span = { from: null, to: null };
  function race(start, stop) {
    const place = document.getElementById("race");
    if (!place) return;
    // one at a time, then the newest: what was asked for in between is never run
    if (racing) { racing.next = () => race(start, stop); return; }
    const mine = { next: null };
    racing = mine;
    const asked = new URLSearchParams();
    if (start !== undefined) { asked.set("start", start); asked.set("stop", stop); }
    if (span.from !== null) { asked.set("from", span.from); asked.set("to", span.to); }
    place.setAttribute("aria-busy", "true");
    const id = document.activeElement?.id;
    const at = document.getElementById("lens-cross")?.getAttribute("aria-valuenow");
    fetchPiece(`${place.dataset.race}?${asked}`, "#race")
      .then((fresh) => {
        const old = document.getElementById("race");
        if (!fresh || !old) return;
        old.replaceWith(fresh);
        const cross = document.getElementById("lens-cross");
        if (cross && at) readAt(cross, Number(at));
        if (id && id !== document.activeElement?.id && fresh.querySelector(`#${CSS.escape(id)}`)) document.getElementById(id).focus({ preventScroll: true });
      })
      .catch(() => { document.getElementById("race")?.removeAttribute("aria-busy"); })
      .finally(() => { racing = null; mine.next?.(); });
  }
  function readAt(cross, wanted) {
    const svg = cross.ownerSVGElement;
    const lens = JSON.parse(svg.dataset.lens);
    const at = Math.min(lens.read.length - 1, Math.max(0, Math.round(wanted)));
    const x = lens.left + ((lens.right - lens.left) * at) / (lens.read.length - 1);
    const words = lens.read[at];
    cross.setAttribute("aria-valuenow", at);
    cross.setAttribute("aria-valuetext", words);
    svg.querySelector("#lens-grip").setAttribute("x", x - 10);
    for (const end of ["x1", "x2"]) svg.querySelector("#lens-line").setAttribute(end, x);
    const label = svg.querySelector("#lens-words");
    label.textContent = words;
    label.setAttribute("x", Math.min(lens.right - 120, Math.max(lens.left + 160, x)));
  }
  function zoom(way) {
    const cross = document.getElementById("lens-cross");
    if (!cross) return;
    const lens = JSON.parse(cross.ownerSVGElement.dataset.lens);
    const share = Number(cross.getAttribute("aria-valuenow")) / (lens.read.length - 1);
    const middle = lens.from + (lens.to - lens.from) * share;
    const width = Math.max(0.5, (lens.to - lens.from) * (way === "in" ? 0.5 : 2));
    if (way === "all") { span.from = 0; span.to = 24 * Math.max(1, Math.ceil(lens.to / 24)); } else {
      span.from = Math.max(0, middle - width * share);
      span.to = span.from + width;
    }
    race();
  }
  let crossing = false;
  function crossTo(svg, event) {
    const lens = JSON.parse(svg.dataset.lens);
    readAt(svg.querySelector("#lens-cross"), ((pointIn(svg, event).x - lens.left) / (lens.right - lens.left)) * (lens.read.length - 1));
  }
  document.addEventListener("pointerdown", (event) => {
    const svg = event.target.closest?.("svg[data-lens]");
    if (!svg || event.button !== 0) return;
    event.preventDefault();
    crossing = true;
    svg.querySelector("#lens-cross").focus({ preventScroll: true });
    crossTo(svg, event);
  });
  document.addEventListener("pointermove", (event) => {
    const svg = crossing && document.querySelector("svg[data-lens]");
    if (svg) crossTo(svg, event);
  });
  for (const name of ["pointerup", "pointercancel"]) document.addEventListener(name, () => { crossing = false; });
  document.addEventListener("click", (event) => {
    const button = event.target.closest?.("[data-zoom]");
    if (button) zoom(button.dataset.zoom);
  });
  document.addEventListener("keydown", (event) => {
    const cross = event.target.closest?.("#lens-cross");
    if (!cross) return;
    const by = { ArrowRight: 1, ArrowUp: 1, ArrowLeft: -1, ArrowDown: -1, PageUp: 6, PageDown: -6 }[event.key];
    const way = { "+": "in", "-": "out", "0": "all" }[event.key];
    if (!by && !way) return;
    event.preventDefault();
    event.stopPropagation();
    if (by) readAt(cross, Number(cross.getAttribute("aria-valuenow")) + by);
    else zoom(way);
  });

  // the rival pair on the map: the disc moves at once, its race follows
  let moving = null;
  function moveRival(disc, start, stop) {
    const each = numberOf(disc, "step");
    const step = (value) => Math.round(value / each) * each;
    const newStart = Math.min(numberOf(disc, "most"), Math.max(numberOf(disc, "least"), step(start)));
    const newStop = Math.min(newStart - each, numberOf(disc, "mostStop"), Math.max(0, step(stop)));
    const from = { start: Number(disc.dataset.start), stop: Number(disc.dataset.stop) };
    disc.setAttribute("transform", `translate(${(newStart - from.start) * numberOf(disc, "perStart")} ${(from.stop - newStop) * numberOf(disc, "perStop")})`);
    if (newStart === Number(disc.dataset.nowStart ?? from.start) && newStop === Number(disc.dataset.nowStop ?? from.stop)) return;
    disc.dataset.nowStart = newStart;
    disc.dataset.nowStop = newStop;
    const shown = (kelvin) => (kelvin / numberOf(disc, "factor")).toFixed(1);
    disc.setAttribute("aria-valuenow", newStart);
    disc.setAttribute("aria-valuetext", `start ${shown(newStart)} ${disc.dataset.unit}, stop ${shown(newStop)} ${disc.dataset.unit}`);
    race(newStart, newStop);
  }
  const rivalNow = (disc) => [Number(disc.dataset.nowStart ?? disc.dataset.start), Number(disc.dataset.nowStop ?? disc.dataset.stop)];
  document.addEventListener("pointerdown", (event) => {
    const disc = event.target.closest?.("#rival");
    if (!disc || event.button !== 0) return;
    event.preventDefault();
    disc.focus({ preventScroll: true });
    moving = { disc, at: pointIn(disc.ownerSVGElement, event), from: rivalNow(disc) };
  });
  document.addEventListener("pointermove", (event) => {
    if (!moving) return;
    const { disc, at, from } = moving;
    const now = pointIn(disc.ownerSVGElement, event);
    moveRival(disc, from[0] + (now.x - at.x) / numberOf(disc, "perStart"), from[1] - (now.y - at.y) / numberOf(disc, "perStop"));
  });
  for (const name of ["pointerup", "pointercancel"]) document.addEventListener(name, () => { moving = null; });
  document.addEventListener("keydown", (event) => {
    const disc = event.target.closest?.("#rival");
    const by = disc && { ArrowRight: [1, 0], ArrowLeft: [-1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[event.key];
    if (!by) return;
    event.preventDefault();
    const [start, stop] = rivalNow(disc);
    moveRival(disc, start + by[0] * numberOf(disc, "step"), stop + by[1] * numberOf(disc, "step"));
  });

  // runs of many years: asked for again until they are whole, drawn as they come
  const RUN_DELAY_MS = 350;
  const asked = new WeakSet();
  function followRun(place, address) {
    if (asked.has(place)) return;
    asked.add(place);
    setTimeout(() => {
      if (!place.isConnected) return;
      fetchPiece(address, ".run")
        .then((fresh) => {
          if (!fresh || !place.isConnected) return;
          const inside = place.contains(document.activeElement);
          place.replaceWith(fresh);
          if (inside) { fresh.tabIndex = -1; fresh.focus({ preventScroll: true }); }
          followRuns();
        })
        .catch(() => asked.delete(place));
    }, Number(place.dataset.runDelay || RUN_DELAY_MS));
  }
  function followRuns() {
    for (const place of document.querySelectorAll("[data-run]")) followRun(place, place.dataset.run);
  }
  document.addEventListener("DOMContentLoaded", followRuns);
  window.addEventListener("ajax:after", followRuns);
  document.addEventListener("click", (event) => {
    const start = event.target.closest?.("[data-run-start]");
    if (!start || event.ctrlKey || event.metaKey) return;
    event.preventDefault();
    const place = start.closest(".run");
    start.textContent = "Running…";
    asked.delete(place);
    followRun(place, start.dataset.runStart);
  });

  // handles: drag, arrow keys, Enter to type
  let held = null;
  let nudge = { timer: 0, handle: null };

  function numberOf(handle, name) { return Number(handle.dataset[name]); }
  function clamp(handle, value) {
    const step = numberOf(handle, "step") || 0;
    const stepped = step ? Math.round(value / step) * step : value;
    return Math.min(numberOf(handle, "high"), Math.max(numberOf(handle, "low"), stepped));
  }
  function pointIn(svg, event) {
    const point = new DOMPoint(event.clientX, event.clientY);
    return point.matrixTransform(svg.getScreenCTM().inverse());
  }
  function clampSecond(handle, value) {
    const step = numberOf(handle, "secondStep");
    return Math.min(numberOf(handle, "secondHigh"), Math.max(numberOf(handle, "secondLow"), Math.round(value / step) * step));
  }
  // `second` is the height of what is moved both ways
  function show(handle, value, second = Number(handle.dataset.nowSecond ?? handle.dataset.second)) {
    const moved = value - numberOf(handle, "value");
    const axis = handle.dataset.drag;
    if (axis === "turn") {
      handle.setAttribute("transform", `rotate(${moved} ${handle.dataset.cx} ${handle.dataset.cy})`);
    } else {
      const pixels = moved / numberOf(handle, "perPx");
      const [dx, dy] = axis === "xy" ? [pixels, (second - numberOf(handle, "second")) / numberOf(handle, "secondPerPx")] : axis === "x" ? [pixels, 0] : [0, pixels];
      handle.setAttribute("transform", `translate(${dx} ${dy})`);
      for (const part of handle.ownerSVGElement.querySelectorAll(`[data-tail="${CSS.escape(handle.id)}"]`)) {
        part.dataset.y2 ??= part.getAttribute("y2");
        part.setAttribute("y2", Number(part.dataset.y2) + dy);
      }
      for (const part of handle.ownerSVGElement.querySelectorAll(`[data-lead="${CSS.escape(handle.id)}"]`)) {
        part.dataset.y1 ??= part.getAttribute("y1");
        part.setAttribute("y1", Number(part.dataset.y1) + dy);
      }
    }
    handle.dataset.now = value;
    if (axis === "xy") handle.dataset.nowSecond = second;
    document.getElementById("plan")?.classList.add("moving");
  }
  // A late nudge may belong to a drawing that the last answer has replaced, or come while one is under way.
  function commit(handle) {
    if (document.getElementById("plan")?.getAttribute("aria-busy") === "true") {
      setTimeout(() => commit(handle), BUSY_DELAY_MS);
      return;
    }
    if (!handle.isConnected) {
      const fresh = document.getElementById(handle.id);
      if (!fresh) return;
      const more = Number(handle.dataset.now) - Number(handle.dataset.sent ?? handle.dataset.value);
      const higher = Number(handle.dataset.nowSecond ?? 0) - Number(handle.dataset.sentSecond ?? handle.dataset.second ?? 0);
      if (fresh.dataset.drag === "xy") show(fresh, clamp(fresh, numberOf(fresh, "value") + more), clampSecond(fresh, numberOf(fresh, "second") + higher));
      else show(fresh, clamp(fresh, numberOf(fresh, "value") + more));
      commit(fresh);
      return;
    }
    const value = Number(handle.dataset.now ?? handle.dataset.value);
    const second = handle.dataset.nowSecond ?? handle.dataset.second ?? "";
    if (!Number.isFinite(value) || (value === numberOf(handle, "value") && second === (handle.dataset.second ?? ""))) {
      document.getElementById("plan")?.classList.remove("moving");
      return;
    }
    const form = document.getElementById("drag-form");
    form.elements.path.value = handle.dataset.path;
    form.elements.value.value = String(Number(value.toPrecision(MOST_FIGURES)));
    form.elements.second.value = second;
    handle.dataset.sent = value;
    handle.dataset.sentSecond = second;
    focused.id = handle.id;
    form.requestSubmit();
  }
  document.addEventListener("pointerdown", (event) => {
    const handle = event.target.closest?.("[data-drag]");
    if (!handle || event.button !== 0) return;
    event.preventDefault();
    const at = pointIn(handle.ownerSVGElement, event);
    held = { handle, at, from: Number(handle.dataset.now ?? handle.dataset.value), fromSecond: Number(handle.dataset.nowSecond ?? handle.dataset.second), pointer: event.pointerId };
    handle.focus({ preventScroll: true });
  });
  document.addEventListener("pointermove", (event) => {
    if (!held || event.pointerId !== held.pointer) return;
    const { handle, at, from, fromSecond } = held;
    const now = pointIn(handle.ownerSVGElement, event);
    if (handle.dataset.drag === "turn") {
      const angle = (Math.atan2(now.x - numberOf(handle, "cx"), numberOf(handle, "cy") - now.y) * 180) / Math.PI;
      show(handle, clamp(handle, (angle + 360) % 360));
    } else if (handle.dataset.drag === "xy") {
      const across = clamp(handle, from + (now.x - at.x) * numberOf(handle, "perPx"));
      show(handle, across, clampSecond(handle, fromSecond + (now.y - at.y) * numberOf(handle, "secondPerPx")));
    } else {
      const pixels = handle.dataset.drag === "x" ? now.x - at.x : now.y - at.y;
      show(handle, clamp(handle, from + pixels * numberOf(handle, "perPx")));
    }
  });
  function release(event) {
    if (!held || event.pointerId !== held.pointer) return;
    const { handle } = held;
    held = null;
    commit(handle);
  }
  document.addEventListener("pointerup", release);
  document.addEventListener("pointercancel", release);
  document.addEventListener("keydown", (event) => {
    const handle = event.target.closest?.("[data-drag]");
    if (!handle) return;
    // a joint stands for the leg before it: the table's buttons by key
    const act = handle.dataset.leg && { "+": "insert", Insert: "insert", "/": "split", Delete: "remove" }[event.key];
    const button = act && document.getElementById(`leg-${act}-${handle.dataset.leg}`);
    if (button) {
      event.preventDefault();
      button.form.requestSubmit(button);
      return;
    }
    const up = { ArrowUp: 1, ArrowRight: 1, ArrowDown: -1, ArrowLeft: -1, PageUp: 10, PageDown: -10 }[event.key];
    if (up) {
      event.preventDefault();
      const from = Number(handle.dataset.now ?? handle.dataset.value);
      if (handle.dataset.drag === "xy" && !["ArrowLeft", "ArrowRight"].includes(event.key)) {
        const height = Number(handle.dataset.nowSecond ?? handle.dataset.second);
        show(handle, from, clampSecond(handle, height + up * numberOf(handle, "secondStep")));
      } else show(handle, clamp(handle, from + up * (numberOf(handle, "step") || 1)));
      clearTimeout(nudge.timer);
      nudge = { handle, timer: setTimeout(() => commit(handle), NUDGE_DELAY_MS) };
    } else if (event.key === "Enter" || event.key === " ") {
      const blank = document.querySelector(`details.blank[data-blank="${CSS.escape(handle.dataset.blank || handle.dataset.path)}"]`);
      if (blank) {
        event.preventDefault();
        blank.closest("details.more")?.setAttribute("open", "");
        blank.open = true;
      }
    }
  });
})();
