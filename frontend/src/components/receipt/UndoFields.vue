<script setup lang="ts">
import type { Undo } from '@/api/types'
import { count } from '@/logic/words'

/** Which fields go back, where not all of a receipt is taken back. */
defineProps<{ families: Undo['families']; kept: ReadonlySet<string>; fixed: boolean }>()
const emit = defineEmits<{ toggle: [field: string] }>()
</script>

<template>
  <fieldset :disabled="fixed">
    <legend>Fields that go back</legend>
    <label v-for="one in families" :key="one.field"
      ><input type="checkbox" :checked="!kept.has(one.field)" @change="emit('toggle', one.field)" />
      {{ one.title }} <span class="soft">{{ count(one.count) }}</span></label
    >
  </fieldset>
</template>

<style scoped>
fieldset {
  border: 0;
  padding: 0;
  margin: 4px 0 0;
  display: flex;
  gap: 6px 18px;
  flex-wrap: wrap;
}
legend {
  float: left;
  margin-right: 18px;
  color: var(--ink2);
  padding: 0;
}
</style>
