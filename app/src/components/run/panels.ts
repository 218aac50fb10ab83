/** Where a part of the run picture lies, CSS pixels. */
export interface Panel {
  top: number
  height: number
}

export type PanelName = 'load' | 'waiting' | 'lanes' | 'otherLanes' | 'reads' | 'latency' | 'money'

/** Room for the time axis below, and between two panels. */
export const BOTTOM = 22
const GAP = 15

/** Shares of the height that each panel gets, in order from above. */
const SHARES: Record<'alone' | 'scaled' | 'beside', Partial<Record<PanelName, number>>> = {
  alone: { load: 0.2, waiting: 0.13, lanes: 0.3, latency: 0.29, money: 0.08 },
  scaled: { load: 0.16, waiting: 0.1, lanes: 0.29, reads: 0.14, latency: 0.24, money: 0.07 },
  beside: { load: 0.12, waiting: 0.15, lanes: 0.19, otherLanes: 0.19, latency: 0.25, money: 0.1 },
}

/** The panels of a picture: of one run, of one whose scaler reads something, or of two. */
export function runPanels(height: number, kind: keyof typeof SHARES): Partial<Record<PanelName, Panel>> {
  const shares = Object.entries(SHARES[kind])
  const room = height - BOTTOM - 4 - GAP * (shares.length - 1)
  let top = 4
  return Object.fromEntries(
    shares.map(([name, share]) => {
      const panel = { top, height: room * share }
      top += panel.height + GAP
      return [name, panel]
    }),
  )
}
