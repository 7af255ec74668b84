// Dragging tables on the floor plan and bookings on a day: the server sets them on its grid.
const floor = () => ({
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
    const form = document.getElementById(this.$root.dataset.moves);
    (form.elements.spot ?? form.elements.booking).value = held.spot.dataset.spot;
    form.elements.x.value = Math.round(Number(held.spot.dataset.x) + held.by[0]);
    form.elements.y.value = Math.round(Number(held.spot.dataset.y) + held.by[1]);
    form.requestSubmit();
  },
});

export function offer(Alpine) {
  Alpine.data("floor", floor);
}
