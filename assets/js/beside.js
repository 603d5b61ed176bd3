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

// One set says several things at once: they are looked at once.
const TOGETHER = 200;
let looking = null;
function look() {
  clearTimeout(looking);
  looking = setTimeout(() => (touched ? tell() : show()), TOGETHER);
}

if (page) {
  document.addEventListener("input", () => (touched = true));
  document.addEventListener("toggle", (event) => event.target.open && (touched = true), true);
  const source = new EventSource(page.dataset.beside);
  source.addEventListener("happened", look);
  // While nobody was heard anything may have happened; the first time the page has just been drawn.
  let heard = false;
  source.addEventListener("open", () => {
    if (heard) look();
    heard = true;
  });
}
