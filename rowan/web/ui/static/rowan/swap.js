// A new state of the plan is put in where it differs: most of its two thousand elements are the same after a change.
// Alpine's own morph asks Alpine about each of them, where two dozen forms are Alpine's (docs/decisions/0044).
(() => {
  // by attributes and parents: a form with a field named `id` or a button named `remove` has these in place of its own
  const keyOf = (element) => element.getAttribute("id") || element.getAttribute("data-blank") || element.getAttribute("data-why");
  const isElement = (node) => node.nodeType === Node.ELEMENT_NODE;
  // a part that the server knows to be here comes as a place: what is here stays in it (docs/decisions/0045)
  const PART = "data-part", STAYS = "data-stays";
  let staying = new Set(), here = new Map(), rooms = new Map();
  const partsOf = (root) => new Map([...root.querySelectorAll(`[${PART}]`)].map((part) => [part.getAttribute(PART), part]));
  const placesIn = (root) => [...root.querySelectorAll(`[${STAYS}]`)];
  // what is here, for its place in what has come; what was let go on the way is looked at anew
  function stayed(place) {
    const part = here.get(place.getAttribute(STAYS));
    if (!part.isConnected) came.push(part);
    return part;
  }
  function fill(fresh) { for (const place of placesIn(fresh)) place.replaceWith(stayed(place)); }
  function isAlike(old, fresh) {
    if (old.nodeName !== fresh.nodeName) return false;
    if (!isElement(old)) return true;
    const stays = fresh.getAttribute(STAYS), part = old.getAttribute(PART);
    if (stays || staying.has(part)) return stays === part;
    return keyOf(old) === keyOf(fresh);
  }
  // what has come, for Alpine to look at, and what goes, for it to let go
  let came = [];
  function put(old, fresh) {
    if (isElement(fresh) && fresh.hasAttribute(STAYS)) return;
    if (old.isEqualNode(fresh)) return;
    if (!isElement(old)) { old.data = fresh.data; return; }
    // how a figure came about follows with the year: an open reason keeps its height, so that nothing moves under the eye
    if (old.matches("details.row[open]") && fresh.querySelector("[data-anew]")) {
      const why = old.querySelector(".why");
      why.style.minHeight = `${why.offsetHeight}px`;
    }
    if (fresh.hasAttribute("data-anew")) { old.replaceChildren(...fresh.childNodes); return; }
    // a handle keeps what a hand has done to it, so it is exchanged as a whole; so is what Alpine would have to read anew
    if (old.getAttribute("data-drag") || bound(old) !== bound(fresh)) { exchange(old, fresh); return; }
    // a list that somebody opened stays open; a blank or a reason is closed by its own script
    if (old.matches("details[open]:not(.blank):not(.row)")) fresh.setAttribute("open", "");
    putAttributes(old, fresh);
    putChildren(old, fresh);
    // a run that is made anew keeps its room meanwhile: what stands under it would go up and down with every change
    if (fresh.hasAttribute("data-run")) old.style.minHeight = `${rooms.get(old) ?? 0}px`;
  }
  const bound = (element) => [...element.attributes].filter(({ name }) => name.startsWith("x-")).map(({ name, value }) => `${name}=${value}`).join();
  function exchange(old, fresh) {
    fill(fresh);
    window.Alpine.destroyTree(old);
    old.parentNode.replaceChild(fresh, old);
    came.push(fresh);
  }
  function putAttributes(old, fresh) {
    for (const { name } of [...old.attributes]) if (!fresh.hasAttribute(name) && !(name === "tabindex" && window.Rowan.isStop(old))) old.removeAttribute(name);
    for (const { name, value } of fresh.attributes) if (old.getAttribute(name) !== value) old.setAttribute(name, value);
  }
  function putChildren(old, fresh) {
    let at = old.firstChild;
    for (const one of [...fresh.childNodes]) {
      let alike = at;
      if (!at || !isAlike(at, one)) {
        // moved from further down, by its key or as it is
        const isKeyed = isElement(one) && (one.hasAttribute(STAYS) || keyOf(one));
        while (alike && !(isKeyed ? isAlike(alike, one) : alike.isEqualNode(one))) alike = alike.nextSibling;
      }
      // from another place of the page
      if (!alike && isElement(one) && one.hasAttribute(STAYS)) alike = stayed(one);
      if (!alike) {
        if (isElement(one)) fill(one);
        old.insertBefore(one, at);
        if (isElement(one)) came.push(one);
        continue;
      }
      if (alike === at) at = at.nextSibling;
      else old.insertBefore(alike, at);
      put(alike, one);
    }
    while (at) {
      const gone = at;
      at = at.nextSibling;
      if (isElement(gone)) window.Alpine.destroyTree(gone);
      old.removeChild(gone);
    }
  }
  // false, and nothing done, where a part went while the answer was on its way
  function swap(old, fresh) {
    touch(watch.takeRecords());
    const known = partsOf(old), places = placesIn(fresh).map((place) => place.getAttribute(STAYS));
    if (places.some((digest) => !known.has(digest))) return false;
    [here, staying, came] = [known, new Set(places), []];
    // measured while the page is still laid out
    rooms = new Map([...old.querySelectorAll(".run")].map((run) => [run, run.offsetHeight]));
    window.Alpine.mutateDom(() => put(old, fresh));
    for (const one of came) window.Alpine.initTree(one);
    // what stayed is of the revision before in this alone
    const { revision } = document.getElementById("plan")?.dataset ?? {};
    if (staying.size) for (const field of old.querySelectorAll(`[${PART}] input[name="revision"]`)) field.setAttribute("value", revision);
    watch.takeRecords();
    // what was typed belongs to the state before; a field says again what the server said
    for (const form of old.querySelectorAll("form")) form.reset();
    for (const [digest, part] of [...partsOf(old), [null, old]]) if (!staying.has(digest)) touched.delete(part);
    return true;
  }
  // what a hand or a script has changed since it came is no longer what the server knows it by
  const touched = new WeakMap();
  function touch(records) {
    for (const { target, attributeName } of records) {
      const part = attributeName === "tabindex" ? null : (isElement(target) ? target : target.parentElement)?.closest(`[${PART}]`);
      if (part) touched.set(part, part.getAttribute(PART));
    }
  }
  // as many as a request's line takes
  const MOST = 500;
  function has(plan) {
    touch(watch.takeRecords());
    return [...partsOf(plan)].filter(([digest, part]) => touched.get(part) !== digest).map(([digest]) => digest).slice(0, MOST).join(" ");
  }
  const watch = new MutationObserver(touch);
  document.addEventListener("DOMContentLoaded", () => {
    const plan = document.getElementById("plan");
    if (plan) watch.observe(plan, { attributes: true, characterData: true, childList: true, subtree: true });
  });
  document.addEventListener("ajax:send", (event) => {
    const plan = document.getElementById("plan");
    const { headers } = event.detail;
    if (!plan || headers["X-Alpine-Target"] !== "plan") return;
    headers["Rowan-Has"] = has(plan);
  });
  document.addEventListener("ajax:merge", (event) => {
    if (event.target.id !== "plan") return;
    event.preventDefault();
    if (!swap(event.target, event.detail.content)) location.reload();
  });
  Object.assign(window.Rowan, { has, swap });
})();
