// What the screen shows of a workout, worked out from what stands of it. Nothing in here waits or keeps anything.
import {
  adviceNow,
  after,
  choiceOf,
  closed,
  hurtHere,
  enough,
  leftOfTotal,
  open,
  optional,
  restUntil,
  stepBeside,
  taken,
  turnsOf,
} from "./derive.js";

export function see(pack, stands, turn, { local, sparing }) {
  const turns = turnsOf(pack, stands.swaps);
  const marks = taken(turns, stands.done);
  const list = stands.done.map((d) => ({ ...d, label: `${d.name}: ${d.what}`, note: fate(d) }));
  const base = {
    done: list.toReversed(),
    last: list.at(-1) ?? null,
    marks: turns
      .map((t, i) => ({ t, class: t === turn ? "now" : marks[i] ? "done" : "open" }))
      .filter(({ t, class: c }) => t.total === null || t.round === 0 || c === "done")
      .map((m, i) => ({ key: i, class: m.class })),
    jobs: jobs(pack, stands, turns),
    left: [...stands.skips].map(([slot, why]) => ({ slot, why, name: nameOf(pack, stands, slot) })),
    hurt: pack.stations
      .filter((s) => closed(pack, stands).includes(s.slot) && !stands.skips.has(s.slot))
      .map((s) => ({ slot: s.slot, name: nameOf(pack, stands, s.slot) })),
    notes: stands.notes,
    ended: stands.ended,
    turn: null,
  };
  base.over = turn === null;
  base.summary = summary(stands, turns, marks);
  if (!turn) return base;
  const { station, at, choice } = choiceOf(pack, stands.swaps, turn.slot);
  const rung = rungOf(local, turn, choice);
  const [load, label] = choice.steps[choice.at + rung];
  const first = !stands.done.some((d) => d.slot === turn.slot);
  const nextTurn = after(pack, stands, turn);
  const leftOf = leftOfTotal(turn, stands.done);
  const advice = adviceNow(pack, stands, turn);
  return {
    ...base,
    turn,
    next: nextTurn,
    station,
    choice,
    choiceAt: at,
    rung,
    load,
    // A pack of before does not say of which hands.
    hands: /^\d/.test(load) ? (choice.hands ?? "") : "",
    how: rung === 0 ? choice.how : label,
    amount: leftOf === null ? turn.amount : `${leftOf} of ${turn.total}`,
    count: count(pack, turn, station),
    first,
    ramp: first ? station.ramp : [],
    advice: advice && local.heeded !== advice.about ? advice : null,
    // That it may be left out; a pack of before does not say so of anything.
    may: station.optional?.[1] ?? null,
    enough: enough(turns, stands.done, closed(pack, stands), optional(pack)),
    then: then(pack, stands, turn, nextTurn),
    side: turn.side ?? "",
    lighter: choice.at + rung > 0 ? choice.steps[choice.at + rung - 1] : null,
    heavier: choice.at + rung + 1 < choice.steps.length ? choice.steps[choice.at + rung + 1] : null,
    // To what it can be changed within the set.
    changes: ["lighter", "heavier"].flatMap((to) => {
      const step = stepBeside(choice, rung, to);
      return step && turn.reps ? [[to, `${to}: ${step[1]}`]] : [];
    }),
    until: restUntil(stands, turn),
    about: stands.done.at(-1)?.id ?? "",
    begun: stands.done.length > 0,
    // What can be seen in it; a pack of before told all of it.
    seen: (pack.seen ?? []).filter(([id]) => !choice.sees || choice.sees.includes(id)),
    instead: station.choices
      .map((c, i) => ({ ...c, i }))
      .filter((c) => c.i !== at && !(sparing && c.joints.includes(sparing))),
    swapped: at > 0,
    sore: sore(pack, hurtHere(stands, choice)),
    long: load.length > 8,
  };
}

// What hurt today and is asked for again: the more it hurt, the plainer.
function sore(pack, done) {
  if (!done) return null;
  const joint = pack.joints.find(([id]) => id === done.pain_at)?.[1] ?? "a joint";
  const rest = done.pain >= 7 ? "Swap it or leave it out." : "A light set first, and stop at once if it comes back.";
  return {
    joint: done.pain_at,
    text: `Your ${joint} hurt today (${done.pain} of 10), and this loads it too. ${rest}`,
  };
}

function fate(done) {
  if (done.state === "queued") return "kept here, not sent yet";
  if (done.state === "waiting") return "waits for your trainer";
  if (done.state === "refused") return `not taken: ${done.why}`;
  return "";
}

function nameOf(pack, stands, slot) {
  return choiceOf(pack, stands.swaps, slot).choice?.name ?? "";
}

function count(pack, turn, station) {
  const place = pack.stations.indexOf(station) + 1;
  const parts = [`Job ${place} of ${pack.stations.length}`];
  if (station.together) parts.push(station.together);
  parts.push(turn.total === null ? `set ${turn.round + 1} of ${turn.rounds}` : `set ${turn.round + 1}`);
  if (turn.side) parts.push(`${turn.side} side`);
  return parts.join(" · ");
}

function then(pack, stands, turn, nextTurn) {
  if (!nextTurn) return "Then: done";
  if (nextTurn.slot === turn.slot && nextTurn.round === turn.round)
    return `Then: the ${nextTurn.side} side, without a rest`;
  const rest = Math.max(nextTurn.rest_s, nextTurn.change_s);
  const what = nextTurn.slot === turn.slot ? `set ${nextTurn.round + 1}` : nameOf(pack, stands, nextTurn.slot);
  return rest > 0 ? `Then: ${what}, after ${rest} s` : `Then: ${what}, at once`;
}

function jobs(pack, stands, turns) {
  const left = open(turns, stands.done);
  return pack.stations.map((station) => ({
    slot: station.slot,
    name: nameOf(pack, stands, station.slot),
    left: new Set(left.filter((t) => t.slot === station.slot).map((t) => t.round)).size,
    shut: closed(pack, stands).includes(station.slot),
  }));
}

function summary(stands, turns, marks) {
  const sets = new Set(turns.flatMap((t, i) => (marks[i] ? [`${t.slot}/${t.round}`] : []))).size;
  const reps = stands.done.reduce((sum, d) => sum + (d.reps ?? 0), 0);
  const held = stands.done.reduce((sum, d) => sum + (d.seconds ?? 0), 0);
  const [from, to] = [stands.done[0], stands.done.at(-1)].map((d) => (d ? new Date(d.at) : null));
  const minutes = from ? Math.max(1, Math.round((to - from) / 60000)) : 0;
  const lines = [`${sets} ${sets === 1 ? "set" : "sets"}`];
  if (reps > 0) lines.push(`${reps} repetitions`);
  if (held > 0) lines.push(`${held} s held or worked`);
  if (minutes > 1) lines.push(`${minutes} min from the first to the last set`);
  return lines;
}

// The step of a turn: its own, and what was chosen on this screen on top of that. A pack of before knows of one step alone.
function rungOf(local, turn, choice) {
  const own = turn.rung ?? 0;
  const rung = own + (local.rungs[`${turn.slot}/${choice.exercise}`] ?? 0);
  return choice.at + rung in choice.steps ? rung : own;
}
