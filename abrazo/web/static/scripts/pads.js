// The keys of the PIN and of amounts, and the number of an item. A key types; nothing is computed.
import { scannedLately } from "./scan.js";

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

/** Whether what was typed is looked for now: a scanner's keys are no search, and what is on its way answers first. */
const may = () => !scannedLately() && !document.querySelector("[aria-busy]");

const soon = () => ({
  send() { if (may()) this.$root.requestSubmit(); },
});

const looking = () => ({
  look() { if (may()) this.$root.requestSubmit(this.$refs.look); },
});

const finder = () => ({
  look() { if (may() && this.$refs.q?.value.trim().length > 1) this.$root.requestSubmit(this.$refs.look); },
});

const stepper = () => ({
  step(by) {
    const field = this.$refs.number;
    field.value = Math.min(99, Math.max(1, (parseInt(field.value, 10) || 1) + by));
  },
  less() { this.step(-1); },
  more() { this.step(1); },
});

export function offer(Alpine) {
  Alpine.data("pinPad", () => keypad(0));
  Alpine.data("amountPad", () => keypad(12));
  Alpine.data("soon", soon);
  Alpine.data("looking", looking);
  Alpine.data("finder", finder);
  Alpine.data("stepper", stepper);
}
