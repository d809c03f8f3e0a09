// A new state of the plan is put in where it differs: most of its two thousand elements are the same after a change.
// Alpine's own morph asks Alpine about each of them, where two dozen forms are Alpine's (docs/decisions/0044).
(() => {
  // by attributes and parents: a form with a field named `id` or a button named `remove` has these in place of its own
  const keyOf = (element) => element.getAttribute("id") || element.getAttribute("data-blank") || element.getAttribute("data-why");
  const isElement = (node) => node.nodeType === Node.ELEMENT_NODE;
  const isAlike = (old, fresh) => old.nodeName === fresh.nodeName && (!isElement(old) || keyOf(old) === keyOf(fresh));
  // what has come, for Alpine to look at, and what goes, for it to let go
  let came = [];
  function put(old, fresh) {
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
  }
  const bound = (element) => [...element.attributes].filter(({ name }) => name.startsWith("x-")).map(({ name, value }) => `${name}=${value}`).join();
  function exchange(old, fresh) {
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
        const isKeyed = isElement(one) && keyOf(one);
        while (alike && !(isKeyed ? isAlike(alike, one) : alike.isEqualNode(one))) alike = alike.nextSibling;
      }
      if (!alike) {
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
  function swap(old, fresh) {
    came = [];
    window.Alpine.mutateDom(() => put(old, fresh));
    for (const one of came) window.Alpine.initTree(one);
    // what was typed belongs to the state before; a field says again what the server said
    for (const form of old.querySelectorAll("form")) form.reset();
  }
  document.addEventListener("ajax:merge", (event) => {
    if (event.target.id !== "plan") return;
    event.preventDefault();
    swap(event.target, event.detail.content);
  });
  window.Rowan.swap = swap;
})();
