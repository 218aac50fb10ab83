/** The file that something with a name is saved as. @example fileName('Skerry Sound, winter') // 'skerry-sound-winter.json' */
export const fileName = (name: string, ending: 'json' | 'yaml' = 'json'): string =>
  `${name.toLowerCase().replace(/[^a-z0-9]+/g, '-')}.${ending}`
