// Forms: what is asked before something is lost, and what is kept as it is typed.
import { byId } from "./page.js";

// A form in which much is typed is not left by a slip of the finger.
let unsaved = false;

function submitted(event) {
  const question = event.target.dataset.confirm;
  if (question && !window.confirm(question)) event.preventDefault();
  if (event.target.closest("form[data-keep]") && !event.defaultPrevented) unsaved = false;
}

// Report fields are kept as they are left.
function keep(input) {
  byId("report_status").textContent = "Saving…";
  htmx
    .ajax("POST", `/attempts/${byId("bench").dataset.attempt}/actions`, {
      source: input,
      swap: "none",
      values: { kind: "fill", field: input.dataset.field, value: input.value },
    })
    .catch(() => {});
}

// One box for all of a name.
function tickAll(box) {
  document.getElementsByName(box.dataset.tickAll).forEach((other) => {
    other.checked = box.checked;
  });
}

function changed(event) {
  const { field, tickAll: name } = event.target.dataset || {};
  if (field) keep(event.target);
  if (name) tickAll(event.target);
}

function leaving(event) {
  if (!unsaved) return;
  event.preventDefault();
  event.returnValue = "";
}

// Where no zone is set yet, the one this device is in is proposed.
function proposeZone() {
  const select = document.querySelector("select[data-own-zone]");
  const own = select && Intl.DateTimeFormat().resolvedOptions().timeZone;
  if (own && [...select.options].some((option) => option.value === own)) select.value = own;
}

window.addEventListener("DOMContentLoaded", proposeZone);
document.addEventListener("submit", submitted);
document.addEventListener("change", changed);
document.addEventListener("input", (event) => {
  if (event.target.closest("form[data-keep]")) unsaved = true;
});
window.addEventListener("beforeunload", leaving);
