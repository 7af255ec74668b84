// Small helps in the browser, by concern. Nothing is computed here: every figure comes from the server.
import "./connection.js";
import "./figures.js";
import "./idle.js";
import "./keys.js";
import "./live.js";
import "./place.js";
import { offer as floor } from "./floor.js";
import { offer as pads } from "./pads.js";
import { offer as signature } from "./signature.js";

document.addEventListener("alpine:init", () => {
  for (const offer of [floor, pads, signature]) offer(window.Alpine);
});
