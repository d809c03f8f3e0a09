// Runs of many years: asked for again until they are whole, drawn as they come.
(() => {
  const { fetchPiece, isBusy } = window.Rowan;
  const RUN_DELAY_MS = 350;
  // while a change is on its way nothing else is asked of server and page: both belong to the hand
  const BUSY_MS = 80;
  // nor is a run begun while a hand goes on changing: years of a state that is left again would take the next change's processor
  const REST_MS = 800;
  let changed = -REST_MS;
  // a place may stay while the plan, and with it the run, becomes another
  const asked = new WeakMap();
  function followRun(place, address) {
    if (asked.get(place) === address) return;
    asked.set(place, address);
    const isWanted = () => place.isConnected && asked.get(place) === address;
    function ask() {
      if (!isWanted()) return;
      const wait = isBusy() ? BUSY_MS : changed + REST_MS - performance.now();
      if (wait > 0) { setTimeout(ask, wait); return; }
      fetchPiece(address, ".run")
        .then((fresh) => {
          if (!fresh || !isWanted()) return;
          if (isBusy()) { setTimeout(ask, BUSY_MS); return; }
          // what a whole page is made of is shown by that page
          if (fresh.dataset.whole !== undefined) { window.location.reload(); return; }
          const inside = place.contains(document.activeElement);
          // not there yet: the room of what stood there before is kept on (swap.js)
          if (fresh.dataset.run) fresh.style.minHeight = place.style.minHeight;
          place.replaceWith(fresh);
          if (inside) { fresh.tabIndex = -1; fresh.focus({ preventScroll: true }); }
          followRuns();
        })
        .catch(() => asked.delete(place));
    }
    setTimeout(ask, Number(place.dataset.runDelay || RUN_DELAY_MS));
  }
  function followRuns() {
    for (const place of document.querySelectorAll("[data-run]")) followRun(place, place.dataset.run);
  }
  document.addEventListener("DOMContentLoaded", followRuns);
  window.addEventListener("ajax:after", () => { changed = performance.now(); followRuns(); });
  window.addEventListener("rowan:pieces", followRuns);
  document.addEventListener("click", (event) => {
    const start = event.target.closest?.("[data-run-start]");
    if (!start || event.ctrlKey || event.metaKey) return;
    event.preventDefault();
    const place = start.closest(".run");
    start.textContent = "Running…";
    asked.delete(place);
    followRun(place, start.dataset.runStart);
  });
})();
