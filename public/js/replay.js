// A bench that is over, moment by moment.
import { byId } from "./page.js";
import { pressed, showNow } from "./trace.js";

const STEP_MS = 500;
const EVERY_MS = 250;
// Dragged along, the bar asks for where it comes to rest.
const REST_MS = 40;

let timer = null;
let pending = null;

function scrubTo(ms) {
  const bar = byId("scrub");
  if (!bar) return;
  bar.value = ms;
  showActs(ms);
  showNow(ms);
  clearTimeout(pending);
  pending = setTimeout(() => show(`${bar.dataset.url}?ms=${Math.round(ms)}`), REST_MS);
}

function show(path) {
  htmx.ajax("GET", path, { target: "#replay_scene", swap: "innerHTML" }).catch(() => {});
}

function showActs(ms) {
  let now = null;
  document.querySelectorAll(".acts li").forEach((item) => {
    item.classList.remove("now");
    if (Number(item.dataset.ms) <= ms) now = item;
  });
  if (!now) return;
  now.classList.add("now");
  now.parentNode.scrollTop = now.offsetTop - now.parentNode.offsetTop - 50;
}

function togglePlay() {
  const button = byId("replay_play");
  const bar = byId("scrub");
  if (timer) {
    clearInterval(timer);
    timer = null;
  } else {
    if (Number(bar.value) >= Number(bar.max)) bar.value = 0;
    timer = setInterval(() => goOn(bar), EVERY_MS);
  }
  button.setAttribute("aria-pressed", timer !== null);
  button.textContent = timer ? "Pause" : "Play";
}

function goOn(bar) {
  const next = Number(bar.value) + STEP_MS;
  if (next > Number(bar.max)) return togglePlay();
  scrubTo(next);
}

document.addEventListener("click", (event) => {
  const seek = event.target.closest("[data-seek]");
  const ms = pressed(event);
  if (seek) scrubTo(Number(seek.dataset.seek));
  else if (ms !== null) scrubTo(ms);
  if (event.target.closest("#replay_play")) togglePlay();
});
document.addEventListener("input", (event) => {
  if (event.target.id === "scrub") scrubTo(Number(event.target.value));
});
