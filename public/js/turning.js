// A knob or a lever in a hand that is followed: by a finger, a wheel, or a key held down. The page measures the hand;
// what it did is for the server to say. A position is sent a few times a second, as a ramp that took as long as the
// hand did; one that is lost is made good by the next.
import { byId } from "./page.js";
import { simNow } from "./clock.js";
import { post, waiting } from "./acts.js";
import { hold } from "./hands.js";

const EVERY_MS = 150;
const LOOK_MS = 30;
const REST_MS = 350;
// Without a line it is tried again so often.
const AGAIN_MS = 600;
const OVER_MS = [20, 3000];
// Nearer to its middle a finger has no direction; less of a way is a press, and no turn.
const HUB_PX = 7;
const PRESS_PX = 4;
// Where a position is told, in the drawing.
const ABOVE_KNOB = 66;
const ABOVE_LEVER = 50;
const WHEEL_DEGREES = 15;
// Degrees a second of a key held down, and with Shift.
const KEY_DEGREES = 180;
const KEY_SLOW_DEGREES = 45;

const turns = new Map();
const fingers = new Map();
const keys = { turn: null, last: 0, way: 0, slow: false };

const nodeOf = (valve) => byId(`c_${valve}`);
const rounded = (position) => Math.round(position * 1000) / 1000;

/** Takes up a control where it stands, or goes on with what another finger holds. */
function begin(valve) {
  const known = turns.get(valve);
  if (known) return Object.assign(known, { held: true });
  const { position, limit } = nodeOf(valve).dataset;
  const at = Number(position);
  const turn = { valve, limit: Number(limit), at, done: at, since: simNow(), held: true, busy: false, waits: 0 };
  turns.set(valve, turn);
  return turn;
}

/** Clockwise degrees of the hand; a stop is a stop, and no overshoot is kept. */
function moveBy(turn, degrees) {
  const node = nodeOf(turn.valve);
  if (!node) return;
  const by = degrees * Number(node.dataset.perDegree);
  turn.at = Math.max(0, Math.min(turn.limit, turn.at + by));
  draw(turn);
}

function draw(turn) {
  const node = nodeOf(turn.valve);
  const mark = node && node.querySelector("[data-mark]");
  if (!mark) return;
  const { x, y, zero, perDegree } = node.dataset;
  const degrees = Number(zero) + turn.at / Number(perDegree);
  mark.setAttribute("transform", `translate(${x} ${y}) rotate(${degrees.toFixed(1)})`);
  tell(turn, node);
}

function tell(turn, node) {
  const says = byId("turning");
  if (!says) return;
  const knob = turn.limit > 1;
  const { x, y } = middle(node).matrixTransform(says.ownerSVGElement.getScreenCTM().inverse());
  says.setAttribute("transform", `translate(${x} ${y - (knob ? ABOVE_KNOB : ABOVE_LEVER)})`);
  says.querySelector("text").textContent = knob ? turn.at.toFixed(2) : `${Math.round(turn.at * 100)} %`;
  says.classList.add("turning-on");
}

/** What the newest answer drew is drawn as the hand has it. */
export function drawTurns() {
  turns.forEach(draw);
}

function letGo(turn) {
  turn.held = false;
}

function look() {
  const now = simNow();
  turns.forEach((turn) => {
    const to = rounded(turn.at);
    if (turn.busy || Date.now() < turn.waits) return;
    if (Math.abs(to - turn.done) < 0.0005) {
      turn.since = now;
      if (!turn.held) end(turn);
    } else if (waiting() === 0 && (!turn.held || now - turn.since >= EVERY_MS)) {
      send(turn, to, now);
    }
  });
}

function send(turn, to, now) {
  turn.busy = true;
  const over = Math.round(Math.max(OVER_MS[0], Math.min(OVER_MS[1], now - turn.since)));
  const values = { kind: "turn", valve: turn.valve, to, over, seen_ms: Math.round(now) - over };
  if (turn.held) values.hand = "on";
  post("actions", values, (answer) => {
    turn.busy = false;
    turn.waits = answer.came ? 0 : Date.now() + AGAIN_MS;
    if (!answer.came) return;
    turn.since = now;
    const stands = answer.rest && answer.rest[turn.valve];
    // Another window, a pause: the knob is where the water thinks it is.
    if (stands === undefined || Math.abs(stands - to) > 0.002) return drop(turn, stands);
    turn.done = to;
    turn.fresh = !values.hand;
  });
}

function drop(turn, stands) {
  turns.delete(turn.valve);
  const node = nodeOf(turn.valve);
  if (node) draw(Object.assign(turn, { at: stands === undefined ? Number(node.dataset.position) : stands }));
  byId("turning")?.classList.remove("turning-on");
}

/** The buttons in hand say where it stands now. */
function end(turn) {
  turns.delete(turn.valve);
  if (!turns.size) byId("turning")?.classList.remove("turning-on");
  if (!turn.fresh) htmx.ajax("GET", `turned?valve=${turn.valve}`, { target: "#bench", swap: "none" });
}

// --- fingers and the mouse

// Of the knob or lever, on the screen, however the drawing of its assembly is turned.
function middle(node) {
  return new DOMPoint(0, 0).matrixTransform(node.querySelector("[data-mark]").getScreenCTM());
}

function pressed(event) {
  const node = event.target.closest?.("[data-per-degree]");
  if (!node || !byId("bench") || event.button > 0) return;
  fingers.set(event.pointerId, { valve: node.dataset.control, x: event.clientX, y: event.clientY, turn: null });
  hold(node.dataset.control);
}

function moved(event) {
  const finger = fingers.get(event.pointerId);
  const node = finger && nodeOf(finger.valve);
  if (!node) return;
  if (!finger.turn) {
    if (Math.hypot(event.clientX - finger.x, event.clientY - finger.y) < PRESS_PX) return;
    finger.turn = begin(finger.valve);
    node.ownerSVGElement.setPointerCapture(event.pointerId);
    finger.angle = angleAt(node, finger.x, finger.y);
  }
  // It was taken out of this hand.
  if (turns.get(finger.valve) !== finger.turn) return fingers.delete(event.pointerId);
  const angle = angleAt(node, event.clientX, event.clientY);
  if (angle === null) return;
  if (finger.angle !== null) moveBy(finger.turn, ((angle - finger.angle + 540) % 360) - 180);
  finger.angle = angle;
}

// Of a lever the whole of it is a handle; of a knob, too near to its middle there is no direction.
function angleAt(node, x, y) {
  const hub = middle(node);
  if (Math.hypot(x - hub.x, y - hub.y) < HUB_PX) return null;
  return (Math.atan2(y - hub.y, x - hub.x) * 180) / Math.PI;
}

function released(event) {
  const finger = fingers.get(event.pointerId);
  if (!finger) return;
  fingers.delete(event.pointerId);
  if (finger.turn) letGo(finger.turn);
}

function wheeled(event) {
  const node = event.target.closest?.("[data-per-degree]");
  if (!node || !byId("bench")) return;
  event.preventDefault();
  hold(node.dataset.control);
  const turn = begin(node.dataset.control);
  moveBy(turn, Math.sign(event.deltaY) * WHEEL_DEGREES);
  clearTimeout(turn.rest);
  turn.rest = setTimeout(() => letGo(turn), REST_MS);
}

// --- a key held down: to the left opens, to the right closes, as a hand would

const WAYS = { ArrowLeft: -1, ArrowRight: 1 };

function keyDown(event) {
  if (!WAYS[event.key] || event.ctrlKey || event.altKey || event.metaKey || !byId("bench")) return;
  if (event.target.closest("input, select, textarea, [role='tab']")) return;
  const node = document.querySelector("[data-per-degree].in-hand");
  if (!node) return;
  event.preventDefault();
  const way = WAYS[event.key] * (Number(node.dataset.perDegree) < 0 ? 1 : -1);
  Object.assign(keys, { way, slow: event.shiftKey });
  if (keys.turn) return;
  keys.turn = begin(node.dataset.control);
  keys.last = performance.now();
  requestAnimationFrame(keyHeld);
}

function keyHeld() {
  if (!keys.turn) return;
  const now = performance.now();
  const speed = keys.slow ? KEY_SLOW_DEGREES : KEY_DEGREES;
  moveBy(keys.turn, (keys.way * speed * (now - keys.last)) / 1000);
  keys.last = now;
  requestAnimationFrame(keyHeld);
}

function keyUp(event) {
  if (!WAYS[event.key] || !keys.turn) return;
  letGo(keys.turn);
  keys.turn = null;
}

function lostSight() {
  fingers.forEach((finger) => finger.turn && letGo(finger.turn));
  fingers.clear();
  if (keys.turn) letGo(keys.turn);
  keys.turn = null;
}

document.addEventListener("pointerdown", pressed);
document.addEventListener("pointermove", moved);
document.addEventListener("pointerup", released);
document.addEventListener("pointercancel", released);
document.addEventListener("wheel", wheeled, { passive: false });
document.addEventListener("keydown", keyDown);
document.addEventListener("keyup", keyUp);
window.addEventListener("blur", lostSight);
setInterval(look, LOOK_MS);
