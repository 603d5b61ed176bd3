// Pieces of the board are dragged: onto another they are sewn to it, onto its upper edge they go before its block. Every
// move has its key as well; what is dropped is sent by the form that lies on the table.
const EDGE = 0.3;
let dragged = null;

const pieceAt = (event) => event.target.closest?.("[data-piece]");

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
  if (!dragged || !piece || piece.dataset.piece === dragged) return;
  event.preventDefault();
  clear();
  piece.dataset.drop = place(piece, event);
});
document.addEventListener("dragend", () => {
  dragged = null;
  clear();
});
document.addEventListener("drop", (event) => {
  const piece = pieceAt(event);
  const form = document.getElementById("drop");
  if (!dragged || !piece || !form || piece.dataset.piece === dragged) return;
  event.preventDefault();
  form.elements.slot.value = dragged;
  form.elements.other.value = piece.dataset.piece;
  form.elements.act.value = place(piece, event);
  form.requestSubmit();
});
