// Switches between light and dark and remembers the choice for a year.
export function theme() {
  return {
    label: "",
    init() {
      this.show();
    },
    show() {
      this.label = document.documentElement.dataset.bsTheme === "dark" ? "Light theme" : "Dark theme";
    },
    toggle() {
      const next = document.documentElement.dataset.bsTheme === "dark" ? "light" : "dark";
      document.documentElement.dataset.bsTheme = next;
      document.cookie = `theme=${next}; path=/; max-age=31536000; samesite=lax`;
      this.show();
    },
  };
}
