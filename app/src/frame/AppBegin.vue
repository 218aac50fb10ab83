<script setup lang="ts">
import { begunYaml, type Figures } from '@sandclock/core'
import { computed, shallowRef } from 'vue'
import { useRouter } from 'vue-router'
import BeginSheet from '../components/begin/BeginSheet.vue'
import { demoPlan } from '../data/demo.ts'
import { troubleOf, usePlanStore } from '../stores/planStore.ts'

/** The beginning of a plan, on the machines of the open one, or of the demo where that has none. Its figures stay when it is closed. */
defineProps<{ open: boolean }>()
const emit = defineEmits<{ close: [] }>()

const [plans, router] = [usePlanStore(), useRouter()]
const offers = computed(() => (plans.plan.machines.length > 0 ? plans.plan : demoPlan))
const trouble = shallowRef<readonly string[]>([])

async function begin(figures: Figures): Promise<void> {
  const { machines, currency } = offers.value
  try {
    const { plan, text } = begunYaml(figures, machines, currency)
    await plans.add(plan, text)
    trouble.value = []
    emit('close')
    await router.push('/load')
  } catch (error) {
    const { title, lines } = troubleOf(error)
    trouble.value = [title, ...lines]
  }
}
</script>

<template>
  <BeginSheet
    :open="open"
    :machines="offers.machines"
    :currency="offers.currency"
    :trouble="trouble"
    @close="emit('close')"
    @begin="begin" />
</template>
