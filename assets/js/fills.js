// A button that puts what was meant into a field.
document.addEventListener("click", (event) => {
  const button = event.target.closest("[data-fills]");
  const field = button && document.getElementById(button.dataset.fills);
  if (!field) {
    return;
  }
  field.value = button.value;
  field.dispatchEvent(new Event("input", { bubbles: true }));
  field.dispatchEvent(new Event("change", { bubbles: true }));
  field.focus();
});
