// The scanner: a keyboard that types fast and ends with Enter, or the stand-in on the device desk.
import { onBack, watch } from "./connection.js";
import { anew, freshen } from "./fresh.js";
import { onSwap } from "./swap.js";

let ear = null;

function listen() {
  const form = document.getElementById("scan");
  if (!form) {
    ear?.close();
    ear = null;
    return;
  }
  if (ear && ear.readyState !== EventSource.CLOSED) return;
  ear = new EventSource(form.dataset.listen);
  watch(ear);
  ear.addEventListener("changed", (event) => freshen(JSON.parse(event.data)));
  ear.addEventListener("scan", (event) => scanned(JSON.parse(event.data).code));
}

let scannedAt = 0;
let forget = () => {};

/** Was a code read just now? */
export const scannedLately = () => Date.now() - scannedAt <= 600;

/** What has to be forgotten when keys turn out to be a code. */
export const onCode = (act) => { forget = act; };

function scanned(code) {
  scannedAt = Date.now();
  const form = document.getElementById("scan");
  if (!form || document.querySelector("dialog[open]")) return;
  form.elements.code.value = code;
  form.requestSubmit();
}

export const FAST = 70; // milliseconds between the keys of a scanner; people are slower
const burst = { keys: "", at: 0, field: null, before: "" };

document.addEventListener("keydown", (event) => {
  if (event.ctrlKey || event.metaKey || event.altKey || event.target.id === "device-code") return;
  const quick = event.timeStamp - burst.at < FAST;
  burst.at = event.timeStamp;
  if (event.key === "Enter" && quick && burst.keys.length >= 5) {
    event.preventDefault();
    event.stopImmediatePropagation();
    if (burst.field) burst.field.value = burst.before; // the code was not meant for the field
    scanned(burst.keys);
    burst.keys = "";
    forget(); // none of its keys was meant for the page
  } else if (event.key.length === 1) {
    if (!quick) {
      const field = event.target.matches("input, textarea") ? event.target : null;
      Object.assign(burst, { keys: "", field, before: field ? field.value : "" });
    }
    burst.keys += event.key;
  } else if (event.key !== "Shift") {
    burst.keys = "";
  }
}, true);

onSwap(listen);
onBack(anew);
listen();
