// A grid of numbers is typed in without the mouse: enter goes to the next field, the arrows up and down a row.
document.addEventListener("keydown", (event) => {
  const field = event.target.closest?.("[data-grid] input:not([type=hidden])");
  if (!field || event.ctrlKey || event.metaKey || event.altKey) return;
  const steps = { Enter: 1, ArrowDown: "down", ArrowUp: "up" };
  const step = steps[event.key];
  if (!step) return;
  const fields = [...field.form.querySelectorAll("input:not([type=hidden])")];
  const column = field.name.split("_")[0];
  const own = step === 1 ? fields : fields.filter((f) => f.name.startsWith(`${column}_`));
  const to = own[own.indexOf(field) + (step === "up" ? -1 : 1)];
  event.preventDefault();
  (to ?? (step === 1 ? field.form.querySelector("button") : field)).focus();
  to?.select();
});
