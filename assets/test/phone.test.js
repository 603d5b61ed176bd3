// What the phone works out by itself: held to the core's own cases, and what stands of a workout from what was said of it.
import assert from "node:assert/strict";
import { readFile } from "node:fs/promises";
import { test } from "node:test";
import { due as dueOfRun, goesByItself, LATE_S, restingBefore, setId, working } from "../js/phone/circuit.js";
import { adviceNow, closed, current, localDay, restIsOver, restUntil, standing, turnsOf } from "../js/phone/derive.js";
import { see } from "../js/phone/view.js";
import { fieldsOf, fresh, wrongIn } from "../js/phone/form.js";
import { partAt, repsBy, within } from "../js/phone/pace.js";
import { due, enough, leftOfTotal, next, open, replaced, taken } from "../js/phone/script.js";

const file = new URL("../../crates/bavrek-core/tests/data/phone_cases.json", import.meta.url);
const cases = JSON.parse(await readFile(file, "utf8"));

test("what comes next is what the core says", () => {
  assert.ok(cases.scripts.length > 50);
  for (const { turns, done, closed, ...expected } of cases.scripts) {
    const at = (turn) => (turn ? turns.indexOf(turn) : null);
    assert.deepEqual(taken(turns, done), expected.taken);
    assert.deepEqual(open(turns, done).map(at), expected.open);
    assert.deepEqual(
      turns.map((turn) => leftOfTotal(turn, done)),
      expected.left,
    );
    assert.equal(at(next(turns, done, closed)), expected.next);
    assert.equal(enough(turns, done, closed, expected.optional), expected.enough);
  }
});

test("the advice that is due is the one the core says", () => {
  assert.ok(cases.advice.length > 100);
  for (const { advice, set, due: expected } of cases.advice) {
    const found = due(advice, set);
    assert.equal(found ? advice.indexOf(found) : null, expected);
  }
});

const turn = (slot, round, order, more = {}) => ({
  slot,
  round,
  order,
  side: null,
  total: null,
  rest_s: 90,
  change_s: 0,
  advice: [],
  ...more,
});
const choice = (exercise, more = {}) => ({
  exercise,
  name: exercise,
  at: 0,
  steps: [["8", "8 kg"]],
  joints: [],
  turns: [],
  ...more,
});

// A superset of a press and a row, then curls.
function pack(standing = {}) {
  return {
    given: "g",
    day: localDay(),
    asked: 1000,
    turns: [
      turn("press", 0, [0, 0, 0, 0]),
      turn("row", 0, [0, 0, 1, 0]),
      turn("press", 1, [0, 1, 0, 0]),
      turn("row", 1, [0, 1, 1, 0]),
      turn("curl", 0, [1, 0, 0, 0], { advice: [{ when: "fewer", than: 6, next: "lighter", text: "lighter" }] }),
      turn("curl", 1, [1, 0, 1, 0]),
    ],
    stations: [
      {
        slot: "press",
        choices: [
          choice("bench"),
          choice("floor", {
            turns: [
              turn("press", 0, [0, 0, 0, 0], { side: "left" }),
              turn("press", 0, [0, 0, 0, 1], { side: "right" }),
            ],
          }),
        ],
      },
      { slot: "row", choices: [choice("row")] },
      { slot: "curl", choices: [choice("curl")] },
    ],
    standing: { done: [], skips: [], notes: [], ended: null, ...standing },
  };
}

let nth = 0;
function entry(said, state = "queued", more = {}) {
  nth += 1;
  const at = new Date(Date.now() + nth).toISOString();
  return { id: `e${nth}`, at, nth, state, why: "", settled: 0, said, ...more };
}
const set = (slot, turnAt = 0, more = {}) => ({
  kind: "set",
  given: "g",
  slot,
  choice: 0,
  rung: 0,
  turn: turnAt,
  fields: [["reps", "10"]],
  supersedes: null,
  exercise: slot === "press" ? "bench" : slot,
  name: slot,
  ...more,
});
const now = (p, entries, wanted) => current(p, standing(p, entries), wanted);

test("a workout goes on from what was said, in the order of its blocks", () => {
  const p = pack();
  const order = [];
  const said = [];
  for (let t = now(p, said); t; t = now(p, said)) {
    order.push(`${t.slot}${t.round}`);
    said.push(entry(set(t.slot, t.round)));
  }
  assert.deepEqual(order, ["press0", "row0", "press1", "row1", "curl0", "curl1"]);
});

test("another job first, and back", () => {
  const p = pack();
  assert.equal(now(p, [], "curl").slot, "curl");
  const said = [entry(set("curl")), entry(set("curl", 1))];
  assert.equal(now(p, said, "curl").slot, "press", "what is done is not asked again");
});

test("what the server holds already is not counted twice, and what it refused is shown and counts as done", () => {
  const done = {
    id: "e-there",
    slot: "press",
    exercise: "bench",
    name: "Bench",
    side: null,
    reps: 9,
    at: new Date().toISOString(),
    hurt: false,
    what: "9",
  };
  const p = pack({ done: [done] });
  const there = entry(set("press"), "taken", { id: "e-there", settled: 900 });
  const after = entry(set("row"), "taken", { settled: 2000 });
  const refused = entry(set("press", 1), "refused", { why: "because" });
  const conflict = entry(set("row", 1), "conflict");
  const stands = standing(p, [there, after, refused, conflict]);
  assert.deepEqual(
    stands.done.map((d) => `${d.slot} ${d.state}`),
    ["press taken", "row taken", "press refused"],
  );
});

test("a set that was taken back or corrected opens its turn, or stands corrected", () => {
  const p = pack();
  const first = entry(set("press"));
  assert.equal(now(p, [first, entry({ kind: "undo", set: first.id })]).slot, "press");
  const better = entry(set("press", 0, { supersedes: first.id, fields: [["reps", "12"]] }));
  assert.deepEqual(
    standing(p, [first, better]).done.map((d) => d.reps),
    [12],
  );
});

test("left out, done after all, swapped and back", () => {
  const p = pack();
  const skip = entry({ kind: "skip", slot: "press", reason: "no time" });
  assert.equal(now(p, [skip]).slot, "row");
  assert.equal(now(p, [skip, entry({ kind: "take_up", slot: "press" })]).slot, "press");
  const swap = entry({ kind: "swap", given: "g", slot: "press", choice: 1 });
  const sides = turnsOf(p, standing(p, [swap]).swaps).filter((t) => t.slot === "press");
  assert.deepEqual(
    sides.map((t) => t.side),
    ["left", "right"],
  );
  const back = standing(p, [swap, entry({ kind: "unswap", slot: "press" })]);
  assert.equal(turnsOf(p, back.swaps), p.turns);
});

test("what hurt is closed for today, and what is done instead is not", () => {
  const p = pack();
  const hurt = entry(
    set("press", 0, {
      fields: [
        ["reps", "5"],
        ["pain", "6"],
        ["pain_at", "shoulder"],
      ],
    }),
  );
  assert.deepEqual(closed(p, standing(p, [hurt])), ["press"]);
  assert.equal(now(p, [hurt]).slot, "row");
  const swap = entry({ kind: "swap", given: "g", slot: "press", choice: 1 });
  assert.deepEqual(closed(p, standing(p, [hurt, swap])), []);
});

test("yesterday is another workout", () => {
  const p = { ...pack({ skips: [["press", "no time"]] }), day: "2020-01-01" };
  const old = entry(set("press"), "queued", { at: "2020-01-01T10:00:00.000Z" });
  assert.equal(now(p, [old]).slot, "press");
});

test("advice is of the latest set of the job that goes on", () => {
  const p = pack();
  const few = entry(set("curl", 0, { fields: [["reps", "4"]] }));
  const stands = standing(p, [few]);
  const turnNow = current(p, stands, "curl");
  assert.equal(adviceNow(p, stands, turnNow).next, "lighter");
  assert.equal(adviceNow(p, stands, current(p, stands, null)), null, "the press has nothing to do with it");
});

test("a rest is counted from when the set was done, and survives a reload", () => {
  const p = pack();
  const at = new Date(Date.now() - 30_000).toISOString();
  const stands = standing(p, [entry(set("press"), "queued", { at })]);
  assert.equal(restUntil(stands, current(p, stands, null)), new Date(at).getTime() + 90_000);
});

test("turns of another movement take the place of a job's, in order", () => {
  const p = pack();
  const own = [turn("press", 0, [0, 0, 0, 0]), turn("press", 1, [0, 1, 0, 0]), turn("press", 2, [0, 2, 0, 0])];
  const order = replaced(p.turns, "press", own).map((t) => `${t.slot}${t.round}`);
  assert.deepEqual(order, ["press0", "row0", "press1", "row1", "press2", "curl0", "curl1"]);
});

test("a repetition goes down, waits, goes up and waits in its seconds", () => {
  const tempo = [3, 1, 1, 1];
  const at = [0, 1.5, 3.2, 4.5, 5.5, 6].map((t) => within(tempo, t));
  assert.deepEqual(
    at.map((a) => `${a.phase} ${a.depth.toFixed(1)}`),
    ["down 0.0", "down 0.5", "bottom 1.0", "up 0.5", "top 0.0", "down 0.0"],
  );
  assert.equal(repsBy(tempo, 17.9), 2);
  assert.equal(within([0.5, 0, 0.5, 0], 0.75).phase, "up", "halves of a second");
});

test("a mixed set goes part by part", () => {
  const parts = [
    { seconds: 4, text: "4 fast" },
    { seconds: 8, text: "hold" },
  ];
  assert.deepEqual(
    [0, 3.9, 4, 11.5, 12].map((t) => partAt(parts, t)?.i ?? "over"),
    [0, 0, 1, 1, "over"],
  );
  assert.equal(partAt(parts, 5).left, 7);
});

test("the end of a rest is heard once, when it comes", () => {
  const looks = [0, 250, 500, 750, 1000].map((now, i, all) => (i > 0 ? restIsOver(600, all[i - 1], now) : false));
  assert.deepEqual(looks, [false, false, false, true, false]);
  assert.equal(restIsOver(null, 0, 1000), false, "without a rest nothing ends");
});

const asks = {
  turn: { reps: [["8"], ""], seconds: null, reserve: 2 },
  oneSided: false,
  side: "",
  rir: "2",
  stop: false,
};
const names = (fields) => fields.map(([name]) => name);

test("where it hurts is sent only with how strong", () => {
  const tapped = { ...fresh(), reps: "9", painAt: "elbow", painSide: "left" };
  assert.deepEqual(names(fieldsOf(tapped, asks)), ["reps", "rir"]);
  assert.deepEqual(names(fieldsOf({ ...tapped, pain: "0" }, asks)), ["reps", "rir"]);
  assert.deepEqual(names(fieldsOf({ ...tapped, pain: "6" }, asks)), ["reps", "rir", "pain", "pain_at", "pain_side"]);
});

test("a set tells its side, and what was seen, and nothing of a reserve that nobody asked", () => {
  const tapped = { ...fresh(), reps: "9", seen: ["swinging", "hard"], broken: true };
  const fields = fieldsOf(tapped, { ...asks, turn: { ...asks.turn, reserve: null }, oneSided: true, side: "left" });
  assert.deepEqual(fields, [
    ["reps", "9"],
    ["side", "left"],
    ["form", "broken"],
    ["seen", "swinging"],
    ["seen", "hard"],
  ]);
});

test("what is wrong with a set is said before it is kept", () => {
  const timed = { reps: null, seconds: [["30"], ""] };
  const cases = [
    [{}, asks.turn, false, /repetitions/],
    [{ reps: "101" }, asks.turn, false, /0 to 100/],
    [{ reps: "ten" }, asks.turn, false, /repetitions/],
    [{ reps: "0" }, asks.turn, false, /^$/],
    [{ seconds: "0" }, timed, false, /1 to 900/],
    [{ seconds: "30" }, timed, false, /^$/],
    [{ reps: "8", pain: "4" }, asks.turn, false, /where it hurts/],
    [{ reps: "8", pain: "3" }, asks.turn, false, /^$/],
    [{}, asks.turn, true, /how strong/],
    [{ pain: "6", painAt: "elbow" }, asks.turn, true, /^$/],
  ];
  for (const [tapped, turnNow, stop, says] of cases)
    assert.match(wrongIn({ ...fresh(), ...tapped }, turnNow, stop), says);
});

test("a set on another step is shown on it, and what was chosen here is on top of that", () => {
  const p = pack();
  const turn = { ...p.turns[0], rung: 1 };
  const choice = p.stations.find((s) => s.slot === turn.slot).choices[0];
  choice.steps = ["8 kg", "10 kg", "12 kg", "14 kg"].map((load) => [load, `pair of ${load}`]);
  choice.at = 1;
  const local = (rungs) => ({ rungs, heeded: "", rested: "" });
  const shown = (rungs) => see(p, standing(p, []), turn, { local: local(rungs), sparing: "" }).load;
  const key = `${turn.slot}/${choice.exercise}`;
  assert.equal(shown({}), "12 kg");
  assert.equal(shown({ [key]: -1 }), "10 kg");
  assert.equal(shown({ [key]: 7 }), "12 kg", "what is not there is not shown");
});

test("a change within a set goes with it, where it lies within the set", () => {
  const tapped = { ...fresh(), reps: "12", changedTo: "lighter", changedAfter: "5" };
  assert.deepEqual(fieldsOf(tapped, asks).slice(-2), [
    ["changed_after", "5"],
    ["changed_to", "lighter"],
  ]);
  assert.deepEqual(names(fieldsOf({ ...tapped, changedTo: "" }, asks)), ["reps", "rir"]);
  assert.equal(wrongIn(tapped, asks.turn, false), "");
  for (const after of ["", "0", "12", "five"])
    assert.match(wrongIn({ ...tapped, changedAfter: after }, asks.turn, false), /fewer than all/);
});

test("a set that was changed within itself is told so, and its repetitions advise nothing", () => {
  const said = (more) => entry(set("curl", 0, { fields: [["reps", "12"], ["rir", "4"], ...more] }));
  const changed = said([
    ["changed_after", "5"],
    ["changed_to", "heavier"],
  ]);
  const [plain, other] = [said([]), changed].map((one) => standing(pack(), [one]).done[0]);
  assert.match(other.what, /5 reps, then 7 with /);
  const advice = [{ when: "easy", from: 8, reserve: 3, next: "heavier", text: "up" }];
  assert.equal(due(advice, plain)?.text, "up");
  assert.equal(due(advice, other), null);
});

// A workout in which pressing and curling load the elbow.
function sorePack() {
  const p = pack();
  for (const slot of ["press", "curl"]) p.stations.find((s) => s.slot === slot).choices[0].joints.push("elbow");
  p.turns[4].advice = [{ when: "easy", from: 8, reserve: 3, next: "heavier", text: "heavier" }];
  p.joints = [["elbow", "elbow"]];
  return p;
}
const easy = () =>
  entry(
    set("curl", 0, {
      fields: [
        ["reps", "12"],
        ["rir", "4"],
      ],
    }),
  );
const hurtPress = (pain) =>
  entry(
    set("press", 0, {
      fields: [
        ["reps", "5"],
        ["pain", pain],
        ["pain_at", "elbow"],
      ],
    }),
  );

test("what hurt today takes no more load in any job that loads it, and says so", () => {
  const p = sorePack();
  const fine = standing(p, [easy()]);
  assert.equal(adviceNow(p, fine, current(p, fine, "curl")).next, "heavier");
  const stands = standing(p, [hurtPress("5"), easy()]);
  const turnNow = current(p, stands, "curl");
  assert.equal(turnNow.slot, "curl");
  assert.equal(adviceNow(p, stands, turnNow), null);
  const local = { rungs: {}, heeded: "" };
  for (const [pain, says] of [
    ["5", /A light set first/],
    ["8", /Swap it or leave it out/],
  ]) {
    const sore = standing(p, [hurtPress(pain)]);
    assert.match(see(p, sore, current(p, sore, "curl"), { local, sparing: "" }).sore.text, says);
  }
  const row = standing(p, [hurtPress("5")]);
  assert.equal(see(p, row, current(p, row, "row"), { local, sparing: "" }).sore, null, "the row does not load it");
});

test("a weight is told of the hands, the body and a pack of before as they are", () => {
  const local = { rungs: {}, heeded: "" };
  for (const [shown, hands, told, seen] of [
    ["12 kg", "each hand", "12 kg each hand × 10 reps", "each hand"],
    ["40 kg", "in all", "40 kg in all × 10 reps", "in all"],
    ["12 kg", "", "12 kg × 10 reps", ""],
    ["12 kg", undefined, "12 kg × 10 reps", ""],
    ["body + band", "each hand", "body + band × 10 reps", ""],
  ]) {
    const p = pack();
    Object.assign(p.stations[0].choices[0], { steps: [[shown, shown]], hands });
    const stands = standing(p, [entry(set("press"))]);
    assert.equal(stands.done[0].what, told);
    assert.equal(see(p, stands, current(p, stands, "press"), { local, sparing: "" }).hands, seen);
  }
});

test("stations run on by the clock", () => {
  const station = { slot: "row", round: 1, side: null, timed: 30, parts: [], reps: [["10"], "Reps"], uncounted: true };
  const other = { ...station, slot: "press" };
  const cases = [
    ["rests", restingBefore(station, "a"), station, 5000, 4000, null],
    ["rest is over", restingBefore(station, "a"), station, 5000, 5100, { do: "begin", at: 5000 }],
    ["no rest", restingBefore(station, "a"), station, null, 700, { do: "begin", at: 700 }],
    ["works", working(station, 1000, "a"), station, null, 30_900, null],
    ["is over", working(station, 1000, "a"), station, null, 31_000, { do: "log", at: 31_000 }],
    ["just in time", working(station, 1000, "a"), station, null, 31_000 + LATE_S * 1000, { do: "log", at: 31_000 }],
  ];
  for (const [name, run, turn, until, now, expected] of cases)
    assert.deepEqual(dueOfRun(run, turn, until, now), expected, name);

  // The screen was off: whether it was worked nobody knows, so nothing is logged.
  const slept = dueOfRun(working(station, 1000, "a"), station, null, 31_001 + LATE_S * 1000);
  assert.equal(slept.do, "end");
  assert.match(slept.why, /Log the station if it was done/);
  assert.equal(dueOfRun(restingBefore(station, "a"), station, 5000, 5001 + LATE_S * 1000).do, "end");
  // What is shown is not what runs: nothing is logged.
  assert.equal(dueOfRun(working(station, 1000, "a"), other, null, 31_000).do, "end");
  assert.equal(dueOfRun(working(station, 1000, "a"), null, null, 31_000).do, "end");
});

test("a set that a run logs has one identifier, whoever logs it", () => {
  const run = { id: "0b8f5f0a-4f0e-4c1e-9d3a-123456789abc" };
  const of = (...order) => setId({ ...run, order });
  assert.equal(of(0, 1, 2, 0), "0b8f5f0a-4f0e-4c1e-9d3a-000001002000");
  const orders = [0, 1, 2].flatMap((a) => [0, 1, 17].map((b) => of(a, b, 0, 0)));
  assert.equal(new Set(orders).size, 9);
});

test("only what needs no answer runs on by itself", () => {
  const hold = { timed: 30, parts: [], reps: null };
  assert.equal(goesByItself(hold), true);
  assert.equal(goesByItself({ ...hold, reps: [["8"], "Reps"], uncounted: true }), true);
  assert.equal(goesByItself({ ...hold, reps: [["8"], "Reps"], uncounted: false }), false);
  assert.equal(goesByItself({ ...hold, parts: [{}] }), false);
  assert.equal(goesByItself({ ...hold, timed: null }), false);
  assert.equal(goesByItself(null), false);
});

test("a station may be logged uncounted, anything else not", () => {
  const form = { ...fresh(), seconds: "30" };
  const station = { reps: [["8"], "Reps"], seconds: [["30"], "Seconds"], uncounted: true };
  assert.equal(wrongIn(form, station, false), "");
  assert.match(wrongIn({ ...form, reps: "many" }, station, false), /repetitions/);
  assert.match(wrongIn(form, { ...station, uncounted: false }, false), /repetitions/);
});

test("what may be left out is told, and when enough of it is done", () => {
  const p = pack();
  const may = (slot, wanted) => (p.stations.find((s) => s.slot === slot).optional = [wanted, "optional"]);
  may("row", 1);
  may("curl", 0);
  const seen = (said, wanted) => {
    const stands = standing(p, said);
    const view = see(p, stands, current(p, stands, wanted), { local: { rungs: {} }, sparing: "" });
    return [view.turn?.slot, view.may, view.enough];
  };
  assert.deepEqual(seen([]), ["press", null, false]);
  const presses = [entry(set("press")), entry(set("press", 1))];
  assert.deepEqual(seen(presses), ["row", "optional", false], "one of the two is wanted");
  const curls = [...presses, entry(set("curl")), entry(set("curl", 1))];
  assert.deepEqual(seen(curls), ["row", "optional", true]);
  const left = [...curls, entry({ kind: "skip", slot: "row", reason: "" })];
  assert.deepEqual(seen(left), [undefined, undefined, undefined], "the workout is over");
  p.stations.forEach((s) => may(s.slot, 0));
  assert.deepEqual(seen([]), ["press", "optional", false], "before anything is done nothing is enough");
});
