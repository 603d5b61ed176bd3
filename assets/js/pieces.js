// Pieces of the board are dragged: onto another they are sewn to it, onto its upper edge they go before its block, beside the
// pieces of another day of a week they go to that day. Every move has its key as well; what is dropped is sent by the form
// that lies on the table.
const EDGE = 0.3;
let dragged = null;

const pieceAt = (event) => event.target.closest?.("[data-piece]");
// The day beside whose pieces the pointer is, where the dragged one does not stand on it already.
const dayAt = (event) => {
  const day = event.target.closest?.("[data-day]");
  return day?.querySelector(`[data-piece="${dragged}"]`) ? null : day;
};

function place(piece, event) {
  const box = piece.getBoundingClientRect();
  return event.clientY < box.top + EDGE * box.height ? "before" : "with";
}

function clear() {
  document.querySelectorAll("[data-drop]").forEach((piece) => piece.removeAttribute("data-drop"));
}

document.addEventListener("dragstart", (event) => {
  const piece = pieceAt(event);
  if (!piece) return;
  dragged = piece.dataset.piece;
  event.dataTransfer.effectAllowed = "move";
  event.dataTransfer.setData("text/plain", dragged);
});
document.addEventListener("dragover", (event) => {
  const piece = pieceAt(event);
  if (!dragged || piece?.dataset.piece === dragged) return;
  const onto = piece ?? dayAt(event);
  if (!onto) return;
  event.preventDefault();
  clear();
  onto.dataset.drop = piece ? place(piece, event) : "day";
});
document.addEventListener("dragend", () => {
  dragged = null;
  clear();
});
document.addEventListener("drop", (event) => {
  const piece = pieceAt(event);
  const form = document.getElementById("drop");
  const day = piece ? null : dayAt(event);
  if (!dragged || !form || !(piece ?? day) || piece?.dataset.piece === dragged) return;
  event.preventDefault();
  form.elements.slot.value = dragged;
  form.elements.other.value = piece?.dataset.piece ?? "";
  form.elements.act.value = piece ? place(piece, event) : `day-${day.dataset.day}`;
  form.requestSubmit();
});
