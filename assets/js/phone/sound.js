// Sounds, words and trembling: whoever lies face down sees no screen. One switch turns all of it off, another the words alone.
let context = null;

const TONES = { down: 330, bottom: 247, up: 494, top: 392, go: 660, call: 880, end: 988 };

export const voice = {
  muted: false,
  spoken: false,

  // Browsers let a page sound only after a tap.
  wake() {
    context ??= window.AudioContext ? new AudioContext() : null;
    context?.resume();
  },

  tone(name, seconds = 0.12) {
    if (this.muted || !context) return;
    const [sound, volume] = [context.createOscillator(), context.createGain()];
    const now = context.currentTime;
    sound.frequency.value = TONES[name];
    sound.type = name === "down" || name === "bottom" ? "sine" : "triangle";
    volume.gain.setValueAtTime(0.25, now);
    volume.gain.exponentialRampToValueAtTime(0.001, now + seconds);
    sound.connect(volume).connect(context.destination);
    sound.start(now);
    sound.stop(now + seconds);
  },

  say(text) {
    if (this.muted || !this.spoken || !window.speechSynthesis) return;
    speechSynthesis.cancel();
    speechSynthesis.speak(new SpeechSynthesisUtterance(text));
  },

  tremble(pattern) {
    if (!this.muted) navigator.vibrate?.(pattern);
  },
};

// The screen stays on while the workout is on it.
let lock = null;
export async function stayAwake() {
  try {
    lock = lock && !lock.released ? lock : await navigator.wakeLock?.request("screen");
  } catch {
    // A phone that saves its battery may refuse.
  }
}
document.addEventListener("visibilitychange", () => lock && document.visibilityState === "visible" && stayAwake());
