// What stays in place when a part of the page is swapped.
const places = new Map();
let focused = null;
let typed = null; // what stands in a search field as its answer comes: more may have been typed meanwhile
let wanted = ""; // the field to stand in after a swap
const after = []; // what else is done then

/** By what something without an id is found again in a fresh page: where it leads, or what it sends. */
const sign = (one) => [one.tagName, one.getAttribute("href") || (one.form ? [one.form.action, one.name, one.value].join(" ") : one.textContent.trim())].join(" ");

const alike = (wanted) => [...document.querySelectorAll("#main a, #main button, #main summary")].filter((one) => sign(one) === wanted);

function foundAgain({ id, sign: wanted, nth }) {
  return id ? document.getElementById(id) : alike(wanted)[nth];
}

document.addEventListener("ajax:before", (event) => {
  places.clear();
  for (const pane of document.querySelectorAll("[data-keep]")) {
    places.set(pane.dataset.keep, { top: pane.scrollTop, rows: pane.querySelectorAll(".line").length });
  }
  const active = document.activeElement;
  const asked = event.target !== document; // by somebody here; else it is another's change that shows
  focused = active && active.id ? { id: active.id, at: active.selectionStart, asked } : null;
  if (active && !active.id && active !== document.body && !asked) {
    focused = { sign: sign(active), nth: alike(sign(active)).indexOf(active), asked };
  }
});

document.addEventListener("ajax:merge", () => {
  const active = document.activeElement;
  typed = active && active.id && active.closest("[role=search]") ? { id: active.id, value: active.value } : null;
});

function afterSwap() {
  for (const pane of document.querySelectorAll("[data-keep]")) {
    const place = places.get(pane.dataset.keep);
    if (!place) continue;
    const grew = "end" in pane.dataset && pane.querySelectorAll(".line").length > place.rows;
    pane.scrollTop = grew ? pane.scrollHeight : place.top;
  }
  const again = focused && foundAgain(focused);
  const left = again && focused.id === "finder" && focused.asked && !("typing" in again.dataset); // what was looked for is found
  if (again && !left && document.activeElement === document.body) {
    again.focus();
    if (focused.id && focused.at !== null && again.setSelectionRange && again.type === "text") again.setSelectionRange(focused.at, focused.at);
  }
  if (again && typed && typed.id === again.id && document.activeElement === again && again.value !== typed.value) {
    again.value = typed.value;
    again.dispatchEvent(new Event("input", { bubbles: true })); // it is looked for again
  }
  typed = null;
  if (wanted) {
    document.getElementById(wanted)?.focus();
    wanted = "";
  }
  const title = document.querySelector("main h1");
  if (title) document.title = title.textContent.trim() + " · Abrazo";
  after.forEach((act) => act());
}
document.addEventListener("ajax:merged", afterSwap);

/** Do something after every swap. */
export const onSwap = (act) => after.push(act);

/** Stand in this field after the next swap. */
export const standIn = (id) => { wanted = id; };

/** Put a fresh main part in the place of the one that shows. */
export function putIn(fresh) {
  document.dispatchEvent(new Event("ajax:before"));
  const said = document.querySelector(".message-line"); // what was done here, and its undo, stay in sight
  const here = document.adoptNode(fresh);
  document.getElementById("main").replaceWith(here);
  if (said && !here.querySelector(".message-line")) here.querySelector("main").before(said);
  afterSwap();
}
