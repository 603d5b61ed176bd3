// The workout on the phone: what now? One turn at a time, with or without a signal.
import {
  adviceNow,
  after,
  choiceOf,
  closed,
  current,
  hurtHere,
  leftOfTotal,
  localDay,
  open,
  restUntil,
  standing,
  taken,
  turnsOf,
} from "./derive.js";
import { Pace } from "./pace.js";
import { stayAwake, voice } from "./sound.js";
import { entries, isLoose, keep, keepPack, onOthers, pack as keptPack, setting, settings, tidy } from "./store.js";
import { Sync } from "./sync.js";

const RESERVE = [
  ["0", "none"],
  ["1", "1"],
  ["2", "2"],
  ["3", "3"],
  ["4", "4 +"],
];
const WEEKS_KEPT = 6 * 7 * 24 * 3600 * 1000;
const SYNC_WORDS = {
  idle: "",
  sending: "sending …",
  offline: "no signal: kept on this phone",
  failing: "the server does not answer: kept on this phone",
  unknown: "this link is not known: kept on this phone",
};
const fresh = () => ({
  reps: "",
  seconds: "",
  rir: "",
  side: "",
  pain: "",
  painAt: "",
  painSide: "",
  broken: false,
  seen: [],
  feltAt: "",
  correcting: null,
});

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
    muted: false,
    spoken: false,
    syncState: "idle",
    full: false,
    refusals: [],
    hurtAt: "",
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

    // What happened elsewhere: the trainer's own device, another phone.
    watch() {
      const source = new EventSource(`/go/${this.link}/${this.session}/live`);
      source.addEventListener("happened", () => this.catchUp());
    },
    async catchUp() {
      if (!this.pack) return this.fetch();
      const asked = Date.now();
      try {
        const answer = await fetch(`/go/${this.link}/${this.session}/state`);
        if (!answer.ok) return this.fetch();
        const state = await answer.json();
        const same = JSON.stringify(state.stands) === JSON.stringify(this.pack.state.stands);
        // What is done at a station is another thing now: what goes with it is asked for as well.
        if (!same) return this.fetch();
        this.pack = { ...this.pack, state, asked, day: localDay() };
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
      this.view = this.see(stands, turn);
    },
    see(stands, turn) {
      const { pack } = this;
      const turns = turnsOf(pack, stands.swaps);
      const marks = taken(turns, stands.done);
      const list = stands.done.map((d) => ({ ...d, label: `${d.name}: ${d.what}`, note: this.fate(d) }));
      const base = {
        done: list.toReversed(),
        last: list.at(-1) ?? null,
        marks: turns
          .map((t, i) => ({ t, class: t === turn ? "now" : marks[i] ? "done" : "open" }))
          .filter(({ t, class: c }) => t.total === null || t.round === 0 || c === "done")
          .map((m, i) => ({ key: i, class: m.class })),
        jobs: this.jobs(stands, turns),
        left: [...stands.skips].map(([slot, why]) => ({ slot, why, name: this.nameOf(stands, slot) })),
        hurt: pack.stations
          .filter((s) => closed(pack, stands).includes(s.slot) && !stands.skips.has(s.slot))
          .map((s) => ({ slot: s.slot, name: this.nameOf(stands, s.slot) })),
        notes: stands.notes,
        ended: stands.ended,
        turn: null,
      };
      base.over = turn === null;
      base.summary = this.summary(stands, turns, marks);
      if (!turn) return base;
      const { station, at, choice } = choiceOf(pack, stands.swaps, turn.slot);
      const rung = this.rungOf(turn.slot, choice);
      const [load, label] = choice.steps[choice.at + rung];
      const first = !stands.done.some((d) => d.slot === turn.slot);
      const nextTurn = after(pack, stands, turn);
      const leftOf = leftOfTotal(turn, stands.done);
      const advice = adviceNow(pack, stands, turn);
      return {
        ...base,
        turn,
        station,
        choice,
        choiceAt: at,
        rung,
        load,
        how: rung === 0 ? choice.how : label,
        amount: leftOf === null ? turn.amount : `${leftOf} of ${turn.total}`,
        count: this.count(turn, station),
        first,
        ramp: first ? station.ramp : [],
        advice: advice && this.local.heeded !== advice.about ? advice : null,
        then: this.then(stands, turn, nextTurn),
        side: turn.side ?? "",
        lighter: choice.at + rung > 0 ? choice.steps[choice.at + rung - 1] : null,
        heavier: choice.at + rung + 1 < choice.steps.length ? choice.steps[choice.at + rung + 1] : null,
        until: restUntil(stands, turn),
        about: stands.done.at(-1)?.id ?? "",
        begun: stands.done.length > 0,
        instead: station.choices
          .map((c, i) => ({ ...c, i }))
          .filter((c) => c.i !== at && !(this.form.painAt && c.joints.includes(this.form.painAt))),
        swapped: at > 0,
        sore: this.sore(hurtHere(stands, choice)),
        long: load.length > 8,
      };
    },
    // What hurt today and is asked for again: the more it hurt, the plainer.
    sore(done) {
      if (!done) return null;
      const joint = this.pack.joints.find(([id]) => id === done.pain_at)?.[1] ?? "a joint";
      const rest =
        done.pain >= 7 ? "Swap it or leave it out." : "A light set first, and stop at once if it comes back.";
      return {
        joint: done.pain_at,
        text: `Your ${joint} hurt today (${done.pain} of 10), and this loads it too. ${rest}`,
      };
    },
    // Asks for something that spares what hurt today.
    spare() {
      this.form.painAt = this.view.sore.joint;
      this.open("swap");
      this.draw();
    },
    fate(done) {
      if (done.state === "queued") return "kept here, not sent yet";
      if (done.state === "waiting") return "waits for your trainer";
      if (done.state === "refused") return `not taken: ${done.why}`;
      return "";
    },
    nameOf(stands, slot) {
      return choiceOf(this.pack, stands.swaps, slot).choice?.name ?? "";
    },
    count(turn, station) {
      const place = this.pack.stations.indexOf(station) + 1;
      const parts = [`Job ${place} of ${this.pack.stations.length}`];
      if (station.together) parts.push(station.together);
      parts.push(turn.total === null ? `set ${turn.round + 1} of ${turn.rounds}` : `set ${turn.round + 1}`);
      if (turn.side) parts.push(`${turn.side} side`);
      return parts.join(" · ");
    },
    then(stands, turn, nextTurn) {
      if (!nextTurn) return "Then: done";
      if (nextTurn.slot === turn.slot && nextTurn.round === turn.round)
        return `Then: the ${nextTurn.side} side, without a rest`;
      const rest = Math.max(nextTurn.rest_s, nextTurn.change_s);
      const what = nextTurn.slot === turn.slot ? `set ${nextTurn.round + 1}` : this.nameOf(stands, nextTurn.slot);
      return rest > 0 ? `Then: ${what}, after ${rest} s` : `Then: ${what}, at once`;
    },
    jobs(stands, turns) {
      const left = open(turns, stands.done);
      return this.pack.stations.map((station) => ({
        slot: station.slot,
        name: this.nameOf(stands, station.slot),
        left: new Set(left.filter((t) => t.slot === station.slot).map((t) => t.round)).size,
        shut: closed(this.pack, stands).includes(station.slot),
      }));
    },
    summary(stands, turns, marks) {
      const sets = new Set(turns.flatMap((t, i) => (marks[i] ? [`${t.slot}/${t.round}`] : []))).size;
      const reps = stands.done.reduce((sum, d) => sum + (d.reps ?? 0), 0);
      const held = stands.done.reduce((sum, d) => sum + (d.seconds ?? 0), 0);
      const [from, to] = [stands.done[0], stands.done.at(-1)].map((d) => (d ? new Date(d.at) : null));
      const minutes = from ? Math.max(1, Math.round((to - from) / 60000)) : 0;
      const lines = [`${sets} ${sets === 1 ? "set" : "sets"}`];
      if (reps > 0) lines.push(`${reps} repetitions`);
      if (held > 0) lines.push(`${held} s held or worked`);
      if (minutes > 1) lines.push(`${minutes} min from the first to the last set`);
      return lines;
    },
    rungOf(slot, choice) {
      const rung = this.local.rungs[`${slot}/${choice.exercise}`] ?? 0;
      return choice.at + rung in choice.steps ? rung : 0;
    },

    // Clocks.
    tick() {
      const before = this.now;
      this.now = Date.now();
      const until = this.view?.until ?? 0;
      if (until > before && until <= this.now && this.resting !== null) {
        voice.tone("go", 0.4);
        voice.tremble([150, 80, 150]);
        voice.say("next set");
      }
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
      if (this.pacing !== null) return "Stop";
      const { timed, parts } = this.view.turn;
      return timed !== null || parts.length > 0 ? "Start the clock" : "Start the tempo";
    },
    get depth() {
      return `translate(0 ${((this.pacing?.depth ?? 0) * 150).toFixed(1)})`;
    },
    togglePace() {
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
    fields(stop) {
      const { form, view } = this;
      const all = [
        ["reps", form.reps],
        ["seconds", form.seconds],
        ["rir", view.turn.reserve === null || stop ? "" : this.chosenRir],
        ["side", view.choice.one_sided ? this.chosenSide : ""],
        ["pain", form.pain],
        ["pain_at", form.painAt],
        ["pain_side", form.painSide],
        ["form", form.broken ? "broken" : ""],
        ["felt_at", form.feltAt],
        ["stop", stop ? "1" : ""],
      ];
      return [...all.filter(([, value]) => value !== ""), ...form.seen.map((id) => ["seen", id])];
    },
    wrong(stop) {
      const { form, view } = this;
      const whole = (text, least, most) => /^\d+$/.test(text) && Number(text) >= least && Number(text) <= most;
      if (stop && (form.pain === "" || form.pain === "0")) return "Say how strong it is, from 1 to 10.";
      if (Number(form.pain || 0) >= 4 && form.painAt === "") return "Say where it hurts, so that it can be spared.";
      if (stop && form.reps === "") return "";
      if (view.turn.reps && !whole(form.reps, 0, 100)) return "Tap or type how many repetitions were done, 0 to 100.";
      if (view.turn.seconds && !whole(form.seconds, 1, 900)) return "Tap or type the seconds, 1 to 900.";
      return "";
    },
    async log(stop) {
      this.error = this.wrong(stop);
      if (this.error) return;
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
          fields: this.fields(stop),
          supersedes: form.correcting,
          exercise: view.choice.exercise,
        },
        view.choice.name,
      );
      if (this.pace.turn) this.stopPace();
      const { painAt } = form;
      this.form = fresh();
      this.sheet = "";
      this.remember({ wanted: view.turn.slot === this.local.wanted ? null : this.local.wanted });
      voice.wake();
      stayAwake();
      if (hurt) {
        // What does not load the joint that hurts.
        this.form.painAt = painAt;
        this.remember({ wanted: null });
        this.hurtAt = view.turn.slot;
        this.sheet = "painless";
      }
      this.draw();
    },
    // Says something: kept first, then sent.
    async say(said, name = "") {
      const entry = {
        id: crypto.randomUUID(),
        link: this.link,
        session: this.session,
        at: new Date().toISOString(),
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
      const rungs = choice.at + to in choice.steps ? { [`${turn.slot}/${choice.exercise}`]: to } : {};
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
      this.remember({ rungs: { ...this.local.rungs, [`${turn.slot}/${choice.exercise}`]: rung + by } });
      this.draw();
    },
    async skip() {
      await this.say({ kind: "skip", slot: this.view.turn.slot, reason: this.reason });
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
        .filter((c) => c.i > 0 && !c.joints.includes(this.form.painAt));
    },
    answerPain(slot) {
      const last = this.view.done.find((d) => d.slot === slot && d.hurt);
      this.form.painAt = last?.pain_at ?? "";
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
      this.sheet = this.sheet === sheet ? "" : sheet;
    },
    close() {
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
