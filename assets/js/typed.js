// What was typed and did not arrive is there again: when the sign-in had ended, the network was away or the server said no, the form
// is filled in as it was when its page comes back. Kept in this tab alone, until something else is sent or the page was left in peace.
const KEY = "bavrek-typed";
// What nobody else is to read stays out.
const SECRET = 'input[type="password"], input[name="csrf"], input[type="file"]';

function read() {
  try {
    return JSON.parse(sessionStorage.getItem(KEY));
  } catch {
    return null;
  }
}

function forget() {
  sessionStorage.removeItem(KEY);
}

function write(kept) {
  try {
    sessionStorage.setItem(KEY, JSON.stringify(kept));
  } catch {
    // Full or forbidden: then it is not kept, and the form stays as it is.
  }
}

// Who is signed in: what one typed is not for another.
const who = () => document.querySelector('header a[href="/account"]')?.textContent ?? "";
const door = () => location.pathname.startsWith("/sign-in");
const path = (address) => new URL(address, location.href).pathname;
const action = (form) => path(form.getAttribute("hx-post") ?? form.getAttribute("action") ?? location.href);

// The visible fields of a form: what the page put into it itself, it puts into it again.
function fields(form) {
  const shown = [...form.elements].filter((e) => e.name && e.type !== "hidden" && !e.matches(SECRET));
  return shown.map((e) => ({ name: e.name, value: e.value, checked: e.checked ?? false, kind: e.type }));
}

function fill(form, kept) {
  for (const field of kept.fields) {
    const same = [...form.elements].filter((e) => e.name === field.name && e.type === field.kind);
    const choice = field.kind === "checkbox" || field.kind === "radio";
    const element = choice ? same.find((e) => e.value === field.value) : same.shift();
    if (!element) continue;
    if (choice) element.checked = field.checked;
    else element.value = field.value;
    element.dispatchEvent(new Event("input", { bubbles: true }));
  }
  form.querySelector(".typed-again")?.remove();
  const said = document.createElement("p");
  said.className = "notice typed-again";
  said.setAttribute("role", "status");
  said.textContent = "This had not arrived. What you typed is back: look it over and send it again.";
  form.prepend(said);
  for (let part = form.closest("details"); part; part = part.parentElement?.closest("details")) part.open = true;
  said.scrollIntoView({ block: "center" });
}

document.addEventListener(
  "submit",
  (event) => {
    const form = event.target;
    if (form.method !== "post" || door() || fields(form).length === 0) return;
    write({ action: action(form), who: who(), fields: fields(form), state: "sent" });
  },
  true,
);

// An answer to what was sent that is no refusal by the door, the network or the server itself: it arrived, whatever it said. Parts of
// the page that are asked for meanwhile say nothing of it.
document.addEventListener("htmx:after:request", (event) => {
  const { request, response } = event.detail?.ctx ?? {};
  const status = response?.status ?? 0;
  const kept = read();
  if (!kept || request?.method !== "POST" || path(request.action) !== kept.action) return;
  if (status === 401) write({ ...kept, state: "again" });
  else if (status !== 0 && status !== 403 && status < 500) forget();
});

function back() {
  const kept = read();
  if (!kept) return;
  const returned = performance.getEntriesByType("navigation")[0]?.type === "back_forward";
  if (door()) {
    // Here because the sign-in had ended: the form's page follows.
    write({ ...kept, state: "again" });
    return;
  }
  if (kept.who !== who()) {
    forget();
    return;
  }
  const form = [...document.forms].find((f) => f.method === "post" && action(f) === kept.action);
  if (form && (kept.state === "again" || returned)) fill(form, kept);
  if (form || kept.state !== "again") forget();
}
back();
