// Paces a set: repetitions by their tempo, holds and stations by the clock, a mixed set part by part. What is shown, heard and said is
// worked out from when it began, so that a screen that was locked goes on where it should be.

// Where in a repetition a time lies: its phase, how far down the mark is, and seconds into the phase.
export function within(tempo, time) {
  const [down, bottom, up, top] = tempo;
  const phases = [
    ["down", down, (t) => t / down],
    ["bottom", bottom, () => 1],
    ["up", up, (t) => 1 - t / up],
    ["top", top, () => 0],
  ];
  let left = time % (down + bottom + up + top);
  for (const [phase, seconds, depth] of phases) {
    if (left < seconds) return { phase, depth: depth(left), second: Math.floor(left) + 1 };
    left -= seconds;
  }
  return { phase: "top", depth: 0, second: 1 };
}

// Repetitions that are done by a time.
export const repsBy = (tempo, time) => Math.floor(time / tempo.reduce((a, b) => a + b, 0));

// The part of a mixed set at a time; null when it is over.
export function partAt(parts, time) {
  let from = 0;
  for (const [i, part] of parts.entries()) {
    if (time < from + part.seconds) return { i, part, left: Math.ceil(from + part.seconds - time) };
    from += part.seconds;
  }
  return null;
}

// What is called at so many seconds before the end of a station or hold.
export const CALLS = [15, 10, 5];

const WORDS = { down: "down", bottom: "hold", up: "up", top: "wait" };

export class Pace {
  constructor(voice, moved) {
    this.voice = voice;
    this.moved = moved;
    this.turn = null;
  }

  start(turn, began = Date.now()) {
    Object.assign(this, { turn, began, last: "", lastRep: 0, called: null });
    this.step();
  }

  stop() {
    const time = this.time();
    this.turn = null;
    clearTimeout(this.timer);
    return time;
  }

  time() {
    return this.turn ? (Date.now() - this.began) / 1000 : 0;
  }

  step() {
    if (!this.turn) return;
    const shown = this.at(this.time());
    this.moved(shown);
    if (shown.over && this.turn.parts.length > 0) {
      this.stop();
      return;
    }
    this.timer = setTimeout(() => this.step(), 50);
  }

  // What is shown at a time; what is heard goes with it.
  at(time) {
    const { turn } = this;
    if (turn.parts.length > 0) return this.mixed(turn.parts, time);
    if (turn.timed !== null) return this.timed(turn.timed, time);
    return this.reps(turn, time);
  }

  reps(turn, time) {
    const { phase, depth, second } = within(turn.tempo, time);
    const rep = repsBy(turn.tempo, time);
    if (`${phase}${rep}` !== this.last) {
      this.last = `${phase}${rep}`;
      this.voice.tone(phase);
      this.voice.say(WORDS[phase]);
      this.second = 1;
    } else if (second !== this.second) {
      this.second = second;
      this.voice.say(String(second));
    }
    if (rep !== this.lastRep) {
      this.lastRep = rep;
      const left = turn.zone ? turn.zone[1] - rep : 0;
      if (left === 2) this.voice.say("two to go");
      if (left === 0 && turn.zone) this.voice.tremble(120);
    }
    return { depth, phase: WORDS[phase], big: String(rep), small: rep === 1 ? "rep" : "reps", over: false };
  }

  timed(asked, time) {
    const left = Math.ceil(asked - time);
    if (CALLS.includes(left) && this.called !== left && asked > left) {
      this.called = left;
      this.voice.tone("call");
      this.voice.say(`${left} seconds`);
    }
    if (left <= 0 && this.called !== 0) {
      this.called = 0;
      this.voice.tone("end", 0.5);
      this.voice.tremble([200, 100, 200]);
    }
    const shown = left > 0 ? String(left) : `+${Math.floor(time - asked)}`;
    const tempo = this.turn.tempo && left > 0 ? within(this.turn.tempo, time) : null;
    return { depth: tempo?.depth ?? null, phase: "", big: shown, small: "s", over: left <= 0 };
  }

  mixed(parts, time) {
    const at = partAt(parts, time);
    if (!at) {
      this.voice.tone("end", 0.5);
      this.voice.tremble([200, 100, 200]);
      return { depth: null, phase: "", big: "0", small: "s", part: parts.length, over: true };
    }
    if (this.last !== String(at.i)) {
      this.last = String(at.i);
      this.voice.tone(at.part.held ? "bottom" : "go");
      this.voice.say(at.part.text);
      this.voice.tremble(80);
    }
    return { depth: null, phase: at.part.text, big: String(at.left), small: "s", part: at.i, over: false };
  }
}
