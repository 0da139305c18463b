<script setup lang="ts">
import { computed, nextTick, ref, watch } from 'vue'
import { Modal } from 'ant-design-vue'
import DayField from '@/components/controls/DayField.vue'
import FromDay from './FromDay.vue'
import FieldEditor from './intake/FieldEditor.vue'
import { ApiError } from '@/api/client'
import { editRecord } from '@/api/rosters'
import type { Edited, Life, Roster } from '@/api/types'
import { today } from '@/logic/clock'
import { counted, day as dayInWords, typed } from '@/logic/words'

const props = defineProps<{ open: boolean; life: Life; roster: Roster }>()
const emit = defineEmits<{ done: [edited: Edited]; close: [] }>()

const values = ref<Record<string, string>>({})
const problems = ref<Record<string, string>>({})
const problem = ref('')
const reason = ref('')
const asks = ref(false)
const ends = ref(false)
const until = ref('')
const day = ref('')
const working = ref(false)
const changed = computed(() =>
  Object.fromEntries(
    Object.entries(values.value).filter(
      ([name, value]) => value !== typed(props.life.values[name] ?? null),
    ),
  ),
)
const number = computed(() => Object.keys(changed.value).length)

watch(
  () => props.open,
  (open) => {
    if (!open) return
    values.value = Object.fromEntries(
      props.roster.fields.map((one) => [one.name, typed(props.life.values[one.name] ?? null)]),
    )
    problems.value = {}
    problem.value = reason.value = until.value = ''
    asks.value = ends.value = false
    day.value = ''
    void nextTick(() => document.querySelector<HTMLElement>('.edit-record input')?.focus())
  },
  { immediate: true },
)

async function save(): Promise<void> {
  if (!number.value || working.value) return
  working.value = true
  problem.value = ''
  problems.value = {}
  try {
    emit(
      'done',
      await editRecord(props.life.id, changed.value, reason.value, day.value, until.value),
    )
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
    if (error instanceof ApiError && error.problem.type === 'urn:nevefield:WrongEdit') {
      const found = error.problem as unknown as {
        fields: Record<string, string>
        waits: boolean
        ends: boolean
      }
      problems.value = found.fields
      asks.value = found.waits
      ends.value = found.ends
    }
  } finally {
    working.value = false
  }
}
</script>

<template>
  <Modal
    destroy-on-close
    :open="open"
    :title="`Edit ${life.name}`"
    :footer="null"
    :width="560"
    @cancel="emit('close')"
  >
    <p class="soft">
      It is checked like a row of a file, and becomes a receipt of its own that can be taken back. A
      later file does not change it back in silence.
    </p>
    <div class="edit-record" role="group" aria-label="Fields">
      <template v-for="one in roster.fields" :key="one.name">
        <span class="name" :class="{ on: one.name in changed }">{{ one.title }}</span>
        <div>
          <FieldEditor
            :model-value="values[one.name] ?? ''"
            :field="one"
            @update:model-value="(value) => (values[one.name] = value)"
            @done="() => undefined"
            @leave="() => undefined"
          />
          <p v-if="problems[one.name]" class="bad">{{ problems[one.name] }}</p>
        </div>
      </template>
    </div>
    <p class="when"><FromDay v-model="day" /></p>
    <p v-if="problem" class="flag" :class="{ stop: !asks }" role="alert">{{ problem }}</p>
    <label v-if="asks" class="why"
      >Why it is right <input v-model="reason" class="box" maxlength="1000"
    /></label>
    <label v-if="asks && ends" class="why"
      >Until, the last day of it; empty for good
      <DayField v-model="until" :min="today()" label="Until, the last day of it"
    /></label>
    <p class="do">
      <button
        class="btn main"
        :disabled="!number || working || (asks && !reason.trim())"
        @click="save"
      >
        {{
          working
            ? 'Saving …'
            : number
              ? `Change ${counted(number, 'field')}${day ? ` on ${dayInWords(day)}` : ''}`
              : 'Nothing is changed'
        }}
      </button>
      <button class="btn" @click="emit('close')">Cancel</button>
    </p>
  </Modal>
</template>

<style scoped>
.edit-record {
  display: grid;
  grid-template-columns: 150px 1fr;
  gap: 6px 12px;
  align-items: center;
  max-height: 430px;
  overflow-y: auto;
  margin: 12px 0;
  padding-right: 8px;
}
.name {
  color: var(--ink2);
}
.name.on {
  color: var(--ink);
  font-weight: 600;
}
.when {
  margin: 10px 0;
}
.why .box {
  display: block;
  width: 100%;
  margin: 4px 0;
}
.do {
  display: flex;
  gap: 8px;
  margin-top: 12px;
}
</style>
