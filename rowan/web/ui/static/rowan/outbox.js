// Every change goes through here: it is written down before it is sent, with an id of its own, and stays until the server
// has answered. Without network or session it is kept and sent again in order; the server takes each id once.
(() => {
  const { announce, hourOf, tr, unsent } = window.Rowan;
  const AGAIN_MS = [1500, 4000, 10000];
  const SIGNED_OUT = 401;
  const MAY_NOT = 403;
  // a page's token that no longer counts can be had anew; what a role may not do stays refused
  const isTooOld = ({ status, headers }) => status === MAY_NOT && headers?.get("X-Rowan-Token") === "old";
  const MOST_NAMED = 12; // of what is kept, on the page
  const STUMBLES = 5; // times an answer of the server's own fault is waited out
  const person = document.body.dataset.person || "";
  // ids begin alike in one browser: what it sends late comes in its own order, and does not overtake itself
  const BROWSER = "browser";
  const browser = localStorage.getItem(BROWSER) || crypto.randomUUID().slice(0, 8);
  localStorage.setItem(BROWSER, browser);
  // the change on its way, as the page sent it, with its place on the shelf
  let sending = null;
  let waiting = 0; // kept ones of this person, as last seen
  let tries = 0;
  let timer = 0;

  // what a run has sent stays on the shelf until its page knows it; nothing of it waits any more
  const mine = async () => (await unsent.all()).filter((entry) => entry.person === person && entry.state !== "sent");
  // what is looked up and then written, by one at a time of all tabs
  const onShelf = (act) => (navigator.locks ? navigator.locks.request("rowan-shelf", act) : act());
  const newId = () => browser + crypto.randomUUID().slice(browser.length);
  const planOf = (address) => new URL(address, location.href).pathname.match(/^\/jobs\/\d+\/[A-D]\//)?.[0];
  const samePlan = (action) => planOf(action) !== undefined && planOf(action) === planOf(location.href);

  // what is changed, in a few words for the list
  function wordsOf(body) {
    const path = body.get("path");
    const value = body.get("value");
    if (!path) return body.get("cure") !== null ? tr("a cure") : tr("a change");
    const blank = document.querySelector(`details.blank[data-blank="${CSS.escape(path)}"]`);
    const name = blank?.querySelector("label")?.textContent || blank?.querySelector("summary").getAttribute("aria-label")?.split(":")[0] || document.querySelector(`[data-path="${CSS.escape(path)}"]`)?.getAttribute("aria-label") || path;
    return value === null ? name : `${name}: ${value}`;
  }

  // the line at the foot of the page: how many, in what state, and each of them by name
  const WORDS = {
    kept: (n) => (n === 1 ? tr("No connection: 1 change is not saved yet. Kept here, and sent again by itself.") : tr("No connection: {n} changes are not saved yet. Kept here, and sent again by itself.", { n })),
    sending: (n) => (n === 1 ? tr("Sending 1 change …") : tr("Sending {n} changes …", { n })),
    refused: (n) => (n === 1 ? tr("1 change was refused. Kept here until you have looked.") : tr("{n} changes were refused. Kept here until you have looked.", { n })),
  };
  async function show(state = "kept", reason = "") {
    const entries = await mine();
    const kept = entries.filter((entry) => entry.state !== "refused" && entry.id !== sending?.id);
    const refused = entries.filter((entry) => entry.state === "refused");
    waiting = kept.length;
    const line = document.getElementById("outbox");
    if (!line) return;
    const told = kept.length ? reason || WORDS[state](kept.length) : "";
    line.hidden = !kept.length && !refused.length;
    line.dataset.refused = refused.length ? "1" : "";
    line.querySelector("p").textContent = [told, refused.length ? WORDS.refused(refused.length) : ""].filter(Boolean).join(" ");
    for (const entry of kept.slice(-MOST_NAMED)) pending(entry);
    const list = line.querySelector("ul");
    const all = [...refused, ...kept];
    list.replaceChildren(...all.slice(0, MOST_NAMED).map(item));
    if (all.length > MOST_NAMED) list.append(Object.assign(document.createElement("li"), { textContent: tr("and {n} more", { n: all.length - MOST_NAMED }) }));
    line.querySelector("[data-outbox=send]").hidden = !kept.length;
  }
  // an input shows what was typed while that is not saved yet
  function pending(entry) {
    if (entry.run || entry.plain || !samePlan(entry.action)) return;
    const body = new URLSearchParams(entry.body);
    const blank = body.get("value") !== null && document.querySelector(`details.blank[data-blank="${CSS.escape(body.get("path") || "")}"]`);
    if (!blank) return;
    const summary = blank.querySelector("summary");
    summary.dataset.typed = body.get("value");
    summary.textContent = tr("{value}, not saved yet", { value: body.get("value") });
    summary.classList.add("unsent");
    blank.open = false;
  }
  function item(entry) {
    const row = document.createElement("li");
    row.textContent = `${entry.words}${entry.reason ? ` (${entry.reason})` : ""} `;
    if (entry.state === "refused") {
      const side = entry.plain ? again(entry) : besides(entry);
      if (side) row.append(side, " ");
      const away = document.createElement("button");
      away.type = "button";
      away.className = "act";
      away.textContent = tr("Throw away");
      away.addEventListener("click", async () => { await unsent.take(entry.id); show(); });
      row.append(away);
    }
    return row;
  }
  // a form that was refused is filled in once more on its own page
  function again(entry) {
    const link = document.createElement("a");
    link.className = "link";
    link.href = `${entry.page}#kept-${entry.id}`;
    link.textContent = tr("Fill it in again");
    return link;
  }
  // where what both changed is laid side by side
  function besides(entry) {
    const body = new URLSearchParams(entry.body);
    const plan = planOf(entry.action);
    if (!plan || body.get("value") === null || body.get("path")?.includes(":")) return null;
    const asked = new URLSearchParams({ since: body.get("revision"), kept: entry.id });
    for (const name of ["path", "value", "origin", "bench"]) asked.set(name, body.get(name) || "");
    const link = document.createElement("a");
    link.className = "link";
    link.href = `${plan}merge/?${asked}`;
    link.textContent = tr("See what each changed");
    return link;
  }
  function stopWaiting() {
    for (const part of document.querySelectorAll("[aria-busy]")) part.removeAttribute("aria-busy");
  }
  function later() {
    clearTimeout(timer);
    timer = setTimeout(sendAll, AGAIN_MS[Math.min(tries, AGAIN_MS.length - 1)]);
    tries += 1;
  }

  // who is signed in, and a token that counts for all forms of this page
  async function freshToken(answer) {
    const found = await (answer || (await fetch("/who/"))).json();
    if (found.person && String(found.person) !== person) { location.reload(); return false; }
    for (const field of document.querySelectorAll("[name=csrfmiddlewaretoken]")) field.value = found.token;
    return Boolean(found.person);
  }
  // the password is asked for in place: what is on the page stays as it is
  function signIn() {
    const dialog = document.getElementById("sign-in-again");
    if (!dialog) { location.assign(`/sign-in/?next=${encodeURIComponent(location.pathname + location.search)}`); return; }
    if (!dialog.open) dialog.showModal();
  }
  window.Rowan.session = { freshToken, signIn };
  async function signedIn(event) {
    event.preventDefault();
    const form = event.target;
    const refusal = form.querySelector(".refusal");
    refusal.textContent = "";
    try {
      const token = (await (await fetch("/who/")).json()).token;
      const body = new URLSearchParams(new FormData(form));
      body.set("csrfmiddlewaretoken", token);
      body.set("next", "/who/");
      const answer = await fetch("/sign-in/", { method: "POST", body });
      form.querySelector("[name=password]").value = "";
      if (!answer.ok || !answer.headers.get("Content-Type")?.startsWith("application/json")) {
        const page = new DOMParser().parseFromString(await answer.text(), "text/html");
        refusal.textContent = firstOf(page, ".refusal", "main p") || tr("That did not work.");
        return;
      }
      if (await freshToken(answer)) {
        document.getElementById("sign-in-again").close();
        window.dispatchEvent(new CustomEvent("rowan:signed-in"));
        sendAll();
      }
    } catch {
      refusal.textContent = tr("No connection. What you typed is kept here.");
    }
  }

  function swapIn(text) {
    const fresh = new DOMParser().parseFromString(text, "text/html").getElementById("plan");
    const old = document.getElementById("plan");
    if (!fresh || !old) return false;
    window.Rowan.swap(old, fresh);
    window.dispatchEvent(new CustomEvent("ajax:after"));
    return true;
  }
  // the words of a page that tell most, by the first of some places that has any
  const firstOf = (page, ...places) => places.map((place) => page.querySelector(place)?.textContent.trim()).find(Boolean) || "";
  function noticeIn(text) {
    if (text.startsWith("{")) return JSON.parse(text).reason || "";
    const page = new DOMParser().parseFromString(text, "text/html");
    for (const link of page.querySelectorAll(".notice a")) link.remove();
    return firstOf(page, ".notice", ".slip .refusal", "main [role=alert]", "main p");
  }

  // one tab at a time, the oldest first
  function sendAll() {
    clearTimeout(timer);
    const send = async (lock) => { if (lock) await drain(); };
    return navigator.locks ? navigator.locks.request("rowan-outbox", { ifAvailable: true }, send) : drain();
  }
  async function drain() {
    const tops = new Map(); // of each plan and state: the state that ours have made of it
    try {
      let answers = false; // whether there is somebody to send to, who knows us
      for (;;) {
        // looked at anew each time: while one is on its way the next is typed
        const next = (await mine()).find((one) => one.state !== "refused" && one.id !== sending?.id);
        if (!next) break;
        // a form may be put right until it goes, so it does not go where nobody would hear it
        if (next.plain && !next.tried && !answers) {
          answers = await freshToken();
          if (!answers) { signIn(); show(); return; }
          continue;
        }
        const entry = next.plain ? await tried(next.id) : next;
        if (!entry) continue;
        show("sending");
        const base = baseOf(entry);
        const number = await send(entry, tops.get(base));
        if (number === null) { show("kept", entry.reason); return; }
        if (number) tops.set(base, number);
      }
      tries = 0;
      show();
    } catch {
      show();
      later();
    }
  }
  // from here on it may have been taken, whatever comes of the answer: a later word of the same form is another one
  const tried = (id) => onShelf(async () => {
    const entry = (await mine()).find((one) => one.id === id);
    if (entry && !entry.tried) await unsent.put(Object.assign(entry, { tried: true }));
    return entry;
  });
  // what was changed after it was changed on top of it
  const baseOf = (entry) => entry.plain ? entry.id : `${planOf(entry.action)} ${new URLSearchParams(entry.body).get("revision")}`;
  function asForm(body, blob) {
    const form = new FormData();
    for (const [name, value] of body) form.append(name, value);
    form.append("photo", blob, "photo.jpg");
    return form;
  }
  // sends one; gives the plan's revision as it is then, "" where that is not known, null where everything has to wait
  async function send(entry, top) {
    const body = new URLSearchParams(entry.body);
    if (top) body.set("revision", top);
    const token = document.querySelector("[name=csrfmiddlewaretoken]");
    if (token) body.set("csrfmiddlewaretoken", token.value);
    body.set("late", "1");
    const headers = entry.plain ? { "X-Rowan-Late": "1" } : { "X-Alpine-Request": "true", "X-Alpine-Target": "plan" };
    const answer = await fetch(entry.action, { method: "POST", body: entry.blob ? asForm(body, entry.blob) : body, headers });
    if (answer.status === SIGNED_OUT) { signIn(); return null; }
    if (isTooOld(answer)) {
      if (entry.renewed || !(await freshToken())) { signIn(); return null; }
      await unsent.put({ ...entry, renewed: true });
      later();
      return null;
    }
    const text = await answer.text();
    if (answer.status >= 500) {
      const stumbled = (entry.stumbled || 0) + 1;
      entry.reason = noticeIn(text);
      await unsent.put({ ...entry, stumbled, state: stumbled < STUMBLES || answer.status === 503 ? "kept" : "refused" });
      later();
      return null;
    }
    if (answer.ok && entry.run) await unsent.put({ ...entry, state: "sent" });
    else if (answer.ok) await unsent.take(entry.id);
    else await unsent.put({ ...entry, state: "refused", reason: noticeIn(text) });
    if (entry.run) { window.dispatchEvent(new CustomEvent("rowan:entry-sent", { detail: answer.ok ? JSON.parse(text) : {} })); return ""; }
    if (entry.plain) {
      if (answer.ok) {
        announce(tr("Saved."));
        window.dispatchEvent(new CustomEvent("rowan:form-sent", { detail: { id: entry.id, url: answer.url } }));
      }
      return "";
    }
    // a change of another plan is saved all the same, but its page has no place here
    const swapped = samePlan(entry.action) && swapIn(text);
    if (answer.ok) announce(tr("Saved."));
    return swapped ? document.querySelector("#drag-form [name=revision]")?.value || "" : "";
  }

  // a plain form that could not be sent: kept with all that was typed, in place of what was kept of it before, unless that is on its way
  async function keepForm({ id, action, body, words, page }) {
    const typed = body.toString();
    body.set("plain", "1");
    body.set("sent", newId());
    const entry = { person, action, body: body.toString(), typed, words, page, plain: true, at: Date.now(), state: "kept" };
    const kept = await onShelf(async () => {
      const held = id && (await mine()).find((one) => one.id === id);
      if (held?.tried && held.typed === typed && held.state !== "refused") return id;
      const instead = held && (!held.tried || held.state === "refused");
      return instead ? (await unsent.put({ ...entry, id }), id) : unsent.add(entry);
    });
    await show();
    later();
    return kept;
  }
  const waits = () => waiting;
  window.Rowan.outbox = { newId, sendAll, keepForm, waits };
  document.addEventListener("ajax:send", (event) => {
    const request = event.detail;
    sending = null;
    if (request.method !== "POST" || !(request.body instanceof URLSearchParams) || !planOf(request.action)) return;
    request.body.set("sent", newId());
    const entry = { person, action: request.action, body: request.body.toString(), words: wordsOf(request.body), at: Date.now(), state: "kept" };
    const change = { id: 0, written: null, entry };
    change.written = unsent.add(entry).then((id) => { change.id = id; return id; });
    // what waits goes first: this one joins the end of the queue
    if (waiting) {
      request.signal = AbortSignal.abort();
      change.written.then(() => { stopWaiting(); sendAll(); });
      return;
    }
    sending = change;
  });
  // an answer: what it answers is off the shelf, unless the server or the session could not take it
  document.addEventListener("ajax:sent", (event) => {
    const change = sending;
    sending = null;
    if (!change) return;
    const { status } = event.detail;
    if (status === MAY_NOT && !isTooOld(event.detail)) {
      stopWaiting();
      const reason = noticeIn(event.detail.raw || "");
      change.written.then(async (id) => {
        await unsent.put({ ...change.entry, id, state: "refused", reason });
        await show();
        announce(reason);
      });
      return;
    }
    if (status === SIGNED_OUT || status === MAY_NOT || status >= 500) {
      stopWaiting();
      change.written.then(async () => {
        await show("kept", status >= 500 ? noticeIn(event.detail.raw || "") : "");
        if (status === SIGNED_OUT) signIn();
        else later();
      });
      return;
    }
    change.written.then((id) => unsent.take(id));
  });
  // an answer without the page is no reason to send the form once more by itself
  document.addEventListener("ajax:missing", (event) => {
    const { status } = event.detail.response;
    if (status === SIGNED_OUT || status === MAY_NOT || status >= 500) event.preventDefault();
  });
  // the network gave no answer at all, or it was held back to keep the order
  window.addEventListener("unhandledrejection", (event) => {
    if (event.reason instanceof DOMException && event.reason.name === "AbortError") { event.preventDefault(); return; }
    if (!(event.reason instanceof TypeError) || !sending) return;
    event.preventDefault();
    const change = sending;
    sending = null;
    stopWaiting();
    change.written.then(async () => {
      await show();
      announce(document.querySelector("#outbox p")?.textContent);
      later();
    });
  });
  // decided side by side: it is no longer kept here
  for (const kind of ["submit", "click"]) {
    document.addEventListener(kind, (event) => {
      const decided = event.target.closest?.(kind === "submit" ? "form[data-kept]" : "a[data-kept]");
      if (decided) unsent.take(Number(decided.dataset.kept));
    });
  }
  window.addEventListener("online", async () => {
    tries = 0;
    if (waiting) await sendAll();
    // a page as it was makes room for the one that is
    if (document.body.dataset.keptAt !== undefined && !waiting) location.reload();
  });
  document.addEventListener("DOMContentLoaded", async () => {
    const { keptAt, worker } = document.body.dataset;
    if (worker) navigator.serviceWorker?.register(worker, { scope: "/" });
    if (keptAt !== undefined) {
      const line = document.getElementById("kept-at");
      const at = new Date(keptAt);
      line.textContent = Number.isNaN(at.getTime()) ? tr("No connection: this page is as it was before. What you change is kept here.") : tr("No connection: this page is as it was at {hour}. What you change is kept here.", { hour: hourOf(at) });
      line.hidden = false;
    }
    document.querySelector("#sign-in-again form")?.addEventListener("submit", signedIn);
    document.querySelector("[data-outbox=send]")?.addEventListener("click", () => { tries = 0; sendAll(); });
    if (!person) return;
    await show();
    if (waiting) sendAll();
  });
})();
