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
    // Into the first empty row.
    enter({ length, kg }) {
      const lengths = [...document.querySelectorAll("#readings input[name=length]")];
      const row = lengths.find((input) => input.value === "");
      if (!row) return;
      row.value = length;
      row.nextElementSibling.value = kg.toFixed(1);
      if (row === lengths.at(-1)) this.more(row);
    },
    more(row) {
      for (const source of [row.nextElementSibling, row]) {
        const copy = source.cloneNode();
        copy.value = "";
        document.getElementById("readings").append(copy);
      }
      const readings = document.getElementById("readings");
      const inputs = [...readings.querySelectorAll("input")].slice(-2);
      if (inputs[0].name === "kg") readings.append(inputs[0]);
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
