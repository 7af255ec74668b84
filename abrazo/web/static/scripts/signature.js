// Signing on the screen: the strokes as points of the field.
const signature = () => ({
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
});

export function offer(Alpine) {
  Alpine.data("signature", signature);
}
