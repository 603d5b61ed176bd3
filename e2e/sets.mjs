// How long the server takes for a set from a phone: logs sets of a workout one at a time, as a phone says them, and prints the spread
// of the whole answers in milliseconds. Takes the client whose name is given, or the first one with a session.
import { randomUUID } from "node:crypto";
import { Visitor, hidden, spread } from "./visitor.mjs";

const base = process.env.BAVREK_ADDRESS ?? "http://127.0.0.1:8080";
const [name = "", most = "40"] = process.argv.slice(2);
const trainer = new Visitor(base);
await trainer.signIn("trainer@bavrek.example", "paper-and-ink");

// The first client of that name who has a workout to do.
async function reached() {
  const roster = await trainer.page(`/?q=${encodeURIComponent(name)}`);
  const clients = new Set([...roster.matchAll(/\/clients\/[0-9a-f-]{36}/g)].map(([path]) => path));
  for (const client of clients) {
    const session = /\/sessions\/([0-9a-f-]{36})/.exec(await trainer.page(client))?.[1];
    if (!session) continue;
    const page = await trainer.page(`${client}/phone`);
    const made = await trainer.page(`${client}/phone`, {
      csrf: hidden(page, "csrf"),
      id: hidden(page, "id"),
      session: "",
      ends_on: "",
    });
    const link = /\/go\/([0-9a-f]{64})/.exec(made)[1];
    const pack = await trainer.send(`/go/${link}/${session}/pack`);
    if (pack.ok) return { link, session, pack: await pack.json() };
  }
  throw new Error("nobody of that name has a workout");
}

const { link, session, pack } = await reached();
const times = [];
for (let n = 0; n < Number(most); n++) {
  const { slot, choices } = pack.stations[n % pack.stations.length];
  const { exercise, one_sided: oneSided } = choices[0];
  const fields = [["reps", "8"], ["rir", "2"], ...(oneSided ? [["side", n % 2 ? "left" : "right"]] : [])];
  const turn = Math.floor(n / pack.stations.length);
  const said = { kind: "set", given: pack.given, slot, choice: 0, exercise, rung: 0, turn, fields, supersedes: null };
  const now = new Date().toISOString();
  const body = JSON.stringify({ now, entries: [{ id: randomUUID(), session, at: now, said }] });
  const begun = performance.now();
  const headers = { "content-type": "application/json" };
  const answer = await fetch(`${base}/go/${link}/entries`, { method: "POST", headers, body });
  const { answers } = await answer.json();
  // What is refused does less: a hold wants seconds, for example.
  if (answers[0].state === "taken") times.push(performance.now() - begun);
}
if (times.length === 0) throw new Error("no set was taken");
const told = Object.entries(spread(times)).map(([what, ms]) => `${what} ${what === "count" ? ms : ms.toFixed(1)}`);
console.log(`sets of ${name || "the first client"}: ${told.join(", ")} ms`);
