// A phone's own sensors as an instrument: the angle is shown as it is held, and a reading is the mean of a moment.
(() => {
  const MOMENT_MS = 400;
  const held = { slope: null, compass: null, seen: [] };

  const { announce, fixed, tr } = window.Rowan;
  function degrees(value) { return `${fixed(value, 1)}°`; }
  function heading(event) {
    if (Number.isFinite(event.webkitCompassHeading)) return event.webkitCompassHeading;
    return event.absolute && Number.isFinite(event.alpha) ? (360 - event.alpha) % 360 : null;
  }
  function listen(event) {
    const place = document.querySelector("[data-measure]");
    if (!place) return;
    if (Number.isFinite(event.beta)) held.slope = event.beta;
    const bearing = heading(event);
    if (bearing !== null) held.compass = bearing;
    const now = held[place.dataset.measure];
    if (now === null) return;
    held.seen.push({ at: Date.now(), slope: held.slope, compass: held.compass });
    if (held.seen.length > 400) held.seen.shift();
    document.getElementById("live-angle").textContent = degrees(now);
    document.getElementById("live-words").textContent = place.dataset.measure === "slope" ? tr("as it lies now") : tr("magnetic, as it points now");
    for (const button of place.querySelectorAll("[data-into]")) button.hidden = false;
  }
  // the mean of the last moment; bearings by their vectors, across north too
  function mean(kind) {
    const from = Date.now() - MOMENT_MS;
    const values = held.seen.filter((one) => one.at >= from && one[kind] !== null).map((one) => one[kind]);
    if (!values.length) return held[kind];
    if (kind === "slope") return values.reduce((sum, value) => sum + value, 0) / values.length;
    const turn = Math.PI / 180;
    const east = values.reduce((sum, value) => sum + Math.sin(value * turn), 0);
    const north = values.reduce((sum, value) => sum + Math.cos(value * turn), 0);
    return ((Math.atan2(east, north) / turn) + 360) % 360;
  }
  document.addEventListener("click", (event) => {
    const button = event.target.closest?.("[data-into]");
    const place = button?.closest("[data-measure]");
    if (!place) return;
    const value = mean("compass" in button.dataset ? "compass" : place.dataset.measure);
    if (value === null) return;
    const field = document.getElementById(button.dataset.into);
    field.value = `${field.value} ${fixed(value, 1)}`.trim();
    announce(tr("{degrees} taken", { degrees: degrees(value) }));
  });
  // some phones ask first
  document.addEventListener("pointerdown", () => {
    if (document.querySelector("[data-measure]") && typeof DeviceOrientationEvent !== "undefined" && DeviceOrientationEvent.requestPermission) {
      DeviceOrientationEvent.requestPermission().catch(() => {});
    }
  }, { once: true });
  window.addEventListener("deviceorientationabsolute", listen);
  window.addEventListener("deviceorientation", listen);
})();
