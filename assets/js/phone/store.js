// What the phone keeps: the workouts it was given, and everything that was said of them until the server has it. A set that the
// server refused is kept as well.
import { openDB } from "idb";

const opening = openDB("bavrek", 1, {
  upgrade(db) {
    db.createObjectStore("packs");
    db.createObjectStore("settings");
    const entries = db.createObjectStore("entries", { keyPath: "id" });
    entries.createIndex("state", "state");
    entries.createIndex("session", "session");
  },
});

// Other pages of this phone show the same.
const channel = new BroadcastChannel("bavrek");
export const onOthers = (changed) => channel.addEventListener("message", changed);

// What the storage did not take: kept as long as the page is open, sent first, and told.
const loose = new Map();

export async function keepPack(key, pack) {
  try {
    await (await opening).put("packs", pack, key);
  } catch {
    // Without it the workout needs a signal to be opened again; what was done is not touched.
  }
}

export const pack = async (key) => (await opening).get("packs", key);

export async function setting(key, value) {
  try {
    await (await opening).put("settings", value, key);
  } catch {
    // A choice that is not remembered is made again.
  }
}

export const settings = async (key) => (await opening).get("settings", key);

// Keeps an entry; false where the storage is full, and it is kept on the page alone.
export async function keep(entry) {
  try {
    await (await opening).put("entries", entry);
    loose.delete(entry.id);
    channel.postMessage("kept");
    return true;
  } catch {
    loose.set(entry.id, entry);
    return false;
  }
}

// Everything that was said, in the order in which it was said.
export async function entries(session) {
  const db = await opening;
  const kept = session ? await db.getAllFromIndex("entries", "session", session) : await db.getAll("entries");
  const all = new Map([...kept, ...loose.values()].map((entry) => [entry.id, entry]));
  return [...all.values()]
    .filter((entry) => !session || entry.session === session)
    .sort((a, b) => a.at.localeCompare(b.at) || a.nth - b.nth);
}

// Whether something is kept nowhere but on this page and not sent yet.
export const isLoose = () => [...loose.values()].some((entry) => entry.state === "queued");

// Forgets what the server has had for long.
export async function tidy(before) {
  const db = await opening;
  for (const entry of await db.getAllFromIndex("entries", "state", "taken")) {
    if (entry.at < before) await db.delete("entries", entry.id);
  }
}
