// The script of every page: puts its modules to work as answers come in.
import { byId } from "./page.js";
import { arrived } from "./clock.js";
import { play, takeFrames } from "./player.js";
import { showHeld, showJot, showMessage, showTab } from "./hands.js";
import { drawTurns } from "./turning.js";
import "./carrying.js";
import "./forms.js";
import "./replay.js";
import "./sound.js";

// What had the focus when an answer replaced it.
let focused = null;

function settle() {
  takeFrames();
  showHeld();
  showTab();
  showJot();
  showMessage();
  drawTurns();
}

document.addEventListener("htmx:beforeSwap", () => {
  arrived();
  focused = document.activeElement && document.activeElement.id;
});
document.addEventListener("htmx:load", settle);
document.addEventListener("htmx:oobAfterSwap", settle);
document.addEventListener("htmx:afterSettle", () => {
  settle();
  const node = focused && byId(focused);
  if (node && document.activeElement === document.body) node.focus({ preventScroll: true });
});

window.addEventListener("DOMContentLoaded", () => {
  settle();
  requestAnimationFrame(play);
  // A file that is ready is fetched at once; the link stays for those whose browser does not.
  const link = document.querySelector("[data-fetch]");
  if (link) link.click();
});
