import "htmx.org";
import Alpine from "@alpinejs/csp";
import { kitForm } from "./kit-form.js";
import { rest, tempo } from "./player.js";
import { scale } from "./scale.js";
import { theme } from "./theme-switch.js";
import "./aims.js";
import "./keys.js";
import "./questions.js";
import "./rig.js";
import "./submits.js";
import "./wall.js";

Alpine.data("kitForm", kitForm);
Alpine.data("rest", rest);
Alpine.data("tempo", tempo);
Alpine.data("scale", scale);
Alpine.data("theme", theme);
Alpine.start();
