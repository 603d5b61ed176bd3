// Stations by the clock, one after the other: what happens by itself, worked out from when it began. Nothing in here waits or draws.

// How late a clock that stood still may go on, s: after that nobody knows whether the station was worked.
export const LATE_S = 20;

// What a run goes over by itself: one thing by the clock, which is logged by its seconds alone.
export const goesByItself = (turn) =>
  Boolean(turn) && Boolean(turn.timed) && turn.parts.length === 0 && (!turn.reps || turn.uncounted === true);

export const sameTurn = (a, b) => a.slot === b.slot && a.round === b.round && a.side === b.side;

// A run: the turn it works on, when that began (none while it rests before it), and a random identifier of the run.
export const working = (turn, began, id) => ({
  slot: turn.slot,
  round: turn.round,
  side: turn.side,
  order: turn.order,
  began,
  id,
});
export const restingBefore = (turn, id) => working(turn, null, id);

// The identifier of the set that a run logs: two pages of one phone that go through one run log it once.
export function setId(run) {
  const place = run.order.map((n) => n.toString(16).padStart(3, "0")).join("");
  return `${run.id.slice(0, -place.length)}${place}`;
}

// What is due of a run when the screen shows a turn whose rest ends at `until`: to begin it, to log it, to end the run with a word
// why, or nothing.
export function due(run, turn, until, now) {
  if (!goesByItself(turn)) return { do: "end", why: "" };
  if (!sameTurn(run, turn)) return { do: "end", why: "The order changed: the clock stopped." };
  const late = (at) => now - at > 1000 * LATE_S;
  const stood = "The screen was off for too long: the clock stopped here. Log the station if it was done.";
  if (run.began === null) {
    const at = until ?? now;
    if (now < at) return null;
    return late(at) ? { do: "end", why: stood } : { do: "begin", at };
  }
  const end = run.began + 1000 * turn.timed;
  if (now < end) return null;
  return late(end) ? { do: "end", why: stood } : { do: "log", at: end };
}
