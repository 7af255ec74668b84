// What is half typed when the screen is locked stays in this window; the same person finds it in its fields again.
import { onSwap } from "./swap.js";

const PLACE = "half-typed";
const SECRET = "[type=password], [type=hidden], [type=file], [name=pin], [name=code], [name=number], [name=expiry]";
const fields = () => [...document.querySelectorAll("main form :is(input, textarea, select)")].filter((one) => one.name && !one.matches(SECRET));
const place = () => ({ at: location.pathname + location.search, who: document.getElementById("main")?.dataset.who });
const here = (one) => [one.form.getAttribute("action"), one.name, fields().filter((other) => other.name === one.name && other.form === one.form).indexOf(one)].join(" ");

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
  const values = new Map(kept.typed.map(([name, ...value]) => [name, value]));
  for (const one of fields()) {
    const [value, checked] = values.get(here(one)) || [];
    if (value === undefined) continue;
    if (one.matches("[type=checkbox], [type=radio]")) one.checked = checked; else one.value = value;
    one.dispatchEvent(new Event("input", { bubbles: true }));
  }
}

onSwap(putBack);
putBack();
