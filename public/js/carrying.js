// Things that are carried: a hose's end to a test cock and off again, a fitting out of its box, the gauge up and down.
// Where it is let go is for the page to find; whether it can be there, the server says.
import { byId } from "./page.js";
import { post } from "./acts.js";
import { hold } from "./hands.js";

const PRESS_PX = 5;
const SNAP = 46;
const LET_GO = 1.35;
const PULLED_OFF = 70;
// A finger hides what lies under it.
const ABOVE_FINGER_PX = 34;
const INCH = 0.5;

let carried = null;

const scene = () => document.querySelector("#drawing svg.scene");

function inScene(event) {
  const svg = scene();
  const y = event.clientY - (event.pointerType === "touch" ? ABOVE_FINGER_PX : 0);
  return new DOMPoint(event.clientX, y).matrixTransform(svg.getScreenCTM().inverse());
}

const seats = () =>
  [...document.querySelectorAll("[data-seat]")].map((node) => ({
    id: node.dataset.seat,
    x: Number(node.dataset.seatX),
    y: Number(node.dataset.seatY),
  }));

function pressed(event) {
  if (!byId("bench") || event.button > 0 || (carried && carried.moving)) return;
  const node = event.target.closest?.("[data-carry], [data-fitting]:not([data-fitting='']), [data-lift]");
  if (!node) return;
  const { carry: hose, fitting, on } = node.dataset;
  const kind = (hose && "hose") || (fitting && "fitting") || "gauge";
  const start = { id: event.pointerId, x: event.clientX, y: event.clientY, moving: false, seat: null };
  carried = { ...start, kind, node, on, name: hose || fitting };
}

function moved(event) {
  if (!carried || carried.id !== event.pointerId) return;
  if (!carried.moving) {
    if (Math.hypot(event.clientX - carried.x, event.clientY - carried.y) < PRESS_PX) return;
    carried.moving = true;
    scene().setPointerCapture(event.pointerId);
    if (carried.node.dataset.control) hold(carried.node.dataset.control);
  }
  const at = inScene(event);
  if (carried.kind === "gauge") lift(at);
  else carry(at);
}

function carry(at) {
  const reach = (seat) => Math.hypot(seat.x - at.x, seat.y - at.y);
  const near = seats().sort((one, other) => reach(one) - reach(other))[0];
  // Once it has snapped it is let go a little farther off, so that it does not flutter.
  const kept = carried.seat && near && near.id === carried.seat.id ? SNAP * LET_GO : SNAP;
  carried.seat = near && reach(near) <= kept ? near : null;
  carried.at = at;
  draw(carried.seat || at);
}

function draw(point) {
  const hand = byId("carried");
  hand.classList.add("carried-on");
  hand.dataset.kind = carried.kind;
  hand.querySelector("[data-carried-end]").setAttribute("transform", `translate(${point.x} ${point.y})`);
  const { x, y } = carried.node.dataset;
  const from = x === undefined ? point : { x: Number(x), y: Number(y) };
  // It comes from above, as a hose that hangs on a cock does.
  const line = `M${from.x} ${from.y} C${from.x} ${from.y - 60} ${point.x + 30} ${point.y - 60} ${point.x} ${point.y}`;
  hand.querySelector("[data-carried-line]").setAttribute("d", line);
  hand.querySelector("text").textContent = carried.node.dataset.letter || "";
  hand.classList.toggle("carried-there", Boolean(carried.seat));
  carried.node.classList.add("is-carried");
}

function lift(at) {
  const { perInch, zeroY, reach } = carried.node.dataset;
  const inches = (Number(zeroY) - at.y) / Number(perInch);
  carried.inches = Math.max(-Number(reach), Math.min(Number(reach), Math.round(inches / INCH) * INCH));
  const y = Number(zeroY) - carried.inches * Number(perInch);
  carried.node.setAttribute("transform", `translate(0 ${y})`);
  carried.node.classList.add("is-lifted");
  const says = byId("turning");
  says.setAttribute("transform", `translate(${60 + Number(carried.node.dataset.ruleX)} ${y})`);
  says.querySelector("text").textContent = `${carried.inches > 0 ? "+" : ""}${carried.inches} in`;
  says.classList.add("turning-on");
}

function released(event) {
  if (!carried || carried.id !== event.pointerId) return;
  const done = carried;
  carried = null;
  byId("carried")?.classList.remove("carried-on");
  byId("turning")?.classList.remove("turning-on");
  done.node.classList.remove("is-carried", "is-lifted");
  if (!done.moving) return;
  const values = event.type === "pointerup" ? actOf(done) : null;
  // Refused, or let go where it does not fit, it is where it was; what was done is drawn anew by its answer.
  if (values) post("actions", values, () => putBack(done));
  else putBack(done);
}

function putBack({ kind, node }) {
  if (kind === "gauge") node.setAttribute("transform", `translate(0 ${node.dataset.y})`);
}

function actOf({ kind, name, on, seat, at, inches }) {
  if (kind === "gauge") return inches === undefined ? null : { kind: "level", to: inches };
  if (seat && seat.id !== on) return { kind: kind === "hose" ? "connect" : "fit", [kind]: name, to: seat.id };
  if (seat || !on) return null;
  const was = seats().find(({ id }) => id === on);
  const pulled = was && Math.hypot(was.x - at.x, was.y - at.y) > PULLED_OFF;
  return pulled ? { kind: kind === "hose" ? "disconnect" : "unfit", [kind]: name } : null;
}

document.addEventListener("pointerdown", pressed);
document.addEventListener("pointermove", moved);
document.addEventListener("pointerup", released);
document.addEventListener("pointercancel", released);
