/** What a monitoring server is asked for, by the server of this page: docs/plan-format.md says how it is read. */
export interface HistoryQuestion {
  address: string
  select: string
  pastSeconds: number
  stepSeconds: number
}

/** @returns what it answered, or a sentence that says why there is nothing */
export async function askedHistory(question: HistoryQuestion): Promise<{ bytes: Blob } | { message: string }> {
  try {
    const answer = await fetch('/api/history', {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify(question),
    })
    if (answer.ok) return { bytes: await answer.blob() }
    const { message } = (await answer.json()) as { message?: string }
    return { message: message ?? `The server of this page answered ${answer.status}.` }
  } catch {
    return { message: 'The server of this page does not answer. Start it again, or drop the history as a file.' }
  }
}
