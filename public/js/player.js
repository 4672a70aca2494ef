// Plays keyframes that the server worked out. It knows nothing of water.
import { byId, minutes } from "./page.js";
import { showState } from "./state.js";
import { setClock, simNow } from "./clock.js";
import { at } from "./keyframes.js";
import { drawCutAway } from "./cutaway.js";
import { drawRunning } from "./running.js";
import { speakNeedle } from "./spoken.js";

const NEEDLE_DEGREES_PER_PSID = 18;
const NEEDLE_ZERO_DEGREES = -135;
const SHORT_OF_TIME_MS = 300_000;

let frames = null;
let raw = null;
const drawn = { ms: null, frames: null };

/** Takes what the newest answer says is coming. */
export function takeFrames() {
  drawn.frames = null;
  const node = byId("frames");
  if (!node || node.dataset.frames === raw) return;
  raw = node.dataset.frames;
  frames = JSON.parse(raw);
  showState("paused", frames.paused);
  setClock(frames.now_ms, Boolean(frames.paused), (frames.pace || 100) / 100);
}

/** Draws what has changed since it was drawn last, and goes on doing so: nothing while time stands still. */
export function play() {
  const ms = frames ? simNow() : null;
  if (frames && (ms !== drawn.ms || frames !== drawn.frames)) {
    drawn.ms = ms;
    drawn.frames = frames;
    drawGauge(ms);
    speakNeedle(frames, ms);
    drawPoppet(ms);
    drawTube(ms);
    drawPressures(ms);
    if (frames.inside) drawCutAway(frames, ms);
    drawRunning(frames, ms);
    drawTimeLeft(ms);
    drawOutlets(ms);
    write(byId("clock"), minutes(ms));
  }
  requestAnimationFrame(play);
}

function write(node, words) {
  if (node && node.textContent !== words) node.textContent = words;
}

// How many of its own unit a psi is on a part of the picture.
function perPsi(node) {
  return Number(node.dataset.perPsi || 1);
}

function drawGauge(ms) {
  const psid = at(frames.needle, ms);
  const degrees = psid * NEEDLE_DEGREES_PER_PSID + NEEDLE_ZERO_DEGREES;
  // A projector shows the gauge twice.
  document.querySelectorAll("[data-needle]").forEach((needle) => {
    needle.setAttribute("transform", `rotate(${degrees.toFixed(2)})`);
  });
  const rate = frames.blurred ? 0 : (psid - at(frames.needle, ms - 500)) / 0.5;
  const width = Math.max(-92, Math.min(92, rate * 46));
  const face = frames.face ? at(frames.face, ms) : "on";
  document.querySelectorAll("[data-number]").forEach((number) => {
    write(number, shown(face, (psid * perPsi(number)).toFixed(1)));
    number.closest(".face").dataset.face = face;
  });
  document.querySelectorAll("[data-trend]").forEach((trend) => trend.setAttribute("d", `M0 51 h${width.toFixed(1)}`));
}

// What a digital face shows: nothing while it is off, asleep or too dark to read.
function shown(face, value) {
  if (frames.blurred) return "–";
  if (face === "on") return value;
  return face === "waking" ? "- - -" : "";
}

function drawPoppet(ms) {
  const poppet = document.querySelector("[data-poppet]");
  if (!poppet || !frames.poppet) return;
  const height = (124 - at(frames.poppet, ms) * 14).toFixed(1);
  poppet.setAttribute("transform", poppet.getAttribute("transform").replace(/ [\d.]+\)/, ` ${height})`));
}

function drawTube(ms) {
  const tube = document.querySelector("[data-tube]");
  if (!tube || !frames.tube) return;
  const below = Number(tube.dataset.brim) - at(frames.tube, ms);
  const gap = Math.max(0, Math.min(6, below)) * 14;
  tube.setAttribute("y", 28 + gap);
  tube.setAttribute("height", 84 - gap);
}

function drawPressures(ms) {
  const line = document.querySelector("[data-line-gauge]");
  if (line && frames.line_gauge) line.textContent = Math.round(at(frames.line_gauge, ms) * perPsi(line));
  document.querySelectorAll("[data-came-back]").forEach((node) => {
    const percent = frames.came_back && frames.came_back[node.dataset.cameBack];
    write(node, percent >= 0.1 ? `${percent.toFixed(percent < 10 ? 1 : 0)} % back` : "");
  });
  if (!frames.inside) return;
  document.querySelectorAll("[data-inside]").forEach((node) => {
    const points = frames.inside[node.dataset.inside];
    if (points) node.textContent = (at(points, ms) * perPsi(node)).toFixed(1);
  });
}

function drawTimeLeft(ms) {
  const left = document.querySelector("[data-left]");
  if (!left || frames.left_ms === undefined) return;
  const rest = frames.left_ms - (frames.paused ? 0 : ms - frames.now_ms);
  write(left, `${minutes(rest)} left`);
  left.classList.toggle("short", rest < SHORT_OF_TIME_MS);
}

function drawOutlets(ms) {
  for (const outlet of document.querySelectorAll("[data-outlet]")) {
    outlet.classList.toggle("spits", Boolean(frames.spits) && frames.spits.includes(outlet.dataset.outlet));
    const changes = frames.outlets[outlet.dataset.outlet];
    const word = changes && at(changes, ms);
    if (!changes || outlet.dataset.word === word) continue;
    outlet.dataset.word = word;
    outlet.setAttribute("class", outlet.getAttribute("class").replace(/flow-\w+/, `flow-${word}`));
    document.querySelectorAll(`[data-outlet-word="${outlet.dataset.outlet}"]`).forEach((node) => {
      node.textContent = word;
    });
  }
}
