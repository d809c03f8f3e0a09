// Pages with a plain form (data sheets, what was left, people, visits): before it is sent it is asked whether it would arrive.
// Without network it is kept in the outbox with all that was typed, and sent by itself; without session the password is asked for in
// place; a token that is too old is made new. What holds a file or a password is not kept: it stays on its page.
(() => {
  const { announce, session, tr, unsent, outbox } = window.Rowan;
  const KEPT = tr("No connection: kept here, and sent by itself when there is one. You may go on.");
  const WORDS = tr("No connection: nothing was sent. What you typed stays here; send it again when there is one.");
  let held = null; // what waits for somebody to sign in

  async function send({ form, button }) {
    const id = Number(form.dataset.waits || 0);
    const waits = id && (await unsent.all()).find((entry) => entry.id === id);
    // on its way already: what is typed now joins it, and its answer leads on; sent beside it, it might be taken twice
    if (waits?.tried && waits.state !== "refused") { await keep({ form, button }); await outbox.sendAll(); return; }
    if (waits) await unsent.take(id);
    form.dataset.sure = "";
    form.requestSubmit(button);
    delete form.dataset.sure;
  }
  function tell(form, words) {
    let line = form.querySelector(".not-sent");
    if (!line && words) {
      line = document.createElement("p");
      line.className = "refusal not-sent";
      line.setAttribute("role", "alert");
      form.append(line);
    }
    if (line) line.textContent = words;
    if (words) announce(words);
  }
  const canKeep = (form) => !form.querySelector("[type=file], [type=password]") && form.dataset.now === undefined;
  // what the list calls it: what it stands under, and the first that was typed
  function wordsOf(form, button) {
    const under = form.closest("section")?.querySelector("h2, h3") || document.querySelector("h1");
    const first = [...form.elements].find((field) => ["text", "textarea", "search", "email", "tel", "date"].includes(field.type) && field.value.trim());
    return [under?.textContent.trim(), first?.value.trim() || button?.textContent.trim()].filter(Boolean).join(": ").slice(0, 90) || tr("a form");
  }
  async function keep({ form, button }) {
    if (!canKeep(form)) { tell(form, WORDS); return; }
    try {
      const body = new URLSearchParams(new FormData(form, button));
      body.delete("csrfmiddlewaretoken");
      const page = location.pathname + location.search;
      form.dataset.waits = await outbox.keepForm({ id: Number(form.dataset.waits || 0), action: button?.formAction || form.action, body, words: wordsOf(form, button), page });
      tell(form, KEPT);
    } catch {
      tell(form, WORDS);
    }
  }
  // what was typed into a form that was refused later, back in its fields
  async function fillIn() {
    const id = Number(location.hash.match(/^#kept-(\d+)$/)?.[1] || 0);
    const entry = id && (await unsent.all()).find((one) => one.id === id && one.plain);
    if (!entry) return;
    const body = new URLSearchParams(entry.body);
    const names = [...body.keys()].filter((name) => !["plain", "sent"].includes(name));
    const goes = (form) => new URL(form.action).pathname === new URL(entry.action, location.href).pathname;
    const has = (form) => names.filter((name) => form.elements[name]).length;
    const form = [...document.forms].filter(goes).sort((a, b) => has(b) - has(a))[0];
    if (!form) return;
    for (const field of form.elements) {
      if (!field.name || field.name === "csrfmiddlewaretoken" || field.type === "submit" || field.type === "button") continue;
      if (field.type === "hidden") continue; // a revision, a token: as the page has them now
      const given = body.getAll(field.name);
      if (field.type === "checkbox" || field.type === "radio") field.checked = given.includes(field.value);
      else if (field.multiple) for (const option of field.options) option.selected = given.includes(option.value);
      else if (given.length) field.value = given[0];
    }
    form.closest("details")?.setAttribute("open", "");
    form.dataset.waits = id;
    tell(form, entry.reason || tr("Kept here, not sent yet."));
    form.querySelector("input:not([type=hidden]), select, textarea")?.focus();
  }
  document.addEventListener("submit", async (event) => {
    const form = event.target;
    const passes = event.defaultPrevented || form.method !== "post" || form.hasAttribute("x-target") || form.dataset.sure !== undefined;
    if (passes || !document.body.dataset.person) return;
    event.preventDefault();
    const waits = { form, button: event.submitter };
    try {
      if (await session.freshToken()) {
        tell(form, "");
        // what was kept before goes before it
        if (outbox.waits() && !form.dataset.waits) await outbox.sendAll();
        await send(waits);
        return;
      }
      held = waits;
      session.signIn();
    } catch {
      await keep(waits);
    }
  });
  window.addEventListener("rowan:signed-in", () => {
    if (held?.form.isConnected) send(held);
    held = null;
  });
  // the page that a form would have led to
  window.addEventListener("rowan:form-sent", ({ detail }) => {
    if (document.querySelector(`form[data-waits="${detail.id}"]`)) location.assign(detail.url);
  });
  document.addEventListener("DOMContentLoaded", fillIn);
})();
