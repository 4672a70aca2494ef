// Says in words what is drawn of the needle, for those who hear the bench: no oftener than one can listen to, and no
// more than eyes see.
import { byId } from "./page.js";
import { at } from "./keyframes.js";

const EVERY_MS = 2000;
const MOVES_PSID = 0.05;
const BACK_MS = 500;

const said = { words: null, ms: -EVERY_MS };

/** @param {object} frames as the page has them @param {number} ms simulated */
export function speakNeedle(frames, ms) {
  const node = byId("needle_words");
  if (!node) return;
  const moved = frames.blurred ? 0 : at(frames.needle, ms) - at(frames.needle, ms - BACK_MS);
  const words = unread(node.dataset, ms, frames) || reading(node.dataset, at(frames.needle, ms), moved);
  if (words === said.words) return;
  if (moves(moved) && ms - said.ms < EVERY_MS && ms > said.ms) return;
  said.words = words;
  said.ms = ms;
  node.textContent = words;
}

// Why nothing can be read, if so.
function unread({ unseen, dark }, ms, { blurred, face }) {
  if (blurred) return unseen;
  return face && at(face, ms) !== "on" && dark;
}

function moves(moved) {
  return Math.abs(moved) >= MOVES_PSID;
}

function reading({ perPsi, unit }, psid, moved) {
  const way = moved > 0 ? "rising" : "falling";
  return `${(psid * Number(perPsi)).toFixed(1)} ${unit}${moves(moved) ? `, ${way}` : ""}`;
}
