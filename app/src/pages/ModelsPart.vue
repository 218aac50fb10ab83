<script setup lang="ts">
import ModelFields from '../components/market/ModelFields.vue'
import ModelWords from '../components/market/ModelWords.vue'
import { firstFrom } from '../composables/firstFrom.ts'
import { usePlanStore } from '../stores/planStore.ts'

/** The models of the plan with their variants. */
const plans = usePlanStore()
const emit = defineEmits<{ pickFile: [] }>()
const usedBy = (model: string) => plans.plan.services.filter((s) => s.model === model).map((s) => s.name)
</script>

<template>
  <div>
    <p class="mb-3 text-[0.9rem] text-faded"
      >Drop a model’s published shape file (JSON) or a table of load tests anywhere, or
      <button type="button" class="word" @click="emit('pickFile')">pick the file</button>. What it does not say is asked for.</p
    >
    <template v-for="m in plans.plan.models" :key="m.name">
      <ModelWords :model="m" :used-by="usedBy(m.name)" :taken="plans.plan.models.map((x) => x.name)" @edit="plans.edit" />
      <ModelFields :model="m" :used="usedBy(m.name).length > 0" :from="firstFrom(plans.plan)" @edit="plans.edit" />
    </template>
  </div>
</template>
