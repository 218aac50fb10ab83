<script setup lang="ts">
import type { Service, Sold } from '@sandclock/core'
import { computed } from 'vue'
import SoldWords from '../components/market/SoldWords.vue'
import { firstFrom } from '../composables/firstFrom.ts'
import { addSold } from '../edits/soldEdits.ts'
import { usePlanStore } from '../stores/planStore.ts'

/** What the plan may buy by tokens in place of running it on machines. */
const plans = usePlanStore()
const sold = computed(() => plans.plan.soldByTokens ?? [])
const taken = computed(() => [...sold.value, ...plans.plan.machines].map((x) => x.name))
/** Services whose model it serves and that search for something; those that may pay by tokens, or do not yet. */
const served = (s: Sold, tries: boolean) =>
  plans.plan.services.filter((service) => service.search && service.model === s.model && paysTokens(service) === tries).map((x) => x.name)
const paysTokens = ({ search }: Service) => search?.purchases?.includes('per-token') ?? false
const mayAdd = computed(() => addSold(plans.plan) !== plans.plan)
</script>

<template>
  <div>
    <p class="mb-3 text-[0.9rem] text-faded">
      A model can be bought by its tokens: nothing is rented and nothing starts up, and how long an answer takes is what its seller states
      or what you measured. The search lays it beside machines.
    </p>
    <SoldWords
      v-for="s in sold"
      :key="s.name"
      :sold="s"
      :currency="plans.plan.currency"
      :taken="taken"
      :tried="served(s, true)"
      :untried="served(s, false)"
      :from="firstFrom(plans.plan)"
      @edit="plans.edit" />
    <button v-if="mayAdd" type="button" class="word" @click="plans.edit(addSold)"
      >add {{ sold.length > 0 ? 'another' : 'one' }} that is sold by tokens</button
    >
    <p v-else class="font-serif text-[1.08rem]">No service of this plan has a model of tokens, which alone are sold so.</p>
  </div>
</template>
