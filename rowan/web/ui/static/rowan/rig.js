// The training rig's clock: time goes on at the chosen pace, each answer is the rig as it stands; a handle is turned at the second it is turned.
(() => {
  "use strict";
  const { tr } = window.Rowan;
  const ASK_MS = 500;
  const place = document.querySelector("[data-rig]");
  if (!place) return;
  const piece = place.querySelector("[data-piece]"), clock = place.querySelector("[data-clock]"), told = place.querySelector("[data-told]");
  let pace = 0, busy = false, at = Number(piece.querySelector("[data-until]").dataset.until), since = performance.now();

  // a day goes by in hours from when it began, a filling in minutes and seconds
  const begins = Number(clock.dataset.begins || 0), DAY_MIN = 1440;
  const hours = (minute) => `${String(Math.floor((minute % DAY_MIN) / 60)).padStart(2, "0")}:${String(Math.floor(minute % 60)).padStart(2, "0")}${minute >= DAY_MIN ? tr(", next day") : ""}`;
  const text = (seconds) => begins ? hours(begins + Math.floor(seconds / 60)) : `${String(Math.floor(seconds / 60)).padStart(2, "0")}:${String(Math.floor(seconds % 60)).padStart(2, "0")}`;
  const typing = () => document.activeElement?.matches("[data-piece] input");
  const now = () => at + (pace * (performance.now() - since)) / 1000;
  const token = () => place.querySelector("[name=csrfmiddlewaretoken]").value;
  function paced(next) {
    at = now();
    since = performance.now();
    pace = next;
    for (const button of place.querySelectorAll("[data-pace]")) {
      const chosen = Number(button.dataset.pace) === pace;
      button.classList.toggle("main", chosen);
      button.setAttribute("aria-pressed", String(chosen));
    }
  }
  async function send(address, form) {
    busy = true;
    try {
      const answer = await fetch(address, { method: "POST", body: form, headers: { "X-Piece": "1", "X-CSRFToken": token() } });
      if (answer.redirected) { location.assign(answer.url); return; }
      const words = await answer.text();
      if (!answer.ok) {
        const page = new DOMParser().parseFromString(words, "text/html");
        told.textContent = page.querySelector("[role=alert]")?.textContent || tr("Not done.");
        told.hidden = false;
        return;
      }
      told.hidden = true;
      // a number that somebody has begun to type is not taken from under the hand: the rig is held as it was asked for
      if (typing() && !form.has("turn")) {
        at = Number(words.match(/data-until="(\d+)"/)?.[1] || at);
        since = performance.now();
        pace = 0;
        paced(0);
        return;
      }
      const pressed = document.activeElement?.value;
      piece.innerHTML = words;
      at = Number(piece.querySelector("[data-until]").dataset.until);
      since = performance.now();
      if (pressed) piece.querySelector(`button[value="${CSS.escape(pressed)}"]`)?.focus();
    } catch {
      paced(0);
      told.textContent = tr("No signal: the rig is held.");
      told.hidden = false;
    } finally { busy = false; }
  }
  place.addEventListener("click", (event) => {
    const button = event.target.closest("[data-pace]");
    if (button) paced(Number(button.dataset.pace));
  });
  place.addEventListener("submit", (event) => {
    const form = event.target;
    if (!form.matches("[data-rig-form]")) return;
    event.preventDefault();
    const data = new FormData(form);
    if (event.submitter?.name) data.set(event.submitter.name, event.submitter.value);
    data.set("until", String(Math.floor(now())));
    send(form.action, data);
  });
  setInterval(() => {
    clock.textContent = text(now());
    if (!pace || busy || document.hidden) return;
    if (typing()) { paced(0); return; } // the day waits
    const data = new FormData();
    data.set("until", String(Math.floor(now())));
    send(place.dataset.rig, data);
  }, ASK_MS);
  paced(0);
})();
