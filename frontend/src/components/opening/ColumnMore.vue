<script setup lang="ts">
import { computed } from 'vue'
import ChooseOne from '@/components/controls/ChooseOne.vue'
import CodeWays from './CodeWays.vue'
import type { Opening, OpeningColumn } from '@/api/types'
import type { ColumnChoice } from '@/logic/opening'

/** What else can be said of a column: whether it may be empty, whom it numbers, its codes. */
const props = defineProps<{ opening: Opening; column: OpeningColumn }>()
const emit = defineEmits<{
  say: [said: ColumnChoice]
  sort: [text: string, meant: string]
  key: [heading: string]
}>()

const SIGNS = [
  { value: '', label: 'one value in a cell' },
  ...[';', ',', '|', '/', '+', '&'].map((sign) => ({
    value: sign,
    label: `several, by “${sign}”`,
  })),
  { value: '\n', label: 'several, one in a line' },
]
const parents = computed(() => [
  { value: '', label: 'under no other' },
  ...props.opening.columns
    .filter((one) => one.kind === 'code' && one.field && one.heading !== props.column.heading)
    .map((one) => ({ value: one.heading, label: `each under one of ${one.title}` })),
])
const parent = computed({
  get: () => props.column.parent,
  set: (chosen) => emit('say', { parent: chosen ?? '' }),
})
const several = computed({
  get: () => props.column.several,
  set: (chosen) => emit('say', { several: chosen ?? '' }),
})
const ticked = (event: Event) => (event.target as HTMLInputElement).checked
</script>

<template>
  <div role="row">
    <div class="more" role="cell">
      <p class="ticks">
        <label
          ><input
            type="checkbox"
            :checked="column.is_required"
            @change="emit('say', { required: ticked($event) })"
          />
          may not be empty</label
        >
        <label
          ><input
            type="checkbox"
            :checked="column.is_key"
            @change="emit('key', ticked($event) ? column.heading : '')"
          />
          people are known by it</label
        >
        <label v-if="column.kind === 'identifier'"
          ><input
            type="checkbox"
            :checked="column.is_checked"
            @change="emit('say', { check: ticked($event) })"
          />
          checked as it is built</label
        >
        <label
          ><input
            type="checkbox"
            :checked="column.is_sensitive"
            @change="emit('say', { sensitive: ticked($event) })"
          />
          sensitive: covered for who may only look</label
        >
      </p>
      <template v-if="column.kind === 'code'">
        <p class="ticks">
          <ChooseOne
            v-model="several"
            :options="SIGNS"
            :label="`Values in a cell of ${column.heading}`"
          />
          <ChooseOne
            v-if="parents.length > 1 && !column.several"
            v-model="parent"
            :options="parents"
            :label="`What ${column.heading} stands under`"
          />
        </p>
        <CodeWays :column="column" @sort="(text, meant) => emit('sort', text, meant)" />
      </template>
    </div>
  </div>
</template>

<style scoped>
.more {
  padding: 8px 22px 12px 152px;
  background: var(--row-on);
  box-shadow: inset 3px 0 0 var(--ink);
  border-bottom: 1px solid var(--drift);
}
.ticks {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 18px;
  align-items: center;
  padding-bottom: 8px;
}
.ticks :deep(.choose) {
  min-width: 210px;
}
</style>
