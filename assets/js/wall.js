// The shelf and wall: heights are dragged or moved with the arrow keys, delete takes away, the scale puts an anchor up.
// Every change goes to the server as a form; what it answers is drawn.
const STEP = 0.05;
const HIGHEST = 3.5;
// Arrow keys are sent together once they rest.
const REST = 350;

let drag = null;
let keys = null;
// What has the focus once the answer is drawn.
let next = null;

const wall = () => document.querySelector(".wall.live");
const clamp = (height) => Math.min(HIGHEST, Math.max(0, Math.round(height / STEP) * STEP));
const text = (height) => String(Number(height.toFixed(2)));

// Pixels of the screen in a metre.
function metre(svg) {
  return Number(svg.dataset.metre) * (svg.getBoundingClientRect().width / svg.viewBox.baseVal.width);
}

function show(thing, height) {
  const moved = (Number(thing.dataset.height) - height) * Number(thing.ownerSVGElement.dataset.metre);
  thing.setAttribute("transform", `translate(0 ${moved.toFixed(1)})`);
  thing.setAttribute("aria-valuenow", text(height));
  thing.setAttribute("aria-valuetext", `${text(height)} m`);
  const label = thing.querySelector("text");
  if (label) label.textContent = label.textContent.replace(/\d+(\.\d+)?(?! ×)(?= m|$| \?)/, text(height));
}

async function send(address, fields) {
  const form = document.querySelector("[data-move]");
  if (!form) return;
  const body = new URLSearchParams({ csrf: form.elements.csrf.value, id: crypto.randomUUID(), ...fields });
  const answer = await fetch(address, { method: "POST", body });
  const page = new DOMParser().parseFromString(await answer.text(), "text/html");
  const [old, fresh] = [document.getElementById("kit"), page.getElementById("kit")];
  // A page that is none of ours says what went wrong.
  if (!fresh) {
    location.assign(answer.url);
    return;
  }
  old.replaceWith(fresh);
  window.htmx?.process?.(fresh);
  if (answer.redirected) history.replaceState(history.state, "", answer.url.split("#")[0]);
  focus();
}

function focus() {
  const things = [...document.querySelectorAll(".wall.live .on-wall[tabindex]")];
  const found =
    next && (things.find((t) => t.querySelector("title")?.textContent.startsWith(next.title)) ?? things[next.at]);
  (found ?? things.at(-1))?.focus({ preventScroll: true });
  next = null;
}

// Where a piece is on the page, in the address of its place.
function address(thing, what) {
  const base = document.querySelector("[data-move]").action.replace(/\/_\/move$/, "");
  return `${base}/${thing.dataset.piece}/${what}`;
}

function move(thing, height) {
  if (text(height) === thing.dataset.height) {
    thing.removeAttribute("transform");
    return;
  }
  const kind = thing.querySelector("title").textContent.replace(/[\d.]+ m.*$/, "");
  next = { title: `${kind}${text(height)}`, at: place(thing) };
  send(address(thing, "move"), { index: thing.dataset.index, height: text(height) });
}

function remove(thing) {
  next = { title: "\u0000", at: Math.max(0, place(thing) - 1) };
  if (thing.dataset.weight !== undefined) {
    send(address(thing, "weight"), { weight: thing.dataset.weight, pair: thing.dataset.pair });
  } else {
    send(address(thing, "remove"), {});
  }
}

const place = (thing) => [...document.querySelectorAll(".wall.live .on-wall[tabindex]")].indexOf(thing);

// What was put up or set down has the focus, so that it can be moved at once.
document.addEventListener("submit", (event) => {
  if (event.target.matches?.("[data-quick]")) next = { title: "\u0000", at: -1 };
});
document.addEventListener("htmx:after:swap", () => {
  if (!next) return;
  const pieces = [...document.querySelectorAll(".kit-list li")];
  const id = pieces.at(-1)?.id.replace("piece-", "");
  next = null;
  document.querySelector(`.wall.live .on-wall[data-piece="${id}"]`)?.focus({ preventScroll: true });
});

document.addEventListener("pointerdown", (event) => {
  const thing = event.target.closest?.(".wall.live .on-wall[tabindex]");
  if (!thing) return;
  thing.focus({ preventScroll: true });
  if (thing.dataset.index === undefined) return;
  event.preventDefault();
  const start = Number(thing.dataset.height);
  drag = { thing, start, y: event.clientY, metre: metre(thing.ownerSVGElement), height: start };
});
document.addEventListener("pointermove", (event) => {
  if (!drag) return;
  drag.height = clamp(drag.start + (drag.y - event.clientY) / drag.metre);
  show(drag.thing, drag.height);
});
document.addEventListener("pointerup", () => {
  if (!drag) return;
  const { thing, height } = drag;
  drag = null;
  move(thing, height);
});
document.addEventListener("pointercancel", () => {
  drag?.thing.removeAttribute("transform");
  drag = null;
});

document.addEventListener("click", (event) => {
  const scale = event.target.closest?.("[data-scale]");
  const form = document.querySelector("[data-quick]");
  if (!scale || !form) return;
  const svg = wall();
  const top = svg.getBoundingClientRect().top;
  const ratio = svg.getBoundingClientRect().width / svg.viewBox.baseVal.width;
  const height = clamp((Number(svg.dataset.floor) - (event.clientY - top) / ratio) / Number(svg.dataset.metre));
  next = { title: `anchor at ${text(height)}`, at: 0 };
  send(form.action, { kind: "anchor", height: text(height) });
});

document.addEventListener("keydown", (event) => {
  const thing = event.target.closest?.(".wall.live .on-wall[tabindex]");
  if (!thing || event.ctrlKey || event.metaKey || event.altKey) return;
  if (event.key === "Delete" || event.key === "Backspace") {
    event.preventDefault();
    remove(thing);
    return;
  }
  if (thing.dataset.index === undefined) return;
  const way = { ArrowUp: 1, ArrowDown: -1, PageUp: 5, PageDown: -5 }[event.key];
  if (!way) return;
  event.preventDefault();
  if (keys?.thing !== thing) keys = { thing, height: Number(thing.dataset.height) };
  keys.height = clamp(keys.height + way * STEP);
  show(thing, keys.height);
  clearTimeout(keys.timer);
  keys.timer = setTimeout(() => {
    const { height } = keys;
    keys = null;
    move(thing, height);
  }, REST);
});
