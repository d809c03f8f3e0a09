// Files are dropped or chosen, a search follows the typing, slow papers say so.
(() => {
  const { fixed, focused, tr } = window.Rowan;
  document.addEventListener("change", (event) => {
    // a chosen file is sent at once
    if (event.target.matches?.("[data-send]") && event.target.files.length) event.target.form.requestSubmit();
  });

  // a large file shows how far it is: sent by bytes, then read, which the server does in a few seconds for a year of minutes
  document.addEventListener("submit", (event) => {
    const form = event.target;
    if (!form.matches?.("form[data-progress]") || event.defaultPrevented) return;
    event.preventDefault();
    const told = form.querySelector("[data-told]"), bar = form.querySelector("progress");
    const sending = new XMLHttpRequest();
    sending.open("POST", form.action);
    sending.upload.addEventListener("progress", (at) => {
      bar.hidden = false;
      if (at.lengthComputable) bar.value = at.loaded / at.total;
      told.textContent = at.lengthComputable ? tr("{part} of {whole} MB sent", { part: fixed(at.loaded / 1e6, 1), whole: fixed(at.total / 1e6, 1) }) : tr("Being sent");
    });
    sending.upload.addEventListener("load", () => { bar.removeAttribute("value"); told.textContent = tr("Sent; its rows are being read"); });
    sending.addEventListener("load", () => {
      if (sending.status < 400 && sending.responseURL) { location.assign(sending.responseURL); return; }
      document.open();
      document.write(sending.responseText);
      document.close();
    });
    sending.addEventListener("error", () => { bar.hidden = true; told.textContent = tr("Not sent: is there a signal? Choose the file again."); });
    sending.send(new FormData(form));
  });

  // what takes a few seconds says so until the paper is there
  document.addEventListener("click", (event) => {
    if (!event.target.closest?.("[data-slow]") || event.ctrlKey || event.metaKey) return;
    const words = document.getElementById("slow-words");
    if (words) words.textContent = tr("The job sheet is being drawn: ten pages take some seconds.");
  });
  window.addEventListener("pageshow", () => {
    const words = document.getElementById("slow-words");
    if (words) words.textContent = "";
  });

  // a search follows the typing
  const LIVE_DELAY_MS = 250;
  let live = 0;
  document.addEventListener("input", (event) => {
    if (!event.target.matches?.("[data-live]")) return;
    clearTimeout(live);
    focused.id = event.target.id;
    live = setTimeout(() => event.target.form.requestSubmit(), LIVE_DELAY_MS);
  });
  window.addEventListener("ajax:after", () => {
    const field = document.querySelector("[data-live]");
    if (!field || focused.id !== field.id) return;
    field.focus();
    field.setSelectionRange(field.value.length, field.value.length);
  });

  // job files are dropped anywhere on a page that takes them
  const dropForm = () => document.querySelector("form[data-drop]");
  const holdsFiles = (event) => [...(event.dataTransfer?.types || [])].includes("Files");
  document.addEventListener("dragover", (event) => {
    if (!dropForm() || !holdsFiles(event)) return;
    event.preventDefault();
    document.body.classList.add("dropping");
  });
  document.addEventListener("dragleave", (event) => {
    if (!event.relatedTarget) document.body.classList.remove("dropping");
  });
  document.addEventListener("drop", (event) => {
    const form = dropForm();
    if (!form || !holdsFiles(event)) return;
    event.preventDefault();
    document.body.classList.remove("dropping");
    form.querySelector("[type=file]").files = event.dataTransfer.files;
    form.requestSubmit();
  });
})();
