// What stays in place when a part of the page is swapped.
const places = new Map();
let focused = null;
let wanted = ""; // the field to stand in after a swap
const after = []; // what else is done then

document.addEventListener("ajax:before", (event) => {
  places.clear();
  for (const pane of document.querySelectorAll("[data-keep]")) {
    places.set(pane.dataset.keep, { top: pane.scrollTop, rows: pane.querySelectorAll(".line").length });
  }
  const active = document.activeElement;
  const found = active && active.id === "finder" && event.target !== document; // what was looked for is left behind
  focused = active && active.id && !found ? { id: active.id, at: active.selectionStart } : null;
});

function afterSwap() {
  for (const pane of document.querySelectorAll("[data-keep]")) {
    const place = places.get(pane.dataset.keep);
    if (!place) continue;
    const grew = "end" in pane.dataset && pane.querySelectorAll(".line").length > place.rows;
    pane.scrollTop = grew ? pane.scrollHeight : place.top;
  }
  const again = focused && document.getElementById(focused.id);
  if (again && document.activeElement === document.body) {
    again.focus();
    if (focused.at !== null && again.setSelectionRange && again.type === "text") again.setSelectionRange(focused.at, focused.at);
  }
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
  document.getElementById("main").replaceWith(document.adoptNode(fresh));
  afterSwap();
}
