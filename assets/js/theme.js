// Runs before the first paint: without a choice of the trainer's, the theme follows the system.
const chosen = /(?:^|; )theme=(light|dark)/.exec(document.cookie)?.[1];
const system = matchMedia("(prefers-color-scheme: dark)").matches ? "dark" : "light";
document.documentElement.dataset.bsTheme = chosen ?? system;
