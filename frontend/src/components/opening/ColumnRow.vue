<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import ChooseOne from '@/components/controls/ChooseOne.vue'
import StandsUnder from './StandsUnder.vue'
import type { OpeningColumn } from '@/api/types'
import { KIND_CHOICES, kindWords, LEFT } from '@/logic/opening'

/** One column: the field that it becomes, of what kind, and what was seen. */
const props = defineProps<{ column: OpeningColumn; rows: number; open: boolean }>()
const emit = defineEmits<{ toggle: []; title: [title: string]; kind: [kind: string] }>()

const taken = computed(() => !!props.column.field)
const fixed = computed(() => ['secret', 'empty'].includes(props.column.kind))
const title = ref(props.column.title)
watch(
  () => props.column.title,
  (now) => (title.value = now),
)
const kind = computed({
  get: () => (taken.value ? props.column.kind : LEFT),
  set: (chosen) => chosen && chosen !== kind.value && emit('kind', chosen),
})
const kinds = computed(() =>
  KIND_CHOICES.map((one) =>
    one.value === props.column.kind && taken.value
      ? { ...one, label: kindWords(props.column) }
      : one,
  ),
)
function rename(): void {
  const said = title.value.trim()
  if (said && said !== props.column.title) emit('title', said)
  else title.value = props.column.title
}
</script>

<template>
  <div class="columns row" role="row" :class="{ on: open }">
    <span class="heading one-line" role="rowheader">{{ column.heading || '(no heading)' }}</span>
    <span role="cell"><StandsUnder :column="column" :rows="rows" /></span>
    <span role="cell">
      <input
        v-if="taken"
        v-model="title"
        class="box"
        maxlength="120"
        :aria-label="`Field of ${column.heading}`"
        @keydown.enter="rename"
        @blur="rename"
      />
      <span v-else class="bad">not taken</span>
    </span>
    <span role="cell">
      <ChooseOne
        v-if="!fixed"
        v-model="kind"
        :options="kinds"
        :label="`Kind of ${column.heading}`"
      />
    </span>
    <span role="cell" class="why">
      <span v-if="column.is_key" class="tag">key</span>
      <span v-if="taken && !column.sure" class="tag ask">look</span>
      {{ column.why }}
    </span>
    <span role="cell">
      <button
        v-if="taken"
        class="plain more"
        :aria-expanded="open"
        :aria-label="`More about ${column.heading}`"
        @click="emit('toggle')"
      >
        {{ open ? '▴' : '▾' }}
      </button>
    </span>
  </div>
</template>

<style scoped src="./grid.css"></style>
<style scoped>
.row {
  align-items: center;
  min-height: 36px;
  border-bottom: 1px solid var(--drift);
}
.row.on {
  background: var(--row-on);
  box-shadow: inset 3px 0 0 var(--ink);
}
.heading {
  font-weight: 600;
}
.box,
.row :deep(.choose) {
  width: 100%;
}
.why {
  font-size: 13px;
  line-height: 18px;
  color: var(--ink2);
  overflow-wrap: anywhere;
}
.tag {
  border: 1px solid var(--fir);
  color: var(--fir);
  padding: 0 5px;
  font-size: 12px;
  line-height: 17px;
  margin-right: 3px;
}
.tag.ask {
  border-color: var(--waiting-edge);
  color: var(--ink);
}
.more {
  text-align: center;
  min-height: 26px;
}
</style>
