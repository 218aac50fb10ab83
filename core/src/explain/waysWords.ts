/** How many are served at once, and in what an option is run otherwise than its service states. @example '32 side by side, two-choice routing' */
export function waysWords({ sequences, setting }: { sequences: number; setting?: string | null }): string {
  return `${sequences} side by side${setting ? `, ${setting}` : ''}`
}
