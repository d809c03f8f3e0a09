// What the other scripts share: a piece of a page, a point in a drawing, who has the focus, what is said aloud.
(() => {
  // the element that had the focus when something was sent; it gets it again in the answer
  const focused = { id: "" };
  // a piece of a page that the server draws
  function fetchPiece(address, selector) {
    return fetch(address, { headers: { "X-Requested-With": "fetch" } })
      .then((answer) => (answer.ok ? answer.text() : Promise.reject(new Error(String(answer.status)))))
      .then((text) => new DOMParser().parseFromString(text, "text/html").querySelector(selector));
  }
  function pointIn(svg, event) {
    const point = new DOMPoint(event.clientX, event.clientY);
    return point.matrixTransform(svg.getScreenCTM().inverse());
  }
  // whether a change is on its way
  const isBusy = () => document.getElementById("plan")?.getAttribute("aria-busy") === "true";
  function numberOf(handle, name) { return Number(handle.dataset[name]); }
  // a message in the page's language, its {names} filled; the words of other languages than English come as a script before this one
  function tr(message, parts = {}) {
    let words = window.rowanWords?.[message] ?? message;
    for (const [name, part] of Object.entries(parts)) words = words.replaceAll(`{${name}}`, part);
    return words;
  }
  const spoken = document.documentElement.lang || "en";
  const DECIMAL = new Intl.NumberFormat(spoken).format(0.5)[1];
  // a number with its decimals, and an hour of the day, as the page's language writes them
  const fixed = (value, decimals) => value.toFixed(decimals).replace(".", DECIMAL);
  const hourOf = (at) => at.toLocaleTimeString(spoken, { hour: "2-digit", minute: "2-digit", hour12: false });
  // one polite line for those who hear the page: the last thing that changed
  function announce(words) {
    const region = document.getElementById("told");
    if (region && words) region.textContent = words;
  }
  // what is wider than the screen is pushed sideways by keys too; what fits is no stop on the way
  const PUSHED = "section.block[aria-label], .table-scroll";
  const pushed = new WeakSet();
  function stops() {
    // all is measured before anything is written: each writing would have the page laid out anew for the next measure
    const parts = [...document.querySelectorAll(PUSHED)].map((part) => [part, part.scrollWidth > part.clientWidth + 1]);
    for (const [part, isWider] of parts) {
      if (isWider) pushed.add(part);
      else pushed.delete(part);
      if (isWider === part.hasAttribute("tabindex")) continue;
      if (isWider) part.tabIndex = 0;
      else part.removeAttribute("tabindex");
    }
  }
  for (const happens of ["load", "resize"]) window.addEventListener(happens, stops);
  // a new state is seen before it is measured; until then what was a stop stays one
  const isStop = (part) => pushed.has(part);
  window.addEventListener("ajax:after", () => requestAnimationFrame(() => setTimeout(stops)));
  window.Rowan = { announce, fetchPiece, fixed, focused, hourOf, isBusy, isStop, numberOf, pointIn, spoken, tr };
})();
