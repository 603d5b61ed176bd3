// Focus is never lost: after an error it stands in the first field that is wrong, after a swapped part on what was
// pressed, or on the part itself where that is gone.

// What finds an element again in a page that was drawn anew, the surest first.
export function trace(element) {
  if (!element || element === document.body) return null;
  const ways = [];
  if (element.id) ways.push(`#${CSS.escape(element.id)}`);
  const label = element.getAttribute("aria-label");
  const form = element.form?.getAttribute("action");
  const inside = form ? `form[action="${CSS.escape(form)}"] ` : "";
  if (element.name) {
    const choice = element.type === "radio" || element.tagName === "BUTTON";
    const value = choice ? `[value="${CSS.escape(element.value)}"]` : "";
    ways.push(`${inside}[name="${CSS.escape(element.name)}"]${value}`);
  }
  if (inside && element.tagName === "BUTTON") ways.push(`${inside}button:not([name])`);
  if (label) ways.push(`${element.tagName}[aria-label="${CSS.escape(label)}"]`);
  if (element.tagName === "A") ways.push(`a[href="${CSS.escape(element.getAttribute("href"))}"]`);
  if (element.tagName === "SUMMARY") ways.push(`${inside}summary`);
  return ways;
}

// Goes back to what was traced; to the first error or the part itself where it is gone.
export function goBack(ways, part) {
  if (!ways) return;
  if (document.activeElement && document.activeElement !== document.body) return;
  const wrong = firstWrong(part ?? document);
  const found = wrong ?? ways.map((way) => document.querySelector(way)).find(Boolean);
  if (found) {
    found.focus({ preventScroll: !wrong });
  } else if (part) {
    part.setAttribute("tabindex", "-1");
    part.focus({ preventScroll: true });
  }
}

// The first field that is wrong: marked so, or the one whose error stands beside it.
export function firstWrong(within) {
  const marked = within.querySelector('[aria-invalid="true"]');
  if (marked) return marked;
  const error = [...within.querySelectorAll(".error")].find((e) => e.textContent.trim());
  const around = error?.closest("label, fieldset, td, p, form");
  return around?.querySelector("input:not([type=hidden]), select, textarea") ?? null;
}

const wrong = document.querySelector("[autofocus]") ? null : firstWrong(document);
wrong?.focus({ preventScroll: true });
wrong?.scrollIntoView({ block: "center" });

let before = null;
document.addEventListener("htmx:before:swap", () => (before = trace(document.activeElement)));
document.addEventListener("htmx:after:swap", (event) => {
  const part = event.target.id ? document.getElementById(event.target.id) : null;
  goBack(before, part);
});
