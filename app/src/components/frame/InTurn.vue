<script setup lang="ts">
import { onBeforeUnmount, ref } from 'vue'
import { letInSoon, neverMind } from '../../composables/frames.ts'

/** A part of a page that comes in a frame of its own: no single one has to make the whole page, and what was typed is answered between. */
const there = ref(false)
const come = () => void (there.value = true)
letInSoon(come)
onBeforeUnmount(() => neverMind(come))
</script>

<template><slot v-if="there" /></template>
