// The hanging scale: shows what it streams while the band is held, and takes readings into the form.
export function scale() {
  return {
    figure: "– kg",
    state: "",
    source: null,
    last: null,
    band() {
      return document.getElementById("g-band").value;
    },
    // Resolves with the settled reading at a length.
    hold(length) {
      this.source?.close();
      this.$refs.take.disabled = true;
      this.state = "holding";
      const query = new URLSearchParams({ length });
      if (this.band()) query.set("band", this.band());
      return new Promise((resolve, reject) => {
        this.source = new EventSource(`/lab/scale?${query}`);
        this.source.onmessage = (event) => {
          const { kg, steady } = JSON.parse(event.data);
          this.figure = `${kg.toFixed(1)} kg`;
          if (!steady) return;
          this.source.close();
          this.state = "settled";
          this.last = { length, kg };
          this.$refs.take.disabled = false;
          resolve(this.last);
        };
        this.source.onerror = () => {
          this.source.close();
          this.state = "the scale does not answer: a length between 0.15 and 8 m is needed";
          reject(new Error("no reading"));
        };
      });
    },
    length() {
      return this.$refs.length.value.trim().replace(",", ".");
    },
    connect() {
      this.hold(this.length()).catch(() => {});
    },
    take() {
      if (this.last) this.enter(this.last);
      this.$refs.take.disabled = true;
    },
    // Into the first empty row, marked as simulated.
    enter({ length, kg }) {
      const rows = [...document.querySelectorAll("#readings .gauge-row")];
      const row = rows.find((r) => r.querySelector("[name=length]").value === "");
      if (!row) return;
      fill(row, { length, kg: kg.toFixed(1), from: "scale" });
      if (row === rows.at(-1)) this.more(row);
    },
    more(row) {
      const copy = row.cloneNode(true);
      fill(copy, { length: "", kg: "", from: "" });
      row.after(copy);
    },
    // Five lengths one after another, then the fit.
    async sweep() {
      for (const option of document.querySelectorAll("#s-lengths option")) {
        this.$refs.length.value = option.value;
        try {
          this.enter(await this.hold(option.value));
        } catch {
          return;
        }
      }
      document.getElementById("gauge").requestSubmit();
    },
  };
}

// The rows of readings: whatever is typed over a simulated reading is the trainer's own.
export function readings() {
  return {
    typed(event) {
      const row = event.target.closest(".gauge-row");
      if (row) mark(row, "");
    },
  };
}

function fill(row, { length, kg, from }) {
  row.querySelector("[name=length]").value = length;
  row.querySelector("[name=kg]").value = kg;
  mark(row, from);
}

function mark(row, from) {
  row.querySelector("[name=from]").value = from;
  row.querySelector(".sim").textContent = from ? "simulated" : "";
}
