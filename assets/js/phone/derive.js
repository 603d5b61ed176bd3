// What stands of a workout: what the server said of it, and what was said here since. Nothing in here draws or waits.
import { due, enough, leftOfTotal, next, open, replaced, taken } from "./script.js";

// Pain, of 10, from which a movement is stopped.
const STOPS = 4;

// The day by the phone: what was done on another one is not of this workout.
export function localDay(at = new Date()) {
  const two = (n) => String(n).padStart(2, "0");
  return `${at.getFullYear()}-${two(at.getMonth() + 1)}-${two(at.getDate())}`;
}

// Entries that the server's picture does not hold yet, of today.
function recent(pack, entries) {
  const today = localDay();
  const held = (entry) => entry.state === "taken" && entry.settled <= pack.asked;
  return entries.filter((entry) => localDay(new Date(entry.at)) === today && !held(entry));
}

// Reserve from which it says only at least, as in the core.
const AT_LEAST_FROM = 5;
// A set in a few words: `left: 8 × 10 reps, 2 in reserve`.
function inWords(side, load, figures, reserve) {
  const done = figures.filter(Boolean).join(" + ") || "stopped";
  const what = [load && done !== "stopped" ? `${load} × ${done}` : done, reserve].filter(Boolean).join(", ");
  return side ? `${side}: ${what}` : what;
}

// A weight with the hands it is said of: `12 kg each hand`. A pack of before does not say of which.
function ofHands(choice, load) {
  return choice?.hands && /^\d/.test(load ?? "") ? `${load} ${choice.hands}` : load;
}

// The step to which one can be changed within a set, `lighter` or `heavier`; null where there is none. A pack of before does not say
// which, nor that it can be.
export function stepBeside(choice, rung, to) {
  const place = choice.beside?.[choice.at + rung]?.[{ lighter: 0, heavier: 1 }[to] ?? 2] ?? null;
  return place === null ? null : choice.steps[place];
}

// A set as the phone has it, in the form in which the server tells of one.
function doneOf(entry, pack) {
  const { said } = entry;
  const field = (name) => said.fields.find(([n]) => n === name)?.[1] ?? "";
  const number = (...names) => {
    const text = names.map(field).find((t) => t !== "" && t !== "more") ?? "";
    return text === "" ? null : Number(text);
  };
  const station = pack.stations.find((s) => s.slot === said.slot);
  const choice = said.given === pack.given ? station?.choices[said.choice] : null;
  const [reps, seconds, rir] = [number("reps", "reps_typed"), number("seconds", "seconds_typed"), number("rir")];
  const changed = Number(field("changed_after") || 0);
  const to = field("changed_to");
  const other = choice ? stepBeside(choice, said.rung, to) : null;
  const then = changed > 0 && to !== "" ? `, then ${reps - changed} with ${other?.[1] ?? `a ${to} step`}` : "";
  const figures = [reps === null ? "" : `${then ? changed : reps} reps${then}`, seconds === null ? "" : `${seconds} s`];
  const reserve = rir === null ? "" : `${rir >= AT_LEAST_FROM ? `${rir} or more` : rir} in reserve`;
  const side = field("side");
  return {
    id: entry.id,
    slot: said.slot,
    exercise: said.exercise,
    name: entry.name,
    choice: said.choice,
    rung: said.rung,
    turn: said.turn,
    side: side || null,
    reps,
    seconds,
    rir,
    changed: then !== "",
    hurt: Number(field("pain") || 0) >= STOPS,
    pain: Number(field("pain") || 0),
    pain_at: field("pain_at") || null,
    broken: field("form") === "broken",
    seen: said.fields.filter(([n]) => n === "seen").map(([, v]) => v),
    at: entry.at,
    what: inWords(side, ofHands(choice, choice?.steps[choice.at + said.rung]?.[0]), figures, reserve),
    state: entry.state,
    why: entry.why,
    here: true,
  };
}

// What was done, left out and swapped by now.
export function standing(pack, entries) {
  const today = pack.day === localDay();
  const said = recent(pack, entries);
  const skips = new Map(today ? pack.standing.skips : []);
  const swaps = new Map();
  const gone = new Set();
  let done = today ? pack.standing.done.map((d) => ({ ...d, seen: [], state: "taken", why: "" })) : [];
  let ended = today ? pack.standing.ended : null;
  const notes = today ? [...pack.standing.notes] : [];
  const here = new Map(entries.filter((e) => e.said.kind === "set").map((e) => [e.id, e]));
  // What this phone said itself it knows better: on which step, and what was seen.
  done = done.map((d) => (here.has(d.id) ? { ...doneOf(here.get(d.id), pack), state: "taken", what: d.what } : d));
  for (const entry of said) {
    const { said: one } = entry;
    if (one.kind === "set" && entry.state !== "conflict" && !done.some((d) => d.id === entry.id)) {
      if (one.supersedes) gone.add(one.supersedes);
      done.push(doneOf(entry, pack));
    }
    if (entry.state === "refused" || entry.state === "conflict") continue;
    if (one.kind === "undo") gone.add(one.set);
    if (one.kind === "skip") skips.set(one.slot, one.reason);
    if (one.kind === "take_up") skips.delete(one.slot);
    if (one.kind === "swap" && one.given === pack.given) swaps.set(one.slot, one.choice);
    if (one.kind === "unswap") swaps.delete(one.slot);
    if (one.kind === "note") notes.push(one.text);
    if (one.kind === "finish") ended = one.why;
  }
  done = done.filter((d) => !gone.has(d.id)).sort((a, b) => a.at.localeCompare(b.at));
  return { done, skips, swaps, ended, notes };
}

// The turns as they are done today, swaps in the place of what they stand for.
export function turnsOf(pack, swaps) {
  let turns = pack.turns;
  for (const [slot, choice] of swaps) {
    const own = pack.stations.find((s) => s.slot === slot)?.choices[choice];
    if (own && choice > 0) turns = replaced(turns, slot, own.turns);
  }
  return turns;
}

export const choiceOf = (pack, swaps, slot) => {
  const station = pack.stations.find((s) => s.slot === slot);
  const at = swaps.get(slot) ?? 0;
  return { station, at, choice: station?.choices[at] };
};

// Slots whose movement hurt today, and those that are left out.
export function closed(pack, { done, skips, swaps }) {
  const hurt = pack.stations.filter((station) => {
    const { choice } = choiceOf(pack, swaps, station.slot);
    return done.some((d) => d.slot === station.slot && d.hurt && d.exercise === choice?.exercise);
  });
  return [...skips.keys(), ...hurt.map((station) => station.slot)];
}

// Slots that may be left out, each with how many of them are wanted.
export const optional = (pack) => pack.stations.flatMap((s) => (s.optional ? [[s.slot, s.optional[0]]] : []));

// The turn to be done now: the next one, or that of a slot that was chosen.
export function current(pack, stands, wanted) {
  const turns = turnsOf(pack, stands.swaps);
  const shut = closed(pack, stands);
  if (wanted && !shut.includes(wanted)) {
    const own = open(turns, stands.done).find((turn) => turn.slot === wanted);
    if (own) return own;
  }
  return next(turns, stands.done, shut);
}

// What hurt today in another movement and is loaded by this one.
export function hurtHere(stands, choice) {
  const again = (d) => d.hurt && d.exercise !== choice.exercise && choice.joints.includes(d.pain_at);
  return stands.done.filter(again).toSorted((a, b) => b.pain - a.pain)[0] ?? null;
}

// What comes after the turn of now.
export function after(pack, stands, turn) {
  const left = open(turnsOf(pack, stands.swaps), stands.done).filter((t) => !closed(pack, stands).includes(t.slot));
  return left[left.indexOf(turn) + 1] ?? null;
}

// When the rest before a turn is over, ms; null where there is none.
export function restUntil(stands, turn) {
  const last = stands.done.at(-1);
  if (!last || !turn) return null;
  return new Date(last.at).getTime() + 1000 * Math.max(turn.rest_s, turn.change_s);
}

// Whether a rest came to its end between two looks at the clock.
export const restIsOver = (until, before, now) => until !== null && before < until && until <= now;

// What the latest set leads to, while its station is not over. What hurt today is answered with no more load.
export function adviceNow(pack, stands, turn) {
  const last = stands.done.at(-1);
  if (!last || !turn || last.slot !== turn.slot || last.hurt || !last.here) return null;
  const told = turnsOf(pack, stands.swaps).find((t) => t.slot === last.slot && t.round === last.turn) ?? turn;
  const advice = due(told.advice, last);
  if (advice?.next === "heavier" && hurtHere(stands, choiceOf(pack, stands.swaps, turn.slot).choice)) return null;
  return advice ? { ...advice, about: last.id } : null;
}

export { enough, leftOfTotal, open, taken };
