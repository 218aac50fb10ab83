<script setup lang="ts">
import { capital, coefficientWords, duration, percent, threeDigits, type FitDetail, type ProfileSpec } from '@sandclock/core'
import FitScatter from './FitScatter.vue'
import GivenWords from './GivenWords.vue'

/** Where the figures of one combination come from: every coefficient with its formula, its figures and who stated them. */
const props = defineProps<{ detail: FitDetail }>()
const emit = defineEmits<{ forget: []; given: [spec: ProfileSpec]; ungiven: [] }>()
const span = (low: number | undefined, high: number | undefined) =>
  low === undefined || high === undefined ? 'no interval' : `${coefficientWords(low)} – ${coefficientWords(high)}`
const figure = (symbol: string, value: number) => (symbol === 's' ? threeDigits(value) : coefficientWords(value))
const speeds = () =>
  props.detail.sources.map(({ source, used, speed }) => ({
    source,
    used,
    alone: speed.kind === 'token' ? speed.aloneSecondsPerToken : speed.aloneSeconds,
    full: speed.kind === 'token' ? speed.fullSecondsPerToken : speed.fullBatchSeconds,
    first: speed.kind === 'token' ? speed.prefillSeconds : null,
    rate:
      speed.kind === 'token' ? `${threeDigits(speed.tokensPerSecond)} tokens /s` : `${threeDigits(speed.requestsPerSecond)} requests /s`,
  }))
</script>

<template>
  <section :aria-label="`Where the figures of ${detail.at.machine}, ${detail.at.variant} come from`" class="text-[0.86rem]">
    <div v-if="detail.sources.length > 0" class="mb-3">
      <table class="exact max-w-[46rem]">
        <thead>
          <tr>
            <th scope="col">source of the step costs</th>
            <th scope="col" class="number">alone</th>
            <th scope="col" class="number">with {{ detail.sequences }} side by side</th>
            <th scope="col" class="number">prefill of the mean prompt</th>
            <th scope="col" class="number">one replica, full</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="s in speeds()" :key="s.source">
            <td> {{ s.source }}<strong v-if="s.used" class="text-sand">, relied on</strong> </td>
            <td class="number">
              {{ duration(s.alone) }}
            </td>
            <td class="number">
              {{ duration(s.full) }}
            </td>
            <td class="number">
              {{ s.first === null ? '–' : duration(s.first) }}
            </td>
            <td class="number">
              {{ s.rate }}
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <p v-if="detail.found" class="mb-2"
      >{{ capital(detail.found) }}. <button type="button" class="word" @click="emit('ungiven')">forget what was found</button></p
    >
    <GivenWords
      v-if="detail.spec"
      :spec="detail.spec"
      :given="detail.sources.some((s) => s.source === 'given')"
      :others="detail.sources.length > 1"
      @change="(spec) => emit('given', spec)"
      @forget="emit('ungiven')" />
    <div v-if="detail.measured" class="mb-3 grid gap-x-6 md:grid-cols-[minmax(0,1fr)_15rem]">
      <div>
        <h3 class="text-[1.05rem]"
          >Measured
          <span class="font-sans text-[0.82rem] text-faded">{{ detail.measured.source }}; {{ detail.measured.rows.length }} rows</span
          >{{ ' ' }}<button type="button" class="word" @click="emit('forget')">forget it</button>
        </h3>
        <ul class="mb-1 list-disc pl-5">
          <li v-for="n in detail.measured.notes" :key="n">
            {{ n }}
          </li>
        </ul>
        <table class="exact">
          <thead>
            <tr>
              <th scope="col">coefficient</th>
              <th scope="col">what it is</th>
              <th scope="col" class="number">fitted</th>
              <th scope="col" class="number">95 % interval</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="c in detail.measured.calibration.coefficients" :key="c.symbol">
              <td>
                {{ c.symbol }}
              </td>
              <td>
                {{ c.meaning }}
              </td>
              <td class="number">
                {{ figure(c.symbol, c.value) }}
              </td>
              <td class="number">
                {{ c.value === 0 ? 'held at 0' : span(c.low, c.high) }}
              </td>
            </tr>
          </tbody>
        </table>
      </div>
      <FitScatter :residuals="detail.measured.calibration.residuals" :error="percent(detail.measured.calibration.medianError)" />
    </div>
    <div class="overflow-x-auto">
      <table v-if="detail.memory.length + detail.costs.length > 0" class="exact min-w-[52rem] table-fixed">
        <colgroup>
          <col v-for="w in ['10%', '21%', '24%', '20%', '9%', '16%']" :key="w" :style="{ width: w }" />
        </colgroup>
        <thead>
          <tr>
            <th scope="col" />
            <th scope="col">what it is</th>
            <th scope="col">formula</th>
            <th scope="col">with its figures</th>
            <th scope="col" class="number">comes to</th>
            <th scope="col">stated by</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="l in [...detail.memory, ...detail.costs]" :key="l.symbol">
            <td class="font-semibold">
              {{ l.symbol }}
            </td>
            <td>
              {{ l.meaning }}
            </td>
            <td class="text-faded">
              {{ l.formula }}
            </td>
            <td>
              {{ l.figures }}
            </td>
            <td class="number">
              {{ l.value }}
            </td>
            <td class="text-faded">
              {{ l.from }}
            </td>
          </tr>
        </tbody>
      </table>
    </div>
  </section>
</template>
