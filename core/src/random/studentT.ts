/** Two-sided 95 % points of Student's t for 1…30 degrees of freedom; tabulated to three decimals everywhere. */
const T95 = [
  12.706, 4.303, 3.182, 2.776, 2.571, 2.447, 2.365, 2.306, 2.262, 2.228, 2.201, 2.179, 2.16, 2.145, 2.131, 2.12, 2.11, 2.101, 2.093, 2.086,
  2.08, 2.074, 2.069, 2.064, 2.06, 2.056, 2.052, 2.048, 2.045, 2.042,
]

/**
 * Two-sided 95 % point of Student's t.
 *
 * @param degrees of freedom, at least 1; above 30 the value for 30 is given, which is on the side of caution
 * @example student95(2) // 4.303
 */
export function student95(degrees: number): number {
  return T95[Math.min(degrees, T95.length) - 1]
}
