// Beside a day that is picked stands what day of the week it is, written as days are written everywhere.
const written = new Intl.DateTimeFormat("en", {
  weekday: "short",
  day: "numeric",
  month: "short",
  year: "numeric",
  timeZone: "UTC",
});

function say(field) {
  let said = field.nextElementSibling;
  if (!said?.matches(".day-said")) {
    said = document.createElement("span");
    said.className = "day-said small";
    field.after(said);
  }
  const part = Object.fromEntries(written.formatToParts(field.valueAsDate ?? 0).map((p) => [p.type, p.value]));
  said.textContent = field.valueAsDate ? `${part.weekday} ${part.day} ${part.month} ${part.year}` : "";
}

const fields = (root) => root.querySelectorAll('input[type="date"]');
document.addEventListener("input", (event) => event.target.matches?.('input[type="date"]') && say(event.target));
document.addEventListener("htmx:load", (event) => fields(event.target).forEach(say));
fields(document).forEach(say);
