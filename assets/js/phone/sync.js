// Tells the server what was said, by itself, each thing until it has an answer. Whatever is sent twice counts once.
import { entries, keep } from "./store.js";

const MOST_AT_ONCE = 50;
const MOST_FAILING = 3;
const SHORTEST = 1000;
const LONGEST = 60000;

export class Sync {
  constructor(changed) {
    this.changed = changed;
    this.wait = SHORTEST;
    this.state = "idle";
    window.addEventListener("online", () => this.now());
    document.addEventListener("visibilitychange", () => document.visibilityState === "visible" && this.now());
  }

  now() {
    clearTimeout(this.timer);
    this.wait = SHORTEST;
    return this.run();
  }

  async run() {
    if (this.running) {
      this.again = true;
      return;
    }
    this.running = true;
    try {
      // One page at a time: what another page is sending is not sent beside it.
      if (navigator.locks) await navigator.locks.request("bavrek-sync", () => this.send());
      else await this.send();
    } finally {
      this.running = false;
    }
    if (this.again) {
      this.again = false;
      await this.run();
    }
  }

  async send() {
    // What was said by an earlier link is sent by that one: it is heard even where it opens no more.
    const unknown = new Set();
    // What a server cannot take does not keep the rest back.
    const failing = new Set();
    let most = MOST_AT_ONCE;
    for (;;) {
      const all = (await entries()).filter((entry) => entry.state === "queued");
      const queued = all.filter((entry) => !unknown.has(entry.link) && !failing.has(entry.id));
      if (queued.length === 0) {
        if (failing.size > 0) this.later("failing");
        else if (unknown.size > 0) this.later("unknown");
        else this.say("idle");
        return;
      }
      this.say("sending");
      const [{ link }] = queued;
      const own = queued.filter((entry) => entry.link === link).slice(0, most);
      const batch = own.map(({ id, session, at, said }) => ({ id, session, at, said }));
      let answer;
      try {
        answer = await fetch(`/go/${link}/entries`, {
          method: "POST",
          headers: { "Content-Type": "application/json" },
          body: JSON.stringify({ now: new Date().toISOString(), entries: batch }),
        });
      } catch {
        this.later("offline");
        return;
      }
      if (answer.status === 404) {
        unknown.add(link);
      } else if (answer.ok) {
        await this.take(await answer.json());
      } else if (most > 1) {
        most = 1;
      } else {
        failing.add(own[0].id);
        // A server that takes nothing at all is asked again later; what it was sent stays here.
        if (failing.size > MOST_FAILING) {
          this.later("failing");
          return;
        }
      }
    }
  }

  async take({ answers }) {
    const known = new Map((await entries()).map((entry) => [entry.id, entry]));
    for (const { id, state, why } of answers) {
      const entry = known.get(id);
      if (entry) await keep({ ...entry, state, why, settled: Date.now() });
    }
    this.wait = SHORTEST;
    await this.changed();
  }

  later(state) {
    this.say(state);
    this.timer = setTimeout(() => this.run(), this.wait);
    this.wait = Math.min(LONGEST, this.wait * 2);
  }

  say(state) {
    if (this.state === state) return;
    this.state = state;
    this.changed();
  }
}
