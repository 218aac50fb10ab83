<script setup lang="ts">
import { percent, type Combination, type FittedSteps, type Plan, type Reached, type Service } from '@sandclock/core'
import { computed, ref, watch } from 'vue'

/** Where step costs that were found belong, and the step that takes them in. */
const props = defineProps<{
  plan: Plan
  services: readonly Service[]
  /** where the answer runs a service, if it says so */
  chosenOf: (service: string) => Combination | undefined
  fitted: FittedSteps
  reachedAt: (service: Service, at: Combination) => Reached | undefined
}>()
const emit = defineEmits<{ take: [service: Service, at: Combination | undefined, reached: Reached | undefined] }>()

const serviceName = ref(props.services[0]?.name ?? '')
const service = computed(() => props.services.find((s) => s.name === serviceName.value) ?? props.services[0])
const model = computed(() => props.plan.models.find((m) => m.name === service.value?.model))
const at = ref<Combination>({ machine: '', variant: '', devices: 1 })
const withOthers = ref(false)
/** Such a service states its step costs itself: there is nothing to choose. */
const statesOwn = computed(() => service.value?.model === undefined)
watch(
  [service, () => props.chosenOf(serviceName.value)],
  () => {
    const chosen = props.chosenOf(serviceName.value)
    at.value = chosen
      ? { ...chosen }
      : { machine: props.plan.machines[0]?.name ?? '', variant: model.value?.variants[0]?.name ?? '', devices: 1 }
  },
  { immediate: true },
)
const reached = computed(() => (service.value && !statesOwn.value ? props.reachedAt(service.value, at.value) : undefined))
/** By costs that are not told apart it reaches anything. */
const unknown = computed(() => reached.value !== undefined && reached.value.doubt >= 1)
const possible = computed(() => reached.value !== undefined && !unknown.value && reached.value.memory <= 1 && reached.value.arithmetic <= 1)
const take = () =>
  service.value &&
  emit('take', service.value, statesOwn.value ? undefined : { ...at.value }, withOthers.value && possible.value ? reached.value : undefined)
</script>

<template>
  <p v-if="service" class="leading-7">
    Whoever was asked is
    <select v-model="serviceName" class="changeable w-auto" aria-label="Service that was asked"
      ><option v-for="s in services" :key="s.name">{{ s.name }}</option></select
    ><template v-if="statesOwn">, which states its own step costs</template
    ><template v-else
      >,
      <select v-model="at.variant" class="changeable w-auto" aria-label="Variant that was asked"
        ><option v-for="v in model?.variants" :key="v.name">{{ v.name }}</option></select
      >
      on
      <input
        v-model.number="at.devices"
        type="number"
        min="1"
        max="1024"
        class="w-12 border-b border-rule bg-transparent"
        aria-label="Devices of the replica that was asked" />
      {{ at.devices === 1 ? 'device' : 'devices' }} of
      <select v-model="at.machine" class="changeable w-auto" aria-label="Machine of the replica that was asked"
        ><option v-for="m in plan.machines" :key="m.name">{{ m.name }}</option></select
      ></template
    >.
    <template v-if="unknown"> Which share of its rates it reaches this does not tell. </template>
    <template v-else-if="reached">
      It reaches {{ percent(reached.memory) }} of the bandwidth and {{ percent(reached.arithmetic) }} of the arithmetic that the catalogue
      states<template v-if="possible">
        (the plan assumes {{ percent(plan.assumptions.memoryEfficiency) }} and {{ percent(plan.assumptions.arithmeticEfficiency) }});
        <label
          ><input v-model="withOthers" type="checkbox" class="accent-(--water)" /> assume the same of every other machine and variant, with
          a doubt of {{ percent(reached.doubt) }}: what is usual where nothing was measured, and by how much the shares are not known</label
        ></template
      ><span v-else class="text-rust">: more than there is, so that either the machine or the catalogue is another</span>.
    </template>
    <button type="button" class="word font-semibold" @click="take">take the costs in</button>
  </p>
</template>
