<script setup lang="ts">
import { ref } from 'vue'
import type { Column, Field, Step } from '@/api/types'

const props = defineProps<{ column: Column; fields: Field[]; locked: boolean }>()
const emit = defineEmits<{ step: [step: Step] }>()

const SIGNS = [
  [',', 'a comma'],
  ['/', 'a stroke'],
  ['-', 'a hyphen'],
  [' ', 'spaces'],
  [';', 'a semicolon'],
  ['|', 'a bar'],
] as const
const at = ref(props.column.at || ',')
const into = ref<string[]>(
  props.column.parts.length ? [...props.column.parts] : [props.column.field ?? '', ''],
)

function cut(): void {
  emit('step', {
    kind: 'split',
    heading: props.column.heading,
    at: at.value,
    into: into.value.filter(Boolean),
  })
}
</script>

<template>
  <form class="cutter" @submit.prevent="cut">
    <span class="soft">Cut it at</span>
    <select v-model="at" class="box" :disabled="locked" aria-label="Where it is cut">
      <option v-for="[sign, word] in SIGNS" :key="sign" :value="sign">{{ word }}</option>
    </select>
    <span class="soft">into</span>
    <select
      v-for="(_, place) in into"
      :key="place"
      v-model="into[place]"
      class="box"
      :disabled="locked"
      :aria-label="`Field of part ${place + 1}`"
    >
      <option value="">nothing</option>
      <option v-for="one in fields" :key="one.name" :value="one.name">{{ one.title }}</option>
    </select>
    <button
      v-if="into.length < 4"
      type="button"
      class="btn"
      :disabled="locked"
      @click="into.push('')"
    >
      and
    </button>
    <button class="btn fir" :disabled="locked || into.filter(Boolean).length < 2">Cut it</button>
  </form>
</template>

<style scoped>
.cutter {
  display: flex;
  gap: 8px;
  align-items: center;
  flex-wrap: wrap;
  margin-top: 8px;
  font-size: 13px;
}
</style>
