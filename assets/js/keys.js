// Keys of the screen in use: elements name theirs in data-key; "?" lists them. Typing in a field is never caught.
const typing = (element) => element.closest("input, textarea, select, [contenteditable]");

function list() {
  const dialog = document.getElementById("keys");
  if (!dialog) return;
  const body = dialog.querySelector("dl");
  body.replaceChildren();
  for (const element of document.querySelectorAll("[data-key]")) {
    const term = document.createElement("dt");
    const text = document.createElement("dd");
    term.textContent = element.dataset.key;
    text.textContent = element.dataset.keyLabel ?? element.textContent.trim();
    body.append(term, text);
  }
  dialog.showModal();
}

document.addEventListener("keydown", (event) => {
  if (event.ctrlKey || event.metaKey || event.altKey || typing(event.target)) return;
  if (event.key === "?") {
    list();
    return;
  }
  const wanted = [...document.querySelectorAll("[data-key]")].find((e) => e.dataset.key === event.key);
  if (wanted) {
    event.preventDefault();
    wanted.focus();
    wanted.click();
  }
});
