<script setup lang="ts">
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import PartsNav from '../components/frame/PartsNav.vue'
import ServiceChoice from '../components/frame/ServiceChoice.vue'
import { useLookStore } from '../stores/lookStore.ts'
import { usePlanStore } from '../stores/planStore.ts'
import FitPlaces from './FitPlaces.vue'
import IntakePart from './IntakePart.vue'
import MachinesPart from './MachinesPart.vue'
import ModelsPart from './ModelsPart.vue'
import SoldPart from './SoldPart.vue'

/** What fits where, and beside it what it is reckoned from: the machines, the models, and what is sold by tokens. */
const emit = defineEmits<{ pickFile: [] }>()
const route = useRoute()
const plans = usePlanStore()
const look = useLookStore()
const PARTS = [
  { name: 'places', path: '/fit', words: 'what fits where' },
  { name: 'machines', path: '/fit/machines', words: 'machines' },
  { name: 'models', path: '/fit/models', words: 'models and variants' },
  { name: 'tokens', path: '/fit/tokens', words: 'sold by tokens' },
]
const part = computed(() => (typeof route.params.part === 'string' && route.params.part !== '' ? route.params.part : 'places'))
</script>

<template>
  <div>
    <h1 class="sr-only">Fit</h1>
    <IntakePart />
    <div class="mb-1 flex flex-wrap items-baseline justify-between gap-x-6">
      <ServiceChoice v-if="part === 'places'" v-model="look.serviceName" class="!mb-0" :names="plans.plan.services.map((s) => s.name)" />
      <PartsNav view="Fit" :parts="PARTS" :part="part" :class="part === 'places' ? '' : '-ml-1'" />
    </div>
    <FitPlaces v-if="part === 'places'" />
    <MachinesPart v-else-if="part === 'machines'" @pick-file="emit('pickFile')" />
    <SoldPart v-else-if="part === 'tokens'" />
    <ModelsPart v-else @pick-file="emit('pickFile')" />
  </div>
</template>
