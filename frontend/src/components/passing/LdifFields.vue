<script setup lang="ts">
import type { Way } from '@/logic/passing'

/** Where entries stand in a directory, what they are, and whether only changes are written. */
const way = defineModel<Way>({ required: true })
const set = (next: Partial<Way>) => (way.value = { ...way.value, ...next })
const typed = (event: Event) => (event.target as HTMLInputElement).value
</script>

<template>
  <label class="line"
    ><span>Entries stand below</span
    ><input
      class="box"
      :value="way.base ?? ''"
      placeholder="ou=people,dc=school,dc=example"
      maxlength="400"
      @change="(event) => set({ base: typed(event) })"
  /></label>
  <label class="line"
    ><span>They are</span
    ><input
      class="box"
      :value="(way.classes ?? []).join(', ')"
      placeholder="inetOrgPerson"
      @change="
        (event) =>
          set({
            classes: typed(event)
              .split(',')
              .map((one) => one.trim())
              .filter(Boolean),
          })
      "
  /></label>
  <label class="line"
    ><span>Only what changed</span
    ><input
      type="checkbox"
      :checked="way.only_changes ?? false"
      @change="(event) => set({ only_changes: (event.target as HTMLInputElement).checked })"
  /></label>
</template>

<style scoped src="./lines.css"></style>
