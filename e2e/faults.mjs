// Loses nothing, doubles nothing: several phones log sets while their requests are cut, sent twice and in another order, the server is
// killed in the middle and PostgreSQL is restarted. At the end every set stands in the log once.
//
//   bin/faults [faults] [seed]
import { execFileSync, spawn } from "node:child_process";
import { randomUUID } from "node:crypto";
import { EMAIL, PASSWORD } from "./demo.js";
import { Visitor, drawing, hidden, pause } from "./visitor.mjs";

const [binary, wanted, seed] = [process.argv[2], Number(process.argv[3] ?? 1000), Number(process.argv[4] ?? 7)];
const port = 8391;
const base = `http://127.0.0.1:${port}`;
const PHONES = 4;
// Of each phone; a short run has fewer.
const SETS = Math.min(150, Math.ceil(wanted / 4));
// The server is killed every half second or so, and every so many times PostgreSQL is restarted with it; the rest are cuts, doublings and
// other orders.
const RESTARTED_EVERY = wanted < 200 ? 3 : 8;

const draw = drawing(seed);
const { pick } = draw;

let server = null;
let database = process.env.BAVREK_DATABASE_URL;
async function start() {
  server = spawn(binary, ["serve"], {
    env: { ...process.env, BAVREK_DATABASE_URL: database, BAVREK_LISTEN: `127.0.0.1:${port}` },
    stdio: ["ignore", "ignore", "ignore"],
  });
  for (let i = 0; i < 300; i += 1) {
    try {
      if ((await fetch(`${base}/sign-in`)).ok) return;
    } catch {
      // Not yet.
    }
    await pause(50);
  }
  throw new Error("the server did not start");
}
async function kill() {
  const ended = new Promise((resolve) => server.once("exit", resolve));
  server.kill("SIGKILL");
  await ended;
  await start();
}
async function restartDatabase() {
  execFileSync("bin/pg", ["stop"]);
  database = execFileSync("bin/pg", ["start"]).toString().trim();
}

// The link to a client's workouts, as the trainer makes one.
async function link() {
  const trainer = new Visitor(base);
  const roster = await trainer.signIn(EMAIL, PASSWORD);
  const rows = [...roster.matchAll(/\/clients\/([0-9a-f-]{36})/g)].map((m) => m[1]);
  for (const client of new Set(rows)) {
    const page = await trainer.page(`/clients/${client}/phone`);
    const fields = { csrf: hidden(page, "csrf"), id: hidden(page, "id"), session: "", ends_on: "" };
    const made = await trainer.page(`/clients/${client}/phone`, fields);
    const secret = /\/go\/([0-9a-f]{64})/.exec(made)[1];
    const home = await (await fetch(`${base}/go/${secret}`)).text();
    const session = new RegExp(`/go/${secret}/([0-9a-f-]{36})`).exec(home)?.[1];
    if (session) return { secret, session };
  }
  throw new Error("no client has a session");
}

let faults = 0;
const count = { cut: 0, doubled: 0, reordered: 0, killed: 0, restarted: 0 };
function fault(kind) {
  faults += 1;
  count[kind] += 1;
}

// One phone: what it said stays in its queue until there is an answer.
class Phone {
  constructor({ secret, session }, pack) {
    Object.assign(this, { secret, session, pack, queue: [], said: [], ahead: Math.round((draw() - 0.5) * 4e8) });
  }
  // Sets without an end, so that there is always something to lose.
  tap() {
    const station = pick(this.pack.stations);
    const turn = this.pack.turns.find((t) => t.slot === station.slot);
    const fields = [["side", station.choices[0].one_sided ? pick(["left", "right"]) : ""]];
    if (turn.reps) fields.push(["reps", String(1 + Math.floor(draw() * 20))], ["rir", "2"]);
    if (turn.seconds) fields.push(["seconds", "30"]);
    const said = {
      kind: "set",
      given: this.pack.given,
      slot: station.slot,
      choice: 0,
      exercise: station.choices[0].exercise,
      rung: 0,
      turn: 0,
      fields: fields.filter(([, value]) => value !== ""),
      supersedes: null,
    };
    const entry = {
      id: randomUUID(),
      session: this.session,
      at: new Date(Date.now() + this.ahead).toISOString(),
      said,
    };
    this.queue.push(entry);
    this.said.push(entry);
  }
  async send(cut) {
    const stop = new AbortController();
    if (cut !== null) setTimeout(() => stop.abort(), cut);
    try {
      const answer = await fetch(`${base}/go/${this.secret}/entries`, {
        method: "POST",
        body: JSON.stringify({
          now: new Date(Date.now() + this.ahead).toISOString(),
          entries: this.queue.slice(0, 20),
        }),
        signal: stop.signal,
      });
      if (!answer.ok) return;
      for (const { id, state: became, why } of (await answer.json()).answers) {
        if (became !== "taken") throw new Error(`${id} became ${became}: ${why}`);
        this.queue = this.queue.filter((entry) => entry.id !== id);
      }
    } catch (error) {
      if (/became/.test(error.message)) throw error;
      // Cut, or nobody there: the queue keeps it.
    }
  }
  async live() {
    for (let i = 0; i < SETS || (this.queue.length > 0 && faults < wanted); i += 1) {
      if (i < SETS) this.tap();
      const luck = draw();
      if (luck < 0.3) {
        fault("cut");
        await this.send(draw() * 25);
      } else if (luck < 0.6) {
        fault("doubled");
        await Promise.all([this.send(null), this.send(null)]);
      } else {
        fault("reordered");
        this.queue.sort(() => draw() - 0.5);
        await this.send(null);
      }
    }
    for (let i = 0; this.queue.length > 0; i += 1) {
      if (i > 200) throw new Error(`${this.queue.length} sets never found an answer`);
      await this.send(null);
      if (this.queue.length > 0) await pause(100);
    }
  }
}

async function trouble(living) {
  while (living.some((phone) => !phone.over)) {
    await pause(200 + draw() * 500);
    if ((count.killed + count.restarted + 1) % RESTARTED_EVERY === 0) {
      fault("restarted");
      await restartDatabase();
    } else {
      fault("killed");
    }
    await kill();
  }
}

await start();
try {
  const reached = await link();
  const pack = await (await fetch(`${base}/go/${reached.secret}/${reached.session}/pack`)).json();
  const before = pack.standing.done.length;
  const phones = Array.from({ length: PHONES }, () => new Phone(reached, pack));
  let rounds = 0;
  while (faults < wanted) {
    rounds += 1;
    const living = phones.map((phone) => {
      phone.over = false;
      return phone.live().finally(() => (phone.over = true));
    });
    await Promise.all([...living, trouble(phones)]);
  }
  const { done } = await (await fetch(`${base}/go/${reached.secret}/${reached.session}/state`)).json();
  const said = phones.flatMap((phone) => phone.said);
  const there = new Map();
  for (const { id } of done) there.set(id, (there.get(id) ?? 0) + 1);
  const lost = said.filter(({ id }) => !there.has(id));
  const doubled = [...there].filter(([, times]) => times > 1);
  const changed = said.filter(({ id, said: { fields } }) => {
    const one = done.find((d) => d.id === id);
    const reps = fields.find(([name]) => name === "reps")?.[1];
    return one && reps !== undefined && String(one.reps) !== reps;
  });
  console.log(
    `${faults} faults in ${rounds} rounds (${Object.entries(count)
      .map(([kind, n]) => `${n} ${kind}`)
      .join(", ")}), ${said.length} sets said, ${done.length - before} in the log, ` +
      `${lost.length} lost, ${doubled.length} doubled, ${changed.length} changed`,
  );
  if (lost.length + doubled.length + changed.length > 0 || done.length - before !== said.length) process.exitCode = 1;
} finally {
  server.kill("SIGKILL");
}
