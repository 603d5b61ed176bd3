// Keys of the screen in use: elements name theirs in data-key; "?" lists them. Typing in a field is never caught. Who speaks to the
// computer, or whose hand trembles, switches off what a single letter does; arrows and the like stay.
const OFF = "bavrek-keys-off";
const off = () => localStorage.getItem(OFF) !== null;

const typing = (element) => element.closest("input, textarea, select, [contenteditable]");

function list() {
  const dialog = document.getElementById("keys");
  if (!dialog) return;
  const body = dialog.querySelector("dl");
  body.replaceChildren();
  for (const element of document.querySelectorAll("[data-key]:not(:disabled)")) {
    const term = document.createElement("dt");
    const text = document.createElement("dd");
    term.textContent = element.dataset.key;
    text.textContent = element.dataset.keyLabel ?? element.textContent.trim();
    body.append(term, text);
  }
  dialog.querySelector("[data-keys-on]").checked = !off();
  dialog.showModal();
}

document.addEventListener("click", (event) => event.target.closest("[data-keys]") && list());
document.addEventListener("change", (event) => {
  if (!event.target.matches("[data-keys-on]")) return;
  if (event.target.checked) localStorage.removeItem(OFF);
  else localStorage.setItem(OFF, "");
});

document.addEventListener("keydown", (event) => {
  // In a field, escape leaves it to the keys of the screen, and control with enter sends its form.
  if (typing(event.target)) {
    if (event.key === "Escape") event.target.blur();
    if (event.key === "Enter" && (event.ctrlKey || event.metaKey))
      event.target.form?.requestSubmit(event.target.form.querySelector("button:not([type=button])"));
  }
  if (event.ctrlKey || event.metaKey || event.altKey || typing(event.target)) return;
  if (event.key.length === 1 && off()) return;
  if (event.key === "?") {
    list();
    return;
  }
  const wanted = [...document.querySelectorAll("[data-key]")].find((e) => e.dataset.key === event.key && !e.disabled);
  if (!wanted) return;
  event.preventDefault();
  // Some keys only lead to the first thing of a group.
  if (wanted.dataset.keyFocus) {
    wanted.querySelector(wanted.dataset.keyFocus)?.focus();
    return;
  }
  wanted.focus({ preventScroll: wanted.closest(".visually-hidden") !== null });
  wanted.click();
});
