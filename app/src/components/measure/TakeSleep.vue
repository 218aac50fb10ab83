<script setup lang="ts">
import { duration, type ScalingPolicy, type Service } from '@sandclock/core'
import { computed, ref } from 'vue'
import { SLEEPS } from '../../edits/takeSleep.ts'
import EditableChoice from '../sentence/EditableChoice.vue'

/** After how long a service was found to sleep, and the step that lets a policy of the plan do so. */
const props = defineProps<{ services: readonly Service[]; idle: NonNullable<ScalingPolicy['idle']> }>()
const emit = defineEmits<{ take: [service: Service, policy: string | undefined] }>()

const chosenName = ref<string>()
const service = computed(() => props.services.find((s) => s.name === chosenName.value) ?? props.services[0])
const policies = computed(() => (service.value?.policies ?? []).map((p) => p.name))
const chosenPolicy = ref<string>()
const policy = computed(() =>
  chosenPolicy.value !== undefined && [...policies.value, SLEEPS].includes(chosenPolicy.value)
    ? chosenPolicy.value
    : (service.value?.policies?.find((p) => p.idle)?.name ?? SLEEPS),
)
const isThere = computed(() => policies.value.includes(policy.value))
</script>

<template>
  <p v-if="service">
    Let
    <EditableChoice
      :value="service.name"
      :options="services.map((s) => s.name)"
      label="Service that was found to sleep"
      @commit="(name) => (chosenName = name)" />
    sleep after {{ duration(idle.seconds) }} without a call, its first caller
    {{ idle.firstCaller === 'hold' ? 'held until it is ready' : 'turned away' }}, by the {{ isThere ? '' : 'new ' }}policy
    <EditableChoice
      :value="policy"
      :options="policies.includes(SLEEPS) ? policies : [...policies, SLEEPS]"
      label="Policy that sleeps"
      @commit="(name) => (chosenPolicy = name)" />:
    <button type="button" class="word font-semibold" @click="emit('take', service, isThere ? policy : undefined)">take it in</button>
  </p>
</template>
