<script setup lang="ts">
import { ref } from 'vue'
import KeyCap from '@/components/controls/KeyCap.vue'
import type { Submission } from '@/api/types'
import HolderTable from '@/components/submission/HolderTable.vue'
import NumberQueue from '@/components/submission/NumberQueue.vue'
import { useKeys } from '@/composables/useKeys'
import { NEW, NOBODY, useNumbers } from '@/composables/useNumbers'
import { counted } from '@/logic/words'

const props = defineProps<{ submission: Submission }>()
const { waiting, decided, list, record, person, isShown, chosen, may, ...acts } = useNumbers(
  () => props.submission,
)
const { step, choose, mark, decide, policy } = acts
const withSame = ref(false)

useKeys({
  ArrowDown: () => step(1),
  ArrowUp: () => step(-1),
  '.': () => step(1),
  ',': () => step(-1),
  ArrowRight: () =>
    void (chosen.value = Math.min(
      Math.max(chosen.value, -1) + 1,
      (person.value?.candidates.length ?? 1) - 1,
    )),
  ArrowLeft: () => void (chosen.value = Math.max(0, chosen.value - 1)),
  ...Object.fromEntries(
    [1, 2, 3, 4, 5, 6, 7, 8, 9].map((number) => [number, () => mark(number - 1)]),
  ),
  Enter: decide,
  n: () => mark(NOBODY),
})
</script>

<template>
  <div class="cols">
    <NumberQueue
      v-model:record="record"
      :submission="submission"
      :waiting="waiting"
      :decided="decided"
      :may="may"
      @policy="policy"
    />
    <div v-if="person" class="pane">
      <div class="head">
        <h2>{{ person.name }}</h2>
        <span class="mono">{{ person.key }}</span><span class="grow" /><span class="soft">{{
          counted(person.candidates.length, 'possible holder')
        }}</span>
      </div>
      <p v-if="person.asked" class="flag">
        Decided: {{ person.why }}.
        <button v-if="may" class="link" :disabled="!isShown" @click="choose('')">
          Decide anew
        </button>
      </p>
      <fieldset
        v-if="person.candidates.length"
        class="bare"
        :disabled="!isShown"
        :aria-busy="!isShown"
      >
        <HolderTable
          v-model:chosen="chosen"
          :person="person"
          :with-same="withSame"
          :may="may"
          @choose="choose"
        />
      </fieldset>
      <p v-else class="soft">{{ submission.authority }} knows nobody who is near.</p>
      <p class="act">
        <button
          v-if="may"
          class="btn"
          :disabled="!isShown"
          :data-marked="chosen === NOBODY || undefined"
          :class="{ main: chosen === NOBODY }"
          @click="choose(NEW)"
        >
          {{ person.candidates.length ? 'None of these: a new number' : 'A new number' }}
          <KeyCap :of="chosen === NOBODY ? 'Enter' : 'N'" />
        </button>
        <button class="btn" @click="step(1)">Later <KeyCap of="." /></button>
        <button class="btn" :aria-pressed="withSame" @click="withSame = !withSame">
          {{ withSame ? 'Only what differs' : 'What is the same, too' }}
        </button>
        <span v-if="!may" class="soft small">Who may approve decides on numbers.</span>
      </p>
    </div>
    <div v-else class="empty pane">
      <h2>
        {{
          list.length
            ? counted(list.length, 'record waits', 'records wait')
            : 'Nobody waits for a number'
        }}
      </h2>
      <p>
        {{
          list.length
            ? 'Who may prepare sees the holders.'
            : submission.rounds.length
              ? 'Numbers that the authority gives go into the roster by themselves, with a receipt.'
              : 'Records without a number ask for one when they are sent.'
        }}
      </p>
    </div>
  </div>
</template>

<style scoped>
.bare {
  display: contents;
}
.cols {
  flex: 1;
  display: flex;
  min-height: 0;
}
.pane {
  flex: 1;
  min-width: 0;
  background: var(--snow);
  border: 1px solid var(--ink);
  border-right: 0;
  border-bottom: 0;
  margin-top: 10px;
  padding: 12px 18px 18px;
  overflow-y: auto;
}
.head {
  display: flex;
  align-items: baseline;
  gap: 10px;
  margin-bottom: 8px;
}
.head h2 {
  font-size: 17px;
}
.act {
  display: flex;
  gap: 8px;
  margin-top: 14px;
  align-items: center;
  flex-wrap: wrap;
}
</style>
