import { useRouter } from 'vue-router'

/** Goes to a view. What is done after it goes on where that can not be fetched, which is said above the views (`sayUnfetched`). */
export function useGoTo(): (path: string) => Promise<unknown> {
  const router = useRouter()
  return (path) => router.push(path).catch(() => undefined)
}
