// A run on site: one step at a time, every entry written down here before it is sent, judged here by the tables of the page. What the
// server has not got yet is kept in this browser and shown as kept; a reload, a closed tab or a flat battery loses nothing.
(() => {
  const { announce, fixed, formulas, hourOf, judge, outbox, tr, unsent } = window.Rowan;
  const place = document.getElementById("on-site");
  const data = JSON.parse(document.getElementById("run-data").textContent);
  const address = place.dataset.address || ""; // none in a rehearsal
  const HOLD_MS = 350; // a wet glove ghosts: a tick wants to be held
  const steps = new Map(data.steps.map((step) => [step.key, step]));
  const sections = new Map([...place.querySelectorAll(".work-step")].map((section) => [section.dataset.step, section]));
  let entries = data.entries;
  let open = "";
  const watches = new Map(); // running stopwatches, by field

  // by their moments, not their letters: the server writes a full second without its fraction, which sorts behind all of that second
  const ordered = () => [...entries].sort((one, other) => Date.parse(one.at) - Date.parse(other.at) || (one.number || 1e9) - (other.number || 1e9));
  const closed = () => entries.some((entry) => entry.kind === "close");
  const lastOf = (step, ...kinds) => ordered().filter((entry) => entry.step === step && kinds.includes(entry.kind)).at(-1);
  const unitOf = (field) => data.dimensions[field.dimension];

  // what this browser still keeps of this run joins what the page brought
  async function gather() {
    if (!address) return;
    const known = new Set(data.entries.map((entry) => entry.sent));
    const kept = (await unsent.all()).filter((one) => one.run === address);
    for (const one of kept) if (one.state === "sent" && known.has(one.entry.sent)) unsent.take(one.id);
    const mine = kept.filter((one) => one.state !== "refused" && !known.has(one.entry.sent)).map((one) => ({ ...one.entry, kept: one.state !== "sent" }));
    entries = [...data.entries, ...mine];
    const waiting = kept.filter((one) => one.state !== "sent").length;
    const state = document.getElementById("kept-state");
    state.textContent = waiting ? tr("{n} kept here", { n: waiting }) : tr("sent");
    state.classList.toggle("waiting", waiting > 0);
  }
  // another tab of this browser on the same run: what one writes or sends, the other shows
  const tabs = new BroadcastChannel("rowan-runs");
  tabs.addEventListener("message", async (event) => {
    if (event.data.run !== address || !address) return;
    const known = new Set(data.entries.map((entry) => entry.sent));
    data.entries.push(...event.data.news.filter((entry) => !known.has(entry.sent)));
    await gather();
    render();
    renderFinish();
  });
  async function put(entry, body, { action = address, words, blob = null }) {
    await unsent.add({ person: document.body.dataset.person, action, body: body.toString(), blob, words, at: Date.now(), state: "kept", run: address, entry });
    await gather();
    render();
    tabs.postMessage({ run: address, news: [] });
    outbox.sendAll();
  }
  async function write(kind, { step = open, field = "", typed = "", text = "", value = null, words = "", reason = "" } = {}) {
    const entry = { reason, sent: outbox.newId(), kind, step, field, value, text: text || typed, at: new Date().toISOString(), person: "" };
    if (!address) { entries.push(entry); render(); return; }
    const since = Math.max(0, ...data.entries.map((one) => one.number));
    const body = new URLSearchParams({ sent: entry.sent, kind, step, field, typed, text, at: entry.at, units: data.units, since, reason });
    await put(entry, body, { words: words || kind });
  }

  // --- photographs: shrunk here, so that a cellar's signal carries them

  const LONGEST_PX = 1600;
  async function shrunk(file) {
    const picture = await createImageBitmap(file, { imageOrientation: "from-image" });
    const share = Math.min(LONGEST_PX / Math.max(picture.width, picture.height), 1);
    const canvas = new OffscreenCanvas(Math.round(picture.width * share), Math.round(picture.height * share));
    canvas.getContext("2d").drawImage(picture, 0, 0, canvas.width, canvas.height);
    return canvas.convertToBlob({ type: "image/jpeg", quality: 0.82 });
  }
  async function photograph(input) {
    const [file] = input.files;
    input.value = "";
    if (!file || closed()) return;
    let blob;
    try { blob = await shrunk(file); } catch { announce(tr("This is no photograph")); return; }
    const entry = { sent: outbox.newId(), kind: "photo", step: open, field: "", value: null, text: "", at: new Date().toISOString(), person: "" };
    const body = new URLSearchParams({ sent: entry.sent, step: open, at: entry.at });
    await put(entry, body, { action: place.dataset.photos, words: tr("photo: {step}", { step: steps.get(open).name }), blob });
  }

  // --- a step as it stands

  function stateOf(step, symbols) {
    const found = judge.judged(step, symbols, data.dimensions);
    const closing = lastOf(step.key, "done", "left");
    const wrong = found.level === "stop" || found.level === "fix";
    if (closing?.kind === "done" && !wrong) return ["passed", found];
    if (closing?.kind === "left") return ["left", found];
    if (wrong) return ["wrong", found];
    return [entries.some((entry) => entry.step === step.key) ? "open" : "untouched", found];
  }
  const STATES = { passed: tr("passed"), left: tr("left"), wrong: tr("wrong"), open: tr("open"), untouched: tr("untouched") };
  const HEADS = { stop: tr("Stop"), fix: tr("Not right"), mind: tr("Mind"), pass: tr("As it should be") };
  // the gate that is still open before a step
  function heldBy(step, symbols) {
    for (const one of steps.values()) {
      if (one.key === step.key) return null;
      if (one.gate && stateOf(one, symbols)[0] !== "passed") return one;
    }
    return null;
  }
  function renderVerdict(section, step, state, found, gate) {
    const strip = section.querySelector(".verdict");
    const lead = found.said[0];
    const missing = step.fields.filter((field) => found.missing.includes(field.key)).map((field) => field.name);
    strip.dataset.level = found.level || "";
    strip.querySelector("b").textContent = found.level === null ? (lead ? HEADS[lead.level] : "") : HEADS[found.level];
    const still = missing.length ? tr("Still to read: {fields}.", { fields: missing.join(", ") }) : "";
    strip.querySelector("p").textContent = [...found.said.map((one) => one.words), still].filter(Boolean).join(" ");
    const button = section.querySelector("[data-act=done]");
    const held = closed() ? tr("The run is closed") : gate ? tr("“{step}” comes first", { step: gate.name }) : state === "passed" ? tr("Passed. On to the next") : found.level === "stop" || found.level === "fix" ? tr("Not passed: cure it first") : missing.length ? tr("{n} to read first", { n: missing.length }) : "";
    button.textContent = held || tr("Passed");
    button.classList.toggle("held", Boolean(held) && state !== "passed");
    button.setAttribute("aria-disabled", String(Boolean(held) && state !== "passed"));
  }
  // the window under a reading: leaf where it is right, a needle where it stands; a side without a limit runs off
  function renderWindow(holder, field, symbols, unit) {
    const bar = holder.querySelector(".field-window");
    const [low, high, read] = [formulas.valueOf(field.low, symbols), formulas.valueOf(field.high, symbols), symbols[field.key]];
    bar.hidden = high === null && !low; // that a reading is not under nothing says nothing
    if (bar.hidden) return;
    const known = [low, high, read].filter((one) => one !== null && one !== undefined);
    const span = Math.max(...known) - Math.min(...known) || Math.abs(known[0]) * 0.5 || 1;
    const [left, right] = [Math.min(...known) - span * 0.25, Math.max(...known) + span * 0.25];
    const at = (value) => (100 * (value - left)) / (right - left);
    const [from, to] = [low === null ? 0 : at(low), high === null ? 100 : at(high)];
    const [band, needle, least, most] = bar.children;
    Object.assign(band.style, { left: `${from}%`, width: `${to - from}%` });
    band.classList.toggle("open-left", low === null);
    band.classList.toggle("open-right", high === null);
    needle.hidden = read === undefined;
    if (!needle.hidden) needle.style.left = `${at(read)}%`;
    needle.classList.toggle("out", (low !== null && read < low - 1e-9) || (high !== null && read > high + 1e-9));
    least.textContent = low === null ? "" : formulas.shown(low, unit);
    most.textContent = high === null ? "" : formulas.shown(high, unit);
    least.style.left = `${from}%`;
    most.style.left = `${to}%`;
    bar.classList.toggle("close", low !== null && high !== null && to - from < 30);
  }
  function renderFields(section, step, symbols) {
    for (const field of step.fields) {
      const holder = section.querySelector(`[data-field="${field.key}"]`);
      const last = ordered().filter((entry) => entry.field === field.key).at(-1);
      if (!field.dimension) {
        holder.setAttribute("aria-pressed", String(field.key in symbols));
        continue;
      }
      const input = holder.querySelector("input");
      const unit = unitOf(field);
      if (last && document.activeElement !== input && !input.dataset.refused) input.value = formulas.shownRead(last.value, unit);
      holder.querySelector(".why-again").hidden = !last || closed();
      renderWindow(holder, field, symbols, unit);
      const expected = formulas.valueOf(field.expected, symbols);
      const small = holder.querySelector("small");
      if (!input.dataset.refused) small.textContent = expected !== null ? tr("reckoned {value}", { value: formulas.shown(expected, unit) }) : "";
    }
  }
  function renderLog(section, step) {
    const LOG = { read: tr("read"), tick: tr("tick"), done: tr("passed"), left: tr("left out"), note: tr("note"), timer: tr("clock started"), photo: tr("photo") };
    const rows = ordered().filter((entry) => entry.step === step.key).slice(-8).reverse();
    section.querySelector(".step-log").replaceChildren(...rows.map((entry) => {
      const field = step.fields.find((one) => one.key === entry.field);
      const row = document.createElement("li");
      const what = field ? field.name : LOG[entry.kind];
      const value = field?.dimension && entry.value !== null ? formulas.shown(entry.value, unitOf(field)) : entry.kind === "tick" ? (entry.value ? tr("done") : tr("taken back")) : entry.text;
      const at = hourOf(new Date(entry.at));
      row.textContent = [at, what, value, entry.reason, entry.kept ? tr("kept here") : entry.person].filter(Boolean).join(" · ");
      return row;
    }));
  }
  function render() {
    const symbols = judge.symbolsOf(data, ordered());
    for (const [key, step] of steps) {
      const [state, found] = stateOf(step, symbols);
      const tab = place.querySelector(`[data-tab="${key}"]`);
      tab.dataset.state = state;
      tab.setAttribute("aria-label", `${tab.textContent.trim()} ${step.name}, ${STATES[state]}`);
      if (key === open) tab.setAttribute("aria-current", "step"); else tab.removeAttribute("aria-current");
      if (key !== open) continue;
      const section = sections.get(key);
      renderFields(section, step, symbols);
      renderVerdict(section, step, state, found, heldBy(step, symbols));
      renderLog(section, step);
    }
    tick();
  }
  function renderFinish() {
    const list = document.getElementById("signed-log");
    if (!list) return;
    const symbols = judge.symbolsOf(data, ordered());
    const left = [...steps.values()].filter((step) => step.key !== "weeks" && !["passed", "left"].includes(stateOf(step, symbols)[0]));
    document.getElementById("still-open").textContent = closed() ? tr("This run is closed.") : left.length ? tr("Still open: {steps}.", { steps: left.map((step) => step.name).join(", ") }) : tr("Every step is passed or left out with its reason.");
    const tools = ordered().filter((entry) => entry.kind === "tool").map((entry) => entry.text);
    document.getElementById("tools-log").textContent = tools.join(" · ");
    document.getElementById("parts-log").textContent = ordered().filter((entry) => entry.kind === "part").map((entry) => entry.text).join(" · ");
    const signed = ordered().filter((entry) => entry.kind === "sign");
    list.replaceChildren(...signed.map((entry) => Object.assign(document.createElement("li"), { textContent: [tr("signed {hour}", { hour: hourOf(new Date(entry.at)) }), entry.kept ? tr("kept here") : ""].filter(Boolean).join(" · ") })));
  }
  async function listed(kind, words) {
    const field = document.getElementById(kind);
    if (!field.value.trim()) { field.focus(); return; }
    await write(kind, { step: "", text: field.value.trim(), words });
    field.value = "";
    renderFinish();
  }
  function show(key, { focus = true } = {}) {
    if (!sections.has(key)) return;
    open = key;
    for (const [name, section] of sections) section.hidden = name !== key;
    place.querySelector(`[data-tab="${key}"]`).scrollIntoView({ block: "nearest", inline: "center" });
    render();
    renderFinish();
    if (focus) { window.scrollTo(0, 0); sections.get(key).querySelector("h1").focus(); }
  }
  const nextOf = (key) => { const keys = [...sections.keys()]; return keys[keys.indexOf(key) + 1]; };
  function firstOpen() {
    const symbols = judge.symbolsOf(data, ordered());
    const found = [...steps.values()].find((step) => step.key !== "weeks" && !["passed", "left"].includes(stateOf(step, symbols)[0]));
    return found ? found.key : sections.has("finish") ? "finish" : [...steps.keys()][0];
  }

  // --- readings

  function refuse(input, words) {
    const small = input.closest(".take").querySelector("small");
    input.dataset.refused = "1";
    input.setAttribute("aria-invalid", "true");
    small.textContent = words;
    announce(words);
  }
  function take(input) {
    const step = steps.get(open);
    const field = step.fields.find((one) => one.key === input.closest(".take").dataset.field);
    const unit = unitOf(field);
    const text = input.value.trim();
    const last = ordered().filter((entry) => entry.field === field.key).at(-1);
    delete input.dataset.refused;
    input.removeAttribute("aria-invalid");
    if (!text || !mayWrite()) return;
    const value = formulas.typed(text, unit);
    if (typeof value === "string") { refuse(input, value); return; }
    if (last && Math.abs(last.value - value) <= 1e-9 * Math.max(Math.abs(value), 1e-6)) { render(); return; }
    const [low, high] = unit.possible || [-Infinity, Infinity];
    if (value < low || value > high) { refuse(input, tr("{value} cannot be, it lies between {low} and {high}. Read it again.", { value: formulas.shown(value, unit), low: formulas.shown(low, unit), high: formulas.shown(high, unit) })); return; }
    const clock = /^\d+:\d\d$/.test(text) ? `${value} s` : text;
    const reason = last ? input.closest(".take").querySelector(".why-again").value : "";
    write("read", { reason, field: field.key, typed: clock, value, words: `${field.name}: ${text}` });
  }
  const mayWrite = () => {
    const gate = heldBy(steps.get(open), judge.symbolsOf(data, ordered()));
    if (gate) announce(tr("“{step}” comes first", { step: gate.name }));
    return !closed() && !gate;
  };
  function turnTick(button) {
    if (!mayWrite()) return;
    const on = button.getAttribute("aria-pressed") === "true";
    write("tick", { field: button.dataset.field, typed: on ? "0" : "1", value: on ? 0 : 1, words: button.textContent.trim() });
    navigator.vibrate?.(20);
  }

  // --- handles: a tap turns one and says what would happen

  function positions(section) {
    return [...section.querySelectorAll(".handle")].sort((one, other) => Number(one.dataset.name.split(" ")[0]) - Number(other.dataset.name.split(" ")[0]));
  }
  function turn(handle) {
    const section = handle.closest(".work-step");
    const choices = handle.dataset.choices.split(" ");
    handle.dataset.drawn ??= handle.dataset.position;
    const position = choices[(choices.indexOf(handle.dataset.position) + 1) % choices.length];
    handle.classList.replace(`is-${handle.dataset.position}`, `is-${position}`);
    handle.dataset.position = position;
    const said = handle.dataset.said.split("|")[choices.indexOf(position)];
    handle.querySelector(".handle-word").textContent = said;
    handle.setAttribute("aria-label", `${handle.dataset.name}, ${said}`);
    handle.classList.toggle("turned", position !== handle.dataset.drawn);
    const table = data.tables.find((one) => one.name === steps.get(section.dataset.step).handles);
    const found = (table.states[positions(section).map((one) => one.dataset.position[0]).join("")] || []).map((place_) => table.said[place_]);
    const line = section.querySelector(".handle-said");
    const turned = section.querySelectorAll(".handle.turned").length;
    line.hidden = !turned;
    line.dataset.level = found[0]?.[0] || "";
    line.textContent = found.length ? found.map(([, words]) => words).join(" ") : tr("Nothing happens that should not.");
    for (const one of section.querySelectorAll(".handle")) one.classList.toggle("named", found.some(([, , at]) => at === one.dataset.valve));
  }

  // --- clocks

  const two = (number) => String(Math.floor(number)).padStart(2, "0");
  const clockWords = (seconds) => (seconds >= 3600 ? `${Math.floor(seconds / 3600)}:${two((seconds % 3600) / 60)}:${two(seconds % 60)}` : `${two(seconds / 60)}:${two(seconds % 60)}`);
  const rung = new Set();
  // the clock of a step, or of its rest between rounds
  const clockOf = (what) => ordered().filter((entry) => entry.step === open && entry.kind === "timer" && entry.text === what).at(-1);
  // where the front stands by now: of each stretch the seconds until it is full, by the flow of this kit
  function tickStages(section) {
    const rows = [...(section?.querySelectorAll(".stages li") || [])];
    if (!rows.length) return;
    const symbols = judge.symbolsOf(data, ordered());
    const times = steps.get(open).stages.map((formula) => formulas.valueOf(formula, symbols));
    const started = clockOf("");
    const since = watches.has("colour_s") ? watches.get("colour_s") : started ? Date.parse(started.at) : null;
    const gone = since === null ? null : (Date.now() - since) / 1000;
    const here = gone === null ? -1 : times.findIndex((time) => time !== null && gone < time);
    rows.forEach((row, number) => {
      row.querySelector("b").textContent = times[number] === null ? "" : `${Math.round(times[number])} s`;
      row.classList.toggle("here", number === here);
      row.classList.toggle("full", gone !== null && times[number] !== null && gone >= times[number]);
    });
  }
  function tickRest(section) {
    const rest = section?.querySelector(".rest");
    if (!rest) return;
    const started = clockOf("rest");
    const left = started ? Number(rest.dataset.seconds) - (Date.now() - Date.parse(started.at)) / 1000 : 0;
    rest.querySelector(".rest-clock").textContent = left > 0 ? clockWords(Math.ceil(left)) : "";
    if (started && left <= 0 && left > -30 && !rung.has(started.sent)) { rung.add(started.sent); ring(tr("Rested: on with the pump")); }
  }
  function tick() {
    if (!steps.has(open)) return;
    const section = sections.get(open);
    const timer = section?.querySelector(".timer");
    if (timer) {
      const whole = Number(timer.dataset.seconds);
      const started = clockOf("");
      const gone = started ? (Date.now() - Date.parse(started.at)) / 1000 : 0;
      const left = Math.max(whole - gone, 0);
      timer.querySelector(".clock").textContent = clockWords(started ? Math.ceil(left) : whole);
      timer.querySelector(".ruler i").style.width = `${Math.min(gone / whole, 1) * 100}%`;
      timer.querySelector("button").textContent = started ? tr("Start it again") : tr("Start the clock");
      const bells = steps.get(open).bells;
      timer.querySelector(".bell").textContent = started && left > 0 ? bells.filter((at) => at > gone).slice(0, 1).map((at) => tr("rings in {clock}", { clock: clockWords(at - gone) })).join("") : bells.length ? tr("rings after {minutes} min", { minutes: bells.map((at) => `${at / 60}`).join(", ") }) : "";
      for (const at of started ? bells : []) {
        const name = `${started.sent} ${at}`;
        if (gone >= at && gone < at + 20 && !rung.has(name)) { rung.add(name); ring(tr("{step}: {minutes} minutes", { step: steps.get(open).name, minutes: at / 60 })); }
      }
      if (started && left === 0 && gone < whole + 30 && !rung.has(started.sent)) { rung.add(started.sent); ring(tr("{step}: the time is up", { step: steps.get(open).name })); }
    }
    tickRest(section);
    tickStages(section);
    for (const [field, since] of watches) {
      const button = section?.querySelector(`[data-field="${field}"] [data-act=stopwatch]`);
      if (button) button.textContent = tr("Stop {clock}", { clock: clockWords((Date.now() - since) / 1000) });
    }
  }
  let sound = null;
  function ring(words) {
    announce(words);
    navigator.vibrate?.([300, 150, 300, 150, 300]);
    if (!sound) return;
    const tone = sound.createOscillator();
    tone.connect(sound.destination);
    tone.start();
    tone.stop(sound.currentTime + 0.8);
  }
  function stopwatch(button) {
    const field = button.closest(".take").dataset.field;
    const input = button.closest(".take").querySelector("input");
    if (!watches.has(field)) { watches.set(field, Date.now()); tick(); return; }
    const seconds = (Date.now() - watches.get(field)) / 1000;
    watches.delete(field);
    button.textContent = tr("Watch");
    input.value = `${fixed(seconds, seconds < 20 ? 1 : 0)} s`;
    take(input);
  }

  // --- a signature as lines on a sheet of 300 by 120

  let strokes = [];
  const pad = place.querySelector(".sign-pad");
  const pathOf = () => strokes.filter((line) => line.length > 1).map((line) => `M${line.map(([x, y]) => `${x.toFixed(1)} ${y.toFixed(1)}`).join(" L")}`).join(" ");
  function drawSign() { pad.querySelector("path").setAttribute("d", pathOf()); }
  function penAt(event) {
    const { x, y } = window.Rowan.pointIn(pad, event);
    return [Math.min(Math.max(x, 0), 300), Math.min(Math.max(y, 0), 120)];
  }
  pad?.addEventListener("pointerdown", (event) => { pad.setPointerCapture(event.pointerId); strokes.push([penAt(event)]); });
  pad?.addEventListener("pointermove", (event) => { if (pad.hasPointerCapture(event.pointerId)) { strokes.at(-1).push(penAt(event)); drawSign(); } });

  const ACTS = {
    back: () => { const keys = [...sections.keys()]; show(keys[Math.max(keys.indexOf(open) - 1, 0)]); },
    done: async (button) => {
      const state = place.querySelector(`[data-tab="${open}"]`).dataset.state;
      if (button.getAttribute("aria-disabled") === "true") { announce(button.textContent); return; }
      if (state !== "passed") await write("done", { words: tr("{step}: passed", { step: steps.get(open).name }) });
      if (nextOf(open)) show(nextOf(open));
    },
    wipe: () => { strokes = []; drawSign(); },
    sign: async () => {
      const name = document.getElementById("sign-name").value.replace(/[|<>\n]/g, " ").trim();
      if (!name) { announce(tr("A signature needs a name")); return; }
      await write("sign", { step: "", text: `${name}|${pathOf() || "M10 100 L290 100"}`, words: tr("a signature") });
      strokes = [];
      drawSign();
      renderFinish();
    },
    tool: () => listed("tool", tr("an instrument")),
    part: () => listed("part", tr("a part")),
    pause: async () => { await write("pause", { step: "", words: tr("paused") }); announce(tr("Paused")); },
    close: async (button) => {
      const name = document.getElementById("sign-name").value.trim();
      if (!name || closed()) { announce(closed() ? tr("The run is closed") : tr("Say who closes it")); return; }
      // twice, because it cannot be taken back
      if (button.dataset.sure === undefined) { button.dataset.sure = ""; button.textContent = tr("Close it for good"); return; }
      await write("close", { step: "", text: name, words: tr("closed") });
      renderFinish();
    },
    photo: photograph,
    timer: () => { sound ??= window.AudioContext ? new AudioContext() : null; write("timer", { words: tr("clock started") }); },
    rest: () => { sound ??= window.AudioContext ? new AudioContext() : null; write("timer", { text: "rest", words: tr("a rest") }); },
    stopwatch,
    note: (button) => {
      const field = button.parentElement.querySelector("textarea");
      if (field.value.trim()) write("note", { text: field.value.trim(), words: tr("a note") });
      field.value = "";
    },
    left: (button) => {
      const field = button.parentElement.querySelector("input");
      if (!field.value.trim()) { field.focus(); announce(tr("Say why it is left out")); return; }
      write("left", { text: field.value.trim(), words: tr("{step}: left out", { step: steps.get(open).name }) });
      field.value = "";
    },
  };
  place.addEventListener("click", (event) => {
    const tab = event.target.closest("[data-tab]");
    if (tab) { event.preventDefault(); history.replaceState(null, "", `#step-${tab.dataset.tab}`); show(tab.dataset.tab); return; }
    const handle = event.target.closest(".handle");
    if (handle) { turn(handle); return; }
    const button = event.target.closest("button[data-act]");
    if (button) { ACTS[button.dataset.act](button); return; }
    const line = event.target.closest(".tick-line");
    // by keyboard or by a hand in the dry: a click without a pointer counts at once
    if (line && event.detail === 0) turnTick(line);
  });
  place.addEventListener("pointerdown", (event) => {
    const line = event.target.closest(".tick-line");
    if (!line) return;
    line.classList.add("holding");
    const held = setTimeout(() => { line.classList.remove("holding"); turnTick(line); }, HOLD_MS);
    const away = () => { clearTimeout(held); line.classList.remove("holding"); };
    for (const kind of ["pointerup", "pointercancel", "pointerleave"]) line.addEventListener(kind, away, { once: true });
  });
  place.addEventListener("keydown", (event) => {
    const handle = event.target.closest?.(".handle");
    if (handle && (event.key === "Enter" || event.key === " ")) { event.preventDefault(); turn(handle); }
    if (event.target.matches?.("[data-field] input") && event.key === "Enter") { event.preventDefault(); event.target.blur(); render(); }
  });
  place.addEventListener("change", (event) => { if (event.target.matches("[data-act=photo]")) photograph(event.target); });
  place.addEventListener("change", (event) => { if (event.target.matches("[data-field] input")) take(event.target); });
  // an answer brings what others wrote meanwhile
  window.addEventListener("rowan:entry-sent", async (event) => {
    const known = new Set(data.entries.map((entry) => entry.sent));
    data.entries.push(...(event.detail.news || []).filter((entry) => !known.has(entry.sent)));
    await gather();
    render();
    renderFinish();
    tabs.postMessage({ run: address, news: event.detail.news || [] });
  });
  window.addEventListener("hashchange", () => show(location.hash.replace("#step-", "")));

  // the screen stays on while somebody holds a hose
  let lock = null;
  async function stayAwake() {
    try { lock = document.visibilityState === "visible" ? await navigator.wakeLock?.request("screen") : lock; } catch { lock = null; }
  }
  document.addEventListener("visibilitychange", stayAwake);

  (async () => {
    if (address && !window.isSecureContext) document.getElementById("no-shelter").hidden = false;
    await gather();
    const wanted = location.hash.replace("#step-", "");
    show(sections.has(wanted) ? wanted : firstOpen(), { focus: false });
    place.classList.add("ready");
    setInterval(tick, 500);
    stayAwake();
  })();
})();
