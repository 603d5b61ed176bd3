// The torso as a form: pressing a panel goes from keep to grow to focus; the table beside it holds the choice.
import { redraw } from "./live.js";
import { changed } from "./unsaved.js";

function turn(panel) {
  const name = `aim_${panel.dataset.region}`;
  const choices = [...document.querySelectorAll(`input[name="${name}"]`)];
  if (choices.length === 0) return;
  const next = choices[(choices.findIndex((c) => c.checked) + 1) % choices.length];
  next.checked = true;
  changed();
  redraw().then(() =>
    document
      .querySelector(`.panel[role=button][data-region="${panel.dataset.region}"]`)
      ?.focus({ preventScroll: true }),
  );
}

document.addEventListener("click", (event) => {
  const panel = event.target.closest?.(".torso.choosing .panel");
  if (panel) turn(panel);
});
document.addEventListener("keydown", (event) => {
  const panel = event.target.closest?.(".torso.choosing .panel[role=button]");
  if (!panel || (event.key !== "Enter" && event.key !== " ")) return;
  event.preventDefault();
  turn(panel);
});
