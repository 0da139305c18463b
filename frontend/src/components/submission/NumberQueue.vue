<script setup lang="ts">
import { computed } from 'vue'
import ChooseOne from '@/components/controls/ChooseOne.vue'
import type { PersonHere, Submission } from '@/api/types'
import { counted } from '@/logic/words'

/** Who waits for a number and who has one by decision, and what is decided without asking. */
const props = defineProps<{
  submission: Submission
  waiting: PersonHere[]
  decided: PersonHere[]
  may: boolean
}>()
const record = defineModel<number | null>('record', { required: true })
const emit = defineEmits<{ policy: [none: boolean, one: number | null] }>()

const list = computed(() => [...props.waiting, ...props.decided])
const none = computed(() => props.submission.policy.none === 'new')
const one = computed(() =>
  typeof props.submission.policy.one === 'number' ? props.submission.policy.one : null,
)
const kind = (person: PersonHere) =>
  ['nobody near', 'one holder'][person.candidates] ?? `${person.candidates} holders`
const SCORES = [
  { value: 0, label: 'never' },
  ...[100, 99, 98, 95, 90, 85].map((score) => ({ value: score, label: `${score} in 100` })),
]
</script>

<template>
  <div class="side" role="region" aria-label="Without a number">
    <p class="soft group">
      {{ counted(waiting.length, 'record waits', 'records wait') }} for a number{{
        decided.length ? `, ${decided.length} decided` : ''
      }}
    </p>
    <button
      v-for="each in list"
      :key="each.record"
      class="plain who"
      :class="{ on: each.record === record, done: each.state === 'ready' }"
      :aria-current="each.record === record"
      @click="record = each.record"
    >
      <span class="name">{{ each.name }}</span><span class="mono">{{ each.key }}</span
      ><span class="soft small">{{ each.state === 'ready' ? each.why : kind(each) }}</span>
    </button>
    <p v-if="!list.length" class="soft">Nobody waits for a number.</p>
    <div class="policy">
      <h3>Decided without asking</h3>
      <label
        ><input
          type="checkbox"
          :checked="none"
          :disabled="!may"
          @change="emit('policy', !none, one)"
        />
        nobody near: a new number</label
      >
      <label
        >one holder: taken from
        <ChooseOne
          :model-value="one ?? 0"
          :options="SCORES"
          label="one holder: taken from"
          :disabled="!may"
          @update:model-value="(score) => emit('policy', none, score || null)"
      /></label>
      <p class="soft small">Several holders: always a person.</p>
    </div>
  </div>
</template>

<style scoped>
.side {
  width: 300px;
  flex: none;
  padding: 10px 12px;
  overflow-y: auto;
}
.group {
  font-size: 13px;
  margin-bottom: 6px;
}
.who {
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 0 8px;
  width: 100%;
  padding: 5px 8px;
  border: 1px solid var(--line);
  background: var(--snow);
  margin-bottom: 4px;
}
.who .name {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.who .small {
  grid-column: 1 / -1;
}
.who.on {
  border-color: var(--ink);
  box-shadow: inset 3px 0 0 var(--ink);
}
.who.done {
  background: none;
}
.policy {
  margin-top: 14px;
  border-top: 1px solid var(--line);
  padding-top: 10px;
}
.policy label {
  display: block;
  margin: 6px 0;
  font-size: 13px;
}
</style>
