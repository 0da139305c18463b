<script setup lang="ts">
import { ref } from 'vue'
import { byTitle, ofPairs } from '@/logic/choices'
import ChooseOne from '@/components/controls/ChooseOne.vue'
import type { Column, Field, Step } from '@/api/types'

const props = defineProps<{ column: Column; fields: Field[]; locked: boolean }>()
const emit = defineEmits<{ step: [step: Step] }>()

const SIGNS = ofPairs([
  [',', 'a comma'],
  ['/', 'a stroke'],
  ['-', 'a hyphen'],
  [' ', 'spaces'],
  [';', 'a semicolon'],
  ['|', 'a bar'],
])
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
    <ChooseOne v-model="at" :options="SIGNS" label="Where it is cut" :disabled="locked" />
    <span class="soft">into</span>
    <ChooseOne
      v-for="(name, place) in into"
      :key="place"
      :model-value="name"
      :options="[{ value: '', label: 'nothing' }, ...byTitle(fields)]"
      :label="`Field of part ${place + 1}`"
      :disabled="locked"
      @update:model-value="(chosen) => (into[place] = chosen ?? '')"
    />
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
