import { execFileSync } from "node:child_process";
import { Agent, get } from "node:http";

const alive = new Agent({ keepAlive: true });

// A browser without a window: keeps its cookies, follows redirects, reads hidden fields.
export class Visitor {
  constructor(base) {
    this.base = base;
    this.jar = new Map();
  }

  get cookies() {
    return [...this.jar].map(([name, value]) => `${name}=${value}`).join("; ");
  }

  keep(cookies) {
    for (const cookie of cookies) {
      const [name, value] = cookie.split(";")[0].split("=");
      this.jar.set(name, value);
    }
  }

  // One request, as it comes back.
  async send(path, options = {}) {
    const headers = { cookie: this.cookies, ...options.headers };
    const answer = await fetch(this.base + path, { redirect: "manual", ...options, headers });
    this.keep(answer.headers.getSetCookie());
    return answer;
  }

  // How long an answer takes to its last byte, which is let go of as it comes, packed as a browser wants it. What fetch makes of an
  // answer keeps this program busy for longer than many a page keeps the server, and its collecting of garbage stops all of them.
  timed(path) {
    return new Promise((resolve, reject) => {
      const began = performance.now();
      const headers = { cookie: this.cookies, "accept-encoding": "gzip" };
      const request = get(this.base + path, { agent: alive, headers }, (answer) => {
        this.keep(answer.headers["set-cookie"] ?? []);
        answer.once("error", reject);
        answer.once("end", () => {
          const told = new Map(Object.entries(answer.headers));
          resolve({ status: answer.statusCode, began, ms: performance.now() - began, headers: told });
        });
        answer.resume();
      });
      request.once("error", reject);
    });
  }

  // A page, or the page that a form leads to.
  async page(path, fields) {
    const answer = await this.send(path, fields ? { method: "POST", body: new URLSearchParams(fields) } : {});
    const to = answer.headers.get("location");
    return to ? this.page(to) : answer.text();
  }

  async signIn(email, password) {
    const csrf = hidden(await this.page("/sign-in"), "csrf");
    return this.page("/sign-in", { csrf, email, password });
  }
}

// A second trainer, invited as one is.
export async function second(binary, base) {
  const visitor = new Visitor(base);
  const email = `second-${process.pid}@bavrek.example`;
  const link = execFileSync(binary, ["trainer", "--address", base, "add", email]).toString().trim();
  const path = link.slice(base.length);
  const csrf = hidden(await visitor.page(path), "csrf");
  const fields = { csrf, name: "Second trainer", new_password: "chalk and paper", again: "chalk and paper" };
  const roster = await visitor.page(path, fields);
  if (!roster.includes("Roster")) throw new Error("the second trainer did not get in");
  return visitor;
}

// The value of a hidden field.
export function hidden(page, name) {
  return new RegExp(`name="${name}"\\s+value="([^"]*)"`).exec(page)[1];
}

// What a form holds as it is shown: the first that leads to a path.
export function fields(page, path) {
  const form = page.split("<form").find((part) => part.includes(`action="${path}"`));
  const inside = form.slice(0, form.indexOf("</form>"));
  const value = (tag, name) => new RegExp(`\\s${name}="([^"]*)"`).exec(tag)?.[1];
  const typed = [...inside.matchAll(/<input[^>]*>/g)].flatMap(([tag]) => {
    const [name, kind] = [value(tag, "name"), value(tag, "type")];
    const counts = name && (!["radio", "checkbox"].includes(kind) || /\schecked/.test(tag));
    return counts ? [[name, value(tag, "value") ?? ""]] : [];
  });
  const chosen = [...inside.matchAll(/<select[^>]*>[\s\S]*?<\/select/g)].map(([select]) => {
    const options = [...select.matchAll(/<option[^>]*>/g)].map(([tag]) => tag);
    const on = options.find((tag) => /\sselected/.test(tag)) ?? options[0] ?? "";
    return [value(select, "name"), value(on, "value") ?? ""];
  });
  return [...typed, ...chosen];
}

// The middle, the 95th and the 99th of a hundred, and the most.
export function spread(times) {
  const rising = times.toSorted((a, b) => a - b);
  const at = (share) => rising[Math.min(rising.length - 1, Math.floor(rising.length * share))] ?? 0;
  return { count: times.length, median: at(0.5), p95: at(0.95), p99: at(0.99), most: rising.at(-1) ?? 0 };
}

// Numbers drawn anew from the same seed.
export function drawing(seed) {
  let state = seed >>> 0;
  const draw = () => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    return state / 2 ** 32;
  };
  draw.pick = (list) => list[Math.floor(draw() * list.length)];
  return draw;
}

export const pause = (ms) => new Promise((resolve) => setTimeout(resolve, ms));
