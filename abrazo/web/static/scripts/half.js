// What is half typed stays: in this window when the screen is locked, for the same person; on the page when something
// else is looked for or opened on it.
import { onSwap } from "./swap.js";

const PLACE = "half-typed";
const SECRET = "[type=password], [type=hidden], [type=file], [name=pin], [name=code], [name=number], [name=expiry]";
const fields = () => [...document.querySelectorAll("main form :is(input, textarea, select)")].filter((one) => one.name && !one.matches(SECRET));
const place = () => ({ at: location.pathname + location.search, who: document.getElementById("main")?.dataset.who });
const OF = ["payer", "line", "item", "changing", "booking", "guest", "payment", "giver"]; // what a form is about
const about = (form) => OF.map((name) => form.querySelector(`[type=hidden][name=${name}]`)?.value || "").join(",");
const alike = (one) => [...one.form.elements].filter((other) => other.name === one.name).indexOf(one);
const here = (one) => [one.form.getAttribute("action"), about(one.form), one.name, alike(one)].join(" ");

function changed(one) {
  if (one.matches("[type=checkbox], [type=radio]")) return one.checked !== one.defaultChecked;
  return one.matches("select") ? [...one.options].some((option) => option.selected !== option.defaultSelected) : one.value !== one.defaultValue;
}

/** Keep what is half typed, as the screen is being locked. */
export function keepHalf() {
  const typed = fields().filter(changed).map((one) => [here(one), one.value, one.checked]);
  if (typed.length) sessionStorage.setItem(PLACE, JSON.stringify({ ...place(), typed }));
}

function putBack() {
  const kept = JSON.parse(sessionStorage.getItem(PLACE) || "null");
  const now = place();
  if (!kept || !now.who || location.pathname === "/kept") return; // nobody is back yet, or on the way to their page
  sessionStorage.removeItem(PLACE);
  if (kept.who !== now.who || kept.at !== now.at) return;
  putInto(new Map(kept.typed.map(([name, value, checked]) => [name, { value, checked }])));
}

function putInto(values) {
  for (const one of fields()) {
    const was = values.get(here(one));
    if (!was || (was.usual !== undefined && (changed(one) || usual(one) !== was.usual))) continue; // the house says otherwise
    if (one.matches("[type=checkbox], [type=radio]")) one.checked = was.checked; else one.value = was.value;
    one.dispatchEvent(new Event("input", { bubbles: true }));
    one.dispatchEvent(new Event("change", { bubbles: true }));
  }
}

const usual = (one) => (one.matches("[type=checkbox], [type=radio]") ? `${one.value} ${one.defaultChecked}` : one.matches("select") ? "" : one.defaultValue);
let looking = null; // what was asked for last, when it only looks
let typed = new Map();
document.addEventListener("ajax:send", ({ target, detail }) => {
  const same = new URL(detail.action, location.href).pathname === location.pathname;
  looking = detail.method === "GET" && same ? target : null;
});
document.addEventListener("ajax:merge", () => {
  if (!looking) return;
  const others = fields().filter((one) => one.form !== looking && !one.closest("[role=search]") && changed(one));
  typed = new Map(others.map((one) => [here(one), { value: one.value, checked: one.checked, usual: usual(one) }]));
});

function keepTyped() {
  if (looking && typed.size) putInto(typed);
  looking = null;
  typed = new Map();
}

onSwap(keepTyped);
onSwap(putBack);
putBack();
