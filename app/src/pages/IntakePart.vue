<script setup lang="ts">
import type { Measurement, Model } from '@sandclock/core'
import CataloguePart from '../components/market/CataloguePart.vue'
import MeasurementPart from '../components/market/MeasurementPart.vue'
import ShapePart from '../components/market/ShapePart.vue'
import { takeCatalogue, takeMeasurement, takeModel } from '../edits/marketEdits.ts'
import { useIntakeStore } from '../stores/intakeStore.ts'
import { usePlanStore } from '../stores/planStore.ts'

/** A dropped file of machines, a model or measurements, until it is taken in or put away. */
const plans = usePlanStore()
const intake = useIntakeStore()

function done(changed: boolean): void {
  if (changed) intake.putAway()
}
const takeMeasurements = (entries: { model: string; variant: string; measurement: Measurement }[]) =>
  done(plans.edit((plan) => entries.reduce((p, e) => takeMeasurement(e.model, e.variant, e.measurement)(p), plan)))
const take = (model: Model) => done(plans.edit(takeModel(model)))
</script>

<template>
  <CataloguePart
    v-if="intake.intake?.kind === 'catalogue'"
    :key="intake.intake.fileName"
    :reading="intake.intake.reading"
    :file-name="intake.intake.fileName"
    :known="plans.plan.machines.map((m) => m.name)"
    @take="(wholly) => intake.intake?.kind === 'catalogue' && done(plans.edit(takeCatalogue(intake.intake.reading.machines, wholly)))"
    @put-away="intake.putAway" />
  <ShapePart
    v-else-if="intake.intake?.kind === 'model'"
    :key="intake.intake.fileName"
    :shape="intake.intake.shape"
    :file-name="intake.intake.fileName"
    :taken="plans.plan.models.map((m) => m.name)"
    @take="take"
    @put-away="intake.putAway" />
  <MeasurementPart
    v-else-if="intake.intake?.kind === 'measurements'"
    :key="intake.intake.fileName"
    :reading="intake.intake.reading"
    :file-name="intake.intake.fileName"
    :plan="plans.plan"
    @take="takeMeasurements"
    @put-away="intake.putAway" />
</template>
