<script setup lang="ts">
import { computed } from 'vue'
import type { Place } from '@/api/passing'
import type { Destination } from '@/api/types'
import { STANDS } from '@/logic/passing'
import { count } from '@/logic/words'

/** Where records stand, countable and to be chosen; who is looked for. */
const props = defineProps<{ destination: Destination; place: Place }>()
const emit = defineEmits<{ place: [place: Place] }>()
const text = defineModel<string>('text', { required: true })

const parts = computed(() =>
  STANDS.map((one) => ({ ...one, count: props.destination.counts[one.key] ?? 0 })),
)
/** What nobody stands in is not in the way, but for the three that everybody asks after. */
const ALWAYS = ['in step', 'to send', 'refused']
const seen = computed(() =>
  parts.value.filter((part) => part.count || part.key === props.place || ALWAYS.includes(part.key)),
)
const adds = computed(
  () => parts.value.reduce((sum, part) => sum + part.count, 0) === props.destination.records,
)
</script>

<template>
  <div class="bar" role="group" aria-label="Where records stand">
    <button class="part" :aria-pressed="!place" @click="emit('place', '')">
      <b>{{ count(destination.records) }}</b> all
    </button>
    <button
      v-for="part in seen"
      :key="part.key"
      class="part"
      :class="{ none: !part.count }"
      :aria-pressed="place === part.key"
      @click="emit('place', part.key)"
    >
      <i class="dot" :class="part.look" /><b>{{ count(part.count) }}</b> {{ part.word }}
    </button>
    <span class="soft small">{{ adds ? 'adds up ✓' : '' }}</span>
    <b v-if="!adds" class="bad">does not add up</b>
    <span class="grow" />
    <input
      v-model="text"
      class="box"
      placeholder="Name or number"
      aria-label="Find somebody by name or number"
    />
  </div>
</template>

<style scoped>
.bar {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
  align-items: center;
  margin: 14px 0 4px;
}
.part {
  display: flex;
  gap: 5px;
  align-items: center;
  min-height: 28px;
  padding: 2px 8px;
  border: 1px solid transparent;
  border-bottom: 2px solid transparent;
  background: none;
  color: var(--ink);
  font: inherit;
  font-size: 13px;
  cursor: pointer;
}
.part[aria-pressed='true'] {
  border-bottom-color: var(--ink);
  background: var(--row-on);
}
.part.none {
  color: var(--ink2);
}
.dot {
  width: 11px;
  height: 11px;
  min-height: 0;
  padding: 0;
  flex: none;
}
.box {
  width: 150px;
}
</style>
