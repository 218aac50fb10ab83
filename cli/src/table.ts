/**
 * Rows as text in columns two spaces apart; columns whose cells all look like numbers are set to the right.
 * Everything is as wide as its widest cell.
 */
export function table(header: readonly string[], rows: readonly (readonly string[])[]): string {
  const all = [header, ...rows]
  const widths = header.map((_, c) => Math.max(...all.map((row) => row[c].length)))
  const right = header.map((_, c) => rows.length > 0 && rows.every((row) => /^[−\d∞–]/.test(row[c])))
  const line = (row: readonly string[]) =>
    row
      .map((cell, c) => (right[c] ? cell.padStart(widths[c]) : cell.padEnd(widths[c])))
      .join('  ')
      .trimEnd()
  return all.map(line).join('\n')
}
