/** Sets a field, or leaves it out. */
export function withField<T extends object>(object: T, key: string, value: unknown): T {
  const next = { ...object, [key]: value }
  if (value === undefined) delete next[key as keyof T]
  return next
}
