// The inside of an assembly in motion: discs, springs, water and arrows as the keyframes say, and no more.
import { at } from "./keyframes.js";

const TRAVEL = 14;
const LIFT = 12;
const FULL_PSI = 80;

const value = (points, ms) => (points ? at(points, ms) : null);

export function drawCutAway(frames, ms) {
  if (!frames.cut) return;
  const { parts } = frames.cut;
  document.querySelectorAll("[data-disc]").forEach((node) => {
    const open = value(parts[node.dataset.disc], ms);
    if (open !== null) node.setAttribute("transform", `translate(${Number(node.dataset.x) + open * TRAVEL} 0)`);
  });
  const relief = document.querySelector("[data-relief]");
  const lifted = relief && value(parts.relief_valve, ms);
  if (relief && lifted !== null) relief.setAttribute("transform", `translate(${relief.dataset.x} ${-lifted * LIFT})`);
  document.querySelectorAll("[data-dirt]").forEach((node) => {
    node.classList.toggle("cut-none", !frames.cut.dirty.includes(node.dataset.dirt));
  });
  drawFlows(parts, ms);
  drawWater(frames, ms);
}

function drawFlows(parts, ms) {
  document.querySelectorAll("[data-flow]").forEach((node) => {
    const flow = value(parts[`flow_${node.dataset.flow}`], ms);
    if (flow === null) return;
    const width = Math.abs(flow) < 0.05 ? 0 : 1.5 + Math.log10(1 + Math.abs(flow)) * 2.2;
    node.setAttribute("transform", `translate(${node.dataset.x} 190)${flow < 0 ? " scale(-1 1)" : ""}`);
    node.firstElementChild.setAttribute("stroke-width", width.toFixed(1));
  });
}

function drawWater(frames, ms) {
  document.querySelectorAll("[data-tint]").forEach((node) => {
    const psi = value(frames.inside[node.dataset.tint], ms);
    if (psi === null) return;
    const air = frames.cut.air.includes(node.dataset.tint);
    node.classList.toggle("cut-air", air);
    node.setAttribute("fill-opacity", Math.max(0, Math.min(1, psi / FULL_PSI)).toFixed(2));
  });
}
