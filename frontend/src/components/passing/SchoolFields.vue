<script setup lang="ts">
import DayField from '@/components/controls/DayField.vue'
import type { Way } from '@/logic/passing'

/** Of which school and term the files for a learning system are, and whether only changes go. */
const way = defineModel<Way>({ required: true })
const set = (next: Partial<Way>) => (way.value = { ...way.value, ...next })
const typed = (event: Event) => (event.target as HTMLInputElement).value
</script>

<template>
  <label class="line"
    ><span>School</span
    ><input
      class="box"
      :value="way.school ?? ''"
      maxlength="200"
      placeholder="Tarn Quay"
      @change="(event) => set({ school: typed(event) })"
  /></label>
  <label class="line"
    ><span>Term</span
    ><input
      class="box"
      :value="way.term ?? ''"
      maxlength="200"
      placeholder="Autumn 2026"
      @change="(event) => set({ term: typed(event) })"
  /></label>
  <p class="line">
    <span>From</span
    ><DayField
      :model-value="way.first_day ?? ''"
      label="First day of the term"
      placeholder="first day"
      @update:model-value="(day) => set({ first_day: day ?? '' })"
    />
  </p>
  <p class="line">
    <span>To</span
    ><DayField
      :model-value="way.last_day ?? ''"
      label="Last day of the term"
      placeholder="last day"
      @update:model-value="(day) => set({ last_day: day ?? '' })"
    />
  </p>
  <label class="line"
    ><span>Only what changed</span
    ><input
      type="checkbox"
      :checked="way.only_changes ?? false"
      @change="(event) => set({ only_changes: (event.target as HTMLInputElement).checked })"
  /></label>
</template>

<style scoped src="./lines.css"></style>
