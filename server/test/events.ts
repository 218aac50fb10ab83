/** Events of a stream, as they stand in it. */
export function events(text: string): { event: string; data: unknown }[] {
  return text
    .trim()
    .split('\n\n')
    .map((block) => {
      const [, event, data] = /^event: (\w+)\ndata: (.*)$/s.exec(block) ?? []
      return { event, data: JSON.parse(data) as unknown }
    })
}
