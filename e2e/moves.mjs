// How long the server takes for a week that is proposed, for a move on it, for a move on the board of a session, and for a week's
// template that is laid out for somebody else: for every client of a running demo. Prints the spread of the whole answers in
// milliseconds, and fails where a bar is not held.
//
//   bin/moves [address] [moves of each client]
import { randomUUID } from "node:crypto";
import { EMAIL, PASSWORD } from "./demo.js";
import { Visitor, fields, hidden, spread } from "./visitor.mjs";

const base = process.env.BAVREK_ADDRESS ?? "http://127.0.0.1:8080";
const each = Number(process.argv[2] ?? 24);
const visitor = new Visitor(base);
await visitor.signIn(EMAIL, PASSWORD);
const broken = [];

// One form sent: where it leads, if anywhere, and how long that took.
async function sent(path, body) {
  const began = performance.now();
  const answer = await visitor.send(path, { method: "POST", body: new URLSearchParams(body) });
  await answer.arrayBuffer();
  const ms = performance.now() - began;
  if (answer.status === 422) return { ms };
  if (answer.status !== 303) throw new Error(`${path} answered ${answer.status}`);
  return { ms, to: answer.headers.get("location") };
}

function told(what, times, [share, most] = ["p99", Infinity]) {
  const all = spread(times);
  const figures = ["median", "p95", "p99", "most"].map((name) => `${name} ${all[name].toFixed(1)}`);
  const fine = all.count > 0 && all[share] <= most;
  console.log(`${fine ? "  " : "! "}${what}, ${all.count} times: ${figures.join(", ")} ms`);
  if (!fine) broken.push(what);
}

const named = (page, kind) => [
  ...new Set([...page.matchAll(new RegExp(`/${kind}/[0-9a-f-]{36}`, "g"))].map((m) => m[0])),
];
const ACTS = ["more", "later", "fewer", "earlier", "pin", "day-0", "pin", "day-1"];

// Moves of lines that lie there, in turn; each says which state of the page it saw.
async function moved(path, page, lines, [from, to], acts, times) {
  for (let n = 0; n < each; n += 1) {
    const slot = lines[n % lines.length];
    const body = {
      csrf: hidden(page, "csrf"),
      seen: hidden(page, "seen"),
      slot,
      other: "",
      act: acts[n % acts.length],
    };
    times.push((await sent(`${path}${to}`, body)).ms);
    page = await visitor.page(`${path}${from}`);
  }
}

const times = { weeks: [], moves: [], board: [], laid: [] };
const clients = named(await visitor.page("/"), "clients");
let template;
for (const client of clients) {
  const page = await visitor.page(`${client}/week`);
  if (!page.includes(`action="${client}/week"`)) continue;
  const week = await sent(`${client}/week`, fields(page, `${client}/week`));
  // Who said nothing of days and minutes yet is asked first.
  if (week.to === undefined) continue;
  times.weeks.push(week.ms);
  const shown = await visitor.page(week.to);
  const proof = /these minutes can hold no more[^<]*|within[^<]*%[^<]*/.exec(shown)?.[0] ?? "";
  const lines = [...shown.matchAll(/id="line-([0-9a-f-]{36})"/g)].map((m) => m[1]);
  console.log(
    `   ${/class="back"[^>]*>([^<]*)/.exec(shown)[1]}: ${lines.length} lines, ${week.ms.toFixed(0)} ms ${proof}`,
  );
  if (lines.length === 0) continue;
  await moved(week.to, shown, lines, ["", "/move"], ACTS, times.moves);
  if (template === undefined) {
    const id = randomUUID();
    await sent(`${week.to}/template`, { csrf: hidden(shown, "csrf"), id, name: `Measured ${id.slice(0, 8)}` });
    template = id;
  } else {
    const ask = await visitor.page(`${client}/apply?template=${template}`);
    times.laid.push((await sent(`${client}/apply`, fields(ask, `${client}/apply`))).ms);
  }
  const [session] = named(await visitor.page(client), "sessions");
  if (session === undefined) continue;
  const board = await visitor.page(session);
  const slots = named(board, "slots").map((path) => path.split("/").at(-1));
  await moved(session, board, slots, ["", "/board"], ["later", "earlier", "more", "fewer"], times.board);
}
told("a week proposed", times.weeks, ["most", 2000]);
told("a move on a week", times.moves, ["median", 20]);
told("a move on the board of a session", times.board, ["median", 20]);
told("a week's template laid out for somebody else", times.laid, ["most", 400]);
if (broken.length > 0) {
  console.error(`not held: ${broken.join(", ")}`);
  process.exit(1);
}
