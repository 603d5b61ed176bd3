// What was typed and not saved is not lost by pressing something else: forms marked data-guard ask before they are left.
let unsaved = false;

document.addEventListener("input", (event) => {
  if (event.target.closest("form[data-guard]")) unsaved = true;
});
document.addEventListener("submit", () => (unsaved = false));
window.addEventListener("beforeunload", (event) => {
  if (unsaved) event.preventDefault();
});

// A choice pressed in a picture changes the form without an input of its own.
export const changed = () => (unsaved = true);

// A form that keeps in its address what it holds may load its page anew.
export const kept = () => (unsaved = false);
