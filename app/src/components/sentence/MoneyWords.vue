<script setup lang="ts">
import type { Plan } from '@sandclock/core'
import type { Edit } from '../../edits/edits.ts'
import EditableName from './EditableName.vue'
import EditableQuantity from './EditableQuantity.vue'

/** What the plan pays beside machines, what it may cost, and what it is paid from. */
const props = defineProps<{ plan: Plan }>()
const emit = defineEmits<{ edit: [edit: Edit] }>()

type Fixed = NonNullable<Plan['fixedCosts']>[number]
const setPlan = (patch: Partial<Plan>) => emit('edit', (plan) => ({ ...plan, ...patch }))
const setFixed = (index: number, patch: Partial<Fixed>) =>
  setPlan({ fixedCosts: (props.plan.fixedCosts ?? []).map((f, i) => (i === index ? { ...f, ...patch } : f)) })
const withoutBudget: Edit = ({ budgetPerMonth: _, ...plan }) => plan
const withoutBalance: Edit = ({ prepaid: _, ...plan }) => plan

function addFixed(): void {
  const names = (props.plan.fixedCosts ?? []).map((f) => f.name)
  let name = 'a load balancer'
  for (let n = 2; names.includes(name); n++) name = `another ${n}`
  setPlan({ fixedCosts: [...(props.plan.fixedCosts ?? []), { name, perMonth: 30 }] })
}

function removeFixed(index: number): void {
  const rest = (props.plan.fixedCosts ?? []).filter((_, i) => i !== index)
  emit('edit', ({ fixedCosts: _, ...plan }) => ({ ...plan, ...(rest.length > 0 && { fixedCosts: rest }) }))
}
</script>

<template>
  <p>
    <template v-if="(plan.fixedCosts ?? []).length > 0">
      Beside machines it pays
      <template v-for="(f, i) in plan.fixedCosts" :key="i"
        ><template v-if="i > 0">{{ i === (plan.fixedCosts ?? []).length - 1 ? ' and ' : ', ' }}</template
        ><EditableQuantity
          :value="f.perMonth"
          kind="money"
          :min="0"
          :label="`${f.name}, ${plan.currency} a month`"
          @commit="(perMonth) => perMonth !== undefined && setFixed(i, { perMonth })" />
        for
        <EditableName
          :value="f.name"
          :taken="(plan.fixedCosts ?? []).map((x) => x.name)"
          label="Fixed cost"
          @commit="(name) => setFixed(i, { name })" />
        (<button type="button" class="word font-sans text-[0.78rem]" :aria-label="`Take out ${f.name}`" @click="removeFixed(i)"
          >take out</button
        >)</template
      >
      {{ plan.currency }} a month.
    </template>
    <button type="button" class="word font-sans text-[0.78rem]" @click="addFixed">add a fixed cost</button>{{ ' ' }} All of it may cost
    <template v-if="plan.budgetPerMonth !== undefined"
      ><EditableQuantity
        :value="plan.budgetPerMonth"
        kind="money"
        :min="1"
        label="Budget a month"
        @commit="(budgetPerMonth) => budgetPerMonth !== undefined && setPlan({ budgetPerMonth })" />
      {{ plan.currency }} a month (<button
        type="button"
        class="word font-sans text-[0.78rem]"
        aria-label="Take out the budget"
        @click="emit('edit', withoutBudget)"
        >take out</button
      >)</template
    ><template v-else
      >what it must (<button type="button" class="word font-sans text-[0.78rem]" @click="setPlan({ budgetPerMonth: 5000 })"
        >set a budget</button
      >)</template
    >; it is paid
    <template v-if="plan.prepaid !== undefined"
      >from a balance of
      <EditableQuantity
        :value="plan.prepaid"
        kind="money"
        :min="1"
        label="Balance"
        @commit="(prepaid) => prepaid !== undefined && setPlan({ prepaid })" />
      {{ plan.currency }} (<button
        type="button"
        class="word font-sans text-[0.78rem]"
        aria-label="Take out the balance"
        @click="emit('edit', withoutBalance)"
        >take out</button
      >)</template
    ><template v-else
      >as it comes (<button type="button" class="word font-sans text-[0.78rem]" @click="setPlan({ prepaid: 10000 })">from a balance</button
      >)</template
    >.
  </p>
</template>
