// Small helps in the browser. Nothing is computed here: every figure comes from the server.
document.addEventListener("alpine:init", () => {
  const Alpine = window.Alpine;

  const keypad = (most) => ({
    fresh: true, // the first key replaces what the server filled in
    press(event) {
      const field = this.$refs.field;
      const key = event.currentTarget.dataset.key;
      const value = this.fresh && most ? key : field.value + key;
      field.value = value.slice(0, most || field.maxLength);
      this.fresh = false;
      field.dispatchEvent(new Event("input", { bubbles: true }));
    },
    rubOut() {
      const field = this.$refs.field;
      field.value = field.value.slice(0, -1);
      this.fresh = false;
      field.dispatchEvent(new Event("input", { bubbles: true }));
    },
    clear() {
      this.$refs.field.value = "";
      this.$refs.field.focus();
    },
    send() {
      const field = this.$refs.field;
      if (field && /\d$/.test(field.value)) this.$root.requestSubmit();
    },
    typed() {
      const field = this.$refs.field;
      if (field.value.length === field.maxLength) this.$root.requestSubmit();
    },
  });
  Alpine.data("pinPad", () => keypad(0));
  Alpine.data("amountPad", () => keypad(12));

  Alpine.data("floor", () => ({
    held: null, // the table under the finger, and where the finger began
    place(event) {
      const point = new DOMPoint(event.clientX, event.clientY).matrixTransform(this.$root.getScreenCTM().inverse());
      return [point.x, point.y];
    },
    begin(event) {
      const spot = event.target.closest("[data-spot]");
      if (spot) this.held = { spot, from: this.place(event), by: [0, 0] };
    },
    drag(event) {
      if (!this.held) return;
      const at = this.place(event);
      this.held.by = [at[0] - this.held.from[0], at[1] - this.held.from[1]];
      this.held.spot.setAttribute("transform", `translate(${this.held.by[0]} ${this.held.by[1]})`);
    },
    drop() {
      const held = this.held;
      this.held = null;
      if (!held || Math.hypot(...held.by) < 4) return;
      held.spot.addEventListener("click", (event) => { event.preventDefault(); event.stopImmediatePropagation(); }, { once: true, capture: true });
      const form = document.getElementById("floor-move");
      form.elements.spot.value = held.spot.dataset.spot;
      form.elements.x.value = Math.round(Number(held.spot.dataset.x) + held.by[0]);
      form.elements.y.value = Math.round(Number(held.spot.dataset.y) + held.by[1]);
      form.requestSubmit();
    },
  }));

  Alpine.data("signature", () => ({
    drawing: false,
    point(event) {
      const field = this.$refs.field, box = field.getBoundingClientRect();
      const x = Math.round(((event.clientX - box.left) * field.width) / box.width);
      const y = Math.round(((event.clientY - box.top) * field.height) / box.height);
      return [Math.max(0, Math.min(field.width, x)), Math.max(0, Math.min(field.height, y))];
    },
    begin(event) {
      this.drawing = true;
      this.$refs.field.setPointerCapture(event.pointerId);
      const pen = this.$refs.field.getContext("2d"), at = this.point(event);
      Object.assign(pen, { lineWidth: 3, lineCap: "round", lineJoin: "round", strokeStyle: "#14282b" });
      pen.beginPath();
      pen.moveTo(...at);
      const strokes = this.$refs.strokes;
      strokes.value += (strokes.value ? ";" : "") + at.join(",");
    },
    draw(event) {
      if (!this.drawing) return;
      const pen = this.$refs.field.getContext("2d"), at = this.point(event);
      pen.lineTo(...at);
      pen.stroke();
      this.$refs.strokes.value += " " + at.join(",");
    },
    end() { this.drawing = false; },
    clear() {
      const field = this.$refs.field;
      field.getContext("2d").clearRect(0, 0, field.width, field.height);
      this.$refs.strokes.value = "";
    },
  }));

  Alpine.data("soon", () => ({
    send() { if (Date.now() - scannedAt > 600) this.$root.requestSubmit(); }, // what a scanner typed is no search
  }));

  Alpine.data("stepper", () => ({
    step(by) {
      const field = this.$refs.number;
      field.value = Math.min(99, Math.max(1, (parseInt(field.value, 10) || 1) + by));
    },
    less() { this.step(-1); },
    more() { this.step(1); },
  }));
});

// ---- what stays in place when a part of the page is swapped

const places = new Map();
let focused = null;
let wanted = ""; // the field to stand in after a swap

document.addEventListener("ajax:before", () => {
  places.clear();
  for (const pane of document.querySelectorAll("[data-keep]")) {
    places.set(pane.dataset.keep, { top: pane.scrollTop, rows: pane.querySelectorAll(".line").length });
  }
  const active = document.activeElement;
  focused = active && active.id && active.id !== "finder" ? { id: active.id, at: active.selectionStart } : null;
});

const afterSwap = () => {
  touched = false;
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
  listen();
  const title = document.querySelector("main h1");
  if (title) document.title = title.textContent.trim() + " · Abrazo";
  follow();
};
document.addEventListener("ajax:merged", afterSwap);

// ---- a charge on a card machine, live

let stream = null;

function follow() {
  const live = document.querySelector("[data-live]");
  const url = live ? live.dataset.live : "";
  if (stream && stream.address === url) return;
  if (stream) stream.close();
  stream = null;
  if (!url) return;
  stream = new EventSource(url);
  stream.address = url;
  stream.addEventListener("error", () => {
    if (!stream || stream.readyState !== EventSource.CLOSED) return; // else it connects again by itself
    stream = null;
    setTimeout(follow, 1000);
  });
  stream.addEventListener("step", (event) => show(JSON.parse(event.data).step));
  stream.addEventListener("ended", (event) => {
    stream.close();
    stream = null;
    const here = document.querySelector("[data-live]");
    const onward = here && here.querySelector("[data-onward]");
    if (!onward) return;
    if ("quiet" in here.dataset) {
      onward.href = window.location.pathname + window.location.search; // somebody else's charge: stay here
    } else {
      onward.href = JSON.parse(event.data).onward;
    }
    onward.click();
  });
}

function show(step) {
  for (const word of document.querySelectorAll("[data-step]")) word.textContent = step;
  let past = true;
  for (const item of document.querySelectorAll(".steps li")) {
    const now = item.dataset.name === step;
    if (now) past = false;
    item.className = now ? "now" : past ? "past" : "";
  }
}
document.addEventListener("DOMContentLoaded", follow);

// ---- the scanner: a keyboard that types fast and ends with Enter, or the stand-in on the device desk

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
  ear.addEventListener("changed", (event) => freshen(JSON.parse(event.data)));
  ear.addEventListener("scan", (event) => scanned(JSON.parse(event.data).code));
}
document.addEventListener("DOMContentLoaded", listen);

let scannedAt = 0;

function scanned(code) {
  scannedAt = Date.now();
  const form = document.getElementById("scan");
  if (!form || document.querySelector("dialog[open]")) return;
  form.elements.code.value = code;
  form.requestSubmit();
}

const FAST = 70; // milliseconds between the keys of a scanner; people are slower
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
    pending.length = 0; // none of its keys was meant for the page
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

// ---- what others do shows here within a second, unless somebody is in the middle of something

let touched = false; // typed, ticked or unfolded since the page came
let waiting = null; // a change that is not shown yet
let fetching = false;
for (const kind of ["input", "change", "click"]) {
  document.addEventListener(kind, (event) => {
    if (event.isTrusted && event.target.closest?.(kind === "click" ? "main summary" : "main")) touched = true;
  }, true);
}

function freshen(news) {
  const main = document.getElementById("main");
  const place = document.querySelector("[data-fresh], [data-fresh-ticket]");
  if (!main || !place || !main.dataset.seen || Number(main.dataset.seen) >= news.change) return;
  const ticket = Number(place.dataset.freshTicket || 0);
  if (ticket && !news.tickets.includes(ticket)) return;
  if (!waiting) setTimeout(showNews, 150);
  waiting = { change: news.change, tries: 0 };
}

const inUse = () => fetching || document.querySelector("[aria-busy], dialog[open], [data-live]");

async function showNews() {
  const main = document.getElementById("main");
  if (!waiting || !main?.dataset.seen || Number(main.dataset.seen) >= waiting.change) { waiting = null; return; }
  if (touched) {
    document.querySelector("[data-news]")?.removeAttribute("hidden");
    waiting = null;
    return;
  }
  if (inUse()) {
    waiting.tries += 1;
    if (waiting.tries < 40) setTimeout(showNews, 250); else waiting = null;
    return;
  }
  const address = window.location.href;
  fetching = true;
  waiting = null;
  try {
    const answer = await fetch(address, { headers: { "X-Fresh": "yes" } });
    const page = answer.ok && !answer.redirected ? new DOMParser().parseFromString(await answer.text(), "text/html") : null;
    const fresh = page && page.getElementById("main");
    if (fresh && window.location.href === address && !touched && !document.querySelector("[aria-busy], dialog[open]")) {
      document.dispatchEvent(new Event("ajax:before"));
      document.getElementById("main").replaceWith(document.adoptNode(fresh));
      afterSwap();
    }
  } catch { /* the house is not there just now; the next change shows it */ } finally { fetching = false; }
}

// ---- figures that follow a form while it is being filled in; the server reckons them

document.addEventListener("change", async (event) => {
  const form = event.target.closest("form[data-look]");
  if (!form) return;
  const answer = await fetch(form.dataset.look, { method: "POST", body: new FormData(form) });
  const place = form.querySelector("[data-looked]");
  if (answer.ok && place) place.textContent = await answer.text();
});

// ---- keys; a letter or digit acts only when it is known not to be the beginning of a scan

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
    wanted = start.dataset.then || "";
    start.click();
  } else if (pad) {
    pad.closest("form").querySelector(`[data-key="${CSS.escape(key)}"]`)?.click();
  } else {
    find(`[data-seat="${CSS.escape(key)}"]`)?.click();
  }
}

document.addEventListener("keydown", (event) => {
  const typing = event.target.matches("input, textarea, select");
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
    actSoon(event.key);
  }
});
