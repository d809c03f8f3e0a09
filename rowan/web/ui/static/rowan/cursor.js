// A line or a disc that reads a drawing: the hour of a day, the day under the lens, the rival pair on the map.
(() => {
  const { fetchPiece, fixed, numberOf, pointIn, tr } = window.Rowan;
  // the hour of a day: its layers are in the drawing, the line is moved by hand or key
  let scrubbing = null;
  function scrubTo(handle, hour) {
    const svg = handle.ownerSVGElement;
    const day = JSON.parse(svg.dataset.scrub);
    const at = Math.min(24, Math.max(1, Math.round(hour)));
    const x = day.left + ((day.right - day.left) * at) / 24;
    const text = `${at}:00`;
    handle.setAttribute("aria-valuenow", at);
    handle.setAttribute("aria-valuetext", tr("{hour}, store top {warmth}", { hour: text, warmth: `${day.layers[at - 1][0]} ${day.unit}` }));
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
    const shown = (kelvin) => fixed(kelvin / numberOf(disc, "factor"), 1);
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
})();
