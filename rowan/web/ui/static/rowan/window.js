// A loop's log, pushed and widened: a year or a minute. The server hands out what fits on the screen, so nothing is drawn that was not read.
(() => {
  "use strict";
  const { fixed, spoken, tr } = window.Rowan;
  const LEAST_S = 600, FIRST_S = 14 * 86400, LATER_MS = 140, STEP = 0.25;
  const SHOWN = { field_c: "ink", hot_c: "berry", cold_c: "slate", high_c: "ink-2", low_c: "leaf", air_c: "rule" };
  const DASHES = { hot_c: [6, 3], cold_c: [6, 3], air_c: [2, 3] };
  const place = document.querySelector("[data-log-window]");
  if (!place || !window.uPlot) return;
  const style = getComputedStyle(document.documentElement);
  const colour = (name) => style.getPropertyValue(`--${name}`).trim();
  const said = place.querySelector("[data-said]"), values = place.querySelector("[data-values]");
  const from = place.querySelector("[name=day]"), span = place.querySelector("[name=span]");
  let whole = null, shown = null, plots = [], data = null, asked = 0, timer = 0;

  const width = () => Math.max(place.clientWidth, 300);
  const two = (number) => String(number).padStart(2, "0");
  const dayOf = (at) => new Date(at * 1000).toISOString().slice(0, 10);
  const clock = (at) => { const day = new Date(at * 1000); return `${day.getUTCDate()} ${day.toLocaleString(spoken, { month: "short", timeZone: "UTC" })} ${two(day.getUTCHours())}:${two(day.getUTCMinutes())}`; };

  function named(at, apart) {
    const day = new Date(at * 1000), month = day.toLocaleString(spoken, { month: "short", timeZone: "UTC" });
    if (apart >= 28 * 86400) return day.getUTCMonth() ? month : String(day.getUTCFullYear());
    if (apart >= 86400 || day.getUTCHours() + day.getUTCMinutes() === 0) return `${day.getUTCDate()} ${month}`;
    return `${two(day.getUTCHours())}:${two(day.getUTCMinutes())}`;
  }
  function options(series, height, kind, last) {
    return {
      width: width(), height, tzDate: (at) => new Date(at * 1000 + new Date(at * 1000).getTimezoneOffset() * 60000),
      cursor: { sync: { key: "log" }, drag: { x: true, y: false, setScale: false }, points: { size: 6 } },
      legend: { show: false }, scales: { x: { time: true } }, padding: [8, 18, last ? 0 : 8, 0],
      axes: [
        { show: last, values: (_, splits, __, ___, apart) => splits.map((at) => named(at, apart)), stroke: colour("ink-2"), grid: { stroke: colour("wash-2") }, ticks: { stroke: colour("rule") }, font: "12px 'Source Sans 3', sans-serif" },
        { stroke: colour("ink-2"), grid: { stroke: colour("wash-2") }, ticks: { show: false }, size: 46, font: "12px 'Source Sans 3', sans-serif", label: kind, labelSize: 16, labelFont: "12px 'Source Sans 3', sans-serif" },
      ],
      series: [{}, ...series.map((one) => ({ label: one.name, stroke: colour(SHOWN[one.key] || "ink"), width: one.key === "field_c" ? 1.6 : 1.1, dash: DASHES[one.key], points: { show: false }, spanGaps: false, ...(one.key === "pump_share" ? { fill: colour("ink") } : {}) }))],
      hooks: {
        setSelect: [(plot) => {
          if (plot.select.width < 8) return;
          const [first, end] = [plot.select.left, plot.select.left + plot.select.width].map((x) => plot.posToVal(x, "x"));
          plot.setSelect({ left: 0, top: 0, width: 0, height: 0 }, false);
          go(first, end);
        }],
        setCursor: [(plot) => tell(plot.cursor.idx)],
      },
    };
  }
  function draw() {
    for (const plot of plots) plot.destroy();
    plots = [];
    const groups = new Map();
    for (const one of data.series) {
      if (!groups.has(one.kind)) groups.set(one.kind, []);
      groups.get(one.kind).push(one);
    }
    const last = [...groups.keys()].at(-1);
    for (const [kind, series] of groups) {
      const box = document.createElement("div");
      place.querySelector("[data-plots]").append(box);
      plots.push(new uPlot(options(series, (kind === "temperature" ? 230 : 84) + (kind === last ? 30 : 0), series[0].unit, kind === last), [data.at, ...series.map((one) => one.values)], box));
    }
    const stretch = { from: clock(data.at[0]), to: clock(data.at.at(-1)), rows: data.rows };
    said.textContent = data.every ? tr("{from} to {to}, every one of {rows} rows", stretch) : tr("{from} to {to}, {rows} rows put together", stretch);
    from.value = dayOf(shown[0]);
    span.value = String(Math.max(1, Math.round((shown[1] - shown[0]) / 86400)));
    tell(Math.floor(data.at.length / 2));
  }
  function tell(index) {
    if (index === null || index === undefined || !data) return;
    const parts = data.series.map((one) => {
      const value = one.values[index];
      return [one.name, value === null || value === undefined ? "–" : fixed(value, one.decimals), one.unit, one.key];
    });
    values.replaceChildren(Object.assign(document.createElement("b"), { textContent: clock(data.at[index]) }), ...parts.map(([name, number, unit, key]) => {
      const item = document.createElement("span");
      item.dataset.key = key;
      item.append(`${name} `, Object.assign(document.createElement("b"), { textContent: number }), ` ${unit}`);
      return item;
    }));
  }
  async function fetched(first, end) {
    const mine = ++asked;
    const query = first === null ? "" : `?from=${Math.round(first - data.ahead)}&to=${Math.round(end - data.ahead)}`;
    try {
      const answer = await fetch(place.dataset.logWindow + query, { headers: { Accept: "application/json" } });
      if (!answer.ok) throw new Error(String(answer.status));
      const found = await answer.json();
      if (mine !== asked) return;
      data = found;
      whole = found.whole;
      shown = first === null ? [...whole] : [Math.max(first, whole[0]), Math.min(end, whole[1])];
      draw();
    } catch { said.textContent = tr("These rows could not be fetched: is there a signal?"); }
  }
  function go(first, end) {
    if (!whole) return;
    const wide = Math.min(Math.max(end - first, LEAST_S), whole[1] - whole[0]);
    const begins = Math.min(Math.max(first, whole[0]), whole[1] - wide);
    shown = [begins, begins + wide];
    sessionStorage.setItem(place.dataset.logWindow, JSON.stringify(shown));
    for (const plot of plots) plot.setScale("x", { min: shown[0], max: shown[1] });
    clearTimeout(timer);
    timer = setTimeout(() => fetched(...shown), LATER_MS);
  }
  const acts = {
    earlier: () => { const wide = shown[1] - shown[0]; go(shown[0] - wide * STEP, shown[1] - wide * STEP); },
    later: () => { const wide = shown[1] - shown[0]; go(shown[0] + wide * STEP, shown[1] + wide * STEP); },
    closer: () => { const cut = (shown[1] - shown[0]) * STEP; go(shown[0] + cut, shown[1] - cut); },
    wider: () => { const more = (shown[1] - shown[0]) / 2; go(shown[0] - more, shown[1] + more); },
    all: () => go(...whole),
  };
  const keys = { ArrowLeft: "earlier", ArrowRight: "later", "+": "closer", "=": "closer", "-": "wider", Home: "all" };
  place.addEventListener("click", (event) => {
    const button = event.target.closest("[data-push]");
    if (button && shown) acts[button.dataset.push]();
  });
  place.querySelector("[data-plots]").addEventListener("keydown", (event) => {
    if (!shown || event.ctrlKey || event.altKey || event.metaKey || !keys[event.key]) return;
    event.preventDefault();
    acts[keys[event.key]]();
  });
  place.querySelector("[data-plots]").addEventListener("wheel", (event) => {
    if (!shown || !event.ctrlKey && !event.shiftKey) return;
    event.preventDefault();
    acts[event.shiftKey ? (event.deltaY + event.deltaX > 0 ? "later" : "earlier") : event.deltaY > 0 ? "wider" : "closer"]();
  }, { passive: false });
  place.querySelector("form").addEventListener("submit", (event) => {
    event.preventDefault();
    const begins = Date.parse(`${from.value}T00:00:00Z`) / 1000, days = Number.parseFloat(span.value.replace(",", "."));
    if (shown && Number.isFinite(begins) && days > 0) go(begins, begins + days * 86400);
  });
  let wide = width();
  new ResizeObserver(() => { if (data && Math.abs(width() - wide) > 8) { wide = width(); draw(); } }).observe(place);
  fetched(null, null).then(() => {
    if (!whole) return;
    // the page is shown anew when its answer is there: what was looked at stays
    const before = JSON.parse(sessionStorage.getItem(place.dataset.logWindow) || "null");
    if (before) go(...before);
    else if (whole[1] - whole[0] > FIRST_S) go(whole[1] - FIRST_S, whole[1]);
  });
})();
