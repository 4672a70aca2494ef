// The server's simulated clock, carried on by this browser's.

// A little jitter is smoothed away; a skip of time is taken at once.
const SKIP_MS = 700;
const SHARE = 0.1;

const clock = { offset: 0, fresh: true, pausedAt: null, arrived: undefined, pace: 1 };

/** @returns {number} simulated ms now */
export const simNow = () =>
  clock.pausedAt === null ? performance.now() * clock.pace + clock.offset : clock.pausedAt;

/** An answer has come: what it says was so then, not when its picture is ready. */
export function arrived() {
  clock.arrived = performance.now();
}

/**
 * @param {number} nowMs simulated time in an answer
 * @param {boolean} paused it stands still there
 * @param {number} [pace] simulated ms a ms
 */
export function setClock(nowMs, paused, pace = 1) {
  if (pace !== clock.pace) clock.fresh = true;
  clock.pace = pace;
  const offset = nowMs - (clock.arrived === undefined ? performance.now() : clock.arrived) * pace;
  clock.arrived = undefined;
  clock.pausedAt = paused ? nowMs : null;
  if (clock.fresh || Math.abs(offset - clock.offset) > SKIP_MS) clock.offset = offset;
  else clock.offset += (offset - clock.offset) * SHARE;
  clock.fresh = false;
}
