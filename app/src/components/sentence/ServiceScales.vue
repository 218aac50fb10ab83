<script setup lang="ts">
import { profileKind, type Plan, type Service } from '@sandclock/core'
import { computed } from 'vue'
import { editService, setPolicy, type Edit } from '../../edits/edits.ts'
import GuardWords from './GuardWords.vue'
import PolicyWords from './PolicyWords.vue'
import PurchaseWords from './PurchaseWords.vue'
import TriedBeside from './TriedBeside.vue'
import WhereWords from './WhereWords.vue'

/** How the copies of a service may come and go, and what else is tried. */
const props = defineProps<{ plan: Plan; service: Service; alone: boolean }>()
const emit = defineEmits<{ edit: [edit: Edit] }>()
const change = (patch: Partial<Service>) =>
  emit(
    'edit',
    editService(props.service.name, (s) => ({ ...s, ...patch })),
  )

const hasTokens = computed(() => profileKind(props.plan, props.service) === 'token')

/** What a policy begins as: more copies for more in flight, up to four. */
function addPolicy(): void {
  const taken = (props.service.policies ?? []).map((p) => p.name)
  let name = 'follows the load'
  for (let n = 2; taken.includes(name); n++) name = `follows the load ${n}`
  change({ policies: [...(props.service.policies ?? []), { name, min: 1, max: 4, metrics: [{ metric: 'in-flight', target: 10 }] }] })
}
</script>

<template>
  <span>
    <template v-if="service.search">
      {{ alone ? 'beside' : 'Beside' }} fixed numbers the search tries
      <template v-if="(service.policies ?? []).length === 0">no policy</template
      ><template v-for="(p, i) in service.policies ?? []" :key="i"
        ><template v-if="i > 0">, and </template
        ><PolicyWords
          :policy="p"
          :taken="(service.policies ?? []).map((x) => x.name)"
          :service="service.name"
          @change="(next) => emit('edit', setPolicy(service.name, p.name, next))"
          @remove="emit('edit', setPolicy(service.name, p.name, undefined))" /></template
      >.
      <button type="button" class="word font-sans text-[0.78rem]" :aria-label="`Add a policy to ${service.name}`" @click="addPolicy"
        >add a policy</button
      >
      {{ ' ' }}<TriedBeside :service="service" :has-tokens="hasTokens" @change="(search) => change({ search })" />{{ ' ' }}
      <PurchaseWords
        :search="service.search"
        :service="service.name"
        @change="(purchases) => service.search && change({ search: { ...service.search, purchases } })" />{{ ' ' }}
      <WhereWords :plan="plan" :search="service.search" :service="service.name" @change="(search) => change({ search })" />
    </template>
    <template v-else>{{ alone ? 'it is' : 'It is' }} run as its configuration states, and not searched.</template>{{ ' ' }}
    <GuardWords :service="service" :currency="plan.currency" @edit="(e) => emit('edit', e)" />
  </span>
</template>
