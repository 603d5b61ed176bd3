// Regions of a slot chosen on the torso: each press of a panel takes the next weight into its field. A pattern fills in what it usually
// trains, unless somebody chose otherwise.
import { redraw } from "./live.js";
import { changed } from "./unsaved.js";

const NEXT = new Map([
  ["", "1"],
  ["1", "0.5"],
]);

const form = () => document.querySelector("form[data-usual]");
const fields = () => [...form().elements].filter((e) => e.name.startsWith("region_"));

function press(panel) {
  const field = form()?.elements[`region_${panel.dataset.region}`];
  if (!field) return;
  field.value = NEXT.get(field.value === "0" ? "" : field.value) ?? "";
  changed();
  redraw().then(() =>
    document
      .querySelector(`.panel[role=button][data-region="${panel.dataset.region}"]`)
      ?.focus({ preventScroll: true }),
  );
}

const panelOf = (event) => form() && event.target.closest?.(".torso.choosing .panel");

document.addEventListener("click", (event) => {
  const panel = panelOf(event);
  if (panel) press(panel);
});
document.addEventListener("keydown", (event) => {
  const panel = panelOf(event);
  if (!panel || (event.key !== "Enter" && event.key !== " ")) return;
  event.preventDefault();
  press(panel);
});

// Before the answer to the choice is asked for.
let before = form()?.elements.pattern.value ?? "";
document.addEventListener(
  "input",
  (event) => {
    if (event.target.name !== "pattern" || !form()?.contains(event.target)) return;
    const usual = JSON.parse(form().dataset.usual);
    const filled = usual[before] ?? {};
    const own = fields().some((f) => Number(f.value || 0) !== (filled[f.name] ?? 0));
    before = event.target.value;
    if (own && fields().some((f) => f.value !== "")) return;
    for (const field of fields()) field.value = usual[before]?.[field.name] ?? "";
  },
  true,
);
