// Pages with a plain form (data sheets, what was left, files): before it is sent it is asked whether it would arrive. Without
// network or session the page stays as it is, with all that was typed; a token that is too old is made new.
(() => {
  const { announce, session } = window.Rowan;
  const WORDS = "No connection: nothing was sent. What you typed stays here; send it again when there is one.";
  let held = null; // what waits for somebody to sign in

  function send({ form, button }) {
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
  document.addEventListener("submit", async (event) => {
    const form = event.target;
    const passes = event.defaultPrevented || form.method !== "post" || form.hasAttribute("x-target") || form.dataset.sure !== undefined;
    if (passes || !document.body.dataset.person) return;
    event.preventDefault();
    const waits = { form, button: event.submitter };
    try {
      if (await session.freshToken()) { tell(form, ""); send(waits); return; }
      held = waits;
      session.signIn();
    } catch {
      tell(form, WORDS);
    }
  });
  window.addEventListener("rowan:signed-in", () => {
    if (held?.form.isConnected) send(held);
    held = null;
  });
})();
