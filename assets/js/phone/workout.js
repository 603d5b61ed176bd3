// The workout on the phone: what now? One turn at a time, with or without a signal.
import { due, goesByItself, restingBefore, setId, working } from "./circuit.js";
import { current, localDay, optional, restIsOver, standing } from "./derive.js";
import { fieldsOf, fresh, wrongIn } from "./form.js";
import { Pace } from "./pace.js";
import { stayAwake, voice } from "./sound.js";
import { entries, isLoose, keep, keepPack, onOthers, pack as keptPack, setting, settings, tidy } from "./store.js";
import { Sync } from "./sync.js";
import { see } from "./view.js";

const RESERVE = [
  ["0", "none"],
  ["1", "1"],
  ["2", "2"],
  ["3", "3"],
  ["4", "4"],
  ["5", "5 +"],
];
const WEEKS_KEPT = 6 * 7 * 24 * 3600 * 1000;
const SYNC_WORDS = {
  idle: "",
  sending: "sending …",
  offline: "no signal: kept on this phone",
  failing: "the server does not answer: kept on this phone",
  unknown: "this link is not known: kept on this phone",
};
const clock = (seconds) => `${Math.floor(seconds / 60)}:${String(Math.max(0, seconds) % 60).padStart(2, "0")}`;

export function workout() {
  return {
    // What is kept.
    ready: false,
    gone: false,
    pack: null,
    said: [],
    local: { day: "", rungs: {}, wanted: null, warmed: false, rested: "", heeded: "" },
    // What is on the screen.
    form: fresh(),
    error: "",
    sheet: "",
    reason: "",
    note: "",
    now: Date.now(),
    pacing: null,
    // Stations that run on by the clock: which one, and since when.
    run: null,
    goingOn: false,
    stopped: "",
    muted: false,
    spoken: false,
    syncState: "idle",
    full: false,
    refusals: [],
    hurtAt: "",
    // The joint that is spared in what is offered; it is no part of the next set.
    sparing: "",
    view: null,

    async init() {
      const { link, session } = this.$root.dataset;
      Object.assign(this, { link, session, key: `${link}/${session}` });
      this.sync = new Sync(() => this.renew());
      this.pace = new Pace(voice, (shown) => (this.pacing = shown));
      const choices = (await settings("sound")) ?? {};
      this.muted = voice.muted = choices.muted ?? false;
      this.spoken = voice.spoken = choices.spoken ?? false;
      this.pack = await keptPack(this.key);
      await this.recall();
      await this.renew();
      // A reload in the middle of a station goes on where it should be.
      this.takeUpRun();
      await this.fetch();
      this.watch();
      this.sync.now();
      tidy(new Date(Date.now() - WEEKS_KEPT).toISOString());
      setInterval(() => this.tick(), 250);
      onOthers(() => this.renew());
      document.addEventListener("visibilitychange", () => document.visibilityState === "visible" && this.fetch());
    },

    // What was chosen on this screen today.
    async recall() {
      const kept = await settings(`local/${this.key}`);
      if (kept?.day === localDay()) this.local = kept;
      else this.local = { ...this.local, day: localDay() };
    },
    remember(changed) {
      this.local = { ...this.local, ...changed };
      return setting(`local/${this.key}`, JSON.parse(JSON.stringify(this.local)));
    },

    // The workout from the server; without a signal the one that is kept.
    async fetch() {
      const asked = Date.now();
      try {
        const answer = await fetch(`/go/${this.link}/${this.session}/pack`);
        if (answer.status === 410) this.gone = true;
        if (!answer.ok) return;
        const pack = { ...(await answer.json()), asked, day: localDay() };
        this.gone = false;
        this.pack = pack;
        await keepPack(this.key, pack);
        await this.renew();
      } catch {
        await this.renew();
      }
    },

    // What happened elsewhere: the trainer's own device, another phone; also while nobody was heard.
    watch() {
      const source = new EventSource(`/go/${this.link}/${this.session}/live`);
      source.addEventListener("open", () => this.catchUp());
      source.addEventListener("happened", () => this.catchUp());
    },
    async catchUp() {
      if (!this.pack) return this.fetch();
      const asked = Date.now();
      try {
        const answer = await fetch(`/go/${this.link}/${this.session}/state`);
        if (!answer.ok) return this.fetch();
        const standing = await answer.json();
        const same = JSON.stringify(standing.stands) === JSON.stringify(this.pack.standing.stands);
        // What is done at a station is another thing now: what goes with it is asked for as well.
        if (!same) return this.fetch();
        this.pack = { ...this.pack, standing, asked, day: localDay() };
        await keepPack(this.key, JSON.parse(JSON.stringify(this.pack)));
        await this.renew();
      } catch {
        // The next time something happens, or the page is seen again.
      }
    },

    // Everything on the screen from what is kept.
    async renew() {
      this.said = await entries(this.session);
      this.syncState = this.sync?.state ?? "idle";
      this.full = isLoose();
      this.refusals = this.said
        .filter((e) => ["waiting", "conflict", "refused"].includes(e.state))
        .map((e) => ({ id: e.id, text: `${e.name || e.said.kind}: ${e.why}` }));
      this.draw();
      this.ready = true;
    },
    draw() {
      if (!this.pack) return;
      const stands = standing(this.pack, this.said);
      const turn = stands.ended === null ? current(this.pack, stands, this.local.wanted) : null;
      this.view = see(this.pack, stands, turn, { local: this.local, sparing: this.sparing });
    },
    // Asks for something that spares what hurt today.
    spare() {
      this.open("swap");
      this.sparing = this.view.sore.joint;
      this.draw();
    },
    // Clocks.
    tick() {
      const before = this.now;
      this.now = Date.now();
      const skipped = this.local.rested === this.view?.about;
      if (!skipped && restIsOver(this.view?.until ?? null, before, this.now)) {
        voice.tone("go", 0.4);
        voice.tremble([150, 80, 150]);
        voice.say("next set");
      }
      if (this.run) this.goOn();
      if (localDay() !== this.local.day) this.recall().then(() => this.fetch());
    },
    get resting() {
      const left = Math.ceil(((this.view?.until ?? 0) - this.now) / 1000);
      return left > 0 && this.local.rested !== this.view.about ? left : null;
    },
    get restText() {
      return this.resting === null ? "" : clock(this.resting);
    },
    skipRest() {
      this.remember({ rested: this.view.about });
    },

    // Pacing.
    get canPace() {
      const turn = this.view?.turn;
      return Boolean(turn) && (turn.tempo !== null || turn.timed !== null || turn.parts.length > 0);
    },
    get paceLabel() {
      if (this.run !== null) return "Stop the stations";
      if (this.pacing !== null) return "Stop";
      const { timed, parts } = this.view.turn;
      return timed !== null || parts.length > 0 ? "Start the clock" : "Start the tempo";
    },
    get depth() {
      return `translate(0 ${((this.pacing?.depth ?? 0) * 150).toFixed(1)})`;
    },
    async togglePace() {
      if (this.run) return this.endRun();
      voice.wake();
      stayAwake();
      if (this.pace.turn) {
        this.stopPace();
        return;
      }
      this.skipRest();
      this.pace.start(JSON.parse(JSON.stringify(this.view.turn)));
    },
    stopPace() {
      const time = this.pace.stop();
      const { turn } = this.view;
      this.pacing = null;
      // What the clock counted is filled in, and can be changed.
      if (turn.timed !== null && turn.seconds) this.form.seconds = String(Math.max(1, Math.round(time)));
    },

    // Stations by the clock.
    get canRun() {
      return (
        this.run === null && this.view?.next !== null && goesByItself(this.view?.turn) && goesByItself(this.view?.next)
      );
    },
    keepRun(run) {
      this.run = run;
      return this.remember({ run });
    },
    startRun() {
      voice.wake();
      stayAwake();
      this.stopped = "";
      if (this.pace.turn) this.stopPace();
      if (this.resting === null) this.begin(Date.now());
      else this.keepRun(restingBefore(this.view.turn, crypto.randomUUID()));
    },
    takeUpRun() {
      const { run } = this.local;
      if (!run || !this.view?.turn) return;
      this.run = run;
      if (run.began !== null && due(run, this.view.turn, this.view.until, Date.now()) === null) this.begin(run.began);
    },
    begin(at) {
      const { turn } = this.view;
      this.remember({ rested: this.view.about });
      this.keepRun(working(turn, at, this.run?.id ?? crypto.randomUUID()));
      this.pace.start(JSON.parse(JSON.stringify(turn)), at);
    },
    endRun(why = "") {
      if (this.pace.turn) this.pace.stop();
      this.pacing = null;
      this.stopped = why;
      return this.keepRun(null);
    },
    // What is due by now of a run.
    async goOn() {
      if (this.goingOn) return;
      const { run, view } = this;
      // Another page of this phone was quicker.
      if (this.said.some((entry) => entry.id === setId(run))) return this.runOn();
      const until = this.local.rested === view?.about ? null : (view?.until ?? null);
      const what = due(run, view?.turn, until, this.now);
      if (!what) return;
      this.goingOn = true;
      try {
        if (what.do === "begin") this.begin(what.at);
        if (what.do === "end") await this.endRun(what.why);
        if (what.do === "log") await this.logRun(what);
      } finally {
        this.goingOn = false;
      }
    },
    async logRun({ at }) {
      this.pick("seconds", String(this.view.turn.timed));
      if (!(await this.log(false, new Date(at)))) await this.endRun();
    },
    // After a station of a run was logged, by itself or by tap.
    async runOn() {
      if (this.pace.turn) this.pace.stop();
      this.pacing = null;
      if (!goesByItself(this.view?.turn)) return this.endRun();
      voice.say(`next: ${this.view.choice.name}`);
      return this.keepRun(restingBefore(this.view.turn, this.run.id));
    },

    // The form.
    get reserve() {
      return RESERVE.map(([value, label]) => ({ value, label, on: this.chosenRir === value }));
    },
    get chosenRir() {
      return this.form.rir === "" ? String(this.view?.turn?.reserve ?? "") : this.form.rir;
    },
    get repOptions() {
      return (this.view?.turn?.reps?.[0] ?? []).map((value) => ({ value, on: this.form.reps === value }));
    },
    get secondOptions() {
      return (this.view?.turn?.seconds?.[0] ?? []).map((value) => ({ value, on: this.form.seconds === value }));
    },
    get chosenSide() {
      return this.form.side || this.view?.side || "";
    },
    pick(field, value) {
      this.form[field] = value;
      this.error = "";
    },
    // Logs what is on the screen as done at a time; says whether it was.
    async log(stop, at = new Date()) {
      if (this.run?.began && this.form.seconds === "")
        this.form.seconds = String(Math.max(1, Math.round((at - this.run.began) / 1000)));
      this.error = wrongIn(this.form, this.view.turn, stop);
      if (this.error) return false;
      const { view, form } = this;
      const hurt = Number(form.pain || 0) >= 4;
      await this.say(
        {
          kind: "set",
          given: this.pack.given,
          slot: view.turn.slot,
          choice: view.choiceAt,
          rung: view.rung,
          turn: view.turn.round,
          fields: fieldsOf(form, {
            turn: view.turn,
            oneSided: view.choice.one_sided,
            side: this.chosenSide,
            rir: this.chosenRir,
            stop,
          }),
          supersedes: null,
          exercise: view.choice.exercise,
        },
        view.choice.name,
        { at, id: this.run?.began ? setId(this.run) : undefined },
      );
      if (this.pace.turn) this.pace.stop();
      this.pacing = null;
      const { painAt } = form;
      this.form = fresh();
      this.sheet = "";
      this.remember({ wanted: view.turn.slot === this.local.wanted ? null : this.local.wanted });
      voice.wake();
      stayAwake();
      if (hurt) {
        // What does not load the joint that hurts.
        this.sparing = painAt;
        this.remember({ wanted: null });
        this.hurtAt = view.turn.slot;
        this.sheet = "painless";
      }
      this.draw();
      if (this.run) await (hurt || stop ? this.endRun() : this.runOn());
      return true;
    },
    // Says something: kept first, then sent.
    async say(said, name = "", { at = new Date(), id = crypto.randomUUID() } = {}) {
      const entry = {
        id,
        link: this.link,
        session: this.session,
        at: at.toISOString(),
        nth: this.said.length,
        said: JSON.parse(JSON.stringify(said)),
        name,
        state: "queued",
        why: "",
      };
      await keep(entry);
      await this.renew();
      this.sync.now();
      return entry.id;
    },
    async undo(id) {
      await this.say({ kind: "undo", set: id });
    },
    heed() {
      const { advice, turn, choice, rung } = this.view;
      const by = { lighter: -1, heavier: 1 }[advice.next] ?? 0;
      const to = rung + by;
      const rungs =
        choice.at + to in choice.steps ? { [`${turn.slot}/${choice.exercise}`]: to - (turn.rung ?? 0) } : {};
      this.remember({ heeded: advice.about, rungs: { ...this.local.rungs, ...rungs } });
      this.draw();
    },
    pass() {
      this.remember({ heeded: this.view.advice.about });
      this.draw();
    },
    step(by) {
      const { turn, choice, rung } = this.view;
      if (!(choice.at + rung + by in choice.steps)) return;
      const rungs = { [`${turn.slot}/${choice.exercise}`]: rung + by - (turn.rung ?? 0) };
      this.remember({ rungs: { ...this.local.rungs, ...rungs } });
      this.draw();
    },
    async skip(reason = this.reason) {
      await this.say({ kind: "skip", slot: this.view.turn.slot, reason });
      this.close();
    },
    // Leaves out all that may be left out and is not done.
    async leaveRest() {
      const may = optional(this.pack).map(([slot]) => slot);
      for (const job of this.view.jobs)
        if (may.includes(job.slot) && job.left > 0 && !job.shut)
          await this.say({ kind: "skip", slot: job.slot, reason: "" });
      this.close();
    },
    async takeUp(slot) {
      await this.say({ kind: "take_up", slot });
    },
    async swap(choice) {
      const { slot } = this.view.turn;
      await this.swapAt(slot, choice);
    },
    async swapAt(slot, choice) {
      if (choice === 0) await this.say({ kind: "unswap", slot });
      else await this.say({ kind: "swap", given: this.pack.given, slot, choice, reason: this.reason });
      this.form = fresh();
      this.close();
      this.draw();
    },
    // What does not load the joint that hurt, for a movement that is stopped.
    get painless() {
      const station = this.pack?.stations.find((s) => s.slot === this.hurtAt);
      return (station?.choices ?? [])
        .map((c, i) => ({ ...c, i }))
        .filter((c) => c.i > 0 && !c.joints.includes(this.sparing));
    },
    answerPain(slot) {
      const last = this.view.done.find((d) => d.slot === slot && d.hurt);
      this.sparing = last?.pain_at ?? "";
      this.hurtAt = slot;
      this.sheet = "painless";
    },
    async addNote() {
      if (this.note.trim() === "") return;
      await this.say({ kind: "note", slot: this.view?.turn?.slot ?? null, text: this.note });
      this.note = "";
      this.close();
    },
    async finish() {
      await this.say({ kind: "finish", why: this.reason });
      this.close();
    },
    go(slot) {
      this.remember({ wanted: slot });
      this.form = fresh();
      this.close();
      this.draw();
    },
    warmed() {
      voice.wake();
      stayAwake();
      this.remember({ warmed: true });
    },
    open(sheet) {
      this.reason = "";
      this.sparing = "";
      this.sheet = this.sheet === sheet ? "" : sheet;
      // On a small screen it opens below the fold: nobody would see that something opened.
      this.$nextTick(() =>
        this.$root.querySelector(`[x-show^="sheet === '${this.sheet}'"]`)?.scrollIntoView({ block: "nearest" }),
      );
      this.draw();
    },
    close() {
      this.sparing = "";
      this.sheet = "";
      this.reason = "";
    },
    mute() {
      this.muted = voice.muted = !this.muted;
      setting("sound", { muted: this.muted, spoken: this.spoken });
    },
    speak() {
      this.spoken = voice.spoken = !this.spoken;
      voice.wake();
      setting("sound", { muted: this.muted, spoken: this.spoken });
    },

    // What is said of the signal.
    get queued() {
      return this.said.filter((e) => e.state === "queued").length;
    },
    get syncWords() {
      if (this.full) return "the phone's storage is full: keep this page open until all is sent";
      const words = SYNC_WORDS[this.syncState];
      if (this.queued === 0) return this.said.length > 0 ? "all sent" : "";
      return `${this.queued} to send${words ? `, ${words}` : ""}`;
    },
    // Everything that was said here, as a file: nobody is left with a set that cannot leave the phone.
    async save() {
      const text = JSON.stringify(await entries(), null, 2);
      const link = document.createElement("a");
      link.href = URL.createObjectURL(new Blob([text], { type: "application/json" }));
      link.download = `workout-${localDay()}.json`;
      link.click();
      URL.revokeObjectURL(link.href);
    },
    get starting() {
      return this.view !== null && !this.view.over && !this.view.begun && !this.local.warmed;
    },
    get warmClock() {
      return clock(this.pack?.warm_up.seconds ?? 0);
    },
  };
}
