// A bench that cannot be worked says so on itself for as long as that lasts: paused, or without a connection.
import { byId } from "./page.js";

const state = { paused: null, lost: false };

/**
 * @param {string} name "paused" or "lost"
 * @param {string|boolean|null} value the mode it is paused in, whether the connection is lost; nothing: no longer
 */
export function showState(name, value) {
  state[name] = value || null;
  const line = byId("bench_state");
  if (!line) return;
  const words = state.lost ? line.dataset.lost : state.paused && line.dataset[`paused${capital(state.paused)}`];
  if (line.textContent !== (words || "")) line.textContent = words || "";
  line.hidden = !words;
  byId("bench").classList.toggle("bench-stopped", Boolean(words));
}

function capital(word) {
  return word[0].toUpperCase() + word.slice(1);
}
