// Keys; a letter or digit acts only when it is known not to be the beginning of a scan.
import { FAST, onCode } from "./scan.js";
import { standIn } from "./swap.js";

const pending = []; // keys that wait to be told from a scan
let sorting = 0;

function actSoon(key) {
  pending.push(key);
  clearTimeout(sorting);
  sorting = setTimeout(() => {
    const keys = pending.splice(0);
    if (keys.length < 5) keys.forEach(act); // more at once was a scanner
  }, FAST + 20);
}

function act(key) {
  const find = (selector) => document.querySelector(selector);
  const start = find(`[data-start="${CSS.escape(key.toLowerCase())}"]`);
  const pad = find("[data-pad]");
  if (start) {
    standIn(start.dataset.then || "");
    start.click();
  } else if (pad) {
    pad.closest("form").querySelector(`[data-key="${CSS.escape(key)}"]`)?.click();
  } else {
    find(`[data-seat="${CSS.escape(key)}"]`)?.click();
  }
}

document.addEventListener("keydown", (event) => {
  const beside = event.target.matches("[type=radio], [type=checkbox]") && event.target.form?.querySelector("[data-pad]"); // a choice beside a pad
  const typing = event.target.matches("input, textarea, select") && !beside;
  const find = (selector) => document.querySelector(selector);
  if (event.ctrlKey || event.metaKey || event.altKey) return;
  if (event.key === "Escape") {
    if (find("dialog[open]")) return;
    if (typing) { event.target.blur(); return; }
    const back = find("[data-back]");
    if (back) { event.preventDefault(); back.click(); }
    return;
  }
  if (typing || find("dialog[open]")) return;
  const digit = /^\d$/.test(event.key);
  if (event.key === "/") { event.preventDefault(); find("[data-finder]")?.focus(); }
  else if (event.key === "." && find("#item-q")) { event.preventDefault(); find("#item-q").focus(); }
  else if (event.key === "?") { find("#keys")?.showModal(); }
  else if (find(`[data-start="${CSS.escape(event.key.toLowerCase())}"]`) || (digit && find("[data-pad], [data-seat]"))) {
    event.preventDefault();
    if (find("#scan")) actSoon(event.key); else act(event.key); // nothing is scanned where nobody is signed in
  }
});

onCode(() => { pending.length = 0; });
