// What is heard at a bench: a hiss where water runs, the louder the more, and a tick for a drop. Off until one asks for
// it, and made by the browser alone. It hears what the page draws: eyes that see no drop hear none.
import { byId } from "./page.js";

const EVERY_MS = 100;
const DROP_EVERY_MS = 900;
const NOISE_S = 2;
// How loud, of what the speakers give.
const HISS = { trickle: 0.012, sucking: 0.02, stream: 0.05, jet: 0.12 };
const LOUDEST = 0.2;
const TICK = 0.08;

let air = null;
let lastDrop = 0;

/** @param {string[]} words how water runs at each outlet @returns {{hiss: number, drops: boolean}} */
export function heard(words) {
  const hiss = words.reduce((sum, word) => sum + (HISS[word] || 0), 0);
  return { hiss: Math.min(LOUDEST, hiss), drops: words.includes("drip") };
}

const running = () =>
  [...document.querySelectorAll("#live [data-outlet]")].map((node) => /flow-(\w+)/.exec(node.getAttribute("class"))[1]);

function open() {
  const context = new AudioContext();
  const noise = context.createBuffer(1, context.sampleRate * NOISE_S, context.sampleRate);
  const samples = noise.getChannelData(0);
  samples.forEach((_, index) => {
    samples[index] = Math.random() * 2 - 1;
  });
  const source = new AudioBufferSourceNode(context, { buffer: noise, loop: true });
  const band = new BiquadFilterNode(context, { type: "bandpass", frequency: 1900, Q: 0.6 });
  const loud = new GainNode(context, { gain: 0 });
  source.connect(band).connect(loud).connect(context.destination);
  source.start();
  return { context, loud, timer: setInterval(listen, EVERY_MS) };
}

function tick({ context }) {
  const now = context.currentTime;
  const drop = new OscillatorNode(context, { frequency: 950 });
  const loud = new GainNode(context, { gain: TICK });
  drop.frequency.exponentialRampToValueAtTime(420, now + 0.06);
  loud.gain.exponentialRampToValueAtTime(0.0001, now + 0.09);
  drop.connect(loud).connect(context.destination);
  drop.start(now);
  drop.stop(now + 0.1);
}

function listen() {
  const { hiss, drops } = heard(running());
  air.loud.gain.setTargetAtTime(hiss, air.context.currentTime, 0.08);
  const button = byId("sound");
  if (button) button.dataset.hiss = hiss.toFixed(3);
  if (!drops || performance.now() - lastDrop < DROP_EVERY_MS) return;
  lastDrop = performance.now();
  tick(air);
}

function close() {
  clearInterval(air.timer);
  air.context.close();
  air = null;
}

document.addEventListener("click", (event) => {
  const button = event.target.closest?.("#sound");
  if (!button || !window.AudioContext) return;
  if (air) close();
  else air = open();
  button.setAttribute("aria-pressed", String(Boolean(air)));
});
