// The needle of the last minute, drawn as it is played; what was played again is drawn again.
import { at } from "./keyframes.js";

const EVERY_MS = 40;
const TOP_PX = 140;
const PX_PER_PSID = 9;

let points = null;

function height(psid) {
  return (TOP_PX - psid * PX_PER_PSID).toFixed(1);
}

export function drawRunning(frames, ms) {
  const svg = document.querySelector("[data-running]");
  if (!svg || !frames.needle) return;
  // What ran before the page was opened comes with it.
  points ||= JSON.parse(svg.dataset.known);
  const span = Number(svg.dataset.seconds) * 1000;
  const width = svg.viewBox.baseVal.width;
  const last = points[points.length - 1];
  if (last && ms < last[0]) points = points.filter(([at]) => at < ms);
  if (!points.length || ms - points[points.length - 1][0] >= EVERY_MS) points.push([ms, at(frames.needle, ms)]);
  points = points.filter(([when]) => when >= ms - span);
  // Folded away, it is kept and not drawn.
  if (svg.closest("details:not([open])")) return;
  const x = (when) => (((when - ms + span) / span) * width).toFixed(1);
  const line = points.map(([when, psid]) => `${x(when)},${height(psid)}`).join(" ");
  svg.querySelector("[data-running-line]").setAttribute("points", line);
  const acts = (frames.acts || []).filter(([when]) => when >= ms - span && when <= ms);
  svg.querySelector("[data-running-acts]").setAttribute("d", acts.map(([when]) => `M${x(when)} 0 V150`).join(" "));
  const told = document.querySelector("[data-running-act]");
  const words = acts.length ? acts[acts.length - 1][1] : "";
  if (told && told.textContent !== words) told.textContent = words;
}
