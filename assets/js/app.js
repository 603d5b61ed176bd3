import "htmx.org";
import Alpine from "@alpinejs/csp";
import { kitForm } from "./kit-form.js";
import { rest, tempo } from "./player.js";
import { theme } from "./theme-switch.js";
import "./keys.js";

Alpine.data("kitForm", kitForm);
Alpine.data("rest", rest);
Alpine.data("tempo", tempo);
Alpine.data("theme", theme);
Alpine.start();
