import { goBack, trace } from "./focus.js";
import { kept } from "./unsaved.js";

// Forms whose answer is drawn at once: whatever is typed goes to the server, the parts that the form names are swapped
// as one, so that they never disagree, errors come to stand beside their fields, and the address follows.
export const liveForm = () => document.querySelector("form[data-live]");

let busy = false;
let waiting = false;

export async function redraw() {
  const form = liveForm();
  if (!form) return;
  if (busy) {
    waiting = true;
    return;
  }
  busy = true;
  const fields = new URLSearchParams(new FormData(form));
  // What a form posts is tried out elsewhere, where nothing is stored, and its address stays.
  const trial = form.dataset.trial;
  const address = trial ? location.href : `${form.action}?${fields}`;
  try {
    const answer = await (trial
      ? fetch(trial, { method: "POST", body: fields })
      : fetch(address, { headers: { "X-Live": "parts" } }));
    if (answer.ok) show(form, new DOMParser().parseFromString(await answer.text(), "text/html"), address);
  } finally {
    busy = false;
    if (waiting) {
      waiting = false;
      redraw();
    }
  }
}

function show(form, page, address) {
  const held = document.activeElement?.closest?.(".grip")?.dataset.field;
  const ways = trace(document.activeElement);
  for (const part of form.dataset.live.split(" ")) {
    const [old, fresh] = [document.querySelector(part), page.querySelector(part)];
    if (old && fresh) old.replaceWith(fresh);
  }
  for (const error of document.querySelectorAll("[data-error]")) {
    error.textContent = page.querySelector(`[data-error="${error.dataset.error}"]`)?.textContent ?? "";
  }
  history.replaceState(history.state, "", address);
  if (held) document.querySelector(`.grip[data-field="${held}"]`)?.focus();
  else goBack(ways, null);
}

document.addEventListener("input", (event) => {
  const form = event.target.closest("form[data-live]");
  if (!form) return;
  // A choice on which the form itself depends loads the page anew, with only what it names kept.
  if (event.target.dataset.reload !== undefined) {
    const names = event.target.dataset.reload.split(" ");
    const keep = [...new FormData(form)].filter(([name]) => names.includes(name));
    kept();
    location.assign(`${form.action}?${new URLSearchParams(keep)}`);
    return;
  }
  redraw();
});
