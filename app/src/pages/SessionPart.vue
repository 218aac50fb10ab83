<script setup lang="ts">
import {
  capital,
  branchRows,
  clockSeconds,
  LOOKED_AT,
  sessionWords,
  switchOffWords,
  USUAL_LOAD,
  type OneAsked,
  type Service,
} from '@sandclock/core'
import { computed, watch } from 'vue'
import FigureTable from '../components/frame/FigureTable.vue'
import OneRow from '../components/one/OneRow.vue'
import SessionFan from '../components/one/SessionFan.vue'
import SwitchOffPicture from '../components/one/SwitchOffPicture.vue'
import EditableChoice from '../components/sentence/EditableChoice.vue'
import EditableClock from '../components/sentence/EditableClock.vue'
import EditableFigure from '../components/sentence/EditableFigure.vue'
import { useOneStore } from '../stores/oneStore.ts'
import { usePlanStore } from '../stores/planStore.ts'
import { useSessionStore } from '../stores/sessionStore.ts'
import { useViewStore } from '../stores/viewStore.ts'

/** Some use of one replica by hand, what each way of ending it costs, and when to switch off between calls. */
const props = defineProps<{ service: Service; place: OneAsked }>()
const [plans, sessions, views, ones] = [usePlanStore(), useSessionStore(), useViewStore(), useOneStore()]
watch([() => props.place, () => sessions.use, () => sessions.worth, () => views.generation], () => void sessions.layOut(props.place), {
  immediate: true,
})

const clockOf = (seconds: number) => new Date(seconds * 1000).toISOString().slice(11, 16)
const load = computed(() => sessions.use.load)
const [BY_HAND, BY_LOAD] = ['requests by hand', 'a small load']
const begins = computed(() => clockOf(sessions.use.beginsAtSeconds))
const startIso = computed(() => `${plans.plan.horizon.start.slice(0, 10)}T${begins.value}:00Z`)
const currency = computed(() => plans.plan.currency)
function setPlace(patch: Partial<OneAsked>): void {
  const { name } = props.service
  ones.set(
    name,
    ones.rows[name].map((r, i) => (i === 0 ? { ...r, ...patch } : r)),
  )
}
</script>

<template>
  <div>
    <p class="font-serif text-[1.12rem] leading-[1.75]">
      Somebody begins at
      <EditableClock
        :value="begins"
        label="When the session begins"
        @commit="(at) => sessions.change({ beginsAtSeconds: clockSeconds(at) })" />, has
      <EditableChoice
        :value="load ? BY_LOAD : BY_HAND"
        :options="[BY_HAND, BY_LOAD]"
        label="How the session is used"
        @commit="(words) => (words === BY_LOAD ? sessions.change({ load: USUAL_LOAD }) : sessions.byHand())" />:
      <template v-if="load">
        <EditableFigure
          :value="load.perHour"
          kind="number"
          :min="0.01"
          :max="100000"
          label="Requests an hour of the session"
          @commit="(perHour) => sessions.change({ load: { ...load!, perHour } })" />
        an hour, as chance has it, for
        <EditableFigure
          :value="load.seconds"
          kind="duration"
          :min="60"
          :max="2592000"
          label="How long the requests of the session come"
          @commit="(seconds) => sessions.change({ load: { ...load!, seconds } })" />
      </template>
      <template v-else>
        <EditableFigure
          :value="sessions.use.requests"
          kind="count"
          :min="1"
          :max="100000"
          label="Requests of the session"
          @commit="(requests) => sessions.change({ requests })" />
        answered, each
        <EditableFigure
          :value="sessions.use.pauseSeconds"
          kind="duration"
          :min="0"
          :max="86400"
          label="Pause between requests of the session"
          @commit="(pauseSeconds) => sessions.change({ pauseSeconds })" />
        after the one before </template
      >{{ ' ' }}and then ends it; or it is given back when it was idle for
      <EditableFigure
        :value="sessions.use.idleSeconds"
        kind="duration"
        :min="0"
        :max="86400"
        label="Idle before it is given back"
        @commit="(idleSeconds) => sessions.change({ idleSeconds })" />, or left on until
      <EditableClock
        :value="clockOf(sessions.use.untilSeconds)"
        label="Hour until which it is left on"
        @commit="(at) => sessions.change({ untilSeconds: clockSeconds(at) })" />, or never noticed.
    </p>
    <ol class="mb-2 text-[0.95rem]">
      <OneRow letter="A" :asked="place" :plan="plans.plan" :service="service" :can-go="false" @change="setPlace" />
    </ol>
    <p v-if="sessions.trouble" role="alert" class="text-[0.92rem] text-rust">{{ sessions.trouble }}</p>
    <template v-if="sessions.view">
      <h2 class="mt-2 text-[1.15rem]"
        >What it costs, and what goes on after it
        <span class="font-sans text-[0.82rem] text-faded">shaded: start-up; thick: the session itself</span></h2
      >
      <SessionFan :session="sessions.view.session" :start-iso="startIso" :currency="currency" :height="250" />
      <p v-for="w in sessionWords(sessions.view.session)" :key="w" class="text-[0.95rem]">{{ capital(w) }}.</p>
      <FigureTable
        class="mt-2 text-[0.9rem]"
        :header="['and then', ...LOOKED_AT.map((l) => l.words), 'left over']"
        :rows="branchRows(sessions.view.session)"
        :words="[0, LOOKED_AT.length + 1]"
        aria-label="What each way of ending the session costs" />
      <h2 class="mt-4 text-[1.15rem]">When to switch off between calls</h2>
      <p class="font-serif text-[1.02rem]">
        That one caller does not wait for a start-up is worth
        <EditableFigure
          :value="sessions.worth"
          kind="number"
          :min="0"
          :max="1e6"
          label="Worth of a caller who does not wait"
          @commit="(worth) => (sessions.worth = worth)" />
        {{ currency }}.
      </p>
      <SwitchOffPicture
        v-if="sessions.view.off.calls && sessions.view.off.calls.gaps > 0"
        :calls="sessions.view.off.calls"
        :currency="currency"
        :height="210" />
      <p v-for="w in switchOffWords(sessions.view.off, currency)" :key="w" class="text-[0.95rem]">{{ capital(w) }}.</p>
    </template>
  </div>
</template>
