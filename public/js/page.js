// What the other modules ask the page for.

/** @param {string} id @returns {HTMLElement|null} */
export const byId = (id) => document.getElementById(id);

/** @param {number} milliseconds @returns {string} like 3:07 */
export function minutes(milliseconds) {
  const seconds = Math.max(0, Math.floor(milliseconds / 1000));
  return `${Math.floor(seconds / 60)}:${String(seconds % 60).padStart(2, "0")}`;
}
