// What comes next in a workout, from what was done of it, in whatever order it was done. The same rules as the server's, which
// its cases hold both to.

// For every turn whether it was done. A set of a side takes that side's next turn; one without a side the next of either.
export function taken(turns, done) {
  const taken = turns.map(() => false);
  for (const one of done) {
    const fits = (turn) => turn.slot === one.slot && (!one.side || !turn.side || turn.side === one.side);
    const at = turns.findIndex((turn, i) => !taken[i] && fits(turn));
    if (at >= 0) taken[at] = true;
  }
  return taken;
}

// Repetitions that are left of the total of a turn, on its side; null where it is not done to a total.
export function leftOfTotal(turn, done) {
  if (turn.total === null || turn.total === undefined) return null;
  const own = done.filter((d) => d.slot === turn.slot && (!turn.side || d.side === turn.side));
  return Math.max(0, turn.total - own.reduce((sum, d) => sum + (d.reps ?? 0), 0));
}

// Turns that are still to be done, in order.
export function open(turns, done) {
  const all = taken(turns, done);
  return turns.filter((turn, i) => !all[i] && leftOfTotal(turn, done) !== 0);
}

// The turn that comes next; what is closed is passed over.
export function next(turns, done, closed) {
  return open(turns, done).find((turn) => !closed.includes(turn.slot)) ?? null;
}

// Whether nothing that is left has to be done: what is open may be left out, and as many of those lines are done as are wanted.
// Where nothing at all is done it is not enough. `optional` is [slot, how many] of each.
export function enough(turns, done, closed, optional) {
  const slots = open(turns, done).map((turn) => turn.slot);
  const full = ([slot]) => !slots.includes(slot) && done.some((d) => d.slot === slot);
  const begun = turns.some((turn) => full([turn.slot]));
  const wanted = Math.max(0, ...optional.map(([, n]) => n));
  const left = slots.filter((slot) => !closed.includes(slot));
  const may = (slot) => optional.some(([other]) => other === slot);
  return left.length === 0 || (begun && optional.filter(full).length >= wanted && left.every(may));
}

const before = (a, b) => {
  const at = a.order.findIndex((n, i) => n !== b.order[i]);
  return at < 0 ? 0 : a.order[at] - b.order[at];
};

// The turns with those of a slot replaced, in order.
export function replaced(turns, slot, own) {
  return [...turns.filter((turn) => turn.slot !== slot), ...own].sort(before);
}

// The advice that a set leads to: the first that is due. The repetitions of one that was changed within itself say nothing of either
// load.
export function due(advice, set) {
  const clean = !set.broken && !set.pain;
  const is = {
    seen: (one) => set.seen.includes(one.what),
    broken: () => set.broken === true,
    fewer: (one) => !set.changed && set.reps !== null && set.reps < one.than,
    easy: (one) =>
      clean && !set.changed && set.reps !== null && set.reps >= one.from && set.rir !== null && set.rir >= one.reserve,
  };
  return advice.find((one) => is[one.when](one)) ?? null;
}
