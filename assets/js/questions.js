// Yes-or-no questions by key: y or n answers the one in focus and goes to the next.
document.addEventListener("keydown", (event) => {
  const question = event.target.closest?.("[data-questions] .question");
  if (!question || event.ctrlKey || event.metaKey || event.altKey) return;
  const value = { y: "yes", n: "no" }[event.key];
  if (!value) return;
  event.preventDefault();
  event.stopPropagation();
  question.querySelector(`input[value="${value}"]`).checked = true;
  const all = [...document.querySelectorAll("[data-questions] .question")];
  const next = all[all.indexOf(question) + 1];
  (next?.querySelector("input") ?? document.querySelector("form:has([data-questions]) .btn-primary")).focus();
});
// The first question takes the keys at once.
document.querySelector("[data-questions] .question input")?.focus({ preventScroll: true });

// A new client most likely lives in the time zone of whoever types.
const zone = document.querySelector("form[data-fresh] input[name=time_zone]");
if (zone && zone.value === "UTC") zone.value = Intl.DateTimeFormat().resolvedOptions().timeZone ?? "UTC";
