// What was changed and not saved yet: kept here while there is no network or nobody is signed in, and sent again in order.
(() => {
  const { announce } = window.Rowan;
  const KEPT = "unsent";
  const AGAIN_MS = [1500, 4000, 10000];
  const SIGNED_OUT = 401;
  const TOO_OLD = 403; // the page's token no longer counts
  // a change on its way, as the page sent it
  let sending = null;
  let tries = 0;
  let timer = 0;
  let busy = false;

  const kept = () => JSON.parse(sessionStorage.getItem(KEPT) || "[]");
  function keep(entries) {
    if (entries.length) sessionStorage.setItem(KEPT, JSON.stringify(entries));
    else sessionStorage.removeItem(KEPT);
    const line = document.getElementById("outbox");
    if (!line) return;
    const words = entries.length === 1 ? "1 change is" : `${entries.length} changes are`;
    line.textContent = entries.length ? `No connection: ${words} not saved yet. Kept here, and sent again by itself.` : "";
    line.hidden = !entries.length;
  }
  function stopWaiting() {
    for (const part of document.querySelectorAll("[aria-busy]")) part.removeAttribute("aria-busy");
  }
  function later() {
    clearTimeout(timer);
    timer = setTimeout(sendAll, AGAIN_MS[Math.min(tries, AGAIN_MS.length - 1)]);
    tries += 1;
  }
  // sign in first, then come back to this very page, where what was kept is sent
  function signIn(entry) {
    if (entry) keep([...kept(), entry]);
    location.assign(`/sign-in/?next=${encodeURIComponent(location.pathname + location.search)}`);
  }
  const planOf = (address) => new URL(address, location.href).pathname.match(/^\/jobs\/\d+\/[A-D]\//)?.[0];
  const samePlan = (action) => planOf(action) !== undefined && planOf(action) === planOf(location.href);
  function swapIn(text) {
    const fresh = new DOMParser().parseFromString(text, "text/html").getElementById("plan");
    const old = document.getElementById("plan");
    if (!fresh || !old) return false;
    old.replaceWith(fresh);
    window.dispatchEvent(new CustomEvent("ajax:after"));
    return true;
  }
  async function sendAll() {
    if (busy) return;
    busy = true;
    try {
      let entries = kept();
      while (entries.length) {
        const [entry, ...rest] = entries;
        const body = new URLSearchParams(entry.body);
        // the token of this page: signing in again has made the old one worthless
        const token = document.querySelector("#drag-form [name=csrfmiddlewaretoken]");
        if (token) body.set("csrfmiddlewaretoken", token.value);
        const answer = await fetch(entry.action, { method: "POST", body, headers: { "X-Alpine-Request": "true", "X-Alpine-Target": "plan" } });
        if (answer.status === SIGNED_OUT) { signIn(null); return; }
        if (answer.status === TOO_OLD || answer.status >= 500) return; // kept, and said so: nothing is thrown away here
        const text = await answer.text();
        keep(rest);
        // a change of another plan is saved all the same, but its page has no place here
        const swapped = samePlan(entry.action) && swapIn(text);
        if (!answer.ok) break; // refused or overtaken: the page says so, with what was typed; the rest waits for the hand
        // what was changed after it was changed on top of it
        const number = swapped && document.querySelector("#drag-form [name=revision]")?.value;
        entries = rest.map((next) => {
          const changed = new URLSearchParams(next.body);
          if (number && changed.get("revision") === body.get("revision")) changed.set("revision", number);
          return { ...next, body: changed.toString() };
        });
        keep(entries);
        announce("Saved.");
      }
      tries = 0;
    } catch {
      later();
    } finally {
      busy = false;
    }
  }

  document.addEventListener("ajax:send", (event) => {
    const { action, method, body } = event.detail;
    sending = method === "POST" ? { action, body: String(body) } : null;
  });
  document.addEventListener("ajax:sent", () => { sending = null; });
  document.addEventListener("ajax:error", (event) => {
    if (event.detail.status === SIGNED_OUT) signIn(sending);
    // a page that was open too long: a fresh one has a token that counts, and sends what was kept
    if (event.detail.status === TOO_OLD && sending && !kept().length) {
      keep([sending]);
      location.reload();
    }
  });
  // an answer without the page is no reason to send the form once more by itself
  document.addEventListener("ajax:missing", (event) => {
    if ([SIGNED_OUT, TOO_OLD].includes(event.detail.response.status)) event.preventDefault();
  });
  // the network gave no answer at all
  window.addEventListener("unhandledrejection", (event) => {
    if (!(event.reason instanceof TypeError) || !sending) return;
    event.preventDefault();
    keep([...kept(), sending]);
    sending = null;
    stopWaiting();
    announce(document.getElementById("outbox")?.textContent);
    later();
  });
  window.addEventListener("online", () => { tries = 0; if (kept().length) sendAll(); });
  document.addEventListener("DOMContentLoaded", () => {
    if (!document.getElementById("plan") || !kept().length) return;
    keep(kept());
    sendAll();
  });
})();
