import type { Plan } from '../plan/schema.ts'
import { decided } from '../search/decide.ts'
import type { Found } from '../search/found.ts'
import { chooseTogether } from '../search/joint.ts'
import type { Load } from '../search/load.ts'
import type { Steps } from '../search/order.ts'
import type { ServiceSearch } from '../search/ranked.ts'
import type { SharedPlaces } from '../search/sharedPlaces.ts'
import { together } from '../search/together.ts'

/** What was found of every service, and what is chosen of it. */
export interface Whole {
  searches: readonly ServiceSearch[]
  chosen: (Found | undefined)[]
  /** what they commit to together */
  shared: readonly SharedPlaces[]
  /** the ranked ones can not be had together */
  conflict: boolean
}

export function* chosenOf<P>(plan: Plan, searches: readonly ServiceSearch[]): Steps<P, Whole> {
  const choice = yield* chooseTogether<P>(
    searches.map((s) => s.ranked),
    plan.horizon.seconds,
  )
  return {
    searches,
    chosen: searches.map((search, i) => choice?.chosen.at(i) ?? search.ranked.at(0)),
    shared: choice?.shared ?? [],
    conflict: choice === undefined,
  }
}

/** The same with as many draws as it takes to tell each chosen one from its rivals, as far as draws of its load differ. */
export function* toldApart<P>({ searches, chosen, ...rest }: Whole, load: Load, told: () => P): Steps<P, Whole> {
  const apart = yield* together(
    searches.map((search, i) => toldApartOf(search, chosen[i], load)),
    told,
  )
  return { searches: apart.map((a) => a.search), chosen: apart.map((a) => a.chosen), ...rest }
}

function* toldApartOf(
  search: ServiceSearch,
  chosen: Found | undefined,
  load: Load,
): Steps<undefined, { search: ServiceSearch; chosen: Found | undefined }> {
  if (!chosen || load.repetitions(search.service) === 1) return { search, chosen }
  const rivals = search.ranked.filter((f) => f !== chosen)
  const apart = yield* decided(search.service.name, chosen, rivals)
  return {
    chosen: apart.chosen,
    search: { ...search, ranked: search.ranked.map((f) => (f === chosen ? apart.chosen : apart.rivals[rivals.indexOf(f)])) },
  }
}
