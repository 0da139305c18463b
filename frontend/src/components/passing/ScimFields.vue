<script setup lang="ts">
import { InputNumber } from 'ant-design-vue'
import ChooseOne from '@/components/controls/ChooseOne.vue'
import type { Way } from '@/logic/passing'
import { ofPairs } from '@/logic/choices'

/** What becomes of who ends at a directory, and whether people set their own password there. */
const way = defineModel<Way>({ required: true })
const LEAST = 12
const ENDS = ofPairs([
  ['switch off', 'is switched off there'],
  ['take out', 'is taken out there'],
] as const)
const set = (next: Partial<Way>) => (way.value = { ...way.value, ...next })
const isOn = (event: Event) => (event.target as HTMLInputElement).checked
</script>

<template>
  <p class="line">
    <span>Whose day has come</span
    ><ChooseOne
      :model-value="way.ends ?? 'switch off'"
      :options="ENDS"
      label="Whose day has come"
      @update:model-value="(ends) => set({ ends: ends ?? 'switch off' })"
    />
  </p>
  <label class="line"
    ><span>Own passwords</span
    ><span
      ><input
        type="checkbox"
        :checked="!!way.least_password"
        @change="(event) => set({ least_password: isOn(event) ? LEAST : 0 })"
      />
      people set theirs there, by a letter's link</span
    ></label
  >
  <p v-if="way.least_password" class="line">
    <span>of at least</span
    ><span
      ><InputNumber
        :value="way.least_password"
        :min="8"
        :max="64"
        :precision="0"
        size="small"
        aria-label="Letters of a password at least"
        @change="(least) => set({ least_password: Number(least) || LEAST })"
      />
      letters</span
    >
  </p>
</template>

<style scoped src="./lines.css"></style>
