// Handles in the rig drawing: dragged, or moved with the arrow keys, they type into the form beside it.
import { liveForm, redraw } from "./live.js";

function field(name) {
  return liveForm()?.elements.namedItem(name);
}

function set(name, value, step) {
  const input = field(name);
  if (!input) return;
  const rounded = Math.round(value / step) * step;
  const text = String(Number(Math.max(0, rounded).toFixed(2)));
  if (input.value === text) return;
  input.value = text;
  redraw();
}

// The grip that is dragged: where it was taken, and what a pixel is worth.
let drag = null;

function take(event) {
  const grip = event.target.closest?.(".grip");
  if (!grip || !liveForm()) return;
  event.preventDefault();
  grip.focus();
  const svg = grip.ownerSVGElement;
  const { field: name, value, perX, perY, step } = grip.dataset;
  const scale = svg.viewBox.baseVal.width / svg.getBoundingClientRect().width;
  drag = {
    name,
    value: Number(value),
    x: event.clientX,
    y: event.clientY,
    perX: Number(perX) * scale,
    perY: Number(perY) * scale,
    step: Number(step),
  };
}

function move(event) {
  if (!drag) return;
  const moved = (event.clientX - drag.x) * drag.perX + (event.clientY - drag.y) * drag.perY;
  set(drag.name, drag.value + moved, drag.step);
}

function nudge(event) {
  const grip = event.target.closest?.(".grip");
  if (!grip) return;
  const way = { ArrowUp: 1, ArrowRight: 1, ArrowDown: -1, ArrowLeft: -1 }[event.key];
  if (!way) return;
  event.preventDefault();
  set(
    grip.dataset.field,
    Number(field(grip.dataset.field)?.value) + way * Number(grip.dataset.step),
    Number(grip.dataset.step),
  );
}

document.addEventListener("pointerdown", take);
document.addEventListener("pointermove", move);
document.addEventListener("pointerup", () => (drag = null));
document.addEventListener("pointercancel", () => (drag = null));
document.addEventListener("keydown", nudge);
