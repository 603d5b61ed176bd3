// The tempo lift: a mark that travels down, waits, travels up and waits, in the prescribed seconds.
export function tempo() {
  return {
    running: false,
    label: "Start the tempo",
    began: 0,
    toggle() {
      this.running = !this.running;
      this.label = this.running ? "Stop the tempo" : "Start the tempo";
      if (this.running) {
        this.began = performance.now();
        requestAnimationFrame((now) => this.move(now));
      }
    },
    move(now) {
      if (!this.running || !this.$root.isConnected) return;
      const { lowering, bottom, lifting, top } = this.$root.dataset;
      const [down, low, up, high] = [lowering, bottom, lifting, top].map(Number);
      let t = ((now - this.began) / 1000) % (down + low + up + high);
      let depth;
      if (t < down) depth = t / down;
      else if ((t -= down) < low) depth = 1;
      else if ((t -= low) < up) depth = 1 - t / up;
      else depth = 0;
      const mark = this.$refs.mark;
      const travel = Number(mark.dataset.travel);
      mark.setAttribute("transform", `translate(0 ${(depth * travel).toFixed(1)})`);
      requestAnimationFrame((next) => this.move(next));
    },
  };
}

// The rest clock counts down from when the last set was logged.
export function rest() {
  return {
    text: "",
    init() {
      this.until = Number(this.$root.dataset.until) * 1000;
      this.tick();
    },
    tick() {
      const left = Math.ceil((this.until - Date.now()) / 1000);
      this.text = left > 0 ? `Rest ${left} s` : "Rest is over";
      if (left > 0 && this.$root.isConnected) setTimeout(() => this.tick(), 250);
    },
  };
}

// The clock of a hold or timed station counts down the seconds asked for, and on above zero where one holds longer.
const LONG = 120;
// Seconds as they are read from afar: 45, and 5:00 where it is long.
function clockText(seconds, asked) {
  if (asked < LONG) return String(seconds);
  return `${Math.floor(seconds / 60)}:${String(seconds % 60).padStart(2, "0")}`;
}

export function hold() {
  return {
    running: false,
    label: "Start the clock",
    left: "",
    init() {
      // Where the seconds are bound, they come a moment later.
      if (this.$root.dataset.seconds === undefined) {
        this.$nextTick(() => this.init());
        return;
      }
      this.asked = Number(this.$root.dataset.seconds);
      this.left = clockText(this.asked, this.asked);
    },
    toggle() {
      this.running = !this.running;
      this.label = this.running ? "Stop the clock" : "Start the clock";
      if (!this.running) return;
      this.began = Date.now();
      this.tick();
    },
    tick() {
      if (!this.running || !this.$root.isConnected) return;
      const gone = Math.floor((Date.now() - this.began) / 1000);
      this.left =
        gone <= this.asked ? clockText(this.asked - gone, this.asked) : `+${clockText(gone - this.asked, this.asked)}`;
      setTimeout(() => this.tick(), 200);
    },
  };
}
