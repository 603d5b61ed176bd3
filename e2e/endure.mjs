// How the application bears use over time and trouble beneath it. Prints what it measured, and fails where a bar is not held.
//
//   bin/endure [minutes] [clients] [weeks of logs]
import { execFileSync, spawn } from "node:child_process";
import { readFileSync, readdirSync } from "node:fs";
import { cpus } from "node:os";
import { EMAIL, PASSWORD } from "./demo.js";
import { Visitor, pause, second, spread } from "./visitor.mjs";

const [binary, bare, minutes] = [process.argv[2], process.argv[3], Number(process.argv[4] ?? 10)];
const database = process.env.BAVREK_DATABASE_URL;
const PORTS = [8393, 8394];
const YARDSTICK = "http://127.0.0.1:8395";
const PROBING_MS = 4000;
const ALONE_MS = 15_000;
const AMONG_OTHERS_MS = 100;
const AT_ONCE = 4;
// Share of answers that must be left to count.
const ENOUGH = 0.3;
const broken = [];

function holds(what, found, most, unit) {
  const fine = found <= most;
  console.log(
    `${fine ? "  " : "! "}${what}: ${found < 10 ? found.toFixed(2) : Math.round(found)} ${unit} (at most ${most < 10 ? most : Math.round(most)})`,
  );
  if (!fine) broken.push(what);
}

async function start(port) {
  const server = spawn(binary, ["serve"], {
    env: { ...process.env, BAVREK_LISTEN: `127.0.0.1:${port}`, BAVREK_LOG: "warn" },
    stdio: ["ignore", "ignore", "inherit"],
  });
  const base = `http://127.0.0.1:${port}`;
  for (let i = 0; ; i += 1) {
    // Another one that was left there would answer in its place.
    if (server.exitCode !== null) throw new Error(`port ${port} is taken, or the server ended`);
    const up = await fetch(`${base}/readyz`).then(
      (answer) => answer.ok,
      () => false,
    );
    if (up) return { server, base, pid: server.pid };
    if (i > 200) throw new Error("the server did not start");
    await pause(50);
  }
}

const memory = ({ pid }) => Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, "utf8"))[1]) / 1024;
// Processor time of processes so far, s.
const TICKS = 100;
function worked(pids) {
  const of = (pid) => {
    try {
      const fields = readFileSync(`/proc/${pid}/stat`, "utf8").replace(/.*\) /, "").split(" ");
      return (Number(fields[11]) + Number(fields[12])) / TICKS;
    } catch {
      return 0;
    }
  };
  return pids.reduce((sum, pid) => sum + of(pid), 0);
}
function postgres() {
  const named = (pid) => {
    try {
      return readFileSync(`/proc/${pid}/comm`, "utf8").trim() === "postgres";
    } catch {
      return false;
    }
  };
  return readdirSync("/proc").filter((name) => /^\d+$/.test(name) && named(name));
}
// What others on the same hardware take of the processors, slice by slice. An answer that was under way while they took much says
// nothing of the application: where they take some of them all the time, the quieter half of the time is counted.
const HARDLY_ANY = 0.05;
const SLICE_MS = 500;
const slices = [];
function counted() {
  const own = readFileSync("/proc/stat", "utf8").split("\n")[0].split(/\s+/).slice(1, 9).map(Number);
  return { taken: own[7], all: own.reduce((sum, n) => sum + n, 0) };
}
let [since, before] = [performance.now(), counted()];
setInterval(() => {
  const [now, after] = [performance.now(), counted()];
  const taken = (after.taken - before.taken) / Math.max(1, after.all - before.all);
  slices.push({ from: since, to: now, taken });
  [since, before] = [now, after];
}, SLICE_MS).unref();

// How long those took that others disturbed least, their share of all, and what others took at most meanwhile. Whoever was told to come
// back counts as broken, unless others had the processors then or had just had them: what came meanwhile waits all at once.
const PILED_UP_MS = 2000;
// A slice that took so long was one in which nothing ran at all.
const STOOD_STILL_MS = 2 * SLICE_MS;
function undisturbed(path, answers) {
  const began = answers.reduce((first, one) => Math.min(first, one.began), Infinity);
  const ended = answers.reduce((last, one) => Math.max(last, one.began + one.ms), 0);
  const during = slices.filter(({ from, to }) => to > began && from < ended);
  const most = Math.max(HARDLY_ANY, spread(during.map(({ taken }) => taken)).median);
  const loud = during.filter(({ from, to, taken }) => taken > most || to - from > STOOD_STILL_MS);
  const disturbed = ({ began, ms }, after) => loud.some(({ from, to }) => began < to + after && began + ms > from);
  const failed = answers.filter(({ status }) => status !== 200);
  const excused = failed.filter((one) => one.status === 503 && disturbed(one, PILED_UP_MS));
  broken.push(...failed.filter((one) => !excused.includes(one)).map(({ status }) => `${path}: ${status}`));
  if (excused.length > 0) {
    console.log(`   ${short(path)}: ${excused.length} times told to come back, after others had the processors`);
  }
  const own = answers.filter((one) => one.status === 200 && !disturbed(one, 0)).map(({ ms }) => ms);
  return { own, share: own.length / answers.length, most };
}
const sql = (text) => execFileSync("psql", ["-qAt", "-v", "ON_ERROR_STOP=1", database, "-c", text]).toString().trim();

// The pages of one client with much in them.
async function pages(visitor) {
  const first = async (path, kind) => new RegExp(`/${kind}/[0-9a-f-]{36}`).exec(await visitor.page(path))[0];
  const client = await first("/?q=Odalys", "clients");
  const session = await first(client, "sessions");
  const slot = await first(session, "slots");
  return [
    "/",
    client,
    `${client}/places`,
    `${client}/review`,
    session,
    `${session}/train`,
    `${slot}/bench`,
    `${slot}/call`,
    "/calls",
    "/catalogue",
    "/methods",
  ];
}

// The yardstick: a page of ten indexed queries of forty rows and nothing else, from the same database on the same machine.
async function yardstick() {
  const server = spawn(bare, [YARDSTICK.slice("http://".length)], {
    env: { ...process.env, DATABASE_URL: database },
    stdio: ["ignore", "ignore", "inherit"],
  });
  const visitor = new Visitor(YARDSTICK);
  for (let i = 0; i < 200; i += 1) {
    const up = await visitor.send("/page/10/40").then(
      (answer) => answer.ok,
      () => false,
    );
    // Something else at its address would be measured in its place.
    if (server.exitCode !== null) break;
    if (up) return { server, visitor };
    await pause(50);
  }
  throw new Error("the yardstick did not start");
}

// As many as are answered, some at once, for a while.
async function flatOut(visitors, path, ms, atOnce = AT_ONCE) {
  const times = [];
  const until = performance.now() + ms;
  const worker = async (n) => {
    while (performance.now() < until) {
      const { status, ms: took } = await visitors[n % visitors.length].timed(path);
      if (status !== 200) broken.push(`${path}: ${status}`);
      times.push(took);
    }
  };
  await Promise.all(Array.from({ length: atOnce }, (_, n) => worker(n)));
  return { rate: (1000 * times.length) / ms, ...spread(times) };
}

// A page at an even pace, whatever the answers take.
async function paced(visitor, path, rate, until) {
  const [times, pending] = [[], new Set()];
  for (let at = performance.now(); at < until; at += 1000 / rate) {
    await pause(Math.max(0, at - performance.now()));
    const one = visitor.timed(path).then(({ status, began, ms }) => {
      times.push({ status, began, ms });
      pending.delete(one);
    });
    pending.add(one);
  }
  await Promise.all(pending);
  return times;
}

async function overTime(main, visitor, paths) {
  console.log(`Every page flat out, ${AT_ONCE} at once; half of that; and all of them together for ${minutes} min`);
  const rates = new Map();
  for (const path of paths) {
    const { rate, median, p99 } = await flatOut([visitor], path, PROBING_MS);
    rates.set(path, rate);
    console.log(
      `   ${short(path)}: ${rate.toFixed(0)} a second, median ${median.toFixed(1)}, 99 % ${p99.toFixed(0)} ms`,
    );
  }
  // What of the slowest answers is the machine's own: the bare page waits as long.
  const plain = await yardstick();
  const half = async (who, path, rate) => {
    const { own, share } = undisturbed(path, await paced(who, path, rate / 2, performance.now() + ALONE_MS));
    if (share < ENOUGH) broken.push(`${short(path)}: too few answers to count`);
    return spread(own);
  };
  const { rate } = await flatOut([plain.visitor], "/page/10/40", PROBING_MS);
  const least = await half(plain.visitor, "/page/10/40", rate);
  plain.server.kill("SIGTERM");
  console.log(
    `   the bare page: ${rate.toFixed(0)} a second; at half of that median ${least.median.toFixed(1)}, 99 % ` +
      `${least.p99.toFixed(0)} ms, ${(least.p99 / least.median).toFixed(1)} medians`,
  );
  for (const path of paths) {
    const { count, median, p99 } = await half(visitor, path, rates.get(path));
    holds(
      `${short(path)} at half of its rate, ${count} times, median ${median.toFixed(1)} ms, ` +
        `${(p99 / median).toFixed(1)} medians: the 99th of a hundred`,
      p99,
      Math.max(5 * median, least.p99),
      "ms",
    );
  }
  const weights = [];
  const until = performance.now() + minutes * 60_000;
  // All together at a part of their rates that makes half of what the machine can do.
  const pacing = paths.map(async (path) => [
    path,
    await paced(visitor, path, rates.get(path) / (2 * paths.length), until),
  ]);
  const weighing = (async () => {
    while (performance.now() < until) {
      weights.push(memory(main));
      await pause(1000);
    }
  })();
  const [times] = await Promise.all([Promise.all(pacing), weighing]);
  // What takes a few milliseconds waits behind what takes fifty: of a mixture the time itself says more than its ratio.
  const own = times.map(([path, list]) => [path, undisturbed(path, list), list.length]);
  const all = own.reduce((sum, [, , count]) => sum + count, 0);
  const share = own.reduce((sum, [, { own }]) => sum + own.length, 0) / all;
  const most = Math.max(...own.map(([, { most }]) => most));
  console.log(
    `   ${Math.round(100 * share)} % of the answers are counted: others took at most ${Math.round(100 * most)} % of the processors`,
  );
  if (share < ENOUGH) broken.push("too few answers to count");
  for (const [path, { own: list }] of own) {
    const { count, median, p99 } = spread(list);
    holds(
      `${short(path)} among the others, ${count} times, median ${median.toFixed(1)} ms, ` +
        `${(p99 / median).toFixed(1)} medians: the 99th of a hundred`,
      p99,
      Math.max(5 * median, AMONG_OTHERS_MS),
      "ms",
    );
  }
  const part = Math.max(1, Math.floor(weights.length / 10));
  const middle = (list) => spread(list).median;
  const [early, late] = [middle(weights.slice(part, 2 * part)), middle(weights.slice(-part))];
  console.log(
    `   memory: ${early.toFixed(0)} MB early, ${late.toFixed(0)} MB late, ${Math.max(...weights).toFixed(0)} MB at most`,
  );
  holds("memory", Math.max(...weights), 200, "MB");
  holds("growth of memory", late - early, 20, "MB");
}

const short = (path) => path.replaceAll(/[0-9a-f]{8}-[0-9a-f-]{27}/g, "…");

// Somebody keeps the log locked: what does not need it goes on for everybody else.
async function locked(visitor, other, session) {
  console.log("The log is locked for 20 s");
  const locking = spawn("psql", [
    "-qAt",
    database,
    "-c",
    "begin; lock table logged_sets in access exclusive mode; select pg_sleep(20); commit",
  ]);
  const over = new Promise((resolve) => locking.once("exit", resolve));
  await pause(500);
  let on = true;
  over.then(() => (on = false));
  const [unrelated, related] = [[], []];
  const ask = async (who, paths, into) => {
    while (on) {
      for (const path of paths) {
        const answer = await who.timed(path);
        into.push({ path, ...answer });
        if (!on) break;
      }
      await pause(20);
    }
  };
  await Promise.all([
    ask(other, ["/healthz", "/methods", "/catalogue", "/account", "/favicon.ico"], unrelated),
    ask(visitor, [`${session}/train`], related),
    ask(visitor, [`${session}/train`], related),
  ]);
  for (const { path, status } of unrelated) if (status !== 200) broken.push(`${path} beside a lock: ${status}`);
  holds(`${unrelated.length} unrelated pages: the longest`, Math.max(...unrelated.map((a) => a.ms)), 1000, "ms");
  const told = related.filter((a) => a.status === 503 && a.headers.has("retry-after"));
  console.log(
    `   pages that need it: ${told.length} of ${related.length} told to come back, the longest ` +
      `${Math.round(Math.max(...related.map((a) => a.ms)))} ms`,
  );
  if (told.length === 0) broken.push("nobody was told to come back from a locked table");
}

async function away(visitor) {
  console.log("The database goes and comes back");
  const before = execFileSync("bin/pg", ["url"]).toString();
  execFileSync("bin/pg", ["stop"]);
  for (const [path, status] of [
    ["/", 503],
    ["/sign-in", 200],
    ["/healthz", 200],
    ["/readyz", 503],
  ]) {
    const answer = await visitor.timed(path);
    if (path !== "/sign-in" && answer.status !== status) broken.push(`${path} without a database: ${answer.status}`);
    if (answer.status === 503 && path === "/" && !answer.headers.has("retry-after")) broken.push("no Retry-After");
    holds(`${path} without a database (${answer.status})`, answer.ms, 4000, "ms");
  }
  if (execFileSync("bin/pg", ["start"]).toString() !== before) throw new Error("the database came back elsewhere");
  const began = performance.now();
  while ((await visitor.timed("/")).status !== 200) await pause(20);
  holds("the first page once it is back", performance.now() - began, 5000, "ms");
}

async function takenOut(visitor, client) {
  const id = client.split("/").at(-1);
  const have = Number(sql(`select count(*) from logged_sets where client_id = '${id}'`));
  const wanted = 20_000;
  sql(`insert into logged_sets (trainer_id, id, client_id, slot_id, place_id, position, performed_on, exercise, entry,
                                effective_kg, model_version, source, done_at)
       select s.trainer_id, gen_random_uuid(), s.client_id, s.slot_id, s.place_id, s.position, s.performed_on, s.exercise, s.entry,
              s.effective_kg, s.model_version, s.source, s.done_at
       from (select * from logged_sets where client_id = '${id}' and not withdrawn limit 2000) s, generate_series(1, 1000)
       limit ${Math.max(0, wanted - have)}`);
  const sets = Number(sql(`select count(*) from logged_sets where client_id = '${id}'`));
  console.log(`A client of ${sets} sets`);
  const out = await visitor.timed(`${client}/data/archive`);
  if (out.status !== 200) broken.push(`the archive: ${out.status}`);
  holds("all of it as one archive", out.ms, 5000, "ms");
  holds("their page, the first time", (await visitor.timed(client)).ms, 5000, "ms");
  holds("their page", (await visitor.timed(client)).ms, 1000, "ms");
}

// How much more two processes answer than one, and who had the processors meanwhile.
async function twoProcesses(one, two, visitors, path) {
  console.log(`One process and two, ${short(path)}, 8 at once`);
  const run = async (who, processes) => {
    const counts = () => [worked(processes.map((p) => p.pid)), worked(postgres()), worked([process.pid])];
    const before = counts();
    const { rate } = await flatOut(who, path, 10_000, 8);
    const shares = counts().map((s, i) => (s - before[i]) / 10);
    const [ours, theirs, asking] = shares.map((s) => s.toFixed(2));
    console.log(
      `   ${processes.length}: ${rate.toFixed(0)} a second; of ${cpus().length} processors the application had ${ours}, ` +
        `PostgreSQL ${theirs}, whoever asked ${asking}`,
    );
    return { rate, free: cpus().length - shares.reduce((a, b) => a + b, 0) };
  };
  const single = await run([visitors[0]], [one]);
  const both = await run(visitors, [one, two]);
  const times = both.rate / single.rate;
  console.log(`   ${times.toFixed(2)} times the rate of one`);
  // Where the machine is full with both, more is not to be had of it.
  if (times < 1.7 && both.free > 0.3) broken.push("two processes");
}

const one = await start(PORTS[0]);
let two = null;
try {
  const visitor = new Visitor(one.base);
  const roster = await visitor.signIn(EMAIL, PASSWORD);
  if (!roster.includes("Roster")) throw new Error("the demo trainer did not get in");
  const paths = await pages(visitor);
  const [, client, , , session] = paths;
  await overTime(one, visitor, paths);
  await locked(visitor, await second(binary, one.base), session);
  await away(visitor);
  await takenOut(visitor, client);
  two = await start(PORTS[1]);
  const other = new Visitor(two.base);
  await other.signIn(EMAIL, PASSWORD);
  for (const path of ["/", session]) await twoProcesses(one, two, [visitor, other], path);
} finally {
  one.server.kill("SIGTERM");
  two?.server.kill("SIGTERM");
}
if (broken.length > 0) {
  console.error(`${broken.length} broken:\n${[...new Set(broken)].slice(0, 20).join("\n")}`);
  process.exit(1);
}
