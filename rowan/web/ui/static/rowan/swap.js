// A new state of the plan is put in where it differs: most of its two thousand elements are the same after a change.
(() => {
  // what reads alike is left alone; a handle keeps what a hand has done to it, so it is exchanged as a whole
  function updating(old, fresh, childrenOnly, skip) {
    if (old.isEqualNode(fresh)) { skip(); return; }
    // how a figure came about follows with the year: an open reason keeps its height, so that nothing moves under the eye
    if (old.matches?.("details.row[open]") && fresh.querySelector("[data-anew]")) {
      const why = old.querySelector(".why");
      why.style.minHeight = `${why.offsetHeight}px`;
    }
    if (fresh.dataset?.anew !== undefined) {
      old.replaceChildren(...fresh.cloneNode(true).childNodes);
      skip();
      return;
    }
    if (old.dataset?.drag) { old.replaceWith(fresh.cloneNode(true)); skip(); return; }
    // a list that somebody opened stays open; a blank or a reason is closed by its own script
    if (old.matches?.("details[open]:not(.blank):not(.row)")) fresh.setAttribute("open", "");
  }
  const key = (element) => element.id || element.dataset.blank || element.dataset.why;
  function swap(old, fresh) {
    window.Alpine.morph(old, fresh, { key, updating });
    // what was typed belongs to the state before; a field says again what the server said
    for (const form of old.querySelectorAll("form")) form.reset();
  }
  document.addEventListener("ajax:merge", (event) => {
    if (event.target.id !== "plan") return;
    event.preventDefault();
    swap(event.target, event.detail.content);
  });
  window.Rowan.swap = swap;
})();
