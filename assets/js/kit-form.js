// Shows only the fields of the chosen kind of kit. Without scripts all fields are shown and only the kind's are read.
export function kitForm() {
  return {
    kind: "",
    init() {
      this.choose();
    },
    choose() {
      this.kind = this.$refs.kind.value;
      for (const field of this.$root.querySelectorAll("[data-kinds]")) {
        field.hidden = !field.dataset.kinds.split(" ").includes(this.kind);
      }
    },
  };
}
