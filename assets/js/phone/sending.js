// Pages beside the workout send what is still here as well, and say so: also where the link opens no more.
import { entries, onOthers } from "./store.js";
import { Sync } from "./sync.js";

export function sending() {
  return {
    words: "",
    async init() {
      this.sync = new Sync(() => this.count());
      onOthers(() => this.count());
      await this.count();
      this.sync.now();
    },
    async count() {
      const all = await entries();
      const [queued, waiting] = ["queued", "waiting"].map((state) => all.filter((e) => e.state === state).length);
      const words = [];
      if (queued > 0) words.push(`${queued} still to send, kept on this phone`);
      if (waiting > 0) words.push(`${waiting} sent, waiting for your trainer's word`);
      this.words = words.join("; ");
    },
  };
}
