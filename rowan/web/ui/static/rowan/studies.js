// Runs of many years: asked for again until they are whole, drawn as they come.
(() => {
  const { fetchPiece } = window.Rowan;
  // runs of many years: asked for again until they are whole, drawn as they come
  const RUN_DELAY_MS = 350;
  // a place may stay while the plan, and with it the run, becomes another
  const asked = new WeakMap();
  function followRun(place, address) {
    if (asked.get(place) === address) return;
    asked.set(place, address);
    setTimeout(() => {
      const isWanted = () => place.isConnected && asked.get(place) === address;
      if (!isWanted()) return;
      fetchPiece(address, ".run")
        .then((fresh) => {
          if (!fresh || !isWanted()) return;
          // what a whole page is made of is shown by that page
          if (fresh.dataset.whole !== undefined) { window.location.reload(); return; }
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
