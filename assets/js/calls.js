// All calls by keyboard: from call to call, take, refuse, undo. After a word the next open call has the keys.
const open = () => [...document.querySelectorAll(".calls [data-call]")];
const later = () => document.querySelector(".calls-later");
// Where to go on once a client's calls were exchanged: whose they are, and the place of the call in the whole list.
let goOn = null;
const thenOn = (call, at) => {
  const client = call.closest(".calls-client");
  goOn = { client, id: client.id, at };
};

const current = () => document.activeElement?.closest?.("[data-call], .call-done");

function go(call) {
  call.focus({ preventScroll: true });
  call.scrollIntoView({ block: "center" });
}

function move(way) {
  const calls = open();
  const at = calls.indexOf(current()?.closest("[data-call]"));
  const next = calls[at < 0 ? (way > 0 ? 0 : calls.length - 1) : at + way];
  if (next) {
    go(next);
  } else if (way > 0 && later()) {
    // The next client's calls are asked for when they come into sight.
    thenOn(later(), calls.length);
    later().scrollIntoView({ block: "center" });
  }
}

// Presses what belongs to the call in hand, or to its client. Where none is in hand the first is taken into it: nothing is decided
// that the eyes are not on.
function press(selector, within = ".call") {
  const call = current();
  if (!call) {
    move(1);
    return true;
  }
  const button = call.closest(within)?.querySelector(selector);
  if (!button) return false;
  thenOn(call, Math.max(0, open().indexOf(call)));
  button.click();
  return true;
}

document.addEventListener("keydown", (event) => {
  if (!document.querySelector(".calls") || event.ctrlKey || event.metaKey || event.altKey) return;
  const field = event.target.closest("input, textarea, select");
  if (field) {
    // Enter in the word takes what is proposed, as everywhere a form is sent.
    if (event.key === "Enter" && current()) thenOn(current(), Math.max(0, open().indexOf(current())));
    return;
  }
  const on = event.target.closest("a, button");
  const did =
    (event.key === "ArrowDown" && (move(1), true)) ||
    (event.key === "ArrowUp" && (move(-1), true)) ||
    (event.key === "Enter" && !on && press("[data-take]")) ||
    (event.key === "x" && press("[data-refuse]")) ||
    (event.key === "u" && undo()) ||
    (event.key === "p" && press("[data-plain]", ".calls-client")) ||
    (/^[1-9]$/.test(event.key) && press(`[data-way="${event.key}"]`));
  if (did) {
    event.preventDefault();
    event.stopImmediatePropagation();
  }
});

// The decision in hand is undone, else the one that was made last.
let decidedIn = null;
function undo() {
  const button =
    current()?.querySelector("[data-undo]") ??
    document.querySelector(`#${CSS.escape(decidedIn ?? "none")} [data-undo]`);
  button?.click();
  return Boolean(button);
}

document.addEventListener("submit", (event) => {
  const call = event.target.closest?.(".call");
  if (call && event.submitter?.name === "decided") decidedIn = call.id;
});

// Other clients' calls come into sight meanwhile: only those that were waited for count.
document.addEventListener("htmx:after:swap", () => {
  if (goOn === null || document.getElementById(goOn.id) === goOn.client) return;
  const calls = open();
  const at = Math.min(goOn.at, calls.length - 1);
  const more = goOn.at >= calls.length && later();
  if (more) thenOn(later(), calls.length);
  else goOn = null;
  // After the exchange the keys go to what had them before: only then on.
  setTimeout(() => {
    if (more) later()?.scrollIntoView({ block: "center" });
    else if (calls[at]) go(calls[at]);
  });
});
