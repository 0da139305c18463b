<script setup lang="ts">
import { computed, nextTick, ref, watch } from 'vue'
import { Modal } from 'ant-design-vue'
import DayField from '@/components/controls/DayField.vue'
import FromDay from './FromDay.vue'
import FieldEditor from './intake/FieldEditor.vue'
import { isRefused } from '@/api/client'
import { ask } from '@/composables/useAsk'
import { useDraft } from '@/composables/useDraft'
import { editRecord } from '@/api/rosters'
import type { Edited, Life, Roster } from '@/api/types'
import { today } from '@/logic/clock'
import { counted, day as dayInWords, typed } from '@/logic/words'

const props = defineProps<{ open: boolean; life: Life; roster: Roster }>()
const emit = defineEmits<{ done: [edited: Edited]; close: [] }>()

/** What is typed, field by field, as it is kept until it is saved or discarded. */
const blank = () => ({ values: {} as Record<string, string>, reason: '', until: '', day: '' })
const edit = ref(blank())
const problems = ref<Record<string, string>>({})
const problem = ref('')
const asks = ref(false)
const ends = ref(false)
const working = ref(false)
const changed = computed(() =>
  Object.fromEntries(
    Object.entries(edit.value.values).filter(
      ([name, value]) => value !== typed(props.life.values[name] ?? null),
    ),
  ),
)
const number = computed(() => Object.keys(changed.value).length)
const { recall, forget } = useDraft(
  `edit.${props.life.id}`,
  edit,
  () => number.value > 0,
  () => ({}),
)
/** What was being typed before a reload, or before the session ended, is there again. */
function begin(): void {
  edit.value = blank()
  recall()
}
async function leave(): Promise<void> {
  const lost = `${counted(number.value, 'field that you altered is', 'fields that you altered are')} not saved.`
  if (
    number.value &&
    !(await ask({ title: 'Discard the edit', said: lost, act: 'Discard', not: 'Go on editing' }))
  )
    return
  edit.value = blank()
  forget()
  emit('close')
}

watch(
  () => props.open,
  (open) => {
    if (!open) return
    begin()
    problems.value = {}
    problem.value = ''
    asks.value = ends.value = false
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
    const { reason, day, until } = edit.value
    const done = await editRecord(props.life.id, changed.value, reason, day, until)
    edit.value = blank()
    forget()
    emit('done', done)
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
    if (isRefused(error, 'WrongEdit')) {
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
    @cancel="leave"
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
            :model-value="edit.values[one.name] ?? typed(life.values[one.name] ?? null)"
            :field="one"
            @update:model-value="(value) => (edit.values[one.name] = value)"
            @done="() => undefined"
            @leave="() => undefined"
          />
          <p v-if="problems[one.name]" class="bad">{{ problems[one.name] }}</p>
        </div>
      </template>
    </div>
    <p class="when"><FromDay v-model="edit.day" /></p>
    <p v-if="problem" class="flag" :class="{ stop: !asks }" role="alert">{{ problem }}</p>
    <label v-if="asks" class="why"
      >Why it is right <input v-model="edit.reason" class="box" maxlength="1000"
    /></label>
    <label v-if="asks && ends" class="why"
      >Until, the last day of it; empty for good
      <DayField v-model="edit.until" :min="today()" label="Until, the last day of it"
    /></label>
    <p class="do">
      <button
        class="btn main"
        :disabled="!number || working || (asks && !edit.reason.trim())"
        @click="save"
      >
        {{
          working
            ? 'Saving …'
            : number
              ? `Change ${counted(number, 'field')}${edit.day ? ` on ${dayInWords(edit.day)}` : ''}`
              : 'Nothing is changed'
        }}
      </button>
      <button class="btn" @click="leave">Cancel</button>
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
