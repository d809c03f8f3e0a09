// What an answer did not wait for: the plan's year, and what each cure would do. Asked for at once, put in piece by piece.
(() => {
  const PIECES = ["verdict", "state-line", "tape", "loop-strip", "loop-column", "reckoning"];
  // the revision whose year was asked for last
  let asked = "";
  // a hand that goes on changing is not made to wait for years of states it has left
  const LATER_MS = 60;
  const AGAIN_MS = 4000; // no answer: the year before stays marked meanwhile
  function putIn(fresh) {
    const kept = document.activeElement?.closest("[id]")?.id;
    const yearly = [...document.querySelectorAll("[data-yearly]")].map((block) => block.id);
    for (const id of [...PIECES, ...yearly]) {
      const old = document.getElementById(id);
      const piece = fresh.getElementById(id);
      // what a hand is on stays as it is
      if (!old || !piece || old.querySelector("details.blank[open]") || old.isEqualNode(piece)) continue;
      const inside = old.contains(document.activeElement);
      if (!window.Rowan.swap(old, piece)) throw new Error("gone");
      if (!inside || old.contains(document.activeElement)) continue;
      const wanted = document.getElementById(kept) || old;
      const focusable = wanted.matches("details") ? wanted.querySelector("summary") : wanted;
      if (!focusable.matches("a, button, input, summary, [tabindex]")) focusable.tabIndex = -1;
      focusable.focus({ preventScroll: true });
    }
    window.dispatchEvent(new CustomEvent("rowan:pieces"));
  }
  function follow() {
    const place = document.querySelector("[data-later]");
    if (!place || asked === place.dataset.revision) return;
    const { revision } = place.dataset;
    asked = revision;
    setTimeout(() => { if (place.dataset.revision === revision) ask(place, revision); }, LATER_MS);
  }
  function ask(place, revision) {
    fetch(place.dataset.later, { headers: { "X-Requested-With": "fetch", "Rowan-Has": window.Rowan.has(place) } })
      .then((answer) => (answer.ok ? answer.text() : Promise.reject(new Error(String(answer.status)))))
      .then((text) => {
        const fresh = new DOMParser().parseFromString(text, "text/html");
        const plan = fresh.getElementById("plan");
        // another change has come meanwhile: its own answer brings its own year
        if (place.dataset.revision !== revision || plan?.dataset.revision !== revision) return;
        // or is on its way, and the server counts on what is here now
        if (window.Rowan.isBusy()) throw new Error("busy");
        putIn(fresh);
        place.removeAttribute("data-later");
      })
      .catch(() => {
        asked = "";
        setTimeout(follow, AGAIN_MS);
      });
  }
  document.addEventListener("DOMContentLoaded", follow);
  window.addEventListener("ajax:after", follow);
})();
