// Acts: each gets a number of its own, the moment that was on screen, and the newest act this page knows of. They go
// one after the other, so that each knows of the one before. While any is on its way the page asks for nothing: an
// answer from before the act must not overrule it.
import { byId } from "./page.js";
import { simNow } from "./clock.js";
import { showState } from "./state.js";

// An act that is not answered by then no longer keeps the next from going.
const LONGEST_MS = 8000;

// This page, among all that may show the bench. Random numbers are there without HTTPS too; randomUUID is not.
const windowId = [...crypto.getRandomValues(new Uint8Array(8))]
  .map((byte) => byte.toString(16).padStart(2, "0"))
  .join("");
const acts = { number: 0, waiting: 0, chain: Promise.resolve(), current: null, inFlight: new WeakMap() };
const polls = { running: null, aborted: new WeakSet() };

const isPoll = (detail) => Boolean(detail.elt) && detail.elt.id === "frames";

function numbered(event) {
  const frames = byId("frames");
  if (!frames) return;
  const { parameters, verb, elt } = event.detail;
  parameters.window = windowId;
  if (byId("bench")?.classList.contains("show-inside")) parameters.inside = 1;
  const coach = byId("coach");
  if (coach && coach.dataset.mode !== "quiet") parameters.coach = coach.dataset.mode;
  if (verb !== "post") return;
  acts.number += 1;
  parameters.action_id = elt.dataset.actionId || `${windowId}-${acts.number}`;
  // A turn by hand says when it began.
  parameters.seen_ms ??= Math.round(simNow());
  parameters.seq = frames.dataset.seq;
}

// A finger that bounces does a thing once: the same place within so short a time is not another act.
const BOUNCE_MS = 300;
const last = { id: null, at: -BOUNCE_MS };

function bounced(elt) {
  const button = elt.matches?.("[data-once]") && elt.querySelector("button");
  if (!button) return false;
  const again = button.id === last.id && performance.now() - last.at < BOUNCE_MS;
  Object.assign(last, { id: button.id, at: performance.now() });
  return again;
}

function lined(event) {
  if (!byId("bench")) return;
  if (bounced(event.detail.elt)) return event.preventDefault();
  if (isPoll(event.detail) && acts.waiting > 0) return event.preventDefault();
  if (event.detail.verb !== "post") return;
  event.preventDefault();
  const { question } = event.detail;
  if (!question) return send(event.detail);
  // A question is asked when what was done before it is known.
  acts.chain.then(() => {
    if (window.confirm(wordsOf(event.detail))) send(event.detail);
  });
}

function wordsOf({ elt, question }) {
  const node = elt.dataset.question && byId(elt.dataset.question);
  return node ? node.dataset.words : question;
}

function send(detail) {
  acts.waiting += 1;
  acts.chain = acts.chain.then(() => new Promise((done) => issue(detail, done)));
}

function issue(detail, done) {
  holdPolls();
  let over = false;
  acts.current = () => {
    if (over) return;
    over = true;
    acts.waiting -= 1;
    setTimeout(done, 0);
  };
  setTimeout(acts.current, LONGEST_MS);
  // What went wrong is told by what comes after the request.
  Promise.resolve(detail.issueRequest(true)).catch(() => {});
}

function holdPolls() {
  if (!polls.running) return;
  polls.aborted.add(polls.running);
  polls.running.abort();
  polls.running = null;
}

// An answer ends the act it answers: one that comes after its time is up must not end the next.
function sent(event) {
  const { xhr, requestConfig } = event.detail;
  if (isPoll(event.detail)) polls.running = xhr;
  if (requestConfig.verb !== "post" || !acts.current) return;
  acts.inFlight.set(xhr, acts.current);
  acts.current = null;
}

function answered(event) {
  const { xhr, failed } = event.detail;
  if (polls.running === xhr) polls.running = null;
  if (polls.aborted.has(xhr)) return;
  const finish = acts.inFlight.get(xhr);
  if (finish) finish();
  if (byId("message")) tellOfTrouble(byId("message"), xhr, failed);
}

function tellOfTrouble(line, xhr, failed) {
  showState("lost", !xhr.status);
  if (xhr.status === 503 && xhr.responseText) {
    // Not saved, and why; the report says so as well, and keeps what was typed.
    line.textContent = xhr.responseText;
    line.className = "message message-refused";
    const saving = byId("report_status");
    if (saving?.textContent === "Saving…") {
      saving.textContent = "Not saved";
      saving.className = "report-unsaved";
    }
  } else if (failed) {
    line.textContent = "The server could not do that. Load the page again; nothing acknowledged is lost.";
    line.className = "message message-refused";
  }
}

/** @returns {number} acts on their way */
export const waiting = () => acts.waiting;

/**
 * An act that no button stands for.
 *
 * @param {function({came: boolean, rest: object})} then whether an answer came, and where what was turned stands
 */
export function post(path, values, then) {
  const before = byId("frames").dataset.frames;
  const told = () => {
    const node = byId("frames");
    const came = Boolean(node) && node.dataset.frames !== before;
    then({ came, rest: came ? JSON.parse(node.dataset.frames).rest : undefined });
  };
  htmx.ajax("POST", path, { source: "#bench", target: "#bench", swap: "none", values }).catch(() => {});
  // It stands in the line of acts by now.
  acts.chain.then(told);
}

document.addEventListener("htmx:configRequest", numbered);
document.addEventListener("htmx:confirm", lined);
document.addEventListener("htmx:beforeSend", sent);
document.addEventListener("htmx:afterRequest", answered);
