// What somebody who means it ill can do: much to compute, guesses at passwords, connections that dawdle, forms and documents of
// nonsense. Prints what it measured, and fails where a bar is not held.
//
//   bin/attacks [share of the full length, 1 where none is given] [seed]
import { spawn } from "node:child_process";
import { readFileSync, readdirSync, writeFileSync } from "node:fs";
import { connect } from "node:net";
import { join } from "node:path";
import { EMAIL, PASSWORD } from "./demo.js";
import { Visitor, drawing, hidden, pause, second, spread } from "./visitor.mjs";

const [binary, share, seed] = [process.argv[2], Number(process.argv[3] ?? 1), Number(process.argv[4] ?? 11)];
const port = 8392;
const base = `http://127.0.0.1:${port}`;
const draw = drawing(seed);
// On a machine that does other things as well only what must hold at any speed is held: set to 0 for that.
const bars = process.env.BAVREK_BARS !== "0";
const broken = [];
let log = "";

function holds(what, found, most, unit) {
  const fine = found <= most || (!bars && ["ms", "MB"].includes(unit));
  console.log(`${fine ? "  " : "! "}${what}: ${Math.round(found)} ${unit} (at most ${most})`);
  if (!fine) broken.push(what);
}

const server = spawn(binary, ["serve"], {
  env: { ...process.env, BAVREK_LISTEN: `127.0.0.1:${port}`, BAVREK_LOG: "warn" },
  stdio: ["ignore", "ignore", "pipe"],
});
server.stderr.on("data", (text) => {
  log += text;
});
for (let i = 0; ; i += 1) {
  const up = await fetch(`${base}/readyz`).then(
    (answer) => answer.ok,
    () => false,
  );
  if (up) break;
  if (i > 200) throw new Error("the server did not start");
  await pause(50);
}

// Largest memory of the process since it was last forgotten, MB.
function memory() {
  const status = readFileSync(`/proc/${server.pid}/status`, "utf8");
  return Number(/VmHWM:\s+(\d+)/.exec(status)[1]) / 1024;
}
// Its memory now, MB.
function standing() {
  return Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${server.pid}/status`, "utf8"))[1]) / 1024;
}

// Has the largest be counted from now on.
function forget() {
  writeFileSync(`/proc/${server.pid}/clear_refs`, "5");
}

// Asks for pages until it is told to stop; how long each took, ms, by path.
function probe(visitor, paths) {
  const times = new Map(paths.map((path) => [path, []]));
  let on = true;
  const done = (async () => {
    while (on) {
      for (const path of paths) {
        const began = performance.now();
        const answer = await visitor.send(path);
        await answer.arrayBuffer();
        if (answer.status >= 400) broken.push(`${path}: ${answer.status}`);
        times.get(path).push(performance.now() - began);
      }
      await pause(10);
    }
  })();
  return async () => {
    on = false;
    await done;
    return times;
  };
}

// So much memory is there, and was at most.
function weigh(what) {
  console.log(`   memory after ${what}: ${standing().toFixed(0)} MB, ${memory().toFixed(0)} MB at most`);
}

function report(times, percentile, most) {
  for (const [path, list] of times) {
    const { count, median, p95, p99 } = spread(list);
    console.log(
      `   ${path}: ${count} times, median ${median.toFixed(1)}, 95 % ${p95.toFixed(0)}, 99 % ${p99.toFixed(0)} ms`,
    );
    holds(`${path} at ${percentile}`, percentile === "p99" ? p99 : p95, most, "ms");
  }
}

// A room as full as a place may be.
function crowded() {
  const band = (i) => ({
    kind: "loop_band",
    count: 2,
    flat_length_m: 1 + 0.002 * (i % 20),
    width_m: Number((0.006 + (0.094 * i) / 150).toFixed(4)),
    thickness_m: 0.0045,
  });
  const pair = (i) => ({
    kind: "adjustable_dumbbell",
    unit: "kg",
    count: 2,
    min: 1 + 0.1 * i,
    max: 50 + i,
    step: 0.5 + 0.07 * i,
  });
  const other = [
    (i) => ({ kind: "box", height_m: 0.1 + 0.01 * i, count: 3 }),
    () => ({ kind: "bench", angles_deg: [-20, 0, 15, 30, 45, 60, 75] }),
    () => ({ kind: "anchor", heights_m: [0.1, 0.5, 1, 1.5, 2] }),
    () => ({ kind: "rings", max_height_m: 2.4 }),
    () => ({ kind: "pull_up_bar", height_m: 2.2 }),
  ];
  const pieces = (count, of) => Array.from({ length: count }, (_, i) => of(i));
  return [...pieces(150, band), ...pieces(20, pair), ...pieces(30, (i) => other[i % other.length](i))];
}

const client = { body_mass_kg: 80, height_m: 1.8, experience: "advanced" };
const place = { name: "hall", kit: crowded() };
const intent = { pattern: "elbow_flexion", regions: { biceps_long: 1 }, reps: [8, 12], rir: 2, sets: 3 };
const prescription = { sets: [{ kind: "straight", reps: [8, 12], tempo: "2-0-X-0", rest_s: 90 }] };
const load = { value: 9, unit: "kg", per: "hand" };
const set = (i) => ({
  exercise: "dumbbell_curl",
  date: new Date(Date.UTC(2025, 0, 1 + Math.floor(i / 30))).toISOString().slice(0, 10),
  reps: 10,
  rir: 2,
  load,
});
const station = { exercise: "dumbbell_curl", load, prescription };
const heavy = [
  [
    "week",
    {
      client,
      // No two alike, so that each has to be looked through.
      places: Array.from({ length: 7 }, (_, i) => ({ name: `hall ${i}`, kit: place.kit.toSpliced(7 * i, 1) })),
      days: Array.from({ length: 7 }, (_, i) => ({ place: `hall ${i}`, minutes: 90, weekday: i + 1 })),
      aims: { chest_sternal: "grow", lats: "grow", biceps_long: "grow", delt_side: "grow", triceps_long: "grow" },
      method: "reserve_based",
    },
  ],
  ["fit", { client, place, intent }],
  [
    "next",
    {
      client,
      place,
      intent,
      prescription,
      today: "2026-11-27",
      history: Array.from({ length: 15000 }, (_, i) => set(i)),
    },
  ],
  [
    "clock",
    {
      client,
      place,
      blocks: [0, 1].map(() => ({ kind: "circuit", slots: Array.from({ length: 20 }, () => station) })),
    },
  ],
];

async function compute(visitor, name, body) {
  const began = performance.now();
  const answer = await visitor.send(`/api/v1/compute/${name}`, { method: "POST", body });
  const text = await answer.text();
  return { status: answer.status, text, ms: performance.now() - began };
}

async function muchToCompute(trainer, other) {
  console.log("Much to compute: four at once, each as hard as is allowed");
  for (const [name, request] of heavy) {
    forget();
    const before = standing();
    const { status, ms } = await compute(trainer, name, JSON.stringify(request));
    if (status !== 200) broken.push(`${name} alone: ${status}`);
    holds(`${name} alone`, ms, 2000, "ms");
    holds(`${name} alone`, memory() - before, 200, "MB");
    weigh(`${name} alone`);
  }
  const watching = [
    probe(other, ["/", "/catalogue"]),
    probe(new Visitor(base), ["/sign-in", "/healthz", "/favicon.ico"]),
  ];
  const until = Date.now() + 30_000 * share;
  let [done, refused] = [0, 0];
  const worker = async (n) => {
    for (let i = n; Date.now() < until; i += 1) {
      const [name, request] = heavy[i % heavy.length];
      const { status } = await compute(trainer, name, JSON.stringify(request));
      if (status === 200) done += 1;
      else if (status === 503) refused += 1;
      else broken.push(`${name}: ${status}`);
    }
  };
  await Promise.all([0, 1, 2, 3].map(worker));
  console.log(`   ${done} answered, ${refused} told to come back`);
  for (const stop of watching) report(await stop(), "p99", 200);
  holds("memory", memory(), 400, "MB");
}

async function guesses(other) {
  console.log("Guesses: 64 at once");
  const watching = probe(other, ["/", "/healthz"]);
  const until = Date.now() + 60_000 * share;
  const seen = new Map();
  const guess = async () => {
    while (Date.now() < until) {
      const visitor = new Visitor(base);
      const csrf = hidden(await visitor.page("/sign-in"), "csrf");
      // Every other one at an address of its own, from one source.
      const email = draw() < 0.5 ? EMAIL : `${Math.floor(draw() * 1e9)}@bavrek.example`;
      const body = new URLSearchParams({ csrf, email, password: "not this one" });
      const answer = await visitor.send("/sign-in", { method: "POST", body });
      await answer.arrayBuffer();
      seen.set(answer.status, (seen.get(answer.status) ?? 0) + 1);
    }
  };
  await Promise.all(Array.from({ length: 64 }, guess));
  console.log(`   answers: ${[...seen].map(([status, count]) => `${count} x ${status}`).join(", ")}`);
  report(await watching(), "p95", 100);
  holds("memory", memory(), 300, "MB");
  holds("looked at", seen.get(422) ?? 0, 100 * Math.ceil(share * 4), "guesses");
}

async function slow(other) {
  console.log("Dawdling: 500 connections");
  const watching = probe(other, ["/", "/healthz"]);
  const said = [
    "",
    "GET / HTTP/1.1\r\nHost: x\r\n",
    "POST /sign-in HTTP/1.1\r\nHost: x\r\nContent-Length: 900\r\n\r\ncsrf=",
  ];
  let open = 0;
  const began = Date.now();
  for (let i = 0; i < 500; i += 1) {
    const socket = connect(port, "127.0.0.1");
    open += 1;
    socket.on("error", () => {});
    socket.on("close", () => {
      open -= 1;
    });
    socket.resume();
    socket.write(said[i % said.length]);
  }
  while (open > 0 && Date.now() - began < 60_000) await pause(200);
  holds("connections left", open, 0, "");
  console.log(`   all gone after ${((Date.now() - began) / 1000).toFixed(0)} s`);
  report(await watching(), "p95", 100);
}

// The addresses in the sources of the routers.
function routes() {
  const found = new Set();
  const walk = (folder) => {
    for (const entry of readdirSync(folder, { withFileTypes: true })) {
      const path = join(folder, entry.name);
      if (entry.isDirectory()) walk(path);
      else if (path.endsWith(".rs"))
        for (const [, route] of readFileSync(path, "utf8").matchAll(/\.route\(\s*"([^"]+)"/g)) found.add(route);
    }
  };
  walk("crates/bavrek-web/src/features");
  // What leads out of the account would end the attack.
  return [...found].filter((route) => !/sign-out|\/account\/(password|code|devices)/.test(route));
}

const nonsense = [
  "",
  "0",
  "-1",
  "1e308",
  "NaN",
  "9".repeat(40),
  "é".repeat(3000),
  "<script>",
  "' or 1=1 --",
  "\u0000",
  "%00",
  "../..",
  "[]",
  "{}",
  "null",
  "2026-02-30",
  "12,5 kg",
  "5'6",
  "4 x 8-10 @ 3-1-1-0",
];
const names = [
  "id",
  "name",
  "seen",
  "height",
  "body_mass",
  "experience",
  "kind",
  "line",
  "dose",
  "movement",
  "place",
  "to",
  "from",
  "reps",
  "rir",
  "load",
  "on",
  "week",
  "days",
  "version",
  "text",
  "step",
  "set",
  "note",
  "pinned",
  "q",
  "page",
  "region",
];

async function forms(trainer) {
  const count = Math.round(8000 * share);
  console.log(`Forms of nonsense: ${count}`);
  const roster = await trainer.page("/");
  let csrf = hidden(roster, "csrf");
  const client = /\/clients\/([0-9a-f-]{36})/.exec(roster)[1];
  const page = await trainer.page(`/clients/${client}`);
  const session = /\/sessions\/([0-9a-f-]{36})/.exec(page)?.[1];
  const board = session ? await trainer.page(`/sessions/${session}`) : "";
  const slot = /\/slots\/([0-9a-f-]{36})/.exec(board)?.[1];
  const known = { client, session, slot, movement: "push_up", name: "fit" };
  const all = routes();
  const seen = new Map();
  const times = [];
  for (let i = 0; i < count; i += 1) {
    const route = draw.pick(all);
    const path = route.replace(/\{(\w+)\}/g, (_, name) => (draw() < 0.8 && known[name]) || crypto.randomUUID());
    const fields = new URLSearchParams({ csrf });
    for (let k = 0; k < 8; k += 1) fields.append(draw.pick(names), draw.pick(nonsense));
    const gets = draw() < 0.3;
    const began = performance.now();
    const query = gets ? `?${fields}` : "";
    const answer = await trainer.send(path + query, gets ? {} : { method: "POST", body: fields });
    // A stream never ends: its head is enough.
    if (answer.headers.get("content-type")?.includes("event-stream")) await answer.body.cancel();
    else await answer.arrayBuffer();
    times.push(performance.now() - began);
    seen.set(answer.status, (seen.get(answer.status) ?? 0) + 1);
    if (answer.status >= 500 && answer.status !== 503)
      broken.push(`${gets ? "GET" : "POST"} ${path}: ${answer.status}`);
    if (answer.status === 403) csrf = hidden(await trainer.page("/"), "csrf");
  }
  console.log(`   answers: ${[...seen].map(([status, n]) => `${n} x ${status}`).join(", ")}`);
  holds("the longest", spread(times).most, 8000, "ms");
}

// A document with one thing in it changed.
function mutated(value) {
  const odd = [null, true, -1, 0, 1e308, "", "x".repeat(2000), [], {}, "dumbbell_curl", "2026-02-30", 201];
  if (draw() < 0.15) return draw.pick(odd);
  if (Array.isArray(value)) {
    if (value.length === 0) return [draw.pick(odd)];
    const at = Math.floor(draw() * value.length);
    if (draw() < 0.2) return value.toSpliced(at, 1);
    if (draw() < 0.2) return [...value, value[at]];
    return value.with(at, mutated(value[at]));
  }
  if (value && typeof value === "object") {
    const key = draw.pick(Object.keys(value)) ?? "x";
    if (draw() < 0.15) return Object.fromEntries(Object.entries(value).filter(([name]) => name !== key));
    if (draw() < 0.05) return { ...value, [draw.pick(names)]: draw.pick(odd) };
    return { ...value, [key]: mutated(value[key]) };
  }
  if (typeof value === "number") return draw.pick([-value, value * 1e6, value / 1e6, value + 0.001, 0]);
  return draw.pick(odd);
}

async function documents(trainer) {
  const count = Math.round(10_000 * share);
  console.log(`Documents of nonsense: ${count}`);
  const room = { name: "room", kit: place.kit.filter((_, i) => i % 9 === 0) };
  const small = [
    ["fit", { client, place: room, intent }],
    ["ladder", { client, place: room, exercise: "dumbbell_curl" }],
    ["next", { client, place: room, intent, prescription, today: "2026-11-27", history: [set(0), set(40)] }],
    ["clock", { client, place: room, blocks: [{ kind: "superset", slots: [station, station] }] }],
    ["read", { text: "Bench press 4x8 60 kg\nRow 3 x 10", client, place: room }],
    ["dose", { text: "4 x 8-10 @ 3-1-1-0, 2 in reserve" }],
  ];
  const seen = new Map();
  const times = [];
  for (let i = 0; i < count; i += 1) {
    const [name, request] = draw.pick(small);
    const document = draw() < 0.5 ? mutated(request) : mutated(mutated(request));
    const text = JSON.stringify(document);
    const body = draw() < 0.05 ? text.slice(0, Math.floor(draw() * text.length)) : text;
    const answer = await compute(trainer, name, body);
    times.push(answer.ms);
    seen.set(answer.status, (seen.get(answer.status) ?? 0) + 1);
    const told = answer.status === 422 && JSON.parse(answer.text).error.path;
    if (answer.status !== 200 && !told) broken.push(`${name}: ${answer.status} for ${body.slice(0, 300)}`);
  }
  console.log(`   answers: ${[...seen].map(([status, n]) => `${n} x ${status}`).join(", ")}`);
  holds("the longest", spread(times).most, 2000, "ms");
}

try {
  const trainer = new Visitor(base);
  const roster = await trainer.signIn(EMAIL, PASSWORD);
  if (!roster.includes("Roster")) throw new Error("the demo trainer did not get in");
  const other = await second(binary, base);
  weigh("starting");
  await guesses(other);
  await slow(other);
  await forms(trainer);
  weigh("forms");
  await documents(trainer);
  weigh("documents");
  await muchToCompute(trainer, other);
  console.log(`memory: ${memory().toFixed(0)} MB at most, ${standing().toFixed(0)} MB now`);
  if (log.includes("panicked")) broken.push("something panicked");
} finally {
  server.kill("SIGTERM");
}
if (broken.length > 0) {
  console.error(
    `${broken.length} broken:\n${broken.slice(0, 20).join("\n")}\n${log
      .split("\n")
      .filter((l) => /panick|ERROR/.test(l))
      .slice(0, 10)
      .join("\n")}`,
  );
  process.exit(1);
}
