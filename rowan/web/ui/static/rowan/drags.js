// Handles on drawings: dragged, moved by arrow keys, typed after Enter. Every figure still comes from the server.
(() => {
  const { focused, isBusy, numberOf, pointIn } = window.Rowan;
  const NUDGE_DELAY_MS = 350;
  const BUSY_DELAY_MS = 60;
  const MOST_FIGURES = 6;

  // handles: drag, arrow keys, Enter to type
  let held = null;
  let nudge = { timer: 0, handle: null };

  function clamp(handle, value) {
    const step = numberOf(handle, "step") || 0;
    const stepped = step ? Math.round(value / step) * step : value;
    return Math.min(numberOf(handle, "high"), Math.max(numberOf(handle, "low"), stepped));
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
    tell(handle);
    document.getElementById("plan")?.classList.add("moving");
  }
  // A late nudge may belong to a drawing that the last answer has replaced, or come while one is under way.
  function commit(handle) {
    if (isBusy()) {
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
    // a finger that begins here may be about to scroll: it takes the handle in hand by a tap, see below
    if (!handle || event.button !== 0 || event.pointerType === "touch") return;
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

  // On a touch screen a swipe scrolls, whatever lies under it. A tap on a handle brings a bar with a knob for the thumb, the
  // value in large figures, plus and minus for fine steps, and the way back.
  let inHand = "";
  const part = (name) => document.getElementById(`hand-${name}`);
  // what a stored value is called in the reader's units, as the server would word it
  function valueText(handle, value, prefix = "") {
    const of = (name) => handle.dataset[prefix ? prefix + name[0].toUpperCase() + name.slice(1) : name];
    if (of("factor") === undefined) return "";
    const reader = value * Number(of("factor")) + Number(of("offset"));
    if (of("unit") === "ft") return feetAndInches(reader);
    return `${window.Rowan.fixed(reader, Number(of("decimals")))}${of("unit") === "°" ? "" : " "}${of("unit")}`;
  }
  // a length as a rule is read: quarters of an inch below ten feet, whole ones beyond
  function feetAndInches(feet) {
    const sign = feet < 0 ? "−" : "";
    const step = Math.abs(feet) < 10 ? 1 : 4;
    const quarters = Math.round(Math.abs(feet) * 48 / step) * step;
    const rest = quarters % 48;
    const inches = `${Math.floor(rest / 4) || ""}${["", "¼", "½", "¾"][rest % 4]}` || "0";
    const whole = Math.floor(quarters / 48);
    return whole ? `${sign}${whole} ft ${inches} in` : `${sign}${inches} in`;
  }
  window.Rowan.worded = valueText;
  function tell(handle) {
    if (handle.id !== inHand || part("bar").hidden) return;
    const value = Number(handle.dataset.now ?? handle.dataset.value);
    part("value").textContent = valueText(handle, value) || handle.getAttribute("aria-valuetext");
    part("knob").value = value;
    if (handle.dataset.drag === "xy") part("second").value = handle.dataset.nowSecond ?? handle.dataset.second;
  }
  function takeInHand(handle) {
    inHand = handle.id;
    part("bar").hidden = false;
    part("name").textContent = handle.getAttribute("aria-label");
    const both = handle.dataset.drag === "xy";
    part("second").hidden = !both;
    for (const [knob, name] of both ? [["knob", ""], ["second", "second"]] : [["knob", ""]]) {
      const of = (key) => handle.dataset[name ? name + key[0].toUpperCase() + key.slice(1) : key];
      Object.assign(part(knob), { min: of("low"), max: of("high"), step: of("step") || "any" });
    }
    document.body.classList.add("hand-held");
    tell(handle);
  }
  function letGo() {
    inHand = "";
    document.body.classList.remove("hand-held");
    if (part("bar")) part("bar").hidden = true;
  }
  const heldNow = () => document.getElementById(inHand);
  function byHand(by) {
    const handle = heldNow();
    if (!handle) return;
    const from = Number(handle.dataset.now ?? handle.dataset.value);
    show(handle, clamp(handle, from + by * (numberOf(handle, "step") || 1)));
    clearTimeout(nudge.timer);
    nudge = { handle, timer: setTimeout(() => commit(handle), NUDGE_DELAY_MS) };
  }
  // a thumb is wider than a mark: a tap in a drawing beside one takes the nearest within reach
  const REACH_PX = 22;
  document.documentElement.dataset.reach = REACH_PX;
  const TAPPED = "[data-drag], a[href], [role=button]";
  function nearest(event) {
    const drawing = event.pointerType === "touch" && event.target.closest?.("svg.drawing");
    if (!drawing || event.target.closest(TAPPED)) return null;
    const off = (part) => {
      const { left, right, top, bottom } = part.getBoundingClientRect();
      return Math.hypot(Math.max(left - event.clientX, 0, event.clientX - right), Math.max(top - event.clientY, 0, event.clientY - bottom));
    };
    const found = [...drawing.querySelectorAll(TAPPED)].map((part) => [off(part), part]).sort((a, b) => a[0] - b[0])[0];
    return found && found[0] <= REACH_PX ? found[1] : null;
  }
  document.addEventListener("click", (event) => {
    const near = nearest(event);
    if (near && !near.matches("[data-drag]")) {
      event.preventDefault();
      near.dispatchEvent(new MouseEvent("click", { bubbles: true, cancelable: true }));
      return;
    }
    const handle = near || event.target.closest?.("[data-drag]");
    if (handle && event.pointerType === "touch") takeInHand(handle);
    const act = event.target.closest?.("[data-hand]")?.dataset.hand;
    if (act === "more") byHand(1);
    if (act === "less") byHand(-1);
    if (act === "undo") document.getElementById("undo")?.click();
    if (act === "done") letGo();
  });
  document.addEventListener("input", (event) => {
    const handle = ["hand-knob", "hand-second"].includes(event.target.id) && heldNow();
    if (!handle) return;
    const second = handle.dataset.drag === "xy" ? clampSecond(handle, Number(part("second").value)) : undefined;
    show(handle, clamp(handle, Number(part("knob").value)), second);
  });
  document.addEventListener("change", (event) => {
    if (["hand-knob", "hand-second"].includes(event.target.id) && heldNow()) commit(heldNow());
  });
  window.addEventListener("ajax:after", () => {
    if (!inHand) return;
    if (heldNow()) takeInHand(heldNow());
    else letGo();
  });
})();
