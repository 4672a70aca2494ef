// The needle of a whole attempt as a line: says what it stood at under the pointer, and goes to where it is pressed.
import { byId, minutes } from "./page.js";

let read = null;

function points() {
  const node = byId("trace");
  if (!node) return [];
  if (!read || read.node !== node) read = { node, list: JSON.parse(node.dataset.points) };
  return read.list;
}

// Between two points the needle runs in a straight line.
function psidAt(ms) {
  const list = points();
  const right = list.findIndex(([at]) => at >= ms);
  if (right <= 0) return right === 0 ? list[0][1] : list[list.length - 1][1];
  const [fromMs, from] = list[right - 1];
  const [toMs, to] = list[right];
  return toMs === fromMs ? to : from + ((to - from) * (ms - fromMs)) / (toMs - fromMs);
}

export function showNow(ms) {
  const figure = byId("trace");
  if (!figure) return;
  const width = figure.querySelector("svg").viewBox.baseVal.width;
  const x = ((ms / Number(figure.dataset.endMs)) * width).toFixed(1);
  byId("trace_now").setAttribute("d", byId("trace_now").getAttribute("d").replace(/^M[\d.]+/, `M${x}`));
  tell(figure, ms);
}

function tell(figure, ms) {
  const shown = psidAt(ms) * Number(figure.dataset.perPsi);
  byId("trace_value").textContent = `${minutes(ms)} needle ${shown.toFixed(1)}`;
}

function msUnder(figure, event) {
  const box = figure.querySelector("svg").getBoundingClientRect();
  const share = Math.max(0, Math.min(1, (event.clientX - box.left) / box.width));
  return share * Number(figure.dataset.endMs);
}

document.addEventListener("pointermove", (event) => {
  const figure = event.target.closest && event.target.closest("#trace");
  if (figure) tell(figure, msUnder(figure, event));
});

// Where the line itself is pressed, and not one of its marks.
export function pressed(event) {
  const figure = event.target.closest("#trace svg") && byId("trace");
  return figure && !event.target.closest("[data-seek]") ? msUnder(figure, event) : null;
}
