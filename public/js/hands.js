// What is in hand at the bench, which paper lies open, and the keys that reach both.
import { byId } from "./page.js";

const PRESSES = { "+": ["+⅛"], "-": ["−⅛"], 0: ["Close"], 9: ["Open", "Open wide"] };

const hands = { held: "none", tab: "notebook" };

/** @param {string} control what is taken in hand; of the papers the notebook then lies open, not the place */
export function hold(control) {
  hands.held = control;
  if (hands.tab === "site") {
    hands.tab = "notebook";
    showTab();
  }
  showHeld();
}

/** Shows the buttons of what is in hand; of nothing, if the bench has no such thing. */
export function showHeld() {
  const panels = document.querySelectorAll("[data-hand]");
  if (!panels.length) return;
  const wanted = [...panels].some((panel) => panel.dataset.hand === hands.held) ? hands.held : "none";
  panels.forEach((panel) => {
    panel.hidden = panel.dataset.hand !== wanted;
  });
  document
    .querySelectorAll("[data-control]")
    .forEach((node) => node.classList.toggle("in-hand", node.dataset.control === wanted));
}

/** Shows the paper that lies open. Looking around, one sees the place and not the bench. */
export function showTab() {
  document.querySelectorAll("[data-tab]").forEach((tab) => {
    const chosen = tab.dataset.tab === hands.tab;
    tab.setAttribute("aria-selected", chosen);
    tab.tabIndex = chosen ? 0 : -1;
    const pane = byId(`pane_${tab.dataset.tab}`);
    if (pane) pane.hidden = !chosen;
  });
  const site = byId("bench") && byId("site");
  if (site) site.hidden = hands.tab !== "site";
}

function open(tab) {
  hands.tab = tab;
  showTab();
}

function toggleReport(shown) {
  const report = byId("report");
  if (!report) return;
  report.hidden = !shown;
  byId("open_report").setAttribute("aria-expanded", shown);
  if (shown) report.querySelector("input").focus();
}

// What one is about to jot or to store stays chosen when the papers are drawn anew.
const chosen = new Map([
  ["jot_item", null],
  ["memory", null],
]);

/** Puts the choices in the notebook back to where they were. */
export function showJot() {
  for (const [id, wanted] of chosen) {
    const select = byId(id);
    if (select && wanted && [...select.options].some(({ value }) => value === wanted)) select.value = wanted;
  }
}

document.addEventListener("change", (event) => {
  if (chosen.has(event.target.id)) chosen.set(event.target.id, event.target.value);
});

/** A message is read, and goes: by itself after a while, and by Escape at once. */
const READ_MS = 8000;
let readBy = null;

export function showMessage() {
  const line = byId("message");
  if (!line || !line.textContent.trim()) return;
  clearTimeout(readBy);
  const words = line.textContent;
  readBy = setTimeout(() => byId("message")?.textContent === words && hideMessage(), READ_MS);
}

function hideMessage() {
  const line = byId("message");
  if (line) line.textContent = "";
}

function toggleKeys(shown) {
  const list = byId("keys");
  if (list) list.hidden = !shown;
}

// A button that is drawn presses the one among the buttons.
function pressDrawn(node) {
  byId(node.dataset.press)?.click();
}

// A second finger makes no click, and one may be at a knob already.
function fingered(event) {
  const drawn = !event.isPrimary && event.target.closest?.("[data-press]");
  if (drawn) pressDrawn(drawn);
}

function clicked(event) {
  const on = (selector) => event.target.closest(selector);
  if (on("[data-press]")) return pressDrawn(on("[data-press]"));
  const control = on("[data-control]");
  if (control && byId("bench")) return hold(control.dataset.control);
  const hot = on("[data-look]");
  if (hot) {
    const button = byId(`look_${hot.dataset.look}`);
    return button && button.click();
  }
  if (on("[data-tab]")) return open(on("[data-tab]").dataset.tab);
  if (on("#inside")) return on("#inside").setAttribute("aria-pressed", byId("bench").classList.toggle("show-inside"));
  if (on("#open_report")) return toggleReport(byId("report").hidden);
  if (on("#close_report")) return toggleReport(false);
  if (on("#show_keys, #hide_keys")) return toggleKeys(byId("keys").hidden);
  if (on("#message")) return hideMessage();
}

// From paper to paper with the arrows.
function nextTab(tab, step) {
  const tabs = [...document.querySelectorAll("[data-tab]")];
  const next = tabs[(tabs.indexOf(tab) + step + tabs.length) % tabs.length];
  open(next.dataset.tab);
  next.focus();
}

function press(names) {
  const panel = document.querySelector(`[data-hand="${hands.held}"]`);
  const buttons = panel ? [...panel.querySelectorAll("button")] : [];
  const button = buttons.find((node) => names.includes(node.textContent.trim()));
  if (button) button.click();
}

function keyed(event) {
  const control = event.target.closest("[data-control]");
  if (control && (event.key === "Enter" || event.key === " ")) {
    event.preventDefault();
    return hold(control.dataset.control);
  }
  const drawn = event.target.closest("[data-press]");
  if (drawn && (event.key === "Enter" || event.key === " ")) {
    event.preventDefault();
    return pressDrawn(drawn);
  }
  const tab = event.target.closest("[data-tab]");
  if (tab && event.key === "ArrowRight") return nextTab(tab, 1);
  if (tab && event.key === "ArrowLeft") return nextTab(tab, -1);
  const typing = event.target.closest("input, select, textarea");
  if (typing || event.ctrlKey || event.altKey || event.metaKey || !byId("bench")) return;
  if (event.key === "Escape") {
    hideMessage();
    toggleKeys(false);
    return toggleReport(false);
  }
  if (event.key === "?") return toggleKeys(byId("keys").hidden);
  if (event.key === "c" && byId("press_capture")) return pressDrawn(byId("press_capture"));
  if (event.key === "e") return document.querySelector("#eyes [aria-pressed='false']")?.click();
  if (PRESSES[event.key]) return press(PRESSES[event.key]);
  const target = document.querySelector(`[data-key="${CSS.escape(event.key)}"]`);
  if (!target) return;
  event.preventDefault();
  hold(target.dataset.control);
  target.focus();
}

document.addEventListener("pointerdown", fingered);
document.addEventListener("click", clicked);
document.addEventListener("keydown", keyed);
