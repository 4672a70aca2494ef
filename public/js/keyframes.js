// Values between the moments that the server worked out.

/**
 * @param {Array<[number, number|string]>} points moments in ms, with a number or a word each, in order
 * @param {number} ms
 * @returns {number|string} straight between numbers; a word stands until the next
 */
export function at(points, ms) {
  if (ms <= points[0][0]) return points[0][1];
  for (let i = 1; i < points.length; i += 1) {
    if (ms <= points[i][0]) {
      const [t0, v0] = points[i - 1];
      const [t1, v1] = points[i];
      return typeof v1 === "number" ? v0 + ((v1 - v0) * (ms - t0)) / (t1 - t0 || 1) : v0;
    }
  }
  return points[points.length - 1][1];
}
