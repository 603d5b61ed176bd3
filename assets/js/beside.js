// A coach beside the client sees what is logged on the other phone at once. What was typed here is never swept away: then it is told.
const page = document.querySelector("[data-beside]");
let touched = false;

async function show() {
  const answer = await fetch(location.href);
  if (!answer.ok) return;
  const fresh = new DOMParser().parseFromString(await answer.text(), "text/html").querySelector("#main");
  if (!fresh || touched) return tell();
  document.getElementById("main").replaceChildren(...fresh.childNodes);
}

function tell() {
  const told = document.querySelector("[data-beside-told]");
  if (told) told.hidden = false;
}

if (page) {
  document.addEventListener("input", () => (touched = true));
  document.addEventListener("toggle", (event) => event.target.open && (touched = true), true);
  const source = new EventSource(page.dataset.beside);
  let first = true;
  source.addEventListener("happened", () => {
    // Whoever begins to listen is told to look once; the page has just been drawn.
    if (first && performance.now() < 2000) {
      first = false;
      return;
    }
    first = false;
    if (touched) tell();
    else show();
  });
}
